"""Whether a unit suits the job, against the hand calculations of docs/suit.md."""

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.errors import InputError
from leitung_core.rulebook import rulebook
from leitung_core.suit import (
    Answer,
    BranchQuestion,
    HeatQuestion,
    SteamQuestion,
    branch_answer,
    heat_answer,
    steam_answer,
)
from leitung_core.suit.heat import loss_btu_h_f, say_minutes
from leitung_core.suit.steam import VoltageOption, gal_per_day, humidity_load_gal_day
from leitung_core.validation import read
from pydantic import ValidationError

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
    assert humidity_load_gal_day(AIR) == pytest.approx(by_hand, rel=0.006)


@pytest.mark.parametrize("changes", [-0.1, 60.1, float("inf")])
def test_air_changes_that_no_room_has_are_refused(changes: float) -> None:
    with pytest.raises(ValidationError, match="air_changes_per_hour"):
        type(AIR).model_validate(AIR.model_dump() | {"air_changes_per_hour": changes})


def test_voltage_options_side_by_side() -> None:
    """By hand: 11.5 A x 120 V = 1.38 kW, 11.97 gal/day, 15 A on 14 AWG; 16 A x 208 V = 3.328 kW, 28.86; 240 V 33.30."""
    answer = steam_answer(AIR)
    assert [(o.kw, round(o.gal_per_day, 1), o.ocpd_a) for o in answer.options] == [
        (1.38, 12.0, 15), (3.328, 28.9, 20), (3.84, 33.3, 20),
    ]  # fmt: skip
    assert answer.suits == "yes"
    dry = steam_answer(AIR.model_copy(update={"air_changes_per_hour": 3.0}))
    assert dry.suits == "no"


def test_the_makers_own_output_outranks_arithmetic() -> None:
    """3.328 kW would give 28.9 gal/day; the maker says 24 at 208 V."""
    rows = [o.model_copy(update={"gal_per_day": 24.0} if o.volts == 208 else {}) for o in AIR.options]
    answer = steam_answer(AIR.model_copy(update={"options": rows}))
    assert [round(o.gal_per_day, 1) for o in answer.options] == [12.0, 24.0, 33.3]
    assert [row.article for row in answer.steps[:3]] == ["heat balance", "110.3(B)", "heat balance"]


@pytest.mark.parametrize(
    ("site", "suits", "told"),
    [
        ({(208.0, 1), (208.0, 3), (120.0, 1)}, "yes", "At 208 V"),
        ({(240.0, 1), (120.0, 1)}, "yes", "At 240 V"),
        ({(120.0, 1)}, "no", "208 V would do, and the site does not have it."),
        ({(480.0, 3), (277.0, 1)}, "no", "The site has none of its voltages: 120 V, 208 V, 240 V."),
    ],
)
def test_what_the_site_does_not_have_is_never_recommended(site: set[tuple[float, int]], suits: str, told: str) -> None:
    """An air change of 0.65 asks for more than the 12 gal/day that 120 V gives."""
    thirsty = AIR.model_copy(update={"air_changes_per_hour": 0.65})
    assert 12.0 < (humidity_load_gal_day(thirsty) or 0) < 28.8
    answer = steam_answer(thirsty, site=site)
    assert answer.suits == suits
    assert told in answer.verdict


def test_heat_of_another_system_counts() -> None:
    """5.179 kW are needed: 4 kW fall short, and hold it with 1.2 kW more; only 3.979 kW of it are paid for here."""
    answer = heat_answer(ROOM.model_copy(update={"other_heat_kw": 1.2}), 4000)
    assert (heat_answer(ROOM, 4000).suits, answer.suits) == ("no", "yes")
    assert figure(answer, "Energy to hold it, per hour") == pytest.approx(3.979, abs=0.001)
    shown = next(row.also for row in answer.figures if row.what == "The heater gives")
    assert shown == "13,650 Btu/h", "4 x 3412.14 = 13,649"


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


