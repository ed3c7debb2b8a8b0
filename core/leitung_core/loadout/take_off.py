"""The load-out of an install (domain 6): counted from the plan alone, each thing once."""

from __future__ import annotations

from collections.abc import Mapping

from leitung_core.circuits.result import CircuitResult
from leitung_core.loadout.control import cables_taken
from leitung_core.loadout.parts import devices_taken, ends_taken, lines_parts, units_taken
from leitung_core.loadout.power import lines_taken
from leitung_core.loadout.rows import Gathered, LoadOut
from leitung_core.loadout.tools import tools_taken
from leitung_core.plant.plant import Plant


def load_out(plant: Plant, sized: Mapping[str, CircuitResult]) -> LoadOut:
    """Everything that the plan has and that is not there already; `sized` are its lines."""
    found = Gathered()
    lines_taken(plant, sized, found)
    counted = {stretch.cable for line in plant.lines.values() for stretch in line.stretches if stretch.cable}
    cables_taken(plant, counted, found)
    lines_parts(plant, found)
    units_taken(plant, found)
    devices_taken(plant, found)
    ends_taken(plant, found)
    tools_taken(plant, found)
    return found.done()
