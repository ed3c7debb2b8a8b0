"""From a plan to the starts on what feeds it, and back: legs, conductors, aids, what stands in for what."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.errors import InputError
from leitung_core.patterns.fit import fit
from leitung_core.patterns.patterns import patterns
from leitung_core.plan.model import dump_plan, read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.result import PlanResult, check_and_brief, check_plan
from leitung_core.supply.changes import kept
from leitung_core.supply.judged import SupplyAt
from leitung_core.supply.trials import Measured, Outcome, against, efficiency, not_yet, trials_asked
from leitung_demo import museum

Json = dict[str, Any]


def trailer(**more: Any) -> Json:
    """The trailer alone: two roof units on their soft starters, its pedestal, generator and inverter."""
    plan = museum()
    on_it = {"RU-1", "RU-2"}
    units = {key: unit for key, unit in plan["equipment"].items() if key in on_it}
    lines = {key: line for key, line in plan["circuits"].items() if key in on_it}
    feeds = {key: plan["sources"][key] for key in ("TP", "GE", "IV")}
    bare = {key: value for key, value in plan.items() if key in ("format", "format_version", "rulebook", "name")}
    return merge(bare | {"sources": feeds, "equipment": units, "circuits": lines}, more)


def checked(plan: Json) -> PlanResult:
    return check_plan(read_plan(plan))


def supply(plan: Json, source: str = "TP") -> SupplyAt:
    return checked(plan).supplies[source]


def document(plan: Json, source: str = "TP") -> Json:
    found = supply(plan, source).document
    assert found is not None
    return found


def loads(plan: Json, source: str = "TP") -> dict[str, Json]:
    return {load["id"]: load for load in document(plan, source)["loads"]}


def codes(plan: Json, about: str = "sources/") -> set[str]:
    return {row.code for row in checked(plan).findings if row.about.startswith(about)}


def supply_says(plan: Json) -> str:
    return " ".join(row.message for row in checked(plan).findings if row.code == "start-unknown")


TWO_LEGS = {"sources": {"TP": {"volts": 240, "bus_a": 50}, "GE": None, "IV": None}}


def test_a_lines_own_conductors_by_hand() -> None:
    """Chapter 9 Table 8: 12 AWG stranded, 1.98 ohm per 1000 ft; 6 ft in the run and 3 ft of whip, there and back."""
    assert loads(museum())["RU-1"]["branch_ohms"] == pytest.approx(2 * 9 * 1.98 / 1000)
    assert loads(trailer())["RU-1"]["branch_ohms"] == pytest.approx(2 * 6 * 1.98 / 1000)


def test_the_pedestal_by_hand() -> None:
    """2 + 12.4 A twice and 12 A there already on 30 A: 40.8 A, above 135 %; each ramp stands 2 + 22 A."""
    found = supply(museum())
    (leg,) = found.legs
    assert (leg.settled_a, leg.peak_a) == (pytest.approx(40.8), pytest.approx(2 * 24 + 12))
    assert found.verdict == "trips"
    assert found.says.startswith("It trips within 56 min")
    assert {load.name: load.about for load in found.loads}["microwave"] == "sources/TP/existing/microwave"


def test_a_generator_and_an_inverter_take_the_lines_of_the_pedestal_in_its_place() -> None:
    plan = museum()
    assert [supply(plan, key).order for key in ("TP", "GE", "IV")] == [0, 1, 2]
    assert (supply(plan, "GE").verdict, supply(plan, "IV").verdict) == ("may_trip", "starts")
    assert [call["load"] for call in document(plan, "IV")["calls"]] == ["RU-1"]
    # It has no lines of its own: it is drawn at Supply, and no panel.
    assert "GE" not in [group.source for group in checked(plan).lines]
    economy = {"sources": {"GE": {"generator": {"economy": False}}}}
    assert supply(merge(plan, economy), "GE").verdict == "starts"


@pytest.mark.parametrize(
    ("said", "legs", "settled"),
    [
        ((None, None), [1, 1], (40.8, 0)),  # nobody has said it: the worst
        ((1, 2), [1, 2], (26.4, 14.4)),
        ((2, 2), [2, 2], (12, 28.8)),
    ],
)
def test_units_on_the_legs_of_a_pedestal(said: Any, legs: list[int], settled: tuple[float, float]) -> None:
    lines = {key: {"leg": leg} for key, leg in zip(("RU-1", "RU-2"), said, strict=True) if leg}
    plan = merge(trailer(**TWO_LEGS), {"circuits": lines})
    assert [loads(plan)[key]["leg"] for key in ("RU-1", "RU-2")] == legs
    found = supply(plan)
    assert [leg.settled_a for leg in found.legs] == [pytest.approx(amps) for amps in settled]
    assert [load.leg_said for load in found.loads[:2]] == [leg is not None for leg in said]
    # Demand lies on the same legs, as soon as they are said.
    if None not in said:
        panel = checked(plan).panels["TP"]
        extra = [a + b for a, b in zip(panel.new_a, panel.existing_a, strict=True)]
        assert extra[said[0] - 1] >= 14.4


def test_what_hangs_behind_a_feeder_is_counted_with_its_conductors() -> None:
    """RU-2 and a lamp on a small panel behind 20 ft of 10 AWG (1.24 ohm per 1000 ft): they share its drop."""
    plan = trailer()
    plan["sources"]["SP"] = {"kind": "subpanel", "volts": 120, "phase": 1, "volts_to_ground": 120, "bus_a": 60,
                             "existing": {"lamp": {"name": "lamp", "existing_a": 1}}}  # fmt: skip
    run = {"s1": {**plan["circuits"]["RU-1"]["run"]["s1"], "conductor": "10", "length_ft": 20}}
    plan["circuits"]["FD"] = {"source": "TP", "feeds": "SP", "ocpd": {"rating_a": 30, "type": "breaker"}, "run": run}
    plan["circuits"]["RU-2"]["source"] = "SP"
    assert set(loads(plan)) == {"RU-1", "RU-2", "microwave", "lamp"}
    assert document(plan)["supply"]["feeders"] == {"FD": {"ohms": pytest.approx(2 * 20 * 1.24 / 1000, rel=1e-3)}}
    assert loads(plan)["RU-2"]["branch_ohms"] == pytest.approx(2 * 6 * 1.98 / 1000, rel=1e-3)
    assert {key: load.get("behind") for key, load in loads(plan).items()} == {
        "RU-1": None, "RU-2": "FD", "microwave": None, "lamp": "FD",
    }  # fmt: skip
    (leg,) = supply(plan).legs
    assert leg.settled_a == pytest.approx(40.8 + 1)
    assert supply(plan, "GE").document is not None


def test_a_line_between_two_legs_has_no_place_on_a_source_with_one() -> None:
    plan = merge(trailer(**TWO_LEGS), {"circuits": {"RU-1": {"poles": 2}}})
    plan = merge(plan, {"sources": {"GE": trailer()["sources"]["GE"]}})
    assert loads(plan)["RU-1"]["leg"] == "both"
    assert "source-lacks-leg" in codes(plan, "sources/GE")
    assert "source-lacks-leg" not in codes(plan, "sources/TP")


def test_a_starter_helps_once_it_is_landed_and_counts_as_planned_only_until_it_is_drawn() -> None:
    plan = museum()
    assert loads(plan)["RU-1"]["aid"]["kind"] == "soft_starter"
    off = {"cables": {"SK-1": {"conductors": {"white": {"b": {"terminal": None}}}}}}
    assert plan["cables"]["SK-1"]["conductors"]["white"]["b"]["terminal"].startswith("SS-1.")
    assert "aid" not in loads(merge(plan, off))["RU-1"]
    assert "start-aid-not-landed" in codes(merge(plan, off), "equipment/RU-1")
    drawn_without = {"devices": {"SS-1": None}, "cables": {"SC-1": None, "SK-1": None}}
    assert "start-aid-not-drawn" in codes(merge(plan, drawn_without), "equipment/RU-1")
    assert codes(trailer(), "equipment/") & {"start-aid-not-drawn", "start-aid-not-landed"} == set()


def test_a_load_manager_sheds_once_it_is_landed_and_set_as_planned() -> None:
    """Planned on RU-2, fitted at its unit by the pattern: 30 A by its knob, 24 A by the plan."""
    plan = merge(museum(), {"sources": {"TP": {"manager": {"kind": "sheds", "loads": ["RU-2"], "above_a": 24}}}})
    drawn = merge(plan, fit(Plant(read_plan(plan)), patterns()["load-manager"], "RU-2").patch)
    (device,) = [key for key, row in drawn["devices"].items() if row["type"] == "load-manager"]

    def told(plan: Json) -> set[str]:
        return {code for code in codes(plan, "sources/TP/manager") if code.startswith("manager-")}

    def sheds(plan: Json) -> Any:
        return document(plan)["supply"].get("manager")

    assert (told(plan), sheds(plan)) == ({"manager-not-drawn"}, {"kind": "sheds", "loads": ["RU-2"], "above_a": 24})
    assert (told(drawn), sheds(drawn)["above_a"], sheds(drawn)["after_s"]) == ({"manager-set-otherwise"}, 24, 10)
    (row,) = [row for row in checked(drawn).findings if row.code == "manager-set-otherwise"]
    assert told(merge(drawn, row.fix or {})) == set()
    beyond = merge(drawn, {"sources": {"TP": {"manager": {"above_a": 2}}}})
    (row,) = [row for row in checked(beyond).findings if row.code == "manager-set-otherwise"]
    assert (row.fix, "knob" in row.message) == (None, True)
    # One conductor off: it sheds nothing, and the start is judged so.
    wire = next(iter(Plant(read_plan(drawn)).on[f"{device}.sup.M"]))[0]
    off = merge(drawn, {"cables": {wire.cable_id: {"conductors": {wire.id: {"a": None, "b": None}}}}})
    assert ("manager-not-landed" in told(off), sheds(off)) == (True, None)
    # Nobody plans on it: said, and counted on by one action.
    unplanned = merge(drawn, {"sources": {"TP": {"manager": None}}})
    (row,) = [row for row in checked(unplanned).findings if row.code == "manager-not-counted"]
    assert sheds(merge(unplanned, row.fix or {})) == {"kind": "sheds", "loads": ["RU-2"], "above_a": 30, "after_s": 10}


def test_lines_and_supply_say_one_start_current() -> None:
    """2 A of the fan and the soft starter's 22 A; 2 + 62 A where the starter is not landed. Drop by its own ohms."""
    for plan, amps in (
        (museum(), 24),
        (
            merge(
                museum(), {"devices": {"SS-1": {"state": "removed"}}, "equipment": {"RU-1": {"start": {"aid": None}}}}
            ),
            64,
        ),
    ):
        line = checked(plan).circuits["RU-1"]
        assert line.start_a == amps
        assert line.start_drop_v == pytest.approx(amps * loads(plan)["RU-1"]["branch_ohms"])
        if amps == 24:
            (alone,) = supply(merge(plan, {"sources": {"IV": {"calls": {}}}}), "IV").legs
            assert alone.peak_a == pytest.approx(24)


