"""Panels, pedestals and their spaces, each figure worked by hand.

A 4160 W heater rated 208 V draws 20 A on 208 V; on 240 V it gives 5538.46 W and draws 23.0769 A.
"""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.findings import Finding
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import PlanResult, check_plan

from tests.core.test_panels import heaters

Json = dict[str, Any]
HEATER_240 = 4160 * 240 / 208**2


def told(plan: Json) -> PlanResult:
    return check_plan(read_plan(plan))


def of(result: PlanResult, code: str) -> list[Finding]:
    return [row for row in result.findings if row.code == code]


def one_pole(*spaces: int) -> Json:
    unit = {
        "kind": "unit_heater",
        "nameplate": {"volts": "120", "phase": 1, "heat": {"watts": 1200, "rated_volts": 120}},
    }
    plan = merge(heaters([1, 3]), {"equipment": {"S": unit}})
    return merge(
        plan, {"circuits": {"S": {"source": "P", "equipment": "S", "poles": 1, "ocpd": {"spaces": [*spaces]}}}}
    )


def cooling(largest: float) -> Json:
    """A unit of one compressor: its MCA is 125 % of the compressor's rated-load current (440.33)."""
    plate = {"volts": "208/230", "phase": 1, "mca_a": largest * 1.25, "max_ocpd_a": 60}
    return {"kind": "condensing_unit", "nameplate": plate | {"compressors": [{"rla_a": largest}]}}


@pytest.mark.parametrize(
    ("spaces", "code", "words", "fix"),
    [
        ([], "spaces-missing", "No spaces in the panel chosen yet.", [5, 7]),
        ([5], "spaces-count", "needs 2 spaces; 5 is not that", [5, 7]),
        ([5, 7, 9], "spaces-count", "needs 2 spaces; 5 and 7 and 9 is not that", [5, 7]),
        ([5, 6], "spaces-legs", "Spaces 5 and 6 are not neighbours", [5, 7]),
        ([5, 9], "spaces-legs", "Spaces 5 and 9 are not neighbours", [5, 7]),
        ([41, 43], "space-outside", "ends at space 42; 43 is not there", [5, 7]),
        ([2, 4], "space-taken", "Space 2 belongs to C0", [5, 7]),
        ([1, 3], "space-taken", "Space 1 belongs to old range", [5, 7]),
        ([40, 42], None, "", None),
    ],
)  # fmt: skip
def test_the_spaces_of_a_circuit(spaces: list[int], code: str | None, words: str, fix: list[int] | None) -> None:
    """Two poles lie in neighbours of one side (240.15(B)); the first free pair of this panel is 5 and 7."""
    plan = heaters([2, 4], spaces, existing={"X": {"name": "old range", "spaces": [1, 3]}})
    found = [row for row in told(plan).findings if row.about == "circuits/C1/ocpd/spaces"]
    assert [row.code for row in found] == ([code] if code else [])
    for row in found:
        assert words in row.message
        assert row.fix == {"circuits": {"C1": {"ocpd": {"spaces": fix}}}}


def test_one_pole_takes_the_first_single_space_and_a_full_panel_none() -> None:
    (found,) = of(told(one_pole(5, 7)), "spaces-count")
    assert "needs 1 space; 5 and 7 is not that" in found.message
    assert found.fix == {"circuits": {"S": {"ocpd": {"spaces": [2]}}}}, "1 and 3 are taken, 2 is the first free"
    alone = merge(one_pole(), {"circuits": {"C0": None}})
    (empty,) = of(told(alone), "spaces-missing")
    assert empty.fix == {"circuits": {"S": {"ocpd": {"spaces": [1]}}}}
    (full,) = of(
        told(merge(one_pole(), {"sources": {"P": {"spaces": 2, "existing": {"Y": {"spaces": [2]}}}}})), "spaces-missing"
    )
    assert full.fix is None


def test_free_spaces_are_those_that_nothing_has() -> None:
    panel = told(heaters([1, 3], [5, 7], existing={"X": {"spaces": [2], "existing_a": 10}})).panels["P"]
    assert panel.free == 42 - 2 - 2 - 1
    shown = {row.space: (row.leg, row.circuit, row.existing) for row in panel.spaces}
    assert (shown[1], shown[2], shown[4]) == (("A", "C0", None), ("A", None, "X"), ("B", None, None))


