"""Poles of a circuit, and what it gets from its source: as planned, else as many lines as the unit's plate takes."""

from __future__ import annotations

from leitung_core.circuits.plate import SYSTEM_OF_PLATE, plate_volts
from leitung_core.circuits.spec import Supply
from leitung_core.plan.model import Circuit, Unit
from leitung_core.plan.sources import Source


def line_count(source: Source) -> int | None:
    """Line conductors of a source: three on three phases, one where its volts are those to ground, else two.

    None: not known.
    """
    if source.phase is None or source.volts is None:
        return None
    if source.phase == 3:
        return 3
    return 1 if source.volts_to_ground is not None and source.volts <= source.volts_to_ground else 2


def poles_of(circuit: Circuit, source: Source | None, unit: Unit | None) -> int | None:
    """Poles of the circuit's device; None where the source's lines are not known.

    A single-phase unit never takes three of them; one whose plate prints the volts to ground alone takes one.
    """
    if circuit.poles is not None:
        return circuit.poles
    lines = line_count(source) if source is not None else None
    plate = unit.nameplate if unit is not None else None
    if source is None or lines is None or plate is None or plate.phase == 3:
        return lines
    systems = {SYSTEM_OF_PLATE.get(volts, volts) for volts in plate_volts(plate)}
    if lines > 1 and systems and source.volts not in systems and source.volts_to_ground in systems:
        return 1
    return min(lines, 2) if plate.phase == 1 else lines


def supply_of(circuit: Circuit, source: Source | None, unit: Unit | None) -> Supply:
    """What the circuit gets from its source: its line voltage, or the voltage to ground on one pole."""
    if source is None:
        return Supply(volts=None, phase=None, volts_to_ground=None)
    volts, phase, poles = source.volts, source.phase, poles_of(circuit, source, unit)
    if poles == 1:
        volts, phase = source.volts_to_ground, 1 if source.phase else None
    elif poles == 2:
        phase = 1 if source.phase else None
    return Supply(volts=volts, phase=phase, volts_to_ground=source.volts_to_ground)