def test_loads_that_a_device_keeps_from_running_at_once_start_one_at_a_time() -> None:
    shared = merge(trailer(), {"sources": {"TP": {"load_sharing": True}}})
    assert [call["load"] for call in document(shared)["calls"]] == ["RU-1", "microwave"]
    assert supply(shared).verdict == "starts"


def test_what_is_not_known_is_named_once_and_the_usual_is_offered_and_never_taken() -> None:
    bare = trailer(equipment={"RU-1": {"start": None}, "RU-2": {"start": None}}, sources={"TP": {"ohms": None}})
    bare["equipment"]["RU-2"]["nameplate"]["compressors"][0].pop("lra_a")
    (row,) = [row for row in checked(bare).findings if row.code == "start-unknown" and row.about == "sources/TP"]
    for name in ("RU-1: how long the compressor", "RU-2: locked-rotor", "RU-1: inrush of the fan", "ohms of the"):
        assert name in row.message
    assert row.ways
    taken = merge(bare, row.ways[0].fix or {})
    assert taken["equipment"]["RU-2"]["start"]["locked_rotor_a"] == [62, 74.4]  # 5 and 6 times 12.4 A
    assert "locked_rotor_a" not in taken["equipment"]["RU-1"]["start"]  # its plate says it
    assert supply(taken).verdict not in ("starts", "unknown")
    far = merge(trailer(), {"circuits": {"RU-1": {"run": {"s1": {"length_ft": None}}}}})
    assert supply(far, "IV").verdict == "unknown"
    assert "RU-1: ohms of its own conductors" in supply_says(far)
    # What the units do not say is asked for at the pedestal alone.
    assert {row.about for row in checked(bare).findings if row.code == "start-unknown"} == {"sources/TP"}
    oven = merge(trailer(), {"sources": {"TP": {"existing": {"microwave": {"existing_a": None}}}}})
    assert "microwave: its current" in next(r.message for r in checked(oven).findings if r.code == "start-unknown")


