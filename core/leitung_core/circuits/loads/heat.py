"""Electric heat (domain 1.1): power goes with the square of the real voltage; 125 % of heater and motors."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.loads.load import PLATE, Load, count, listed, motor_currents
from leitung_core.circuits.plate import plate_volts
from leitung_core.circuits.spec import Nameplate, Spec
from leitung_core.explain import Step, step
from leitung_core.findings import Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say

ROOT_3 = Decimal(3).sqrt()


@dataclass(frozen=True)
class HeatCurrent:
    """The electric heat of one unit at the real voltage: W and A; None where not known, `missing` names the field."""

    watts: Decimal | None
    amps: Decimal | None
    missing: str | None
    steps: tuple[Step, ...]


def heat_ratings(plate: Nameplate) -> dict[Decimal, Decimal]:
    """Marked power, W, by its voltage, V. A single printed voltage serves where the heat names none of its own."""
    heat = plate.heat
    if heat is None:
        return {}
    printed = plate_volts(plate)
    volts = heat.rated_volts or (printed[0] if len(printed) == 1 else None)
    found = {exact(rating.rated_volts): exact(rating.watts) for rating in heat.ratings or []}
    return found | ({exact(volts): exact(heat.watts)} if volts else {})


def power_at(plate: Nameplate, volts: Decimal) -> tuple[Decimal, Decimal, Decimal] | None:
    """Power in W at `volts`, with the rating it comes from (V, W): as marked, else by the square of the voltage."""
    ratings = heat_ratings(plate)
    if not ratings:
        return None
    rated = min(ratings, key=lambda marked: (abs(marked - volts), marked))
    return ratings[rated] * (volts / rated) ** 2, rated, ratings[rated]


def line_current(watts: Decimal, volts: Decimal, phase: int) -> Decimal:
    """P / V on one phase, P / (√3 V) on three, A."""
    return watts / volts / (ROOT_3 if phase == 3 else 1)


def heat_current(spec: Spec, plate: Nameplate) -> HeatCurrent:
    """What the heat draws at the supply's voltage. No heat on the plate: all None."""
    heat, volts = plate.heat, spec.supply.volts
    if heat is None:
        return HeatCurrent(None, None, None, ())
    phase = heat.phase or plate.phase or spec.supply.phase
    if volts is None or phase is None:
        return HeatCurrent(None, None, "supply", ())
    found = power_at(plate, exact(volts))
    if found is None:
        return HeatCurrent(None, None, "rated_volts", ())
    watts, rated, marked = found
    steps = []
    if rated == exact(volts):
        steps.append(step("load", f"Heat at {say(rated)} V", "as the plate gives it", watts, "W", "424.4(B)"))
    else:
        formula = "marked power × (supply / rated volts)²"
        steps.append(
            step("load", f"Heat at {say(exact(volts))} V", formula, watts, "W", "P = V²/R", watts=marked,
                 supply_v=volts, rated_v=rated)
        )  # fmt: skip
    amps = line_current(watts, exact(volts), phase)
    formula = "P / (√3 × V)" if phase == 3 else "P / V"
    steps.append(step("load", "Heat draws", formula, amps, "A", "424.4(B)", watts=watts, volts=volts))
    return HeatCurrent(watts, amps, None, tuple(steps))


def missing_heat(heat: HeatCurrent) -> tuple[Remark, ...]:
    """What keeps the heat's current from being known."""
    if heat.missing is None:
        return ()
    message = (
        "The heat's rated voltage is not known: its power at the real voltage cannot be worked out."
        if heat.missing == "rated_volts"
        else "The supply's voltage or phase is not known: the heat's current cannot be worked out."
    )
    return (Remark("heat-volts-missing", (*PLATE, "heat"), message),)


def heat_load(spec: Spec, plate: Nameplate, book: Rulebook) -> Load:
    """Electric heat with its motors and without a compressor: 125 % of all of it (424.4(B))."""
    heat = heat_current(spec, plate)
    if heat.amps is None:
        return Load("424", remarks=missing_heat(heat), steps=heat.steps)
    motors, number = motor_currents(plate), count(spec)
    running = (heat.amps + sum(motors, Decimal(0))) * number
    needed = running * book.factor("heat")
    steps = [*heat.steps]
    if motors or number > 1:
        formula = "heat + motors" + (f", × {number} units" if number > 1 else "")
        steps.append(step("load", "Running current", formula, running, "A", "424.4(B)", heat_a=heat.amps,
                          motors_a=listed(motors) or None))  # fmt: skip
    formula = f"{book.percent('heat')} of heat and motors together"
    steps.append(step("load", "Conductors must carry", formula, needed, "A", "424.4(B)", running_a=running))
    return Load(
        article="424",
        min_ampacity_a=needed,
        running_a=running,
        running_formula="heat and motors at the real voltage",
        device_floor_a=needed,
        heat_floor_a=needed,
        disconnect_min_a=needed,
        disconnect_formula=f"{book.percent('heat')} of heat and motors",
        disconnect_article="424.19",
        steps=tuple(steps),
    )
