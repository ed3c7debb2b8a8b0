"""How often each kind of mistake is hidden: those more often that the records of a crew show go wrong (`wrong.csv`)."""

from __future__ import annotations

import csv
from collections.abc import Mapping
from functools import cache
from importlib.resources import files

MOST = 4.0
# So many records of a kind make its mistakes come half as often again.
EACH = 5.0


@cache
def _mistakes() -> dict[str, tuple[str, ...]]:
    text = files("leitung_core.practice").joinpath("wrong.csv").read_text("utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    return {row["record"]: tuple(row["mistakes"].split()) for row in rows}


def weights(wrong: Mapping[str, int]) -> dict[str, float]:
    """By kind of mistake, how much more often it comes than one of which nothing is recorded: 1 up to 4.

    wrong: how many records of each kind went wrong: `reading V`, `reading Ω` …, `test`.
    """
    found: dict[str, float] = {}
    for record, count in wrong.items():
        for kind in _mistakes().get(record, ()):
            found[kind] = min(MOST, found.get(kind, 1.0) + count / EACH / 2)
    return found