@pytest.mark.parametrize(
    ("source", "capacity"),
    [
        ({"bus_a": 200, "main_a": 150}, 150), ({"bus_a": 125, "main_a": 125}, 125), ({"bus_a": 200}, 200),
        ({"bus_a": None, "main_a": 150}, None),  # a panel's bus must be read off its label
        ({"kind": "pedestal", "bus_a": None, "main_a": 50, "spaces": None}, 50),
        ({"kind": "pedestal", "bus_a": None, "main_a": None, "spaces": None}, None),
    ],
)  # fmt: skip
def test_what_a_source_may_carry(source: Json, capacity: float | None) -> None:
    result = told(heaters([1, 3], **source))
    assert result.panels["P"].capacity_a == capacity
    assert bool(of(result, "main-above-bus")) is False


def test_a_measured_peak_counts_with_a_quarter_more_and_the_largest_motor_with_a_quarter() -> None:
    """125 % of 40 A; two heaters of 23.08 A on both legs; two motors of 18 and 9 A: 25 % of 18 (220.87, 430.24)."""
    plan = heaters([1, 3], [5, 7])
    plan["equipment"] |= {"M1": cooling(18), "M2": cooling(9)}
    for number, name in enumerate(("M1", "M2")):
        plan["circuits"][name] = {
            "source": "P",
            "equipment": name,
            "ocpd": {"spaces": [9 + 4 * number, 11 + 4 * number]},
        }
    panel = told(plan).panels["P"]
    running = 2 * HEATER_240 + 18 + 9
    assert panel.new_a == pytest.approx([running, running], abs=0.01)
    assert panel.demand_a == pytest.approx(1.25 * 40 + running + 0.25 * 18, abs=0.01)
    (new,) = [row for row in panel.steps if row.what == "New load"]
    assert float(new.inputs["largest_motor_a"]) == 18
    assert new.article == "220.87, 430.24"


def test_without_motors_nothing_is_added_for_one() -> None:
    panel = told(heaters([1, 3], [5, 7])).panels["P"]
    assert panel.demand_a == pytest.approx(50 + 2 * HEATER_240, abs=0.01)


@pytest.mark.parametrize(
    ("days", "says"),
    [(365, None), (30, None), (29, "measured over 29 days;"), (None, "measured over an unknown time;")],
)
def test_a_peak_counts_from_thirty_days_of_recording(days: int | None, says: str | None) -> None:
    """220.87, exception: a recording of at least 30 days where no year of demand is known."""
    found = of(told(heaters([1, 3], measured_days=days)), "peak-short")
    assert (says in found[0].message) if says else not found


def pedestal(existing_a: float, main_a: float) -> Json:
    source = {"kind": "pedestal", "bus_a": None, "spaces": None, "main_a": main_a,
              "measured_peak_a": None, "measured_days": None}  # fmt: skip
    return heaters([], **source, existing={"R": {"name": "galley", "existing_a": existing_a}})


@pytest.mark.parametrize(("there", "overloaded"), [(6.9, False), (7, True)])
def test_what_is_on_a_pedestal_already_counts_in_full(there: float, overloaded: bool) -> None:
    """6.9 + 23.0769 A is within 30 A, 7 + 23.0769 A is not; no peak and no 125 % there (220.14)."""
    result = told(pedestal(there, 30))
    panel = result.panels["P"]
    assert panel.demand_a == pytest.approx(there + HEATER_240, abs=0.01)
    assert (panel.existing_a, panel.peak_a) == ([there, there], None)
    found = of(result, "panel-overloaded")
    assert bool(found) is overloaded
    assert not of(result, "peak-missing")
    if found:
        assert "7 A of it is there already" in found[0].message


def test_a_load_sharing_device_leaves_one_of_the_new_loads_at_a_time() -> None:
    """Two heaters of 23.08 A on 30 A, 5 A there: together 51.2 A; one at a time 28.1 A, and the fix says so."""
    both = merge(pedestal(5, 30), heaters([], []) | {"sources": {}})
    (found,) = of(told(both), "panel-overloaded")
    assert found.fix == {"sources": {"P": {"load_sharing": True}}}
    shared = told(merge(both, found.fix))
    assert shared.panels["P"].demand_a == pytest.approx(5 + HEATER_240, abs=0.01)
    assert not of(shared, "panel-overloaded")
    # With 7 A there one alone is too much already: no sharing helps.
    (still,) = of(told(merge(both, {"sources": {"P": {"existing": {"R": {"existing_a": 7}}}}})), "panel-overloaded")
    assert still.fix is None


