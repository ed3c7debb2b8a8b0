"""Every single slip of the hand at a terminal is found, and nothing that is typed breaks the reading."""

from __future__ import annotations

from itertools import combinations
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from leitung_core.catalogue.device import shipped_devices
from leitung_core.errors import InputError
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import ENDS, Plant
from leitung_core.wiring.check import check_wiring
from leitung_core.wiring.checks.length import drop_volts, ohm_per_kft
from leitung_core.wiring.exchange import exchange
from leitung_core.wiring.lists import read_list
from leitung_core.wiring.moves import moves_of
from leitung_core.wiring.propose import propose_landings
from leitung_demo import museum

from tests.core.wiring.plans import cable, changed, ends, landed, on, plant, split_pair, stat, two

Json = dict[str, Any]
SOUND: dict[str, Json] = {
    "heat and cooling": stat(),
    "with spares": stat(count=7),
    "heat pump": stat("air-handler-board", "stat-universal", 7),
    "valve in heating": stat("packaged-heat-pump-board", "stat-universal", 7),
    "mini-split": split_pair(),
    "mini-split, ceiling": landed(
        two("split-outdoor-2", "split-indoor-ceiling", "tray", "14", 4, a={"device": "A", "strip": "zone-b"})
    ),
    "communicating": landed(two("stat-adapter", "stat-communicating", count=4)),
    "sensing head": landed(two("duct-detector", "sensing-head", "data", "18", 2)),
    "heater": landed(two("breaker-2", "unit-heater", "nm-b", "12", 3)),
    "three phases": landed(two("breaker-3", "rooftop-board", "singles", "8", 4, strands="stranded")),
    "condensing unit": landed(two("furnace-board", "condensing-unit", count=2)),
}
SERIOUS = ("stop", "warning")


def serious(plan: Json) -> set[tuple[str, str]]:
    return {(row.code, row.about) for row in check_wiring(plant(plan)) if row.severity in SERIOUS}


@pytest.mark.parametrize("name", SOUND)
def test_a_conductor_on_any_other_terminal_is_found(name: str) -> None:
    """Each landed end on each other terminal of that device: something stands against it that did not before."""
    plan = SOUND[name]
    sound, before = plant(plan), serious(plan)
    tried = 0
    for wire in sound.wires["T"]:
        for end in ENDS:
            post = sound.post(wire, end)
            for other in sound.posts_of(post.device_id) if post else ():
                if post is None or other.ref == post.ref or other.function == post.function:
                    continue
                tried += 1
                slipped = changed(plan, ends(**{wire.id: {end: on(other.ref)}}))
                assert serious(slipped) - before, f"{wire.id} from {post.at} to {other.at}"
    assert tried >= 4


def three_phase(found: Plant) -> bool:
    return any(post.function == "line-3" for post in found.posts.values())


@pytest.mark.parametrize("name", SOUND)
def test_any_two_conductors_exchanged_at_an_end_are_found_and_one_fix_puts_them_right(name: str) -> None:
    plan = SOUND[name]
    sound, before = plant(plan), serious(plan)
    for end in ENDS:
        wires = [wire for wire in sound.wires["T"] if wire.end(end).terminal]
        for one, two_ in combinations(wires, 2):
            swapped = {one.id: {end: on(two_.end(end).terminal or "")}, two_.id: {end: on(one.end(end).terminal or "")}}
            slipped = changed(plan, ends(**swapped))
            new = [row for row in check_wiring(plant(slipped)) if (row.code, row.about) not in before]
            if {sound.function(one), sound.function(two_)} == {"line-1", "line-2"} and not three_phase(sound):
                assert new == [], "two hots on two poles may be exchanged"
                continue
            assert any(row.severity in SERIOUS for row in new), f"{one.id} and {two_.id} at {end}"
            told = [row for row in new if row.fix_label and row.fix_label.startswith("Swap")]
            assert len(told) == 1, [row.message for row in new]
            assert serious(merge(slipped, told[0].fix)) == before


@pytest.mark.parametrize("name", SOUND)
def test_any_conductor_taken_off_is_found(name: str) -> None:
    """Loose at an end, or capped there: a call that goes nowhere, a device without supply, ground or common."""
    plan = SOUND[name]
    sound, before = plant(plan), serious(plan)
    for wire in sound.wires["T"]:
        for end in ENDS:
            if wire.end(end).terminal is None:
                continue
            for place in ({"terminal": None}, {"terminal": None, "capped": True}):
                assert serious(changed(plan, ends(**{wire.id: {end: place}}))) - before, f"{wire.id} at {end}"


def test_every_fix_of_the_museum_reads_and_adds_no_stop_of_its_own() -> None:
    plan = museum()
    rows = check_wiring(plant(plan))
    stops = {(row.code, row.about) for row in rows if row.severity == "stop"}
    fixes = [(row, fix) for row in rows for fix in (row.fix, *(way.fix for way in row.ways or ())) if fix]
    assert len(fixes) >= 7
    for row, fix in fixes:
        after = check_wiring(plant(merge(plan, fix)))
        assert (row.code, row.about) not in {(other.code, other.about) for other in after}
        assert {(other.code, other.about) for other in after if other.severity == "stop"} <= stops


THERMOSTATS = sorted(key for key, kind in shipped_devices().items() if kind.group == "thermostat")


