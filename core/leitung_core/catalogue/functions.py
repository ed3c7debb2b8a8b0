"""What a terminal can be for. A closed vocabulary, so that two makers' letters can be compared by meaning."""

from __future__ import annotations

from functools import cache
from importlib.resources import files
from typing import Literal

import orjson

from leitung_core.validation import Entered, Text

Kind = Literal["line", "low", "signal", "data", "sense", "dry", "ground"]
KIND_WORDS: dict[str, str] = {
    "line": "line voltage", "low": "24 V", "signal": "DC signal", "data": "data", "sense": "sensor",
    "dry": "dry contact", "ground": "ground",
}  # fmt: skip


class Function(Entered):
    """One meaning: its words, in short for a drawing, the sort of voltage, and whether it is a call.

    not_live: why no reading is taken there with the power on.
    """

    says: Text
    short: Text | None = None
    kind: Kind
    call: bool = False
    not_live: Text | None = None


@cache
def functions() -> dict[str, Function]:
    """Every function by its id, in the order in which they are proposed."""
    raw = orjson.loads(files("leitung_core.catalogue").joinpath("functions.json").read_bytes())
    return {key: Function.model_validate(value) for key, value in raw.items()}