@pytest.mark.parametrize(
    ("old", "noted"),
    [
        ([("A", 30)], True),  # 53.1 on A, 23.1 on B: 56 % less
        ([("A", 5)], False),  # 28.1 and 23.1: 18 % less
        ([("A", 30), ("B", 30)], False),
    ],
)  # fmt: skip
def test_legs_that_carry_unequally_are_noted(old: list[tuple[str, float]], noted: bool) -> None:
    first = {"A": 2, "B": 4}
    existing = {f"X{n}": {"spaces": [first[leg]], "existing_a": amps} for n, (leg, amps) in enumerate(old)}
    result = told(heaters([1, 3], existing=existing))
    assert bool(of(result, "legs-unbalanced")) is noted


@pytest.mark.parametrize(("watts", "noted"), [(1200, False), (1320, True)])
def test_a_spread_is_worth_a_word_from_ten_amperes_of_new_load(watts: float, noted: bool) -> None:
    """1200 W at 120 V is 10 A on one leg, and nothing on the other; 1320 W 11 A."""
    plan = merge(one_pole(5), {"circuits": {"C0": None}})
    plan["equipment"]["S"]["nameplate"]["heat"]["watts"] = watts
    assert bool(of(told(plan), "legs-unbalanced")) is noted


@pytest.mark.parametrize(("main_a", "offered"), [(25, True), (24.9, False)])
def test_sharing_is_offered_where_the_largest_alone_just_fits(main_a: float, offered: bool) -> None:
    """Two heaters of 20 A (4160 W rated 208 V, at 208 V) beside 5 A: 45 A together, 25 A one at a time."""
    both = merge(pedestal(5, main_a), heaters([], []) | {"sources": {"P": {"volts": 208, "volts_to_ground": 104}}})
    (found,) = of(told(both), "panel-overloaded")
    assert (found.fix is not None) is offered


def test_every_load_says_where_it_comes_from_and_on_which_legs() -> None:
    result = told(heaters([1, 3], existing={"X": {"name": "well pump", "spaces": [2], "existing_a": 12.344}}))
    rows = {row.about: (row.name, row.amps, row.there_already, row.legs) for row in result.panels["P"].loads}
    assert rows["circuits/C0"] == ("C0", round(HEATER_240, 2), False, ["A", "B"])
    assert rows["sources/P/existing/X"] == ("well pump", 12.34, True, ["A"])


def test_the_directory_names_what_is_on_each_space_in_order() -> None:
    plan = heaters([5, 7], existing={"X": {"name": "old range", "spaces": [3, 1], "rating_a": 40}})
    plan = merge(plan, {"equipment": {"U0": {"name": "shop heater", "place": "north bay"}},
                        "circuits": {"C0": {"ocpd": {"rating_a": 30}}}})  # fmt: skip
    rows = told(plan).panels["P"].directory
    assert [(row.spaces, row.rating_a, row.poles, row.text, row.new) for row in rows] == [
        ([1, 3], 40, 2, "old range", False), ([5, 7], 30, 2, "C0: shop heater, north bay", True),
    ]  # fmt: skip


def test_the_first_of_several_wrong_spaces_is_named() -> None:
    plan = heaters([2, 4], [43, 45], existing={"X": {"name": "old range", "spaces": [1, 3]}})
    assert "43 is not there" in told(plan).findings[0].message or "43 is not there" in str(told(plan).findings)
    both = heaters([2, 4], [2, 4])
    assert {row.message for row in of(told(both), "space-taken")} == {
        "Space 2 belongs to C1.", "Space 2 belongs to C0."}  # fmt: skip


def test_the_lowest_of_several_taken_spaces_is_named_with_whose_it_is() -> None:
    existing = {"X": {"name": "old range", "spaces": [6]}, "Y": {"name": "alarm", "spaces": [8]}}
    (found,) = of(told(heaters([1, 3], [8, 6], existing=existing)), "space-taken")
    assert found.message == "Space 6 belongs to old range."


