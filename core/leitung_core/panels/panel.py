"""A panel as a whole: what is in it, its legs, and whether it can take the new load (220.87, 408.36)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal

from pydantic import BaseModel, ConfigDict

from leitung_core.circuits.result import CircuitResult
from leitung_core.explain import Step, step
from leitung_core.findings import Finding, finding
from leitung_core.panels.spaces import WITH_SPACES
from leitung_core.plan.model import Plan, Source, feeders_of
from leitung_core.plant.circuit import line_count, poles_of
from leitung_core.plant.legs import NAMES, leg_loads, leg_of, unbalance_pct
from leitung_core.units import exact, say, tidy

LEAST_DAYS = 30
ADVISED_UNBALANCE_PCT = Decimal(20)


class SpaceResult(BaseModel):
    """One numbered space: its leg and what has it; neither circuit nor existing: free."""

    model_config = ConfigDict(frozen=True)

    space: int
    leg: str | None
    circuit: str | None
    existing: str | None


class DirectoryRow(BaseModel):
    """One line of the panel's directory (408.4)."""

    model_config = ConfigDict(frozen=True)

    spaces: list[int]
    rating_a: float | None
    poles: int | None
    text: str
    new: bool


class PanelResult(BaseModel):
    """A panel, subpanel, receptacle branch or pedestal. Currents in A by leg; None: not known."""

    model_config = ConfigDict(frozen=True)

    legs: list[str]
    new_a: list[float]
    existing_a: list[float]
    unbalance_pct: float | None
    spaces: list[SpaceResult]
    free: int
    peak_a: float | None
    demand_a: float | None
    capacity_a: float | None
    directory: list[DirectoryRow]
    steps: list[Step]
    findings: list[Finding]


def panel_result(plan: Plan, source_id: str, results: Mapping[str, CircuitResult]) -> PanelResult:
    """Everything about one source, from the plan and its sized circuits."""
    source, legs = plan.sources[source_id], line_count(plan.sources[source_id])
    mine = {key: circuit for key, circuit in plan.circuits.items() if circuit.source == source_id}
    new = [
        ((circuit.ocpd and circuit.ocpd.spaces) or [], exact(results[key].running_a or 0))
        for key, circuit in mine.items()
        if key in results
    ]
    old = [(list(entry.spaces), exact(entry.existing_a or 0)) for entry in source.existing.values()]
    if source.load_sharing:
        new = sorted(new, key=lambda entry: -entry[1])[:1]
    new_a, old_a = leg_loads(new, legs or 1), leg_loads(old, legs or 1)
    both = [one + other for one, other in zip(new_a, old_a, strict=True)]
    unknown = [key for key in mine if key not in results or results[key].running_a is None]
    motor = max(
        (exact(results[key].running_a or 0) for key in mine if key in results and results[key].sort == "motor"),
        default=Decimal(0),
    )
    largest = max((amps for _, amps in new), default=Decimal(0))
    asked = _Asked(max(new_a, default=Decimal(0)), largest, motor, unknown)
    demand, steps = _demand(source, asked)
    capacity = _capacity(source)
    spread = unbalance_pct(both) if legs and legs > 1 and (source.existing or new) else None
    spaces = _spaces(plan, source_id, source, legs)
    return PanelResult(
        legs=list(NAMES[: legs or 0]),
        new_a=[tidy(amps, 2) or 0.0 for amps in new_a],
        existing_a=[tidy(amps, 2) or 0.0 for amps in old_a],
        unbalance_pct=tidy(spread, 1),
        spaces=spaces,
        free=sum(row.circuit is None and row.existing is None for row in spaces),
        peak_a=source.measured_peak_a,
        demand_a=tidy(demand, 2),
        capacity_a=tidy(capacity, 2),
        directory=_directory(plan, source_id, source),
        steps=steps,
        findings=_judge(plan, source_id, source, asked, demand, capacity, spread),
    )


@dataclass(frozen=True)
class _Asked:
    """The new load on the leg that carries most, A, its largest part and motor, and what is not known of it."""

    load_a: Decimal
    largest_a: Decimal
    motor_a: Decimal
    unknown: list[str]


def _capacity(source: Source) -> Decimal | None:
    """What the panel may carry, A: the least of its bus and its main."""
    known = [exact(rating) for rating in (source.bus_a, source.main_a) if rating is not None]
    return min(known, default=None) if source.bus_a is not None or source.kind != "panel" else None


