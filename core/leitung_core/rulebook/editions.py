"""Editions of the code as folders of files: an edition is added by a folder, and by nothing else.

A folder holds `edition.json` and those tables that differ from the shared ones: whole, or row by row where the file
names its key columns. Further folders of editions are named by the environment variable LEITUNG_EDITIONS.
"""

from __future__ import annotations

import os
from datetime import date
from functools import cache
from importlib.resources import files
from pathlib import Path
from typing import Annotated

from pydantic import AfterValidator, Field, WithJsonSchema

from leitung_core.errors import InputError, Problem
from leitung_core.validation import Entered, Text, parse_json, read

NEWEST = "us-2023"


class Edition(Entered):
    """An edition at hand. `from_day` is its own; a local adoption may be later."""

    id: Text
    title: Text
    from_day: date
    source: Text
    uncertain: bool = False
    folder: Path = Field(Path(), exclude=True)

    def __hash__(self) -> int:
        return hash((self.id, self.folder))


@cache
def _homes(named: str) -> tuple[Path, ...]:
    """The folders in which editions lie: our own, then those that the machine names."""
    own = Path(str(files("leitung_core.rulebook").joinpath("us", "editions")))
    return (own, *(Path(part) for part in named.split(os.pathsep) if part))


def editions() -> dict[str, Edition]:
    """Every edition at hand by its id."""
    return _read(_homes(os.environ.get("LEITUNG_EDITIONS", "")))


@cache
def _read(homes: tuple[Path, ...]) -> dict[str, Edition]:
    found: dict[str, Edition] = {}
    for home in homes:
        for file in sorted(home.glob("*/edition.json")):
            entry = read(Edition, parse_json(file.read_bytes(), str(file)), file.parent.name)
            found[entry.id] = entry.model_copy(update={"folder": file.parent})
    return found


def edition(name: str) -> Edition:
    """The edition of that id. Raises InputError where it is not at hand."""
    if name not in editions():
        known = ", ".join(editions())
        raise InputError(Problem("rulebook", name, "this rulebook is not at hand", f"Use one of: {known}."))
    return editions()[name]


def _known(name: str) -> str:
    if name not in editions():
        raise ValueError(f"this edition is not at hand: use one of {', '.join(editions())}")
    return name


EditionId = Annotated[
    str,
    Field(max_length=60),
    AfterValidator(_known),
    WithJsonSchema({"type": "string", "enum": [*_read(_homes(""))]}),
]
