"""A steam humidifier against the building: its voltage options, and what the air asks for (psychrometrics)."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from decimal import Decimal
from functools import lru_cache
from typing import Annotated, Any, Literal

import psychrolib
from pydantic import Field

from leitung_core.circuits.loads.heat import line_current
from leitung_core.circuits.result import CircuitResult
from leitung_core.circuits.size import size
from leitung_core.circuits.spec import Equipment, Nameplate, Phase, Segment, Spec, Supply
from leitung_core.explain import Step, step
from leitung_core.rulebook.editions import NEWEST, EditionId
from leitung_core.rulebook.schools import AmendmentOrId
from leitung_core.suit.heat import Fahrenheit
from leitung_core.suit.verdict import Answer, Figure, Option, Suits, missing_answer
from leitung_core.units import exact, say, tidy
from leitung_core.validation import Entered, Id, NotNegative, Positive, Text

LB_PER_GAL = 8.34
# 8.34 lb heated from 50 °F to 212 °F and boiled (970.3 Btu/lb), by 3412 Btu a kWh.
KWH_PER_GAL = LB_PER_GAL * (212 - 50 + 970.3) / 3412.14
Percent = Annotated[float, Field(strict=True, ge=0, le=100, allow_inf_nan=False)]
psychrolib.SetUnitSystem(psychrolib.IP)


class VoltageOption(Entered):
    """One way to connect the humidifier: its marked amps, else its watts; the maker's own output where he gives one."""

    volts: Positive
    phase: Phase = 1
    amps: Positive | None = None
    watts: Positive | None = None
    gal_per_day: Positive | None = Field(None, description="the maker's own output at that voltage, US gal/day")


class SteamQuestion(Entered):
    """A humidifier's connections and the air that it serves."""

    ask: Literal["steam"]
    name: Text | None = None
    equipment: Id | None = None
    options: Annotated[list[VoltageOption], Field(max_length=6)] = []
    volume_ft3: Positive | None = None
    air_changes_per_hour: Annotated[float, Field(strict=True, ge=0, le=60, allow_inf_nan=False)] | None = Field(
        None, description="outdoor air that comes in"
    )
    outdoor_f: Fahrenheit | None = None
    outdoor_rh_pct: Percent | None = None
    indoor_f: Fahrenheit | None = None
    indoor_rh_pct: Percent | None = None
    elevation_ft: NotNegative | None = None
    run_ft: NotNegative | None = Field(None, description="one way, for the circuit of each option")


def gal_per_day(kw: float) -> float:
    """Steam of a resistance of `kw` kilowatts, US gal/day: about 8.7 a kilowatt."""
    return kw * 24 / KWH_PER_GAL


def humidity_load_gal_day(question: SteamQuestion) -> float | None:
    """Water that the incoming outdoor air asks for, US gal/day; None where something is not known."""
    known = (question.volume_ft3, question.air_changes_per_hour, question.outdoor_f, question.outdoor_rh_pct,
             question.indoor_f, question.indoor_rh_pct)  # fmt: skip
    if any(value is None for value in known):
        return None
    pressure = psychrolib.GetStandardAtmPressure(question.elevation_ft or 0.0)
    indoor, outdoor = _ratio(question.indoor_f, question.indoor_rh_pct, pressure), _ratio(
        question.outdoor_f, question.outdoor_rh_pct, pressure
    )  # fmt: skip
    specific_ft3_lb = psychrolib.GetMoistAirVolume(question.indoor_f, indoor, pressure)
    air_lb_h = (question.volume_ft3 or 0.0) * (question.air_changes_per_hour or 0.0) / specific_ft3_lb
    return max(0.0, float(air_lb_h * (indoor - outdoor)) * 24 / LB_PER_GAL)


def _ratio(temperature_f: float | None, rh_pct: float | None, pressure_psi: float) -> float:
    found: float = psychrolib.GetHumRatioFromRelHum(temperature_f or 0.0, (rh_pct or 0.0) / 100, pressure_psi)
    return found


