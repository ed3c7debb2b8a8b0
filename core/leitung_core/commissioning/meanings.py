"""What a reading outside its bounds usually means where it was taken, and which reading tells next."""

from __future__ import annotations

import csv
from functools import cache
from importlib.resources import files

from pydantic import BaseModel, ConfigDict

from leitung_core.commissioning.steps import ReadingPoint, Tells


class Meaning(BaseModel):
    """What it means that a reading is from one share of what is expected up to, and without, another."""

    model_config = ConfigDict(frozen=True, populate_by_name=True)

    kind: Tells
    least: float
    below: float
    says: str
    then: str


@cache
def meanings() -> tuple[Meaning, ...]:
    """Every meaning, in the order in which they are looked at."""
    text = files("leitung_core.commissioning").joinpath("meanings.csv").read_text("utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    return tuple(
        Meaning.model_validate({
            "kind": row["kind"], "least": row["from"], "below": row["to"], "says": row["says"], "then": row["next"],
        })
        for row in rows
    )  # fmt: skip


def meaning_of(point: ReadingPoint, value: float) -> Meaning | None:
    """What a reading that is not as it should be means; None where nothing is expected there."""
    if point.tells is None or not point.expected:
        return None
    share = value / point.expected
    return next((row for row in meanings() if row.kind == point.tells and row.least <= share < row.below), None)