def test_electronic_drives_and_heaters_start_without_a_rush() -> None:
    plan = museum()
    plan["sources"]["OP"]["calls"] = {"MS-1": {"at_s": 1}}
    found = supply(plan, "OP")
    assert {load["id"]: set(load) - {"branch_ohms"} for load in found.document["loads"]}["MS-1"] == {  # type: ignore[index]
        "id", "leg", "steady_a",
    }  # fmt: skip
    assert not [start for start in found.starts if start.load == "MS-1"]


CHANGES: list[tuple[str, Json]] = [
    ("TP", {"sources": {"TP": {"bus_a": 50}}}),
    ("TP", {"sources": {"TP": {"ohms": 0.2}}}),
    ("GE", {"sources": {"GE": {"generator": {"running_w": 5000, "economy": False}}}}),
    ("IV", {"sources": {"IV": {"inverter": {"battery": {"ohms": 0.01}, "surge_w": [4000, 5000]}}}}),
    ("TP", {"equipment": {"RU-1": {"start": {"aid": {"kind": "none", "peak_a": None, "ramp_s": None,
                                                     "lockout_s": None}}}}}),
    ("TP", {"equipment": {"RU-2": {"start": {"fan_inrush_a": 9, "compressor_after_s": 30}}}}),
    ("TP", {"sources": {"TP": {"existing": {"microwave": {"existing_a": 4}}}}}),
    ("TP", {"sources": {"TP": {"calls": {"RU-2": {"at_s": 12}, "microwave": {"off": True}}}}}),
]  # fmt: skip


