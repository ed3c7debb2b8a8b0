"""Compressors and motors known by their marks only (440.32, 440.33, 440.22; 430.22, 430.24, 430.52)."""

from __future__ import annotations

from decimal import Decimal

from leitung_core.circuits.loads.load import (
    Load,
    compressor_currents,
    count,
    listed,
    locked_rotor_a,
    motor_currents,
    with_quarter_of_largest,
)
from leitung_core.circuits.spec import Nameplate, Spec
from leitung_core.explain import Step, step
from leitung_core.units import exact

LEAST_DEVICE_A = Decimal(15)
CEILING, RAISED = Decimal("1.75"), Decimal("2.25")
DISCONNECT = Decimal("1.15")


def compressor_ceiling(
    spec: Spec, compressors: list[Decimal], others: list[Decimal], more: Decimal = Decimal(0)
) -> tuple[Decimal, Step]:
    """The largest device of a compressor circuit, A, before it is brought to a standard rating (440.22(A), (B)).

    175 % of the largest compressor plus everything else; up to 225 % only for a recorded reason; never below 15 A.
    """
    share = RAISED if spec.proposed.ocpd_reason else CEILING
    largest = max(compressors)
    rest = sum(compressors, Decimal(0)) - largest + sum(others, Decimal(0)) + more
    ceiling = largest * share + rest
    formula = f"{share * 100:g} % of the largest compressor + the other loads"
    if ceiling < LEAST_DEVICE_A:
        ceiling, formula = LEAST_DEVICE_A, f"{formula}; not below 15 A"
    row = step("ocpd", "Device at most", formula, ceiling, "A", "440.22(A), (B)", largest_a=largest, others_a=rest)
    return ceiling, row


def compressor_load(spec: Spec, plate: Nameplate) -> Load:
    """One or more compressors with their fans: the sum plus 25 % of the largest (440.32, 440.33)."""
    number = count(spec)
    compressors, motors = compressor_currents(plate) * number, motor_currents(plate) * number
    everything = [*compressors, *motors]
    needed, running = with_quarter_of_largest(everything), sum(everything, Decimal(0))
    ceiling, limit = compressor_ceiling(spec, compressors, motors)
    article = "440.32" if len(everything) == 1 else "440.33"
    formula = "125 % of the larger of RLA and BCSC" if len(everything) == 1 else "sum + 25 % of the largest"
    start = locked_rotor_a(plate)
    return Load(
        article="440",
        min_ampacity_a=needed,
        running_a=running,
        running_formula="marked running currents",
        device_floor_a=needed,
        device_ceiling_a=ceiling,
        disconnect_min_a=running * DISCONNECT,
        disconnect_formula="115 % of the marked running currents",
        start_a=start + running / number * (number - 1) if start is not None else None,
        steps=(
            step("load", "Running current", "sum of the marks (larger of RLA and BCSC)", running, "A", article,
                 currents_a=listed(everything)),
            step("load", "Conductors must carry", formula, needed, "A", article),
            limit,
        ),
    )  # fmt: skip


def amps_only_cooling(spec: Spec, plate: Nameplate) -> Load:
    """Cooling equipment whose plate gives one current: taken as its compressor's (440.32, 440.22)."""
    each = exact(plate.amps or 0)
    currents = [each] * count(spec)
    needed, running = with_quarter_of_largest(currents), sum(currents, Decimal(0))
    ceiling, limit = compressor_ceiling(spec, currents, [])
    return Load(
        article="440",
        min_ampacity_a=needed,
        running_a=running,
        running_formula="marked amps",
        device_floor_a=needed,
        device_ceiling_a=ceiling,
        disconnect_min_a=running * DISCONNECT,
        disconnect_formula="115 % of the marked amps",
        steps=(
            step("load", "Running current", "marked amps, taken as the compressor's", running, "A", "440.32"),
            step("load", "Conductors must carry", "marked amps + 25 % of the largest", needed, "A", "440.32, 440.33"),
            limit,
        ),
    )


def motor_load(spec: Spec, plate: Nameplate) -> Load:
    """Motors alone: 125 % of the largest and the rest (430.22, 430.24); device by 430.52, next size up allowed."""
    motors = motor_currents(plate) * count(spec)
    needed, running = with_quarter_of_largest(motors), sum(motors, Decimal(0))
    largest = max(motors)
    breaker = spec.proposed.ocpd_type == "breaker"
    share = Decimal("2.5") if breaker else CEILING
    ceiling = max(largest * share + running - largest, LEAST_DEVICE_A)
    formula = f"{share * 100:g} % of the largest motor ({'breaker' if breaker else 'time-delay fuse'}) + the others"
    article = "430.22" if len(motors) == 1 else "430.24"
    return Load(
        article="430",
        min_ampacity_a=needed,
        running_a=running,
        running_formula="marked FLA",
        device_floor_a=needed,
        device_ceiling_a=ceiling,
        disconnect_min_a=running * DISCONNECT,
        disconnect_formula="115 % of the motors' FLA",
        disconnect_article="430.110(A)",
        steps=(
            step("load", "Running current", "sum of FLA", running, "A", article, currents_a=listed(motors)),
            step("load", "Conductors must carry", "125 % of the largest + the others", needed, "A", article),
            step("ocpd", "Device at most", formula, ceiling, "A", "430.52", largest_a=largest),
        ),
    )
