"""What the plan says of a logged line: its breaker, and the parts of its unit with their currents."""

from __future__ import annotations

from dataclasses import dataclass, replace

from leitung_core.errors import InputError, Problem
from leitung_core.plan.model import Plan
from leitung_core.starting.document import Trial
from leitung_core.starting.log import ColumnRead, Event

NEAR = 0.3  # of a plate's current: what a step may differ by and still be likely that part
NOT_BELOW_A = 0.6


@dataclass(frozen=True)
class Part:
    """A part of a unit: A running, and with its rotor locked where that is known."""

    load: str
    part: str
    running_a: float
    locked_rotor_a: float | None = None


@dataclass(frozen=True)
class Expected:
    """The breaker's A, and each part."""

    rating_a: float | None
    parts: list[Part]


def expected(plan: Plan, circuit_id: str) -> Expected:
    """What the plate of the unit on a line lets one expect. Raises InputError where there is no such line."""
    circuit = plan.circuits.get(circuit_id)
    if circuit is None:
        known = ", ".join(sorted(plan.circuits)) or "none"
        raise InputError(Problem("circuit", circuit_id, "there is no such line", f"The plan has: {known}."))
    load = circuit.equipment or circuit_id
    unit = plan.equipment.get(circuit.equipment or "")
    plate = unit.nameplate if unit else None
    parts = []
    if plate:
        for motor in plate.motors or []:
            if motor.fla_a:
                parts.append(Part(load, motor.use.replace("_", " "), motor.fla_a))
        for compressor in plate.compressors or []:
            if compressor.rla_a:
                parts.append(Part(load, "compressor", compressor.rla_a, compressor.lra_a))
        if plate.amps:
            parts.append(Part(load, "unit", plate.amps))
    rating = circuit.ocpd.rating_a if circuit.ocpd else None
    return Expected(rating, parts)


def expected_of(trial: Trial) -> Expected:
    """What a trial on paper lets one expect: the fan and the compressor of each unit, and what is steady."""
    parts = []
    for load in trial.loads:
        if load.fan and load.fan.running_a:
            parts.append(Part(load.id, "fan", load.fan.running_a.high))
        if load.compressor and load.compressor.running_a:
            locked = load.compressor.locked_rotor_a
            parts.append(Part(load.id, "compressor", load.compressor.running_a.high, locked.high if locked else None))
        if load.steady_a and load.steady_a.high:
            parts.append(Part(load.id, "load", load.steady_a.high))
    return Expected(trial.supply.breaker_a.low if trial.supply.breaker_a else None, parts)


def matched(found: ColumnRead, about: Expected) -> ColumnRead:
    """The column with the parts that each rise and fall is likely to be, and why."""
    return replace(found, events=[replace(event, likely=_likely(event, about.parts)) for event in found.events])


def _likely(event: Event, parts: list[Part]) -> list[dict[str, str]]:
    step = abs(event.step_a)
    wholes = [*parts]
    for load in dict.fromkeys(part.load for part in parts):
        own = [part.running_a for part in parts if part.load == load]
        wholes += [Part(load, "the whole unit", sum(own))] if len(own) > 1 else []
    near = [part for part in wholes if abs(step - part.running_a) <= max(NEAR * part.running_a, NOT_BELOW_A)]
    near.sort(key=lambda part: abs(step - part.running_a))
    return [{"load": part.load, "part": part.part, "because": _because(event, part)} for part in near]


def _because(event: Event, part: Part) -> str:
    says = f"a step of {abs(event.step_a):.1f} A against the plate's {part.running_a:g} A"
    if event.kind == "start" and part.locked_rotor_a:
        seen = event.peak_a - event.before_a
        says += (
            f"; its peak of {seen:.0f} A is {seen / part.locked_rotor_a * 100:.0f} % of its {part.locked_rotor_a:g} A"
        )
    return says