def asked(*loads: tuple[str, float, bool, bool | None], **more: object) -> Answer:
    rows = [{"name": n, "amps": a, "plugged_in": p, "continuous": c} for n, a, p, c in loads]
    return branch_answer(BranchQuestion.model_validate({"ask": "branch", "loads": rows, **more}), BOOK)


@pytest.mark.parametrize(
    ("continuous", "rest", "together", "suits"),
    [
        (False, 8.0, 20.0, "yes"),  # 12 + 8 = 20 of 20 A
        (False, 8.1, 20.1, "no"),
        (True, 5.0, 20.0, "yes"),  # 1.25 x 12 + 5 = 20 of 20 A (210.20(A))
        (True, 5.1, 20.1, "no"),
        (None, 5.0, 20.0, "yes"),  # what nobody knows counts as continuous
        (None, 5.1, 20.1, "no"),
    ],
)  # fmt: skip
def test_loads_at_once_count_with_a_quarter_more_where_they_are_continuous(
    continuous: bool | None, rest: float, together: float, suits: str
) -> None:
    answer = asked(("lamp", 12.0, True, continuous), ("fan", rest, False, False), branch_a=20)
    assert figure(answer, "All at once") == pytest.approx(together)
    assert answer.suits == suits
    (row,) = [entry for entry in answer.steps if entry.what == "All at once"]
    assert (float(row.value or 0), row.article) == (pytest.approx(together), "210.20(A)")
    assert "125 %" in row.formula


def test_what_each_load_may_take_of_the_branch() -> None:
    """20 A: plugged in 80 %, 16 A; fastened in place beside other outlets 50 %, 10 A; alone the whole (210.23(A))."""
    beside = asked(("pump", 9.0, True, False), ("fan", 4.0, False, False), branch_a=20, other_outlets=True)
    assert [(s.name, s.amps, s.most_a, s.fits) for s in beside.shares] == [("pump", 9, 16, True), ("fan", 4, 10, True)]
    alone = asked(("fan", 20.0, False, False), branch_a=20)
    assert [(s.most_a, s.fits, alone.suits) for s in alone.shares] == [(20, True, "yes")]
    over = asked(("pump", 16.5, True, False), branch_a=20)
    assert over.verdict == "pump takes 16.5 A and may take 16 A here."
    both = asked(("pump", 16.5, True, False), ("washer", 18.0, True, False), branch_a=20)
    assert both.verdict == "pump takes 16.5 A and may take 16 A here.", "the first is named"
    two = asked(("fan", 6.0, False, False), ("lamp", 4.5, False, False), branch_a=20, other_outlets=True)
    assert two.verdict == "What is fastened in place takes 10.5 A; 10 A is the most beside other outlets."
    apart = asked(("fan", 6.0, False, False), ("lamp", 4.5, False, False), branch_a=20)
    assert apart.verdict == "All may run at once: 10.5 A of 20 A. Starting not looked at."


def test_the_room_loses_by_its_walls_ceiling_and_air_by_hand() -> None:
    """400 ft2, 10 ft, poor: (400 + 4 x 20 x 10) x 0.18 = 216, air 0.018 x 1 x 4000 = 72 Btu/h F; tight: 216."""
    poor = ROOM.model_copy(update={"area_ft2": 400.0, "height_ft": 10.0, "insulation": "poor"})
    assert loss_btu_h_f(poor) == pytest.approx(288)
    assert loss_btu_h_f(poor.model_copy(update={"air_changes_per_hour": 0.0})) == pytest.approx(216)


