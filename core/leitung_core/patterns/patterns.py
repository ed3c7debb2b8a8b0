"""The patterns a crew picks: data that say which devices take part, what is joined, broken or moved, and why."""

from __future__ import annotations

from functools import cache
from importlib.resources import files
from typing import Annotated

import orjson
from pydantic import Field

from leitung_core.catalogue.device import FunctionId, Group
from leitung_core.elements.vocabulary import Effect
from leitung_core.validation import Entered, Id, Text


class PartOf(Entered):
    """A device's part in a pattern: one that is there, by its group or its type, or a new one of a type."""

    group: list[Group] = []
    type: Id | None = None
    with_neutral: Id | None = Field(None, description="the type in its place where the board returns on a neutral")
    exists: bool = Field(False, description="whether it must be there already; else a new one is put in")
    prefix: Id | None = Field(None, description="how a new one is called: IR-1, IR-2 …")
    needs: list[FunctionId] = Field([], description="functions that its terminals must have")
    settings: dict[Id, Text] = {}

    @property
    def new(self) -> bool:
        return not self.exists and self.type is not None and self.prefix is not None


class StepOf(Entered):
    """One step. Terminals are `part.strip.terminal`, or `part:function`, or `part:tap`, `part:return`.

    join, line: a conductor of a new control or line cable. break: a contact put into what lands there. divert: what
    lands there is led to another terminal instead. loop: a contact put into a loop between two terminals. spare: a
    terminal reached over a spare conductor. cap: a lead that is not used.
    """

    join: Text | None = None
    line: Text | None = None
    to: Text | None = None
    break_: Annotated[Text | None, Field(alias="break")] = None
    divert: Text | None = None
    towards: list[Group] | Id | None = None
    through: list[Text] | None = None
    loop: list[Text] | None = None
    spare: Text | None = None
    cap: Text | None = None
    only_if: Annotated[bool, Field(alias="if", description="left out where the board has no such terminal")] = False


class Pattern(Entered):
    """A pattern: what it is in a sentence, its parts, its steps, its key conductor's terminal, what it must stop."""

    id: Id
    name: Text
    says: Annotated[str, Field(max_length=400)]
    parts: dict[Id, PartOf]
    steps: list[StepOf]
    key: Text
    stops: list[tuple[Text, Effect]]


@cache
def patterns() -> dict[str, Pattern]:
    """Every pattern by its id, in the order in which they are offered."""
    raw = orjson.loads(files("leitung_core.patterns").joinpath("patterns.json").read_bytes())
    return {entry.id: entry for entry in (Pattern.model_validate(item) for item in raw)}
