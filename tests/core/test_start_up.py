"""What start-up asks of a line by its poles, and what each reading should be, by hand."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.commissioning.judge import judge_reading, judge_readings
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_and_brief
from leitung_demo import museum

from tests.core.test_panels import heaters

Json = dict[str, Any]


def started(plan: Json) -> Any:
    return check_and_brief(read_plan(plan))[1].start_up


def one_pole() -> Json:
    unit = {
        "kind": "unit_heater",
        "nameplate": {"volts": "120", "phase": 1, "heat": {"watts": 1200, "rated_volts": 120}},
    }
    return merge(heaters([1]), {"equipment": {"U0": unit}, "circuits": {"C0": {"poles": 1}}})


POLE = "Prove dead: line to neutral, line to ground, neutral to ground."
LINES = "Prove dead: every line to every other line, every line to ground."


@pytest.mark.parametrize(
    ("plan", "pairs", "dead"),
    [
        (one_pole(), ["L1-N", "L1-G"], POLE),
        (heaters([1, 3]), ["L1-L2", "L1-G", "L2-G"], LINES),
        (merge(heaters([1, 3], legs=3), {"circuits": {"C0": {"poles": None}}}), ["L1-L2", "L1-G", "L2-G"], LINES),
        (merge(heaters([1, 3, 5], legs=3), {"circuits": {"C0": {"poles": None}},
                                            "equipment": {"U0": {"nameplate": {"phase": 3}}}}),
         ["L1-L2", "L2-L3", "L3-L1", "L1-G", "L2-G", "L3-G"], LINES),
    ],
)  # fmt: skip
def test_what_is_read_and_proved_dead_follows_the_poles(plan: Json, pairs: list[str], dead: str) -> None:
    found = started(plan)
    at_load = [f"running-{pair}" for pair in pairs if not pair.endswith("G")]
    assert [row.key.removeprefix("C0.") for row in found.readings] == [*pairs, *at_load, "running"]
    assert [row.text for row in found.steps if row.key == "C0.dead"] == [f"{dead} Write down the highest."]


def test_a_one_pole_line_reads_its_volts_to_neutral_and_to_ground() -> None:
    """120 V nominal; the plate's 120 V less and more a tenth: 108 to 132 V."""
    to_neutral, to_ground, _, running = started(one_pole()).readings
    assert (to_neutral.expected, to_neutral.low, to_neutral.high) == (120, 108, 132)
    assert (to_ground.expected, to_ground.low, to_ground.high) == (120, 108, 132)
    assert to_neutral.terminal_to == "C0.disconnect.N"
    assert (running.expected, running.low, running.high) == pytest.approx((10, 9, 11))


@pytest.mark.parametrize(
    ("value", "verdict"), [(107.9, "outside"), (108, "within"), (120, "within"), (132, "within"), (132.1, "outside")]
)
def test_a_reading_is_within_up_to_its_bounds(value: float, verdict: str) -> None:
    assert judge_reading(started(one_pole()).readings[0], value) == verdict


def test_a_white_that_is_marked_is_looked_at_before_power() -> None:
    run = {"run": {"s1": {"order": 10, "method": "NM-B", "white_as_ungrounded": True, "white_reidentified": True}}}
    keys = [row.key for row in started(merge(heaters([1, 3]), {"circuits": {"C0": run}})).steps]
    assert keys.index("C0.white") == keys.index("C0.torque") + 1
    assert "C0.white" not in [row.key for row in started(heaters([1, 3])).steps]


@pytest.mark.parametrize(
    ("patch", "text"),
    [
        ({"circuits": {"C0": {"disconnect": {"rating_a": 30}}}}, "Open the disconnect and lock it."),
        ({}, "Open the means of disconnect and lock it."),
        ({"equipment": {"U0": {"cord_connected": True}}}, "Pull the plug and lock it out."),
    ],
)  # fmt: skip
def test_how_the_unit_is_cut_off_follows_what_is_there(patch: Json, text: str) -> None:
    found = started(merge(heaters([1, 3]), patch))
    assert [row.text for row in found.steps if row.key == "C0.disconnect-open"] == [text]


