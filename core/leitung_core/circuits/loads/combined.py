"""Cooling and electric heat in one unit without a marked MCA: the greater mode, or both where both can run."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from leitung_core.circuits.loads.heat import heat_current, missing_heat
from leitung_core.circuits.loads.load import (
    Load,
    compressor_currents,
    count,
    locked_rotor_a,
    motor_currents,
    with_largest,
)
from leitung_core.circuits.loads.motors import compressor_ceiling, compressor_load
from leitung_core.circuits.spec import Nameplate, Spec
from leitung_core.explain import Step, step
from leitung_core.findings import Remark
from leitung_core.rulebook import Rulebook

TOGETHER = ("equipment", "heat_with_cooling")


def combined_load(spec: Spec, plate: Nameplate, book: Rulebook) -> Load:
    """The load of a unit with compressor and heat. Whether both can run together decides; unknown counts as yes."""
    heat = heat_current(spec, plate)
    if heat.amps is None:
        cooling = compressor_load(spec, plate, book)
        return replace(cooling, min_ampacity_a=None, device_floor_a=None, device_ceiling_a=None,
                       remarks=missing_heat(heat))  # fmt: skip
    heat_a = heat.amps * count(spec)
    if spec.equipment.heat_with_cooling is False:
        return _either(spec, plate, heat_a, heat.steps, book)
    remarks: tuple[Remark, ...] = ()
    if spec.equipment.heat_with_cooling is None:
        message = "Whether heat and cooling can run together is not known; together was taken, which asks for more."
        remarks = (Remark("heat-interlock-missing", TOGETHER, message),)
    return replace(_both(spec, plate, heat_a, heat.steps, book), remarks=remarks)


def _either(spec: Spec, plate: Nameplate, heat_a: Decimal, steps: tuple[Step, ...], book: Rulebook) -> Load:
    """Interlocked: cooling with its fans, or heat with its blower, whichever asks for more."""
    cooling = compressor_load(spec, plate, book)
    blowers = motor_currents(plate, "blower") * count(spec)
    heating = heat_a + sum(blowers, Decimal(0))
    heat_needed = heating * book.factor("heat")
    needed = max(cooling.min_ampacity_a or Decimal(0), heat_needed)
    running = max(cooling.running_a or Decimal(0), heating)
    return replace(
        cooling,
        min_ampacity_a=needed,
        running_a=running,
        running_formula="the greater of cooling and heating",
        device_floor_a=needed,
        heat_floor_a=heat_needed,
        disconnect_min_a=max(cooling.disconnect_min_a or Decimal(0), heat_needed),
        disconnect_formula=(
            f"{book.percent('disconnect-compressor')} of the cooling load or {book.percent('heat')} of the heating "
            "load, the greater"
        ),
        disconnect_article="440.12, 424.19",
        steps=(
            *steps,
            *cooling.steps,
            step("load", "Heating asks for", f"{book.percent('heat')} of heat and blower", heat_needed, "A", "424.4(B)",
                 heat_a=heat_a, blower_a=sum(blowers, Decimal(0))),
            step("load", "Conductors must carry", "the greater of the two modes", needed, "A", "440.33, 424.4(B)",
                 cooling_a=cooling.min_ampacity_a, heating_a=heat_needed),
        ),
    )  # fmt: skip


def _both(spec: Spec, plate: Nameplate, heat_a: Decimal, steps: tuple[Step, ...], book: Rulebook) -> Load:
    """Heat and cooling together: 125 % of everything, or each part by its own article where that school is chosen."""
    number = count(spec)
    compressors, motors = compressor_currents(plate) * number, motor_currents(plate) * number
    blowers = sum(motor_currents(plate, "blower"), Decimal(0)) * number
    running = heat_a + sum(compressors, Decimal(0)) + sum(motors, Decimal(0))
    if book.school("heat-with-compressor") == "per-article":
        outdoor = [*compressors, *motor_currents(plate, "condenser_fan", "pump") * number]
        needed = (heat_a + blowers) * book.factor("heat") + with_largest(outdoor, book)
        formula = f"{book.percent('heat')} of heat and blower + compressors by {book.cite('440.33')}"
    else:
        needed = running * book.factor("heat")
        formula = f"{book.percent('heat')} of everything that runs together"
    ceiling, limit = compressor_ceiling(spec, compressors, motors, book, heat_a)
    start = locked_rotor_a(plate, spec.equipment.start_peak_a)
    return Load(
        article="440",
        min_ampacity_a=needed,
        running_a=running,
        running_formula="heat and cooling together",
        device_floor_a=needed,
        device_ceiling_a=ceiling,
        heat_floor_a=needed,
        disconnect_min_a=(running - heat_a) * book.factor("disconnect-compressor") + heat_a * book.factor("heat"),
        disconnect_formula=(
            f"{book.percent('disconnect-compressor')} of the motors + {book.percent('heat')} of the heat"
        ),
        disconnect_article="440.12, 424.19",
        start_a=start + heat_a if start is not None else None,
        steps=(
            *steps,
            step("load", "Running current", "heat, compressors and fans together", running, "A", "440.33"),
            step("load", "Conductors must carry", formula, needed, "A", "424.4(B), 440.33", running_a=running),
            limit,
        ),
    )
