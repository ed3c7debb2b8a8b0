"""A heater against its room: needed power, warm-up, steady temperature, energy and cost.

The room is one lump of heat that loses in proportion to the difference outdoors: C dT/dt = P - K (T - T_outdoor).
"""

from __future__ import annotations

import math
from functools import cache
from importlib.resources import files
from typing import Annotated, Literal

from pydantic import Field

from leitung_core.explain import Step, step
from leitung_core.rulebook.tables import parse_table
from leitung_core.suit.verdict import Answer, Figure, Point, missing_answer
from leitung_core.units import exact, say
from leitung_core.validation import Entered, Id, NotNegative, Positive, Text

BTU_PER_KWH = 3412.14
# Heat that a cubic foot of air takes up, Btu/ft3 F.
AIR_BTU_FT3_F = 0.018
CURVE_POINTS = 48
Fahrenheit = Annotated[float, Field(strict=True, ge=-80, le=200, allow_inf_nan=False)]


class HeatQuestion(Entered):
    """A room and what is asked of its heater. `equipment` names the heater: its power at its supply counts."""

    ask: Literal["heat"]
    name: Text | None = None
    equipment: Id | None = None
    area_ft2: Positive | None = None
    height_ft: Annotated[float, Field(strict=True, gt=0, le=200, allow_inf_nan=False)] | None = None
    insulation: Literal["none", "poor", "fair", "good"] | None = None
    mass: Literal["light", "medium", "heavy"] | None = None
    air_changes_per_hour: Annotated[float, Field(strict=True, ge=0, le=60, allow_inf_nan=False)] | None = Field(
        None, description="left out: by the insulation"
    )
    outdoor_f: Fahrenheit | None = Field(None, description="design temperature outdoors, °F")
    start_f: Fahrenheit | None = Field(None, description="where the warm-up begins; left out: outdoors")
    target_f: Fahrenheit | None = None
    other_heat_kw: NotNegative | None = Field(None, description="what another system gives the room, kW")
    price_per_kwh: NotNegative | None = None


@cache
def _table(name: str) -> dict[str, dict[str, str]]:
    table = parse_table(files("leitung_core.suit").joinpath("tables", f"{name}.csv").read_text("utf-8"))
    return {next(iter(row.values())): row for row in table.rows}


def loss_btu_h_f(question: HeatQuestion) -> float:
    """What the room loses per degree, Btu/h °F: walls and ceiling by their U, and the air that changes.

    The room is taken as square; the floor is left out.
    """
    area, height = question.area_ft2 or 0.0, question.height_ft or 0.0
    row = _table("envelopes")[question.insulation or "none"]
    changes = question.air_changes_per_hour
    changes = float(row["air_changes_per_hour"]) if changes is None else changes
    envelope = area + 4 * math.sqrt(area) * height
    return float(row["u_btu_h_ft2_f"]) * envelope + AIR_BTU_FT3_F * changes * area * height


def heat_answer(question: HeatQuestion, heater_w: float | None) -> Answer:
    """Whether a heater of `heater_w` watts (at its real voltage) holds and reaches the target.

    What another system gives the room is counted with it.
    """
    needed = {
        "area": question.area_ft2, "height": question.height_ft, "insulation": question.insulation,
        "design temperature outdoors": question.outdoor_f, "target temperature": question.target_f,
        "the heater's power at its supply": heater_w,
    }  # fmt: skip
    missing = [name for name, value in needed.items() if value is None]
    if missing:
        return missing_answer("heat", missing)
    outdoor, target, own = question.outdoor_f or 0.0, question.target_f or 0.0, (heater_w or 0.0) / 1000
    other = question.other_heat_kw or 0.0
    power = own + other
    loss = loss_btu_h_f(question)
    needed_kw = max(0.0, loss * (target - outdoor) / BTU_PER_KWH)
    steady = outdoor + power * BTU_PER_KWH / loss
    minutes = warm_up_minutes(question, power)
    figures = [
        _kilowatts("Needed to hold the target", needed_kw),
        _kilowatts("The heater gives", own),
        *([_kilowatts("Another system gives", other)] if other else []),
        Figure(what="Settles at", value=round(steady, 1), unit="°F"),
        Figure(what="Warm-up to the target", value=None if minutes is None else round(minutes, 1), unit="min"),
        *_energy(question, max(0.0, needed_kw - other), own, minutes),
    ]
    return Answer(
        ask="heat",
        suits="yes" if power >= needed_kw else "no",
        verdict=_verdict(question, power, needed_kw, steady, minutes),
        missing=[] if question.mass else ["the room's mass: no warm-up time"],
        figures=figures,
        curve=_curve(question, power, minutes) if question.mass else [],
        steps=_steps(question, loss, needed_kw, steady, minutes, power),
    )