@given(st.lists(st.sampled_from(CHANGES), unique_by=lambda row: str(row), min_size=1, max_size=4))
def test_a_change_of_a_trial_and_back_to_the_plan(changes: list[tuple[str, Json]]) -> None:
    """Whatever a plan's change makes of the trial: kept from the trial, it makes the same trial."""
    plan = trailer()
    for source in {source for source, _ in changes}:
        changed = plan
        for of, change in changes:
            changed = merge(changed, change) if of == source else changed
        after = document(changed, source)
        patch = kept(read_plan(plan), supply(plan, source), after)
        assert document(dump_plan(read_plan(merge(plan, patch))), source) == after


def test_a_trial_changes_no_plate_and_adds_no_line() -> None:
    plan = read_plan(trailer())
    at = supply(trailer())
    for change in (
        lambda doc: doc["loads"].append({"id": "new", "leg": 1, "steady_a": 3}),
        lambda doc: doc["loads"][0]["compressor"].update(running_a=5),
        lambda doc: doc["supply"].update(volts=240),
    ):
        after = merge(document(trailer()), {})
        change(after)
        with pytest.raises(InputError) as told:
            kept(plan, at, after)
        assert told.value.problems[0].field
        assert told.value.problems[0].remedy


def test_sources_in_place_of_another_are_refused_where_they_cannot_be() -> None:
    for change, field in (
        ({"GE": {"in_place_of": "GE"}}, "sources.GE.in_place_of"),
        ({"GE": {"in_place_of": "IV"}}, "sources.GE.in_place_of"),
        ({"GE": {"in_place_of": "XX"}}, "sources.GE.in_place_of"),
        ({"TP": {"ohms": [0.3, 0.1]}}, "sources.TP.ohms"),
        ({"GE": {"generator": {"running_w": -1}}}, "sources.GE.generator.running_w"),
    ):
        with pytest.raises(InputError) as told:
            read_plan(merge(trailer(), {"sources": change}))
        assert field in {problem.field for problem in told.value.problems}
        assert all(problem.remedy for problem in told.value.problems)