def test_a_subpanel_without_a_main_is_made_dead_at_its_feeder() -> None:
    plan = merge(heaters([1, 3]), {
        "sources": {"S": {"kind": "subpanel", "name": "loft panel", "volts": 240, "phase": 1, "volts_to_ground": 120,
                          "bus_a": 100, "spaces": 8}, "P": {"name": "main panel"}},
        "circuits": {"F": {"source": "P", "feeds": "S", "ocpd": {"spaces": [5, 7]}}, "C0": {"source": "S"}},
    })  # fmt: skip
    rows = {row.key: row for row in started(plan).steps}
    off = rows["sources/S.main-off"]
    assert off.text == "Feeder F to loft panel off at main panel while its cover is open, locked and tagged."
    assert off.caution == "main panel stays live."
    assert rows["sources/S.main-on"].text == "Locks off by those who set them. Feeder F on."
    own = started(merge(plan, {"sources": {"S": {"main_a": 60}}})).steps
    assert "Main of loft panel off while its cover is open." in {row.text for row in own}


def test_nothing_is_live_before_first_energising_and_everything_after() -> None:
    found = started(heaters([1, 3]))
    live = {phase.id: phase.live for phase in found.phases}
    assert [phase for phase, alive in live.items() if alive] == ["energise", "running", "proofs"]
    phases = [row.phase for row in found.steps]
    assert phases == sorted(phases, key=[*live].index), "in the order of the work"


def readings_of(plan: Json, **values: float) -> dict[str, Any]:
    """Every reading judged: `L1_L2=241` is the reading C0.L1-L2; `running` the current."""
    points = started(plan).readings
    named = {f"C0.{name.replace('_', '-')}": value for name, value in values.items()}
    assert named.keys() <= {point.key for point in points}
    return {key.removeprefix("C0."): entry for key, entry in judge_readings(points, named).items()}


def wide() -> Json:
    """A heater whose plate takes 208 and 240 V, on a 240 V panel: 4160 W at 208 V."""
    plate = {"volts": "208/240", "heat": {"watts": 4160, "rated_volts": 208, "ratings": [
        {"watts": 5539, "rated_volts": 240}]}}  # fmt: skip
    return merge(heaters([1, 3]), {"equipment": {"U0": {"nameplate": plate}}})


@pytest.mark.parametrize(
    ("read", "verdict", "told"),
    [
        (241, "within", "Within 187.2 to 264 V"),
        (228, "within", "Within"),  # 5 % below 240 V
        (227.9, "doubtful", "But 12 V below the 240 V of this panel: which leg, which tap?"),
        (208, "doubtful", "But 32 V below the 240 V of this panel: which leg, which tap?"),
        (252, "within", "Within"),
        (252.1, "doubtful", "But 12 V above the 240 V of this panel"),
        (187, "outside", "Switch off and find out why"),
    ],
)
def test_volts_within_the_plate_are_held_against_the_panel_too(read: float, verdict: str, told: str) -> None:
    found = readings_of(wide(), L1_L2=read)["L1-L2"]
    assert found.verdict == verdict
    assert told in found.said


@pytest.mark.parametrize(
    ("one", "two", "between", "told"),
    [
        (121, 500, 241, "121 V and 500 V to ground cannot give 241 V between them: one is read wrong."),
        (120, 121, 241, None),
        (120, 120, 208, "120 V and 120 V to ground should give 240 V between them: which system is this?"),
        (117, 117, 241, None),  # 234 against 241: 2.9 %
        (116, 117, 241, "116 V and 117 V to ground cannot give 241 V"),  # 3.3 % more than both
        (60, 60, 241, "60 V and 60 V to ground cannot give 241 V"),
    ],
)
def test_lines_to_ground_and_between_are_held_against_each_other(
    one: float, two: float, between: float, told: str | None
) -> None:
    found = readings_of(wide(), L1_G=one, L2_G=two, L1_L2=between)
    said = [entry.said for entry in found.values() if "between them" in entry.said]
    if told is None:
        assert said == []
    else:
        assert any(told in text for text in said)
        assert {found[key].verdict for key in found} <= {"doubtful", "outside"}


def three_phases() -> Json:
    plate = {"phase": 3, "volts": "208"}
    return merge(
        heaters([1, 3, 5], legs=3), {"circuits": {"C0": {"poles": None}}, "equipment": {"U0": {"nameplate": plate}}}
    )


@pytest.mark.parametrize(
    ("third", "told"),
    [(208, None), (202, None), (200, "2.6 % out of balance; 2 % is the most")],
)  # fmt: skip
def test_three_phases_are_held_against_their_mean(third: float, told: str | None) -> None:
    """208, 208, 200: mean 205.33, 5.33 away, 2.6 %; with 202: mean 206, 1.9 %."""
    found = readings_of(three_phases(), L1_L2=208, L2_L3=208, L3_L1=third)
    said = [key for key, entry in found.items() if "out of balance" in entry.said]
    assert said == ([] if told is None else ["L3-L1"])
    assert told is None or told in found["L3-L1"].said