def steam_answer(
    question: SteamQuestion,
    edition: EditionId = NEWEST,
    amendments: Sequence[AmendmentOrId] | None = None,
    site: Collection[tuple[float, int]] = (),
) -> Answer:
    """The options side by side, each against the air's need, each sized by the edition and amendments in force.

    `site` are the volts and phases that the site's sources have; none: not known. What the site does not have is shown
    and never recommended.
    """
    if not question.options:
        return missing_answer("steam", ["the humidifier's voltage options"])
    incomplete = [
        f"amps or watts at {option.volts:g} V" for option in question.options if not (option.amps or option.watts)
    ]
    if incomplete:
        return missing_answer("steam", incomplete)
    load = humidity_load_gal_day(question)
    rules = {"rulebook": edition, "amendments": list(amendments) if amendments else None}
    options = [
        _option(option, load, _circuit(Spec(**_connected(option, question.run_ft), **rules).model_dump_json()), site)
        for option in question.options
    ]
    suits, verdict = _verdict(options, load)
    return Answer(
        ask="steam",
        suits=suits,
        verdict=verdict,
        missing=[],
        figures=[Figure(what="The air asks for", value=None if load is None else round(load, 2), unit="gal/day")],
        options=options,
        steps=_steps(question, load, options),
    )


def _verdict(options: list[Option], load: float | None) -> tuple[Suits, str]:
    if load is None:
        return "unknown", "What the air asks for is not known: enter volume, air change, and both climates."
    here = [option for option in options if option.on_site is not False]
    if not here:
        offered = ", ".join(f"{option.volts:g} V" for option in options)
        return "no", f"The site has none of its voltages: {offered}."
    enough = [option for option in here if option.covers]
    elsewhere = [option for option in options if option.covers and option not in here]
    if not enough and elsewhere:
        most = max(here, key=lambda option: option.gal_per_day)
        return "no", (
            f"At most {say(most.gal_per_day)} gal/day on what the site has, at {most.volts:g} V; "
            f"{say(load)} is needed. {elsewhere[0].volts:g} V would do, and the site does not have it."
        )
    if not enough:
        most = max(options, key=lambda option: option.gal_per_day)
        return "no", f"At most {say(most.gal_per_day)} gal/day, at {most.volts:g} V; {say(load)} is needed."
    best = min(enough, key=lambda option: option.amps)
    gives = f"it gives {say(best.gal_per_day)} gal/day against {say(load)} needed"
    return "yes", f"At {best.volts:g} V {gives}, at {say(best.amps)} A."


def _amps(option: VoltageOption) -> Decimal:
    if option.amps:
        return exact(option.amps)
    return line_current(exact(option.watts or 0), exact(option.volts), option.phase)


def _connected(option: VoltageOption, run_ft: float | None) -> dict[str, Any]:
    """The circuit of one connection, as a size document."""
    run = [Segment(method="NM-B", material="Cu", ambient_c=30, place="interior", current_carrying=2, length_ft=run_ft)]
    plate = Nameplate(amps=tidy(_amps(option)), continuous=True)
    return {
        "supply": Supply(volts=option.volts, phase=option.phase),
        "equipment": Equipment(kind="steam_humidifier", nameplate=plate),
        "run": run,
    }


@lru_cache(maxsize=256)
def _circuit(document: str) -> CircuitResult:
    return size(Spec.model_validate_json(document))


def _option(
    option: VoltageOption, load: float | None, circuit: CircuitResult, site: Collection[tuple[float, int]]
) -> Option:
    volts, amps = exact(option.volts), _amps(option)
    kw = float(amps * volts * (exact(3).sqrt() if option.phase == 3 else 1)) / 1000
    gallons = option.gal_per_day or gal_per_day(kw)
    return Option(
        volts=option.volts,
        phase=option.phase,
        amps=round(float(amps), 2),
        kw=round(kw, 3),
        gal_per_day=round(gallons, 2),
        covers=None if load is None else gallons >= load,
        on_site=(option.volts, option.phase) in site if site else None,
        ocpd_a=circuit.ocpd_a,
        conductor=circuit.conductor,
    )


def _steps(question: SteamQuestion, load: float | None, options: list[Option]) -> list[Step]:
    balance = "kW × 24 / 2.77 kWh a gallon (50 °F water heated and boiled)"
    rows = [
        step("steam", f"Output at {option.volts:g} V", "as the maker gives it" if asked.gal_per_day else balance,
             exact(option.gal_per_day), "gal/day", "110.3(B)" if asked.gal_per_day else "heat balance",
             kw=option.kw, amps=option.amps)
        for asked, option in zip(question.options, options, strict=True)
    ]  # fmt: skip
    if load is not None:
        formula = "volume × air changes / specific volume × (W indoors - W outdoors) × 24 / 8.34"
        rows.append(
            step(
                "steam",
                "The air asks for",
                formula,
                exact(round(load, 3)),
                "gal/day",
                "psychrometrics",
                volume_ft3=question.volume_ft3,
                air_changes_per_hour=question.air_changes_per_hour,
            )
        )
    return rows
