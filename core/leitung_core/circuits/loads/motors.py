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
    with_largest,
)
from leitung_core.circuits.spec import Nameplate, Spec
from leitung_core.explain import Step, step
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say


def compressor_ceiling(
    spec: Spec, compressors: list[Decimal], others: list[Decimal], book: Rulebook, more: Decimal = Decimal(0)
) -> tuple[Decimal, Step]:
    """The largest device of a compressor circuit, A, before it is brought to a standard rating (440.22(A), (B)).

    175 % of the largest compressor plus everything else; up to 225 % only for a recorded reason; never below 15 A.
    """
    share = "compressor-device-raised" if spec.proposed.ocpd_reason else "compressor-device"
    bottom = book.factor("compressor-device-least")
    largest = max(compressors)
    rest = sum(compressors, Decimal(0)) - largest + sum(others, Decimal(0)) + more
    ceiling = largest * book.factor(share) + rest
    formula = f"{book.percent(share)} of the largest compressor + the other loads"
    if ceiling < bottom:
        ceiling, formula = bottom, f"{formula}; not below {say(bottom)} A"
    row = step("ocpd", "Device at most", formula, ceiling, "A", "440.22(A), (B)", largest_a=largest, others_a=rest)
    return ceiling, row


def compressor_load(spec: Spec, plate: Nameplate, book: Rulebook) -> Load:
    """One or more compressors with their fans: the sum plus 25 % of the largest (440.32, 440.33)."""
    number = count(spec)
    compressors, motors = compressor_currents(plate) * number, motor_currents(plate) * number
    everything = [*compressors, *motors]
    alone = len(everything) == 1
    running = sum(everything, Decimal(0))
    needed = running * book.factor("compressor") if alone else with_largest(everything, book)
    ceiling, limit = compressor_ceiling(spec, compressors, motors, book)
    article = "440.32" if alone else "440.33"
    of_one = f"{book.percent('compressor')} of the larger of RLA and BCSC"
    formula = of_one if alone else f"sum + {book.percent('largest-motor')} of the largest"
    start = locked_rotor_a(plate, spec.equipment.start_peak_a)
    return Load(
        article="440",
        min_ampacity_a=needed,
        running_a=running,
        running_formula="marked running currents",
        device_floor_a=needed,
        device_ceiling_a=ceiling,
        disconnect_min_a=running * book.factor("disconnect-compressor"),
        disconnect_formula=f"{book.percent('disconnect-compressor')} of the marked running currents",
        start_a=start + running / number * (number - 1) if start is not None else None,
        steps=(
            step("load", "Running current", "sum of the marks (larger of RLA and BCSC)", running, "A", article,
                 currents_a=listed(everything)),
            step("load", "Conductors must carry", formula, needed, "A", article),
            limit,
        ),
    )  # fmt: skip


def amps_only_cooling(spec: Spec, plate: Nameplate, book: Rulebook) -> Load:
    """Cooling equipment whose plate gives one current: taken as its compressor's (440.32, 440.22)."""
    each = exact(plate.amps or 0)
    currents = [each] * count(spec)
    needed, running = with_largest(currents, book), sum(currents, Decimal(0))
    ceiling, limit = compressor_ceiling(spec, currents, [], book)
    formula = f"marked amps + {book.percent('largest-motor')} of the largest"
    return Load(
        article="440",
        min_ampacity_a=needed,
        running_a=running,
        running_formula="marked amps",
        device_floor_a=needed,
        device_ceiling_a=ceiling,
        disconnect_min_a=running * book.factor("disconnect-compressor"),
        disconnect_formula=f"{book.percent('disconnect-compressor')} of the marked amps",
        steps=(
            step("load", "Running current", "marked amps, taken as the compressor's", running, "A", "440.32"),
            step(
                "load",
                "Conductors must carry",
                formula,
                needed,
                "A",
                "440.32, 440.33",
            ),
            limit,
        ),
    )


def motor_load(spec: Spec, plate: Nameplate, book: Rulebook) -> Load:
    """Motors alone: the largest with its part more, and the rest (430.22, 430.24); device by 430.52, next size up."""
    motors = motor_currents(plate) * count(spec)
    alone, running = len(motors) == 1, sum(motors, Decimal(0))
    needed = running * book.factor("motor") if alone else with_largest(motors, book)
    largest = max(motors)
    breaker = spec.proposed.ocpd_type == "breaker"
    share = "motor-device-breaker" if breaker else "motor-device-fuse"
    ceiling = max(largest * book.factor(share) + running - largest, book.factor("compressor-device-least"))
    kind = "breaker" if breaker else "time-delay fuse"
    formula = f"{book.percent(share)} of the largest motor ({kind}) + the others"
    article = "430.22" if alone else "430.24"
    carry = f"{book.percent('motor')} of its FLA" if alone else f"sum + {book.percent('largest-motor')} of the largest"
    return Load(
        article="430",
        min_ampacity_a=needed,
        running_a=running,
        running_formula="marked FLA",
        device_floor_a=needed,
        device_ceiling_a=ceiling,
        disconnect_min_a=running * book.factor("disconnect-motor"),
        disconnect_formula=f"{book.percent('disconnect-motor')} of the motors' FLA",
        disconnect_article="430.110(A)",
        steps=(
            step("load", "Running current", "sum of FLA", running, "A", article, currents_a=listed(motors)),
            step("load", "Conductors must carry", carry, needed, "A", article),
            step("ocpd", "Device at most", formula, ceiling, "A", "430.52", largest_a=largest),
        ),
    )