def test_on_a_wye_120_and_120_to_ground_give_208() -> None:
    found = readings_of(three_phases(), L1_G=120, L2_G=120, L1_L2=208)
    assert {entry.verdict for entry in found.values()} == {"within"}


@pytest.mark.parametrize(
    ("amps", "verdict"), [(10.1, "outside"), (10.2, "within"), (12.3, "within"), (12.4, "outside")]
)
def test_heat_draws_in_proportion_to_the_volts_just_read(amps: float, verdict: str) -> None:
    """1200 W at 120 V is 10 A; at 135 V 11.25 A, a tenth around it 10.125 to 12.375 A."""
    plan = one_pole()
    assert readings_of(plan, running=amps)["running"].verdict == ("within" if amps <= 11 else "outside")
    found = readings_of(plan, running_L1_N=135, running=amps)["running"]
    assert found.verdict == verdict
    assert f"At 135 V that is {amps * 135 / 1000:.2f} kW." in found.said


def test_without_an_mca_the_plates_parts_say_what_is_drawn() -> None:
    plate = {"volts": "208/230", "phase": 1, "heat": None, "compressors": [{"rla_a": 12.0}],
             "motors": [{"fla_a": 1.5, "use": "condenser_fan"}]}  # fmt: skip
    unit = {"equipment": {"U0": {"kind": "condensing_unit", "nameplate": plate}}}
    point = started(merge(heaters([1, 3]), unit)).readings[-1]
    # 12 + 1.5 A, a tenth more, on 240 V instead of the 230 V that they are marked at: 13.5 x 1.1 x 240 / 230 = 15.496.
    assert (point.expected, point.low, point.high) == (13.5, 0.1, 15.5)
    marked = merge(unit, {"equipment": {"U0": {"nameplate": {"mca_a": 16.5}}}})
    point = started(merge(heaters([1, 3]), marked)).readings[-1]
    assert (point.expected, point.high) == (13.5, 16.5)


def cautioned(kind: str, *patches: Json, **plate: Any) -> dict[str, str | None]:
    unit = {"equipment": {"U0": {"kind": kind, "nameplate": {"heat": None, **plate}}}}
    plan = heaters([1, 3])
    for patch in (unit, *patches):
        plan = merge(plan, patch)
    return {row.key.removeprefix("C0."): row.caution for row in started(plan).steps if row.about == "circuits/C0"}


def test_cautions_stand_where_the_danger_is() -> None:
    heater = cautioned("unit_heater")
    assert "capacitors" not in heater, "a bare resistance holds no charge"
    assert "capacitors" in cautioned("unit_heater", motors=[{"fla_a": 0.5, "use": "blower"}])
    assert "capacitors" in cautioned("mini_split_outdoor")
    assert heater["disconnect-on"] is None
    assert heater["disconnect-open"] is None
    assert "Steam" in (cautioned("steam_humidifier", amps=16.0)["disconnect-on"] or "")
    roof = {"circuits": {"C0": {"run": {"s1": {"order": 1, "place": "roof"}}}}}
    assert "Ladder" in (cautioned("condensing_unit", roof)["disconnect-open"] or "")
    lamp = {"devices": {"LU": {"type": "uv-lamp", "equipment": "U0"}}}
    assert "Ultraviolet" in (cautioned("air_handler", lamp)["disconnect-on"] or "")
    assert "cord" in cautioned("dehumidifier", {"equipment": {"U0": {"cord_connected": True}}})


def test_marked_amps_say_what_is_drawn() -> None:
    """An electrode humidifier of 16 A: about 16 A, and not above 17.6."""
    unit = {"equipment": {"U0": {"kind": "steam_humidifier", "nameplate": {"heat": None, "amps": 16.0}}}}
    point = started(merge(heaters([1, 3]), unit)).readings[-1]
    assert (point.expected, point.low, point.high) == (16, 0.1, pytest.approx(17.6))


def test_the_air_is_warmed_by_the_heat_at_its_supply_over_the_airflow() -> None:
    """8 kW at 240 V gives 6.009 kW at 208 V; over 900 cfm 6009 x 3.412 / (1.08 x 900) = 21.1 °F, 11.7 °C; ± 20 %."""
    points = {point.key: point for point in started(museum()).readings}
    rise = points["AH-1.rise"]
    assert (rise.expected, rise.low, rise.high) == (21.1, 16.9, 25.3)
    assert "11.7 °C" in rise.basis
    assert [key for key in points if key.endswith(".rise")] == ["AH-1.rise"], "only where plate and airflow are known"
