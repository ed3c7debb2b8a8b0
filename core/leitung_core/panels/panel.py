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
from leitung_core.plan.model import Plan
from leitung_core.plan.sources import Source
from leitung_core.plant.legs import NAMES, leg_of, unbalance_pct
from leitung_core.plant.lines import device_of
from leitung_core.plant.loads import by_leg, loads_on, spared
from leitung_core.plant.plant import Plant
from leitung_core.plant.poles import line_count, poles_of
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say, tidy


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


class LoadOnSource(BaseModel):
    """A load on the source, with where it comes from; amps: None where not known."""

    model_config = ConfigDict(frozen=True)

    about: str
    name: str
    amps: float | None
    legs: list[str]
    there_already: bool


class PanelResult(BaseModel):
    """A panel, subpanel, receptacle branch or pedestal. Currents in A by leg; None: not known."""

    model_config = ConfigDict(frozen=True)

    legs: list[str]
    new_a: list[float]
    existing_a: list[float]
    loads: list[LoadOnSource]
    unbalance_pct: float | None
    spaces: list[SpaceResult]
    free: int
    peak_a: float | None
    demand_a: float | None
    capacity_a: float | None
    directory: list[DirectoryRow]
    steps: list[Step]
    findings: list[Finding]


def panel_result(plant: Plant, source_id: str, results: Mapping[str, CircuitResult]) -> PanelResult:
    """Everything about one source, from the plant and its sized lines."""
    plan, source = plant.plan, plant.plan.sources[source_id]
    legs = line_count(source)
    loads = loads_on(plant, source_id, results)
    old = [load for load in loads if load.there_already]
    new = [load for load in loads if not load.there_already]
    if source.load_sharing:
        new = sorted(new, key=lambda load: -(load.amps or 0))[:1]
    new_a, old_a = by_leg(new, legs or 1), by_leg(old, legs or 1)
    once = max(spared(new, leg)[1] for leg in range(legs or 1))
    both = [one + other for one, other in zip(new_a, old_a, strict=True)]
    motors = [load.amps for load in new if load.sort == "motor" and load.amps is not None]
    asked = _Asked(
        new_a=tuple(new_a),
        old_a=tuple(old_a),
        largest_a=max((load.amps for load in new if load.amps is not None), default=NOTHING),
        motor_a=max(motors, default=NOTHING),
        unknown=[
            load.name for load in loads if load.amps is None and not (load.there_already and source.kind == "panel")
        ],
    )
    demand, steps = _demand(source, asked, plant.book)
    if once:
        formula = "heat and cooling that never run together: the greater counts"
        steps.insert(0, step("panel", "Not counted, at most", formula, once, "A", "220.60"))
    capacity = _capacity(source)
    spread = unbalance_pct(both) if legs and legs > 1 and (source.existing or new) else None
    spaces = _spaces(plan, source_id, source, legs)
    return PanelResult(
        legs=list(NAMES[: legs or 0]),
        new_a=[tidy(amps, 2) or 0.0 for amps in new_a],
        existing_a=[tidy(amps, 2) or 0.0 for amps in old_a],
        loads=[
            LoadOnSource(
                about=load.about, name=load.name, amps=tidy(load.amps, 2), there_already=load.there_already,
                legs=[NAMES[leg] for leg in sorted(load.legs)],
            )
            for load in loads
        ],
        unbalance_pct=tidy(spread, 1),
        spaces=spaces,
        free=sum(row.circuit is None and row.existing is None for row in spaces),
        peak_a=source.measured_peak_a,
        demand_a=tidy(demand, 2),
        capacity_a=tidy(capacity, 2),
        directory=_directory(plan, source_id, source),
        steps=plant.book.cited(steps),
        findings=_judge(plant, source_id, asked, demand, capacity, spread),
    )  # fmt: skip


NOTHING = Decimal(0)


@dataclass(frozen=True)
class _Asked:
    """What is asked of a source by leg, A: new and there already; the largest new load, the largest new motor, and the
    names of what is not known."""

    new_a: tuple[Decimal, ...]
    old_a: tuple[Decimal, ...]
    largest_a: Decimal
    motor_a: Decimal
    unknown: list[str]

    @property
    def load_a(self) -> Decimal:
        """The new load on the leg that carries most of it."""
        return max(self.new_a)

    @property
    def together_a(self) -> tuple[Decimal, Decimal]:
        """New and there already on the leg that carries most of both."""
        return max(zip(self.new_a, self.old_a, strict=True), key=lambda pair: sum(pair))