@pytest.mark.parametrize("old", THERMOSTATS)
@pytest.mark.parametrize("new", THERMOSTATS)
def test_whatever_thermostat_takes_the_place_of_another_its_conductors_mean_what_they_meant(old: str, new: str) -> None:
    plan = landed(two("furnace-board-2", old, count=8))
    before = plant(plan)
    after = Plant(read_plan(merge(plan, exchange(before, "B", "N", new))))
    for wire in after.wires["T"]:
        post, was = after.post(wire, "b"), before.post(before.wires["T"][after.wires["T"].index(wire)], "b")
        if post is not None:
            assert was is not None
            assert (post.device_id, post.function) == ("N", was.function)
    landed_before = sum(wire.end("b").terminal is not None for wire in before.wires["T"])
    assert len([move for move in moves_of(after) if move.end == "b"]) == landed_before


@given(st.text(max_size=400))
def test_no_text_breaks_the_reading_of_a_list(text: str) -> None:
    try:
        patch = read_list(plant(SOUND["heat and cooling"]), text)
    except InputError as error:
        if not error.problems[0].remedy:
            raise
        return
    read_plan(merge(SOUND["heat and cooling"], patch))


CELL = st.sampled_from(["T", "red", "white", "A.ctl.R", "B.base.Q", "capped", "", "'=1+1", "x.y.z", "A.ctl", "ö"])


@settings(max_examples=60)
@given(st.lists(st.lists(CELL, min_size=1, max_size=7), min_size=1, max_size=5))
def test_no_list_of_the_right_shape_breaks_it_either(rows: list[list[str]]) -> None:
    text = "cable,conductor,a,b,a_marked,b_marked,note\n" + "\n".join(",".join(row) for row in rows)
    plan = SOUND["heat and cooling"]
    try:
        patch = read_list(plant(plan), text)
    except InputError as error:
        assert all(problem.field.startswith("line ") for problem in error.problems)  # noqa: PT017
        return
    check_wiring(plant(merge(plan, patch)))


def test_resistance_by_gauge_is_that_of_the_table_and_goes_on_below_it_by_area() -> None:
    """Chapter 9 Table 8, copper, uncoated, 75 °C: 18 AWG solid 7.77, stranded 7.95; 16 stranded 4.99; 14 solid 3.07.

    By hand below it: 22 AWG has 642 circular mils of 18 AWG's 1620: 7.77 x 1620 / 642 = 19.607.
    """
    assert [float(ohm_per_kft(*gauge) or 0) for gauge in (("18", "solid"), ("18", "stranded"), ("14", "solid"))] == [
        7.77, 7.95, 3.07,
    ]  # fmt: skip
    assert float(ohm_per_kft("16", "stranded") or 0) == pytest.approx(4.99)
    assert float(ohm_per_kft("22", "solid") or 0) == pytest.approx(19.607, abs=0.001)
    assert ohm_per_kft("13", "solid") is None


def test_the_drop_on_a_condenser_pair_by_hand() -> None:
    """A 10 VA contactor on 24 V draws 0.4167 A; 300 ft of 18 AWG solid there and back: 2 x 7.77 x 0.3 = 4.662 ohm."""
    plan = changed(SOUND["condensing unit"], cable(length_ft=300))
    whole = plant(plan)
    assert float(drop_volts(whole, "T", whole.makes["T"]) or 0) == pytest.approx(10 / 24 * 4.662)


@pytest.mark.parametrize("length_ft", [10, 100, 400, 900])
def test_a_longer_control_cable_never_does_with_a_thinner_gauge(length_ft: int) -> None:
    """What the fix for the drop asks for grows with the length."""
    asked = []
    for length in (length_ft, length_ft * 2):
        plan = changed(SOUND["condensing unit"], cable(awg="22", length_ft=length))
        rows = [row for row in check_wiring(plant(plan)) if row.code == "control-drop"]
        fix = rows[0].fix["cables"]["T"]["awg"] if rows and rows[0].fix else "22" if not rows else "none made"
        asked.append({"22": 0, "20": 1, "18": 2, "none made": 3}[fix])
    assert asked == sorted(asked)


def test_a_proposal_leaves_alone_what_other_cables_hold() -> None:
    """A condensing unit's pair lands beside the thermostat's conductors where the board's terminals take two."""
    plan = changed(
        stat(), {"devices": {"C": {"type": "condensing-unit"}}},
        {"cables": {"U": stat()["cables"]["T"] | {"count": 2, "b": {"device": "C"}, "conductors": {}}}},
    )  # fmt: skip
    patch = propose_landings(plant(plan), "U").patch
    assert list(patch["cables"]) == ["U"]
    done = plant(merge(plan, patch))
    assert [wire.id for wire, _ in done.on["A.ctl.Y"]] == ["yellow", "red"]
    # A terminal that takes one conductor and has it is not offered again.
    full = changed(
        stat(), {"devices": {"C": {"type": "stat-basic"}}},
        {"cables": {"U": stat()["cables"]["T"] | {"a": {"device": "C"}, "conductors": {}}}},
    )  # fmt: skip
    assert propose_landings(plant(full), "U").left_out == ()
    assert all(landing.b is None for landing in propose_landings(plant(full), "U").landings)