def _demand(source: Source, asked: _Asked) -> tuple[Decimal | None, list[Step]]:
    """125 % of the measured peak and the new load with 25 % of its largest motor (220.87, 430.24)."""
    new = asked.load_a + asked.motor_a / 4
    steps = [
        step("panel", "New load", "running currents on the leg that carries most + 25 % of the largest motor", new, "A",
             "220.87, 430.24", running_a=asked.load_a, largest_motor_a=asked.motor_a)
    ]  # fmt: skip
    if source.kind != "panel":
        return (None if asked.unknown else new), steps
    if source.measured_peak_a is None:
        return None, steps
    peak = exact(source.measured_peak_a) * Decimal("1.25")
    total = peak + new
    steps.append(step("panel", "Existing load", "125 % of the measured peak", peak, "A", "220.87(2)",
                      peak_a=source.measured_peak_a))  # fmt: skip
    steps.append(step("panel", "Together", "existing + new", total, "A", "220.87"))
    return (None if asked.unknown else total), steps


def _spaces(plan: Plan, source_id: str, source: Source, legs: int | None) -> list[SpaceResult]:
    circuits = {
        space: key
        for key, circuit in plan.circuits.items()
        if circuit.source == source_id
        for space in (circuit.ocpd and circuit.ocpd.spaces) or []
    }
    existing = {space: key for key, entry in source.existing.items() for space in entry.spaces}
    return [
        SpaceResult(
            space=space,
            leg=NAMES[leg_of(space, legs)] if legs else None,
            circuit=circuits.get(space),
            existing=existing.get(space),
        )
        for space in range(1, (source.spaces or 0) + 1)
    ]


def _directory(plan: Plan, source_id: str, source: Source) -> list[DirectoryRow]:
    rows = [
        DirectoryRow(
            spaces=sorted(entry.spaces),
            rating_a=entry.rating_a,
            poles=len(entry.spaces),
            text=entry.name or key,
            new=False,
        )
        for key, entry in source.existing.items()
    ]
    for key, circuit in plan.circuits.items():
        if circuit.source == source_id:
            unit = plan.equipment.get(circuit.equipment or "")
            fed = plan.sources.get(circuit.feeds or "")
            what = (
                (fed and f"feeder to {fed.name or circuit.feeds}")
                or circuit.name
                or (unit and unit.name)
                or "not named"
            )
            where = unit.place if unit and unit.place and unit.place not in what else None
            rows.append(
                DirectoryRow(
                    spaces=sorted((circuit.ocpd and circuit.ocpd.spaces) or []),
                    rating_a=circuit.ocpd.rating_a if circuit.ocpd else None,
                    poles=poles_of(circuit, source),
                    text=f"{key}: {what}" + (f", {where}" if where else ""),
                    new=True,
                )
            )
    return sorted(rows, key=lambda row: (not row.spaces, row.spaces))


def _sharing_helps(source: Source, asked: _Asked, capacity: Decimal) -> bool:
    """Whether one load at a time would fit a small source; a building's panel is no place for that."""
    if source.kind in WITH_SPACES or source.load_sharing:
        return False
    return asked.largest_a + asked.motor_a / 4 <= capacity


def _judge(
    plan: Plan,
    source_id: str,
    source: Source,
    asked: _Asked,
    demand: Decimal | None,
    capacity: Decimal | None,
    spread: Decimal | None,
) -> list[Finding]:
    at, found = f"sources/{source_id}", []
    if source.bus_a is None and source.kind in WITH_SPACES:
        found.append(
            finding("bus-missing", f"{at}/bus_a", "The panel's bus rating is not known. Read it off its label.")
        )
    if source.main_a is not None and source.bus_a is not None and source.main_a > source.bus_a:
        message = f"The {say(source.main_a)} A main is above the {say(source.bus_a)} A bus."
        found.append(finding("main-above-bus", f"{at}/main_a", message))
    if source.kind == "panel" and source.measured_peak_a is None:
        message = "The existing demand is not known: whether the panel can take the new load is not judged."
        found.append(finding("peak-missing", f"{at}/measured_peak_a", message))
    elif source.kind == "panel" and (source.measured_days or 0) < LEAST_DAYS:
        days = "an unknown time" if source.measured_days is None else f"{source.measured_days} days"
        message = f"The peak was measured over {days}; a year counts, or 30 days of recording."
        found.append(finding("peak-short", f"{at}/measured_days", message))
    if source.kind == "subpanel" and not feeders_of(plan, source_id):
        found.append(finding("feeder-missing", at, "No feeder leads to this subpanel yet."))
    if asked.unknown:
        named = ", ".join(asked.unknown[:4])
        message = f"The load of {named} is not known: the sum at {source.name or source_id} is not judged."
        found.append(finding("load-incomplete", at, message))
    if demand is not None and capacity is not None and demand > capacity:
        message = f"{say(demand)} A would be asked of {source.name or source_id}, which may carry {say(capacity)} A."
        fix = {"sources": {source_id: {"load_sharing": True}}} if _sharing_helps(source, asked, capacity) else None
        found.append(finding("panel-overloaded", at, message, "Plan a load-sharing device", fix))
    if spread is not None and spread > ADVISED_UNBALANCE_PCT and asked.load_a > 10:
        message = f"The least loaded leg carries {say(spread, 0)} % less than the most loaded one."
        found.append(finding("legs-unbalanced", at, message))
    return found