def test_a_line_with_a_call_may_be_taken_out() -> None:
    """What was planned of its start means nothing then: it is no reason to keep it."""
    managed = {"kind": "sheds", "loads": ["RU-2", "microwave"], "above_a": 28, "after_s": 2}
    planned = {"calls": {"RU-2": {"at_s": 9}}, "manager": managed}
    plan = merge(trailer(sources={"TP": planned}), {"circuits": {"RU-2": None}, "equipment": {"RU-2": None}})
    assert set(loads(plan)) == {"RU-1", "microwave"}
    assert document(plan)["supply"]["manager"]["loads"] == ["microwave"]
    bare = merge(plan, {"sources": {"TP": {"existing": {"microwave": None}}}})
    assert "manager" not in document(bare)["supply"]


def test_trials_are_made_grid_first_and_the_next_only_when_the_last_allows_it() -> None:
    asked = trials_asked(checked(museum()).supplies)
    by_key = {row.key: row for row in asked}
    assert [row.key for row in asked] == ["TP", "GE", "IV"]
    assert "does not start" in (not_yet(by_key["TP"], asked, {}) or "")
    shed = merge(museum(), {"sources": {"TP": {"calls": {"microwave": {"off": True}}}}})
    asked = trials_asked(checked(shed).supplies)
    pedestal, generator, inverter = asked

    def held(came: dict[str, Outcome]) -> list[bool]:
        return [not_yet(row, asked, came) is not None for row in (pedestal, generator, inverter)]

    assert held({}) == [False, True, True]
    assert held({"TP": "tripped"}) == [False, True, True]
    assert held({"TP": "taken_back"}) == [False, True, True]
    assert held({"TP": "started"}) == [False, False, True]
    assert held({"TP": "started", "GE": "started"}) == [False, False, False]


def test_a_trial_against_its_prediction() -> None:
    (asked,) = [row for row in trials_asked(checked(museum()).supplies) if row.key == "IV"]
    assert (asked.peak_a, asked.settled_a) == (pytest.approx(24), pytest.approx(14.4))
    measured = Measured(peak_a=31.2, settled_a=14.1, ac_w=1560, dc_v=12.5, dc_a=138, cooling_w=3900)
    assert efficiency(measured) == pytest.approx(1560 / 1725)
    said = against(asked, measured)
    assert said[0] == "peak 31.2 A, 24 A expected: 30 % more"
    assert said[1] == "settled 14.1 A, 14.4 A expected"
    assert "90 % of the battery's watts come out" in said
    assert "2.5 W of cooling for each W" in said
    assert efficiency(Measured(ac_w=100)) is None


def test_whatever_can_feed_a_line_is_locked_out_and_what_starts_by_itself_is_said() -> None:
    _, brief = check_and_brief(read_plan(museum()))
    steps = {step.key: step for step in brief.start_up.steps}
    assert "cord pulled" in steps["RU-1.feed-GE"].text
    assert steps["RU-1.feed-GE"].caution is None  # it is said that it does not start by itself
    assert "transfer switch locked" in steps["RU-1.feed-IV"].text
    assert "can start by itself" in (steps["RU-1.feed-IV"].caution or "")
    assert "UH-1.feed-GE" not in steps
    unsaid = merge(museum(), {"sources": {"GE": {"starts_itself": None}}})
    _, brief = check_and_brief(read_plan(unsaid))
    caution = next(step.caution for step in brief.start_up.steps if step.key == "RU-1.feed-GE")
    assert "not known" in str(caution)
