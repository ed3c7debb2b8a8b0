"""Loads that the plate gives as amps or watts: humidifiers, dehumidifiers, pumps, appliances; and feeders."""

from __future__ import annotations

from decimal import Decimal

from leitung_core.circuits.loads.heat import line_current
from leitung_core.circuits.loads.load import PLATE, Load, count
from leitung_core.circuits.spec import Nameplate, Spec
from leitung_core.explain import Step, step
from leitung_core.findings import Edit, Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say

# On for three hours or more by what they are for (Article 100, continuous load).
CONTINUOUS_KINDS = ("steam_humidifier", "unit_heater", "air_handler")


def amps_load(spec: Spec, plate: Nameplate, book: Rulebook) -> Load:
    """A load by its marked amps, else its watts at the supply: 125 % where continuous (210.19(A)(1), 210.20(A))."""
    feeder = spec.equipment.kind == "feeder"
    article = "215.2(A)(1), 215.3" if feeder else "210.19(A)(1), 210.20(A)"
    found = _running(spec, plate, article)
    if found is None:
        message = "The supply's voltage or phase is not known: the current cannot be worked out from the watts."
        return Load("215" if feeder else "210", remarks=(Remark("plate-load-missing", PLATE, message),))
    running, first = found
    continuous, remarks = _continuous(spec, plate)
    share = "feeder-continuous" if feeder else "continuous"
    needed = running * (book.factor(share) if continuous else 1)
    whole = f"{book.percent(share)} of the continuous load"
    formula = whole if continuous else "the load, which is not continuous"
    return Load(
        article="215" if feeder else "210",
        min_ampacity_a=needed,
        running_a=running,
        running_formula="marked amps" if plate.amps else "marked watts at the supply",
        device_floor_a=needed,
        disconnect_min_a=needed,
        disconnect_formula=formula,
        disconnect_article="422.31" if not feeder else "225.33",
        remarks=remarks,
        steps=(first, step("load", "Conductors must carry", formula, needed, "A", article, running_a=running)),
    )


def _running(spec: Spec, plate: Nameplate, article: str) -> tuple[Decimal, Step] | None:
    """The running current and its step; None where the supply that it needs is not known."""
    number = count(spec)
    if plate.amps:
        running = exact(plate.amps) * number
        return running, step("load", "Running current", "marked amps", running, "A", article, amps=plate.amps)
    volts, phase = spec.supply.volts, plate.phase or spec.supply.phase
    if not volts or not phase:
        return None
    running = line_current(exact(plate.watts or 0), exact(volts), phase) * number
    formula = "P / (√3 × V)" if phase == 3 else "P / V"
    return running, step("load", "Running current", formula, running, "A", article, watts=plate.watts, volts=volts)


def _continuous(spec: Spec, plate: Nameplate) -> tuple[bool, tuple[Remark, ...]]:
    """Whether the load counts as continuous: as the plate says, by its kind, else yes with a finding."""
    if spec.equipment.kind in CONTINUOUS_KINDS:
        return True, ()
    if plate.continuous is not None:
        return plate.continuous, ()
    at = (*PLATE, "continuous")
    message = "Whether this load is on for three hours or more is not known; it was taken as continuous."
    return True, (Remark("continuous-missing", at, message, "It is continuous", (Edit(at, True),)),)


def feeder_load(spec: Spec, plate: Nameplate, book: Rulebook) -> Load:
    """A feeder by the loads behind it: all of them, 25 % of the continuous ones, 25 % of the largest motor.

    215.2(A)(1), 215.3, 430.24; no demand factor is taken.
    """
    loads = plate.loads or []
    running = sum((exact(load.amps) for load in loads), Decimal(0))
    continuous = sum((exact(load.amps) for load in loads if load.sort == "continuous"), Decimal(0))
    motor = max((exact(load.amps) for load in loads if load.sort == "motor"), default=Decimal(0))
    more = book.factor("feeder-continuous") - 1
    needed = running + continuous * more + motor * book.factor("largest-motor")
    largest = f"{book.percent('largest-motor')} of the largest motor"
    formula = f"all loads + {say(more * 100, 2)} % of the continuous ones + {largest}"
    article = "215.2(A)(1), 430.24"
    named = ", ".join(f"{load.name or load.sort} {say(exact(load.amps))}" for load in loads[:12])
    return Load(
        article="215",
        min_ampacity_a=needed,
        running_a=running,
        running_formula="everything behind it at once",
        device_floor_a=needed,
        disconnect_min_a=needed,
        disconnect_formula=formula,
        disconnect_article="225.33",
        steps=(
            step("load", "Everything behind it", "sum of the running currents", running, "A", article, loads=named),
            step("load", "Conductors must carry", formula, needed, "A", article, continuous_a=continuous,
                 largest_motor_a=motor),
        ),
    )  # fmt: skip
