"""Every load on a source by leg, new and there already, with where it comes from; panels and pedestals alike."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from leitung_core.circuits.result import CircuitResult
from leitung_core.circuits.spec import FedLoad
from leitung_core.plant.legs import legs_of
from leitung_core.plant.plant import Plant
from leitung_core.plant.poles import line_count
from leitung_core.units import exact


@dataclass(frozen=True)
class SourceLoad:
    """One load on a source: where it comes from, A, the legs on which it lies, how a feeder counts it.

    amps: None where it is not known.
    """

    about: str
    name: str
    amps: Decimal | None
    legs: frozenset[int]
    sort: Literal["motor", "continuous", "other"]
    there_already: bool


def loads_on(plant: Plant, source_id: str, results: Mapping[str, CircuitResult]) -> list[SourceLoad]:
    """The loads of a source: its lines in the order of their ids, then what is there already."""
    source = plant.plan.sources[source_id]
    legs = line_count(source) or 1
    found = []
    # Sorted: a database that keeps no order must not change the words of a step.
    for line_id, line in sorted(plant.lines.items()):
        if line.circuit.source != source_id:
            continue
        result = results.get(line_id)
        amps = exact(result.running_a) if result is not None and result.running_a is not None else None
        spaces = (line.circuit.ocpd and line.circuit.ocpd.spaces) or []
        sort = result.sort if result is not None else "other"
        found.append(SourceLoad(f"circuits/{line_id}", line_id, amps, frozenset(legs_of(spaces, legs)), sort, False))
    for key, entry in sorted(source.existing.items()):
        amps = exact(entry.existing_a) if entry.existing_a is not None else None
        name = entry.name or key
        on = frozenset(legs_of(entry.spaces or [], legs))
        found.append(SourceLoad(f"sources/{source_id}/existing/{key}", name, amps, on, "other", True))
    return found


def by_leg(loads: list[SourceLoad], legs: int) -> list[Decimal]:
    """Amperes on each leg; what is not known is not in them."""
    totals = [Decimal(0)] * legs
    for load in loads:
        for leg in load.legs:
            totals[leg] += load.amps or 0
    return totals


def fed_loads(plant: Plant, source_id: str, results: Mapping[str, CircuitResult]) -> list[FedLoad]:
    """The loads of a source on the leg that carries most, as its feeder's size document has them."""
    legs = line_count(plant.plan.sources[source_id]) or 1
    loads = [load for load in loads_on(plant, source_id, results) if load.amps]
    totals = by_leg(loads, legs)
    heaviest = max(range(legs), key=lambda leg: (totals[leg], -leg))
    return [
        FedLoad(amps=float(load.amps or 0), sort=load.sort, name=load.name)
        for load in loads if heaviest in load.legs
    ]  # fmt: skip
