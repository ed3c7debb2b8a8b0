"""Where line voltage comes from: a source's legs as phasors, breakers as switches with their trip, feeders as wires."""

from __future__ import annotations

import math
from typing import Any

from leitung_core.circuits.wire_ohms import ohm_per_kft
from leitung_core.plan.model import Circuit, Plan
from leitung_core.plan.sources import Source
from leitung_core.plant.legs import leg_of
from leitung_core.plant.lines import Line
from leitung_core.plant.poles import line_count

SOURCE_OHMS = 0.02
TRIP_OHMS = 0.002
Piece = dict[str, Any]


def bus_of(plan: Plan, source_id: str) -> str:
    """The name under which a source stands in the network."""
    return source_id if source_id not in plan.devices else f"{source_id}-bus"


def legs_of(source: Source) -> list[tuple[float, float]] | None:
    """Volts to the neutral and angle of each leg, degrees; None where the source's volts are not known.

    On one phase the two legs lie as far apart as their volts ask: 180° on 120/240, 120° on two legs of 208Y/120.
    """
    count = line_count(source)
    if count is None or source.volts is None:
        return None
    if count == 1:
        return [(source.volts, 0.0)]
    if count == 3:
        return [(source.volts / math.sqrt(3), angle) for angle in (0.0, -120.0, 120.0)]
    to_ground = source.volts_to_ground or source.volts / 2
    half = min(1.0, source.volts / 2 / to_ground)
    return [(to_ground, 0.0), (to_ground, -2 * math.degrees(math.asin(half)))]


def bus(plan: Plan, source_id: str, fed: bool) -> Piece | None:
    """A source's bars as a device: legs, neutral, ground. `fed`: by lugs that are in the network, not by itself."""
    legs = legs_of(plan.sources[source_id])
    if legs is None:
        return None
    terminals = [f"L{number}" for number in range(1, len(legs) + 1)]
    inside: list[Piece] = [] if fed else [
        {"type": "ac_source", "id": f"V{name}", "plus": name, "minus": "N", "volts": volts, "phase_deg": angle,
         "ohms": SOURCE_OHMS}
        for name, (volts, angle) in zip(terminals, legs, strict=True)
    ]  # fmt: skip
    if not fed:
        inside.append({"type": "jumper", "id": "BOND", "a": "N", "b": "G"})
    return {"id": bus_of(plan, source_id), "kind": "panel", "terminals": [*terminals, "N", "G"], "inside": inside}


def pole_legs(circuit: Circuit, source: Source, poles: int) -> list[int]:
    """The leg of each pole, from 1: by the breaker's spaces, else as it is said, else the first legs."""
    legs = line_count(source) or 1
    if poles == 1 and circuit.leg in (1, 2) and circuit.leg <= legs:
        return [circuit.leg]
    spaces = sorted(circuit.ocpd.spaces or []) if circuit.ocpd else []
    if len(spaces) == poles:
        return [leg_of(space, legs) + 1 for space in spaces]
    return [number % legs + 1 for number in range(poles)]


def breaker(device: str, poles: int, rating_a: float | None) -> list[Piece]:
    """What is inside a breaker: for each pole the handle and the trip."""
    inside: list[Piece] = []
    for pole in range(1, poles + 1):
        inside += [
            {"type": "contact", "id": f"P{pole}", "a": f"_bus{pole}", "b": f"_trip{pole}", "normally": "closed",
             "operated_by": f"hand:{device}"},
            {"type": "fuse", "id": f"TRIP{pole}", "a": f"_trip{pole}", "b": f"load.{pole}", "amps": rating_a,
             "ohms": TRIP_OHMS}
            if rating_a else
            {"type": "jumper", "id": f"TRIP{pole}", "a": f"_trip{pole}", "b": f"load.{pole}", "ohms": TRIP_OHMS},
        ]  # fmt: skip
    return inside


def run_ohms(line: Line) -> float | None:
    """One conductor's ohms along what is planned of a line's run and not drawn; None where a length or gauge is not
    known."""
    total = 0.0
    planned = [stretch.segment for stretch in line.stretches if stretch.cable is None]
    for segment in planned:
        per_kft = ohm_per_kft(segment.conductor, segment.construction) if segment.conductor else None
        if per_kft is None or segment.length_ft is None:
            return None
        total += float(per_kft) * segment.length_ft / 1000
    return total if planned else None