@pytest.mark.parametrize(
    ("watts", "target", "suits", "minutes"),
    [
        (5178.8, 62, "no", None),  # 5.17886 kW is needed: just short
        (5178.9, 62, "yes", "long"),
        (7500, 40, "yes", 0),  # begins where it is to end
        (7500, 39, "yes", 0),
    ],
)  # fmt: skip
def test_a_heater_at_the_edge_of_what_the_room_asks(
    watts: float, target: float, suits: str, minutes: float | str | None
) -> None:
    answer = heat_answer(ROOM.model_copy(update={"target_f": float(target)}), watts)
    assert answer.suits == suits
    found = figure(answer, "Warm-up to the target")
    assert found == minutes if minutes != "long" else (found or 0) > 600


def test_a_room_that_is_warmer_outdoors_asks_for_nothing() -> None:
    answer = heat_answer(ROOM.model_copy(update={"outdoor_f": 70.0, "start_f": None}), 1000)
    assert figure(answer, "Needed to hold the target") == 0
    assert answer.suits == "yes"


@pytest.mark.parametrize(
    ("minutes", "words"),
    [(0.4, "0 min"), (59.4, "59 min"), (59.6, "1 h 00 min"), (125, "2 h 05 min"), (3601, "60 h 01 min")],
)
def test_a_duration_in_words(minutes: float, words: str) -> None:
    assert say_minutes(minutes) == words


def test_the_curve_runs_half_again_as_long_as_the_warm_up_and_passes_the_target_on_time() -> None:
    answer = heat_answer(ROOM, 7500)
    warm = figure(answer, "Warm-up to the target") or 0
    assert (answer.curve[0].temperature_f, answer.curve[-1].minutes) == (40, pytest.approx(1.5 * warm, rel=1e-3))
    before = [point for point in answer.curve if point.minutes < warm]
    after = [point for point in answer.curve if point.minutes > warm]
    assert max(point.temperature_f for point in before) <= 62 <= min(point.temperature_f for point in after)
    never = heat_answer(ROOM, 4000).curve
    assert never[-1].minutes == pytest.approx(3 * 6300 / 327.24 * 60, rel=1e-3)


def test_without_its_mass_a_room_has_no_warm_up_and_without_a_price_no_cost() -> None:
    answer = heat_answer(ROOM.model_copy(update={"mass": None, "price_per_kwh": None}), 7500)
    assert (figure(answer, "Warm-up to the target"), answer.curve) == (None, [])
    assert answer.missing == ["the room's mass: no warm-up time"]
    assert not [row for row in answer.figures if "Cost" in row.what]
    assert answer.verdict == "It holds 62 °F: 7.5 kW against 5.2 kW needed."


def test_energy_and_cost_by_hand() -> None:
    """Holding takes what is needed, or all that there is; 7.5 kW over 746.9 min is 93.4 kWh, 18.67 at 0.20."""
    answer, small = heat_answer(ROOM, 7500), heat_answer(ROOM, 4000)
    assert figure(answer, "Energy to hold it, per hour") == pytest.approx(5.179, abs=0.001)
    assert figure(small, "Energy to hold it, per hour") == 4
    assert figure(answer, "Cost of the warm-up") == pytest.approx(93.36 * 0.20, abs=0.02)


def test_the_least_current_that_covers_the_load_is_recommended() -> None:
    answer = steam_answer(AIR)
    need = figure(answer, "The air asks for") or 0
    assert [option.covers for option in answer.options] == [gives >= need for gives in (11.97, 28.86, 33.30)]
    best = min((o for o in answer.options if o.covers), key=lambda o: o.amps)
    assert answer.verdict.startswith(f"At {best.volts:g} V it gives")
    dry = steam_answer(AIR.model_copy(update={"air_changes_per_hour": 3.0}))
    assert dry.verdict.startswith("At most 33.3 gal/day, at 240 V; ")


