"""Constructions of cable: what they are built of, where they may lie, which colours they bring."""

from __future__ import annotations

from functools import cache
from importlib.resources import files
from typing import Literal

import orjson

from leitung_core.validation import Entered, Text

Strands = Literal["solid", "stranded"]
# The wiring method of a line's run, as the construction of the cable that is landed.
FAMILY_OF_METHOD = {
    "NM-B": "nm-b", "UF-B": "uf-b", "MC": "mc", "SER": "singles", "THWN-2": "singles", "XHHW-2": "singles",
    "cord": "cord", "TC": "tray",
}  # fmt: skip
METHOD_OF_FAMILY = {
    "nm-b": "NM-B", "uf-b": "UF-B", "mc": "MC", "singles": "THWN-2", "singles-neutral": "THWN-2", "cord": "cord",
    "tray": "TC",
}  # fmt: skip


class CableFamily(Entered):
    """One construction. `colours` maps the number of conductors, ground included, to their colours in order."""

    name: Text
    class_2: bool
    volts: float
    strands: list[Strands]
    awg: list[str]
    wet: bool
    sunlight: bool
    jacket: bool
    building: bool = False
    numbered: list[int] = []
    colours: dict[str, list[str]] = {}

    def counts(self) -> list[int]:
        """The numbers of conductors it is made with."""
        return sorted([*map(int, self.colours), *self.numbered])

    def colours_of(self, count: int) -> list[str]:
        """The colours of a cable of so many conductors, in order; none where it is not made so."""
        if count in self.numbered:
            return [str(number) for number in range(1, count + 1)]
        return self.colours.get(str(count), [])


@cache
def cable_families() -> dict[str, CableFamily]:
    """Every construction by its id."""
    raw = orjson.loads(files("leitung_core.catalogue").joinpath("cables.json").read_bytes())
    return {key: CableFamily.model_validate(value) for key, value in raw.items()}
