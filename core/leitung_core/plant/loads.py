"""Every load on a source by leg, new and there already, with where it comes from; panels and pedestals alike."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from leitung_core.circuits.loads import motor_currents
from leitung_core.circuits.result import CircuitResult
from leitung_core.circuits.spec import FedLoad
from leitung_core.plant.legs import legs_on
from leitung_core.plant.lines import Line
from leitung_core.plant.plant import Plant
from leitung_core.plant.poles import line_count
from leitung_core.units import exact


@dataclass(frozen=True)
class SourceLoad:
    """One load on a source: where it comes from, A, the legs on which it lies, how a feeder counts it.

    amps: None where it is not known. season: heat that never runs with cooling, or cooling alone; `season_a` is its
    part of the amps (a blower runs in both).
    """

    about: str
    name: str
    amps: Decimal | None
    legs: frozenset[int]
    sort: Literal["motor", "continuous", "other"]
    there_already: bool
    season: Literal["heat", "cooling"] | None = None
    season_a: Decimal = Decimal(0)


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
        on = frozenset(legs_on(line.circuit.leg, spaces, legs))
        season, part = _season(line, result, amps)
        found.append(SourceLoad(f"circuits/{line_id}", line_id, amps, on, sort, False, season, part))
    for key, entry in sorted(source.existing.items()):
        amps = exact(entry.existing_a) if entry.existing_a is not None else None
        name = entry.name or key
        on = frozenset(legs_on(entry.leg, entry.spaces or [], legs))
        found.append(SourceLoad(f"sources/{source_id}/existing/{key}", name, amps, on, "other", True))
    return found


def _season(
    line: Line, result: CircuitResult | None, amps: Decimal | None
) -> tuple[Literal["heat", "cooling"] | None, Decimal]:
    """Whether a line is heat that never runs with cooling, or cooling alone, and how many of its amperes are (220.60).

    That heat never runs with cooling is said on its unit; unsaid, both count.
    """
    unit = line.unit
    if unit is None or amps is None:
        return None, Decimal(0)
    if unit.kind == "condensing_unit":
        return "cooling", amps
    plate = unit.nameplate
    if unit.heat_with_cooling is False and plate is not None and plate.heat and not plate.compressors:
        blowers = sum(motor_currents(plate), Decimal(0)) * (unit.quantity or 1)
        return "heat", max(amps - blowers, Decimal(0))
    return None, Decimal(0)


def spared(loads: list[SourceLoad], leg: int) -> tuple[Literal["heat", "cooling"] | None, Decimal]:
    """Of heat and cooling that never run together only the greater counts: which is spared on a leg, and its A."""
    part = {
        season: sum((load.season_a for load in loads if leg in load.legs and load.season == season), Decimal(0))
        for season in ("heat", "cooling")
    }
    if not all(part.values()):
        return None, Decimal(0)
    return ("heat", part["heat"]) if part["heat"] < part["cooling"] else ("cooling", part["cooling"])


def by_leg(loads: list[SourceLoad], legs: int) -> list[Decimal]:
    """Amperes on each leg, non-coincident ones once (220.60); what is not known is not in them."""
    totals = [-spared(loads, leg)[1] for leg in range(legs)]
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
    season, _ = spared(loads, heaviest)
    counted = (
        (load, (load.amps or Decimal(0)) - (load.season_a if load.season == season else 0))
        for load in loads if heaviest in load.legs
    )  # fmt: skip
    return [FedLoad(amps=float(amps), sort=load.sort, name=load.name) for load, amps in counted if amps]
