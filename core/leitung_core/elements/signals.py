"""Calls and causes: what moves contacts from outside. `hand:DEVICE` is a switch or a breaker moved by hand."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

import orjson

from leitung_core.validation import Entered, Text


class Signal(Entered):
    """One call or cause, in words and in short."""

    says: Text
    short: Text


@cache
def signals() -> dict[str, Signal]:
    """Every known call and cause by its name, in the order in which they are offered."""
    raw = orjson.loads(files("leitung_core.elements").joinpath("signals.json").read_bytes())
    return {name: Signal.model_validate(entry) for name, entry in raw.items()}


def is_signal(name: str) -> bool:
    """Whether a contact may be moved by that."""
    return name in signals() or name == "hand" or name.startswith("coil:")
