"""Which causes must stop which effects, and by which rule. One table; local amendments and the authority win."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

import orjson

from leitung_core.elements.vocabulary import Effect
from leitung_core.validation import Entered, Id, Positive, Text


class Requirement(Entered):
    """One cause: the effects that it must stop, the rule, and how it is tried."""

    id: Id
    cause: Text
    effects: list[Effect]
    rule: Text
    says: Text
    provoke: Text
    within_s: Positive
    reset: Text


@cache
def requirements() -> dict[str, Requirement]:
    """Every requirement by its cause."""
    raw = orjson.loads(files("leitung_core.interlocks").joinpath("requirements.json").read_bytes())
    return {entry.cause: entry for entry in (Requirement.model_validate(item) for item in raw)}