@pytest.mark.parametrize(
    ("spaces", "taken", "fix"),
    [
        (6, [1, 3, 5], [2, 4]), (6, [1, 2, 3, 5], [4, 6]),  # up to the last space
        (5, [1, 2, 3], None),  # 5 has no neighbour, and 4 would need 6
        (6, [3, 4], None),
    ],
)  # fmt: skip
def test_two_poles_are_offered_the_first_free_pair_of_one_side(
    spaces: int, taken: list[int], fix: list[int] | None
) -> None:
    existing = {f"X{space}": {"spaces": [space]} for space in taken}
    (found,) = of(told(heaters([], spaces=spaces, existing=existing)), "spaces-missing")
    assert found.fix == ({"circuits": {"C0": {"ocpd": {"spaces": fix}}}} if fix else None)


def test_spaces_are_counted_from_one_to_the_last() -> None:
    assert [row.space for row in told(heaters([1, 3], spaces=4)).panels["P"].spaces] == [1, 2, 3, 4]


def test_up_to_four_unknown_loads_are_named() -> None:
    plan = heaters(*([n, n + 2] for n in (1, 5, 9, 13, 17)))
    plan["equipment"] = {key: {"kind": "unit_heater"} for key in plan["equipment"]}
    (row,) = of(told(plan), "load-incomplete")
    assert "The load of C0, C1, C2, C3 is not known" in row.message


def test_one_leg_alone_is_never_out_of_balance() -> None:
    plan = one_pole(1) | {"circuits": {"S": one_pole(1)["circuits"]["S"]}}
    plan = merge(plan, {"sources": {"P": {"volts": 120}}})
    panel = told(plan).panels["P"]
    assert (panel.legs, panel.unbalance_pct) == (["A"], None)


def test_without_new_loads_a_panel_asks_for_its_peak_alone() -> None:
    panel = told(heaters()).panels["P"]
    assert (panel.demand_a, panel.new_a) == (50, [0, 0])


def test_the_quarter_that_a_plate_holds_is_not_taken_again() -> None:
    """A plate that gives its MCA alone, 22.5 A: it may run at that, 125 % in it; with the peak 72.5 A (220.87)."""
    plan = heaters()
    plate = {"volts": "208/230", "phase": 1, "mca_a": 22.5, "max_ocpd_a": 35}
    plan["equipment"]["M"] = {"kind": "condensing_unit", "nameplate": plate}
    plan["circuits"]["M"] = {"source": "P", "equipment": "M", "ocpd": {"spaces": [9, 11]}}
    assert told(plan).panels["P"].demand_a == pytest.approx(50 + 22.5)
    marked = merge(plan, {"equipment": {"M": {"nameplate": {"compressors": [{"rla_a": 18}]}}}})
    assert told(marked).panels["P"].demand_a == pytest.approx(50 + 18 * 1.25)


def season(heat_a: float, cooling_a: float, apart: bool | None) -> Json:
    """An air handler with strip heat and a 3 A blower, and a condensing unit, on one 240 V panel with peak 40 A."""
    air = {"volts": "240", "phase": 1, "heat": {"watts": heat_a * 240, "rated_volts": 240}}
    air |= {"motors": [{"fla_a": 3.0, "use": "blower"}]}
    units = {"U0": {"kind": "air_handler", "nameplate": air, "heat_with_cooling": apart}, "U1": cooling(cooling_a)}
    plan = heaters([1, 3], [5, 7])
    return plan | {"equipment": units}


@pytest.mark.parametrize(
    ("heat_a", "cooling_a", "apart", "leg_a"),
    [
        (20, 16, False, 23),  # 20 + 3; the 16 A of cooling never run with them
        (20, 26, False, 29),  # 26 + the 3 A blower that moves the cooled air
        (20, 16, True, 39),
        (20, 16, None, 39),  # not said: together
    ],
)
def test_heat_and_cooling_that_never_run_together_count_once(
    heat_a: float, cooling_a: float, apart: bool | None, leg_a: float
) -> None:
    """220.60: only the greater of two noncoincident loads."""
    panel = told(season(heat_a, cooling_a, apart)).panels["P"]
    assert panel.new_a == [leg_a, leg_a]
    told_first = [min(heat_a, cooling_a)] if apart is False else []
    assert [row.value for row in panel.steps[:1] if row.article == "220.60"] == told_first