def measured(source: Source) -> bool:
    """Whether what is there already is known by the measured peak (220.87), not load by load."""
    return source.kind == "panel"


def _capacity(source: Source) -> Decimal | None:
    """What the panel may carry, A: the least of its bus and its main."""
    known = [exact(rating) for rating in (source.bus_a, source.main_a) if rating is not None]
    return min(known, default=None) if source.bus_a is not None or source.kind != "panel" else None


def _demand(source: Source, asked: _Asked, book: Rulebook) -> tuple[Decimal | None, list[Step]]:
    """125 % of the measured peak and the new load with 25 % of its largest motor (220.87, 430.24)."""
    by_peak = measured(source)
    running, there = (asked.load_a, None) if by_peak else asked.together_a
    new = running + asked.motor_a * book.factor("largest-motor")
    more = book.percent("largest-motor")
    formula = f"running currents on the leg that carries most + {more} of the largest motor"
    steps = [
        step("panel", "New load", formula, new, "A",
             "220.87, 430.24" if by_peak else "430.24", running_a=running, largest_motor_a=asked.motor_a)
    ]  # fmt: skip
    if there is not None:
        if there:
            steps.append(step("panel", "There already", "on the same leg", there, "A", "220.14"))
            steps.append(step("panel", "Together", "there already + new", there + new, "A", "220.14"))
        return (None if asked.unknown else there + new), steps
    if source.measured_peak_a is None:
        return None, steps
    peak = exact(source.measured_peak_a) * book.factor("peak")
    total = peak + new
    steps.append(step("panel", "Existing load", f"{book.percent('peak')} of the measured peak", peak, "A", "220.87(2)",
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
    existing = {space: key for key, entry in source.existing.items() for space in entry.spaces or []}
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
            spaces=sorted(entry.spaces or []),
            rating_a=entry.rating_a,
            poles=len(entry.spaces or []) or None,
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
            device = device_of(circuit, source)
            rows.append(
                DirectoryRow(
                    spaces=sorted((circuit.ocpd and circuit.ocpd.spaces) or []),
                    rating_a=device.rating_a if device else None,
                    poles=poles_of(circuit, source, unit),
                    text=f"{key}: {what}" + (f", {where}" if where else ""),
                    new=True,
                )
            )
    return sorted(rows, key=lambda row: (not row.spaces, row.spaces))


def _sharing_helps(source: Source, asked: _Asked, capacity: Decimal, book: Rulebook) -> bool:
    """Whether one load at a time would fit a small source; a building's panel is no place for that."""
    if source.kind in WITH_SPACES or source.load_sharing:
        return False
    return asked.together_a[1] + asked.largest_a + asked.motor_a * book.factor("largest-motor") <= capacity


def _judge(
    plant: Plant,
    source_id: str,
    asked: _Asked,
    demand: Decimal | None,
    capacity: Decimal | None,
    spread: Decimal | None,
) -> list[Finding]:
    book, source = plant.book, plant.plan.sources[source_id]
    at, found = f"sources/{source_id}", []
    days_needed = book.factor("peak-days")
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
    elif source.kind == "panel" and (source.measured_days or 0) < days_needed:
        days = "an unknown time" if source.measured_days is None else f"{source.measured_days} days"
        message = f"The peak was measured over {days}; a year counts, or {say(days_needed)} days of recording."
        found.append(finding("peak-short", f"{at}/measured_days", message))
    if source.kind == "subpanel" and source_id not in plant.index.fed_by:
        found.append(finding("feeder-missing", at, "No feeder leads to this subpanel yet."))
    if asked.unknown:
        named = ", ".join(asked.unknown[:4])
        message = f"The load of {named} is not known: the sum at {source.name or source_id} is not judged."
        found.append(finding("load-incomplete", at, message))
    if demand is not None and capacity is not None and demand > capacity:
        there = None if measured(source) else asked.together_a[1]
        of_it = f" {say(there)} A of it is there already." if there else ""
        name = source.name or source_id
        message = f"{say(demand)} A would be asked of {name}, which may carry {say(capacity)} A.{of_it}"
        fix = (
            {"sources": {source_id: {"load_sharing": True}}}
            if _sharing_helps(source, asked, capacity, plant.book)
            else None
        )
        found.append(finding("panel-overloaded", at, message, "Plan a load-sharing device", fix))
    uneven = spread is not None and spread > book.factor("legs-unbalance")
    if spread is not None and uneven and asked.load_a > book.factor("legs-unbalance-from"):
        message = f"The least loaded leg carries {say(spread, 0)} % less than the most loaded one."
        found.append(finding("legs-unbalanced", at, message))
    return found