def test_a_connection_may_be_told_in_watts_or_on_three_phases() -> None:
    """3 kW on 208 V three-phase: 8.33 A, 3 kW; on one phase 14.42 A."""
    options = [VoltageOption(volts=208, phase=3, watts=3000), VoltageOption(volts=208, watts=3000),
               VoltageOption(volts=208, phase=3, amps=8.327)]  # fmt: skip
    found = steam_answer(AIR.model_copy(update={"options": options})).options
    assert [(row.amps, round(row.kw, 2)) for row in found] == [(8.33, 3.0), (14.42, 3.0), (8.33, 3.0)]


def test_the_circuit_of_a_steam_humidifier_by_hand() -> None:
    """12.5 A, continuous: 15.6 A (210.20(A)), so 20 A on 12 AWG; 12 A: 15 A on 14 AWG (240.4(D))."""
    options = [VoltageOption(volts=240, amps=12.5), VoltageOption(volts=240, amps=12)]
    found = steam_answer(AIR.model_copy(update={"options": options}), "us-2020").options
    assert [(row.ocpd_a, row.conductor) for row in found] == [(20, "12"), (15, "14")]


def test_an_unknown_air_is_unknown_and_what_lacks_is_named() -> None:
    assert steam_answer(AIR.model_copy(update={"indoor_rh_pct": None})).suits == "unknown"
    nothing = steam_answer(AIR.model_copy(update={"options": [VoltageOption(volts=120)]}))
    assert nothing.missing == ["amps or watts at 120 V"]
    still = steam_answer(AIR.model_copy(update={"outdoor_f": 90.0, "outdoor_rh_pct": 80.0}))
    assert figure(still, "The air asks for") == 0


def test_a_heater_that_gives_just_what_is_needed_suits() -> None:
    """At the target outdoors nothing is needed, and nothing is enough."""
    still = ROOM.model_copy(update={"outdoor_f": 62.0, "start_f": 62.0})
    assert heat_answer(still, 0).suits == "yes"


@pytest.mark.parametrize(
    ("ask", "field", "last", "beyond"),
    [
        ("heat", "outdoor_f", 200.0, 200.1), ("heat", "outdoor_f", -80.0, -80.1), ("heat", "height_ft", 200.0, 200.1),
        ("heat", "air_changes_per_hour", 60.0, 60.1), ("heat", "air_changes_per_hour", 0.0, -0.1),
        ("steam", "indoor_rh_pct", 100.0, 100.1), ("steam", "indoor_rh_pct", 0.0, -0.1),
        ("steam", "air_changes_per_hour", 60.0, 60.1), ("heat", "height_ft", 0.1, 0.0),
    ],
)  # fmt: skip
def test_a_question_takes_what_can_be_and_refuses_what_cannot(ask: str, field: str, last: float, beyond: float) -> None:
    model = {"heat": HeatQuestion, "steam": SteamQuestion}[ask]
    assert getattr(read(model, {"ask": ask, field: last}), field) == last
    with pytest.raises(InputError) as refused:
        read(model, {"ask": ask, field: beyond})
    assert [problem.field for problem in refused.value.problems] == [field]


def test_where_it_is_as_warm_outdoors_nothing_is_needed_and_nothing_gets_it_there() -> None:
    """Target and outdoors alike: no loss to make up, and a room that starts colder nears it without reaching it."""
    answer = heat_answer(ROOM.model_copy(update={"outdoor_f": 62}), 0)
    assert (answer.suits, figure(answer, "Warm-up to the target")) == ("yes", None)
    assert answer.verdict == "It holds 62 °F: 0 kW against 0 kW needed."


@pytest.mark.parametrize(("other_kw", "hourly_kwh"), [(0, 5.179), (5, 0.179), (8, 0)])
def test_what_another_system_gives_the_heater_need_not(other_kw: float, hourly_kwh: float) -> None:
    """5.179 kW hold the room (as above)."""
    answer = heat_answer(ROOM.model_copy(update={"other_heat_kw": other_kw}), 7500)
    assert figure(answer, "Energy to hold it, per hour") == pytest.approx(hourly_kwh, abs=0.001)
    assert len(answer.curve) == 49
