"""Slack at the end of a cable: what a hand needs there to land it."""

from __future__ import annotations

from decimal import Decimal

from leitung_core.circuits.loads import COOLING
from leitung_core.plan.model import Unit
from leitung_core.plan.sources import Source
from leitung_core.plant.plant import Plant

PANEL_FT, BOARD_FT, OTHER_FT = Decimal(6), Decimal(3), Decimal(2)
PANELS = ("panel", "subpanel")
BOARDS = ("board", "outdoor unit")
WITH_BOARD = {*COOLING, "air_handler"}


def at_device(plant: Plant, device: str) -> Decimal:
    """At a device that is drawn."""
    group = plant.types[device].group if device in plant.types else None
    return PANEL_FT if group == "panel" else BOARD_FT if group in BOARDS else OTHER_FT


def at_source(source: Source | None) -> Decimal:
    """Where a line begins."""
    return PANEL_FT if source is None or source.kind in PANELS else OTHER_FT


def at_unit(unit: Unit | None) -> Decimal:
    """Where a line ends."""
    return BOARD_FT if unit is not None and unit.kind in WITH_BOARD else OTHER_FT
