"""Whether a unit suits the job, against the hand calculations of docs/suit.md."""

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.rulebook import rulebook
from leitung_core.suit import BranchQuestion, HeatQuestion, SteamQuestion, branch_answer, heat_answer, steam_answer
from leitung_core.suit.steam import VoltageOption, gal_per_day, humidity_load_gal_day

BOOK = rulebook("us-2023")
ROOM = HeatQuestion(ask="heat", area_ft2=900, height_ft=12, insulation="fair", mass="medium", outdoor_f=8, start_f=40,
                    target_f=62, price_per_kwh=0.20)  # fmt: skip


def figure(answer: object, what: str) -> float | None:
    return next(found.value for found in answer.figures if found.what == what)  # type: ignore[attr-defined]


def test_room_by_hand() -> None:
    """docs/suit.md: envelope 900 + 4 x 30 x 12 = 2340 ft2, x 0.09 = 210.6; air 0.018 x 0.6 x 10800 = 116.64;
    327.24 Btu/h F. 54 F x 327.24 / 3412.14 = 5.1788 kW. Settles at 8 + 7.5 x 3412.14 / 327.24 = 86.203 F.
    C = 6300 Btu/F; 6300 / 327.24 x ln((86.203 - 40) / (86.203 - 62)) x 60 = 746.9 min.
    """
    answer = heat_answer(ROOM, 7500)
    assert answer.suits == "yes"
    assert figure(answer, "Needed to hold the target") == pytest.approx(5.179, abs=0.001)
    assert figure(answer, "Settles at") == pytest.approx(86.2, abs=0.05)
    assert figure(answer, "Warm-up to the target") == pytest.approx(746.9, abs=0.2)
    assert figure(answer, "Cost to hold it, per hour") == pytest.approx(5.179 * 0.20, abs=0.001)
    assert figure(answer, "Energy of the warm-up") == pytest.approx(7.5 * 746.9 / 60, abs=0.05)


def test_the_curve_obeys_the_heat_balance() -> None:
    """Over each short step, what is stored is what came in less what was lost: C dT = (P - K (T - outdoors)) dt."""
    answer = heat_answer(ROOM, 7500)
    for before, after in pairwise(answer.curve):
        hours = (after.minutes - before.minutes) / 60
        middle = (before.temperature_f + after.temperature_f) / 2
        stored = 6300 * (after.temperature_f - before.temperature_f)
        assert stored == pytest.approx((7.5 * 3412.14 - 327.24 * (middle - 8)) * hours, rel=0.02)


@given(st.floats(500, 30_000), st.floats(1, 20_000))
def test_more_heat_is_never_slower_or_colder(watts: float, more: float) -> None:
    small, large = heat_answer(ROOM, watts), heat_answer(ROOM, watts + more)
    assert (figure(large, "Settles at") or 0) >= (figure(small, "Settles at") or 0)
    slow, fast = (figure(answer, "Warm-up to the target") for answer in (small, large))
    assert slow is None or (fast is not None and fast <= slow)
    assert small.suits != "yes" or large.suits == "yes"


def test_a_heater_that_never_gets_there_says_so() -> None:
    answer = heat_answer(ROOM, 4000)
    assert (answer.suits, figure(answer, "Warm-up to the target")) == ("no", None)
    assert "never holds 62 °F" in answer.verdict


def test_what_is_missing_is_named() -> None:
    answer = heat_answer(HeatQuestion(ask="heat", area_ft2=900, target_f=60), None)
    assert answer.suits == "unknown"
    assert {"height", "insulation", "design temperature outdoors", "the heater's power at its supply"} == set(
        answer.missing
    )
    assert steam_answer(SteamQuestion(ask="steam")).suits == "unknown"
    assert branch_answer(BranchQuestion(ask="branch", branch_a=20), BOOK).missing == ["the loads"]


def test_a_gallon_takes_2_77_kwh() -> None:
    """8.34 lb x (212 - 50 + 970.3) Btu/lb / 3412.14 = 2.7676 kWh; 24 / 2.7676 = 8.672 gal/day a kilowatt."""
    assert gal_per_day(1) == pytest.approx(8.672, abs=0.001)


AIR = SteamQuestion(
    ask="steam", volume_ft3=16800, air_changes_per_hour=0.35, outdoor_f=15, outdoor_rh_pct=60, indoor_f=68,
    indoor_rh_pct=48, run_ft=24,
    options=[VoltageOption(volts=120, amps=11.5), VoltageOption(volts=208, amps=16), VoltageOption(volts=240, amps=16)],
)  # fmt: skip


def saturation_psi(temperature_f: float) -> float:
    """Saturation pressure by the Magnus form over water (over ice below 32 °F), psi: not the library's formula."""
    celsius = (temperature_f - 32) / 1.8
    a, b = (17.62, 243.12) if celsius >= 0 else (22.46, 272.62)
    return 6.112 * math.exp(a * celsius / (b + celsius)) * 0.0145038


def test_the_air_by_hand() -> None:
    """Ratios from an independent saturation formula at 14.696 psi; 0.370486 x R x (1 + 1.6078 W) / p for the volume."""
    inside, outside = 0.48 * saturation_psi(68), 0.60 * saturation_psi(15)
    w_in, w_out = 0.62198 * inside / (14.696 - inside), 0.62198 * outside / (14.696 - outside)
    volume = 0.370486 * (68 + 459.67) * (1 + 1.607858 * w_in) / 14.696
    by_hand = 16800 * 0.35 / volume * (w_in - w_out) * 24 / 8.34
    assert humidity_load_gal_day(AIR) == pytest.approx(by_hand, rel=0.01)


def test_voltage_options_side_by_side() -> None:
    """By hand: 11.5 A x 120 V = 1.38 kW, 11.97 gal/day, 15 A on 14 AWG; 16 A x 208 V = 3.328 kW, 28.86; 240 V 33.30."""
    answer = steam_answer(AIR)
    assert [(o.kw, round(o.gal_per_day, 1), o.ocpd_a) for o in answer.options] == [
        (1.38, 12.0, 15), (3.328, 28.9, 20), (3.84, 33.3, 20),
    ]  # fmt: skip
    assert answer.suits == "yes"
    dry = steam_answer(AIR.model_copy(update={"air_changes_per_hour": 3.0}))
    assert dry.suits == "no"


def branch(*loads: tuple[str, float, bool, bool], **more: object) -> str:
    rows = [{"name": n, "amps": a, "plugged_in": p, "continuous": c} for n, a, p, c in loads]
    return branch_answer(BranchQuestion.model_validate({"ask": "branch", "loads": rows, **more}), BOOK).suits


def test_fifty_and_eighty_percent() -> None:
    assert branch(("pump", 12.0, True, False), branch_a=15) == "yes"
    assert branch(("pump", 12.1, True, False), branch_a=15) == "no"
    assert branch(("fan", 7.5, False, False), branch_a=15, other_outlets=True) == "yes"
    assert branch(("fan", 7.6, False, False), branch_a=15, other_outlets=True) == "no"
    assert branch(("fan", 4, False, False), ("lamp", 4, False, False), branch_a=15, other_outlets=True) == "no"


def test_one_at_a_time_or_a_load_sharing_device() -> None:
    charger, heater = ("charger", 40.0, True, True), ("heater", 20.8, True, True)
    assert branch(charger, heater, branch_a=50) == "no"
    assert branch(charger, heater, branch_a=50, load_sharing=True) == "yes"
