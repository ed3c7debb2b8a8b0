"""Slack at the end of a cable: what a hand needs there to land it; a crew may set its own in the plan."""

from __future__ import annotations

from decimal import Decimal

from leitung_core.circuits.loads import COOLING
from leitung_core.plan.model import Unit
from leitung_core.plan.sources import Source
from leitung_core.plant.plant import Plant
from leitung_core.units import exact

# In a panel, at a board or an outdoor unit, at every other end, ft.
USUAL = {"panel": Decimal(6), "board": Decimal(3), "other": Decimal(2)}
PANELS = ("panel", "subpanel")
BOARDS = ("board", "outdoor unit")
WITH_BOARD = {*COOLING, "air_handler"}


def slack_ft(plant: Plant, kind: str) -> Decimal:
    """At a kind of end: as the plan has it, else what is usual."""
    own = plant.plan.site.slack
    said = getattr(own, f"{kind}_ft") if own is not None else None
    return USUAL[kind] if said is None else exact(said)


def at_device(plant: Plant, device: str) -> Decimal:
    """At a device that is drawn."""
    group = plant.types[device].group if device in plant.types else None
    return slack_ft(plant, "panel" if group == "panel" else "board" if group in BOARDS else "other")


def at_source(plant: Plant, source: Source | None) -> Decimal:
    """Where a line begins."""
    return slack_ft(plant, "panel" if source is None or source.kind in PANELS else "other")


def at_unit(plant: Plant, unit: Unit | None) -> Decimal:
    """Where a line ends."""
    return slack_ft(plant, "board" if unit is not None and unit.kind in WITH_BOARD else "other")
