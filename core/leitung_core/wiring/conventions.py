"""Colour conventions as data: for a kind of system and a number of conductors, what each colour stands for.

A convention proposes. What proves a landing is the terminals at both ends, whatever the colour.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import orjson

# A second stage, and the first one without which it is nothing.
FIRST_STAGE = {"heat-2": "heat-1", "cool-2": "cool-1"}

SYSTEM_WORDS = {
    "heat_cool": "heat and cooling", "cooling_only": "cooling only", "heat_pump": "heat pump",
    "heating_only": "heating only", "condenser": "condensing unit", "heat_pump_outdoor": "heat pump's outdoor unit",
    "communicating": "communicating",
}  # fmt: skip

# Functions that a chosen system does not have, although the terminals at both ends could carry them.
ABSENT: dict[str, frozenset[str]] = {
    "cooling_only": frozenset({"heat-1", "heat-2", "emergency", "valve-cool", "valve-heat"}),
    "heating_only": frozenset({"cool-1", "cool-2", "valve-cool", "valve-heat"}),
    "heat_cool": frozenset({"valve-cool", "valve-heat", "emergency"}),
}


def out_of_system(system: str | None, function: str) -> bool:
    """Whether a chosen system does without a function."""
    return function in ABSENT.get(system or "", frozenset())


@dataclass(frozen=True)
class Convention:
    """What each colour of a cable stands for; the first of its functions that both ends have is taken."""

    system: str
    conductors: int
    colours: dict[str, list[str]]

    def says(self) -> str:
        return f"{SYSTEM_WORDS[self.system]}, {self.conductors} conductors"


@cache
def _data() -> tuple[tuple[Convention, ...], dict[str, list[str]]]:
    raw = orjson.loads(files("leitung_core.wiring").joinpath("conventions.json").read_bytes())
    return tuple(Convention(**entry) for entry in raw["sets"]), raw["usual"]


def usual_colours() -> dict[str, list[str]]:
    """For conductors outside the thermostat's sets: the colours that a function usually has, the first one first."""
    return _data()[1]


def convention_for(system: str | None, count: int) -> Convention | None:
    """The set for that many conductors, else the largest smaller one: what is beyond it stays spare."""
    fitting = [entry for entry in _data()[0] if entry.system == system and entry.conductors <= count]
    return max(fitting, key=lambda entry: entry.conductors, default=None)


def system_of(at_a: Collection[str], at_b: Collection[str]) -> str | None:
    """What kind of system two ends form, by the functions that both have."""
    both = set(at_a) & set(at_b)
    valve = bool(both & {"valve-cool", "valve-heat"})
    if {"data-plus", "data-minus"} <= both and both & {"hot", "common"}:
        return "communicating"
    if valve and "fan" not in both:
        return "heat_pump_outdoor"
    if "cool-1" in both and "fan" not in both and "common" in both and "heat-1" not in both:
        return "condenser"
    if valve:
        return "heat_pump"
    if "cool-1" in both:
        return "heat_cool" if "heat-1" in both else "cooling_only"
    return "heating_only" if {"heat-1", "hot"} <= both else None