def _kilowatts(what: str, kw: float) -> Figure:
    """A power in kW, and in Btu/h as furnaces are sold."""
    return Figure(what=what, value=round(kw, 3), unit="kW", also=f"{round(kw * BTU_PER_KWH, -1):,.0f} Btu/h")


def warm_up_minutes(question: HeatQuestion, power_kw: float) -> float | None:
    """Minutes from the start to the target; 0 where it is there already, None where never reached or not known."""
    if question.mass is None or question.outdoor_f is None or question.target_f is None:
        return None
    start = question.outdoor_f if question.start_f is None else question.start_f
    loss, capacity = loss_btu_h_f(question), _capacity(question)
    steady = question.outdoor_f + power_kw * BTU_PER_KWH / loss
    if start >= question.target_f:
        return 0.0
    if steady <= question.target_f:
        return None
    return capacity / loss * math.log((steady - start) / (steady - question.target_f)) * 60


def _capacity(question: HeatQuestion) -> float:
    return float(_table("masses")[question.mass or "light"]["btu_f_ft2"]) * (question.area_ft2 or 0.0)


def _curve(question: HeatQuestion, power_kw: float, minutes: float | None) -> list[Point]:
    loss, capacity = loss_btu_h_f(question), _capacity(question)
    outdoor = question.outdoor_f or 0.0
    start = outdoor if question.start_f is None else question.start_f
    steady = outdoor + power_kw * BTU_PER_KWH / loss
    span = minutes * 1.5 if minutes else capacity / loss * 60 * 3
    points = []
    for index in range(CURVE_POINTS + 1):
        at = span * index / CURVE_POINTS
        temperature = steady + (start - steady) * math.exp(-at / 60 * loss / capacity)
        points.append(Point(minutes=round(at, 2), temperature_f=round(temperature, 2)))
    return points


def _energy(question: HeatQuestion, needed_kw: float, power: float, minutes: float | None) -> list[Figure]:
    hourly = min(needed_kw, power)
    figures = [Figure(what="Energy to hold it, per hour", value=round(hourly, 3), unit="kWh")]
    price = question.price_per_kwh
    if price is not None:
        figures.append(Figure(what="Cost to hold it, per hour", value=round(hourly * price, 3), unit="per h"))
    if minutes:
        energy = power * minutes / 60
        figures.append(Figure(what="Energy of the warm-up", value=round(energy, 3), unit="kWh"))
        if price is not None:
            figures.append(Figure(what="Cost of the warm-up", value=round(energy * price, 3), unit="in all"))
    return figures


def _verdict(question: HeatQuestion, power: float, needed_kw: float, steady: float, minutes: float | None) -> str:
    target = say(question.target_f or 0)
    if power < needed_kw:
        return (
            f"Too small: it settles at {say(steady, 0)} °F and never holds {target} °F; {say(needed_kw)} kW is needed."
        )
    reserve = f"{say(power)} kW against {say(needed_kw)} kW needed"
    if minutes is None:
        return f"It holds {target} °F: {reserve}."
    return f"It holds {target} °F ({reserve}) and is there in {say_minutes(minutes)}."


def say_minutes(minutes: float) -> str:
    """A duration as people say it: 45 min, 12 h 27 min."""
    whole = round(minutes)
    return f"{whole} min" if whole < 60 else f"{whole // 60} h {whole % 60:02d} min"


def _steps(
    question: HeatQuestion, loss: float, needed_kw: float, steady: float, minutes: float | None, power: float
) -> list[Step]:
    rows = [
        step("heat", "The room loses per degree", "U × (walls + ceiling) + 0.018 × air changes × volume",
             exact(round(loss, 4)), "Btu/h °F", "workmanship table", area_ft2=question.area_ft2,
             height_ft=question.height_ft),
        step("heat", "Needed to hold the target", "loss × (target - outdoors) / 3412", exact(round(needed_kw, 4)), "kW",
             "heat balance", target_f=question.target_f, outdoor_f=question.outdoor_f),
        step("heat", "Settles at", "outdoors + power × 3412 / loss", exact(round(steady, 3)), "°F", "heat balance",
             power_kw=round(power, 4)),
    ]  # fmt: skip
    if minutes:
        formula = "C / K × ln((settled - start) / (settled - target))"
        row = step("heat", "Warm-up", formula, exact(round(minutes, 3)), "min", "heat balance",
                   capacity_btu_f=round(_capacity(question), 3))  # fmt: skip
        rows.append(row)
    return rows
