"""What was found and what is planned, lists out and in, take-off, what a screen shows, and older plan files."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.errors import InputError
from leitung_core.plan.describe import describe
from leitung_core.plan.model import dump_plan, read_plan
from leitung_core.plan.patch import clash, merge, touched
from leitung_core.result import check_plan
from leitung_core.wiring.exchange import exchange
from leitung_core.wiring.lists import labels, read_list, write_labels, write_list
from leitung_core.wiring.moves import capture, moves_of
from leitung_core.wiring.view import wiring_result
from leitung_demo import museum

from tests.core.wiring.plans import CAPPED, cable, changed, checked, ends, found, on, plant, stat


def test_replacing_a_thermostat_keeps_what_was_and_finds_the_missing_common_before_the_order() -> None:
    old = changed(stat(thermostat="stat-basic", count=4), cable(state="existing"))
    assert found(old, "existing-not-captured")
    after = changed(old, exchange(plant(old), "B", "TS-2", "stat-common"))
    (missing,) = found(after, "common-missing")
    assert missing.about == "devices/TS-2/base.C"
    assert missing.ways
    moves = {(move.colour, move.what, move.before, move.after) for move in moves_of(plant(after))}
    assert moves == {
        ("red", "move", "R at B", "R at TS-2"), ("white", "move", "W at B", "W at TS-2"),
        ("blue", "move", "Y at B", "Y at TS-2"), ("green", "move", "G at B", "G at TS-2"),
    }  # fmt: skip
    assert not found(after, "existing-not-captured")
    assert after["devices"]["B"]["state"] == "removed"


def test_what_a_new_device_does_not_have_is_left_loose_and_named() -> None:
    old = stat(thermostat="stat-basic", count=4)
    after = changed(old, exchange(plant(old), "B", "TS-2", "stat-heat"))
    (loose,) = found(after, "spare-not-capped")
    assert "green at TS-2" in loose.message
    assert "blue at TS-2" in loose.message


@pytest.mark.parametrize(
    ("device", "new", "kind", "field"),
    [("X", "N", "stat-basic", "device"), ("B", "A", "stat-basic", "id"), ("B", "N", "toaster", "type")],
)
def test_an_exchange_that_cannot_be_is_refused(device: str, new: str, kind: str, field: str) -> None:
    with pytest.raises(InputError) as error:
        exchange(plant(stat()), device, new, kind)
    assert [problem.field for problem in error.value.problems] == [field]


def test_moves_name_every_sort_of_change() -> None:
    plan = changed(stat(count=7), capture(plant(stat(count=7)), "T"))
    assert moves_of(plant(plan)) == []
    plan = changed(plan, ends(blue={"a": CAPPED}, green={"b": {"terminal": None}}, brown={"a": on("A.ctl.C")},
                              orange={"a": {"capped": None}}, white={"b": on("B.base.Y")}))  # fmt: skip
    assert sorted((move.colour, move.end, move.what) for move in moves_of(plant(plan))) == [
        ("blue", "a", "cap"), ("brown", "a", "land"), ("green", "b", "take off"), ("orange", "a", "uncap"),
        ("white", "b", "move"),
    ]  # fmt: skip


def test_a_list_goes_out_and_comes_in_again_the_same() -> None:
    plan = museum()
    text = write_list(plant(plan))
    assert len(text.splitlines()) == 1 + sum(len(wires) for wires in plant(plan).wires.values())
    again = read_plan(merge(plan, read_list(plant(plan), text)))
    assert check_plan(again).wiring == check_plan(read_plan(plan)).wiring
    bare = {key: {**value, "conductors": {}} for key, value in plan["cables"].items()}
    empty = {**plan, "cables": bare}
    filled = dump_plan(read_plan(merge(empty, read_list(plant(empty), text))))
    assert plant(filled).on.keys() == plant(plan).on.keys()


@pytest.mark.parametrize(
    ("lines", "field"),
    [
        ("cable,wire\n", "line 1"),
        ("", "line 1"),
        ("cable,conductor,a,b\nX,red,,\n", "line 2, cable"),
        ("cable,conductor,a,b\nT,pink,,\n", "line 2, conductor"),
        ("cable,conductor,a,b\nT,red,A.ctl.R,B.base.Q\n", "line 2, b"),
        ("cable,conductor,a,b\nT,red,A.ctl,\n", "line 2, a"),
        ("cable,conductor,a,b\nT,red,nowhere.x.y,\n", "line 2, a"),
        ("cable,conductor,a,b\nT,red,capped,\n\nT,red,,\n", "line 4"),
    ],
)
def test_a_list_with_errors_brings_nothing_and_names_the_line(lines: str, field: str) -> None:
    with pytest.raises(InputError) as error:
        read_list(plant(stat()), lines)
    assert error.value.problems[0].field == field
    assert error.value.problems[0].remedy


def test_every_wrong_line_is_named_at_once() -> None:
    text = "cable,conductor,a,b\nT,red,A.ctl.Q,B.base.Q\nX,red,,\nT,white,A.ctl.W,B.base.W\n"
    with pytest.raises(InputError) as error:
        read_list(plant(stat()), text)
    assert [problem.field for problem in error.value.problems] == ["line 2, a", "line 2, b", "line 3, cable"]


def test_labels_stand_at_each_end_that_holds_something() -> None:
    plan = changed(stat(count=7), ends(brown={"b": {"capped": None}}))
    found_labels = labels(plant(plan))
    assert len(found_labels) == 13
    red = [label for label in found_labels if label.conductor == "red"]
    assert [(label.device, label.here, label.there) for label in red] == [
        ("A", "R at A", "R at B"), ("B", "R at B", "R at A"),
    ]  # fmt: skip
    assert write_labels(plant(plan)).splitlines()[1] == "A,T red,R at A / R at B"


def test_a_strip_that_reads_the_other_way_is_shown_so_and_still_matched_by_name() -> None:
    plan = stat()
    before, _ = wiring_result(plant(plan))
    turned = changed(plan, {"devices": {"B": {"strips": {"base": {"reversed": True}}}}})
    after, _ = wiring_result(plant(turned))
    seen = [terminal.label for terminal in after.devices["B"].strips[0].terminals]
    assert seen == [terminal.label for terminal in before.devices["B"].strips[0].terminals][::-1]
    assert after.cables == before.cables
    assert [row.code for row in checked(turned).findings] == [row.code for row in checked(plan).findings]


def test_nothing_hangs_on_the_order_in_which_a_database_keeps_things() -> None:
    """Every group of the museum turned round: the same view and the same findings."""
    plan = museum()
    turned = {name: dict(reversed(group.items())) if isinstance(group, dict) else group for name, group in plan.items()}
    turned["cables"] = {
        key: {**value, "conductors": dict(reversed(value["conductors"].items()))}
        for key, value in turned["cables"].items()
    }
    one, two = check_plan(read_plan(plan)), check_plan(read_plan(turned))
    assert one.wiring == two.wiring
    wired = [row for row in one.findings if row.about.startswith(("cables/", "devices/"))]
    assert wired == [row for row in two.findings if row.about.startswith(("cables/", "devices/"))]


def test_two_people_at_two_conductors_do_not_meet() -> None:
    red, blue = touched(ends(red={"b": CAPPED})), touched(ends(blue={"b": CAPPED}))
    assert red == {"cables/T/conductors/red"}
    assert not clash(red, blue)
    assert clash(red, touched(cable(conductors=None)))
    assert clash(touched({"devices": {"B": {"type": "x"}}}), touched({"devices": {"B": {"type": "y"}}}))


def test_a_landing_in_words() -> None:
    text = describe(stat(), ends(white={"b": {"terminal": "B.base.Y"}}))
    assert text == "T white at B on base.Y, was base.W"
    assert describe(stat(), ends(white={"b": CAPPED})) == "T white at B capped, was base.W"


OLD: dict[str, Any] = {
    "format": "leitung-plan", "format_version": 1, "name": "old",
    "equipment": {
        "OU-1": {"kind": "mini_split_outdoor", "name": "outdoor unit", "place": "yard",
                 "strips": {"power": {"name": "power", "terminals": ["L1", "L2", "GND"]}, "empty": {"terminals": []}}},
        "UH-1": {"kind": "unit_heater"},
    },
    "circuits": {"MS-1": {"equipment": "OU-1", "ocpd": {"rating_a": 15}}},
}  # fmt: skip


def test_a_plan_of_version_1_still_opens_with_its_strips_as_a_device() -> None:
    plan = read_plan(OLD)
    assert plan.format_version == 2
    assert plan.devices["OU-1"].equipment == "OU-1"
    assert list(plan.device_types["OU-1"].terminals()) == ["power.L1", "power.L2", "power.GND"]
    assert plan.circuits["MS-1"].ocpd is not None
    assert dump_plan(read_plan(dump_plan(plan))) == dump_plan(plan)
    plain = read_plan({"format": "leitung-plan", "format_version": 1, "name": "plain"})
    assert (plain.format_version, plain.devices) == (2, {})


@pytest.mark.parametrize(
    "change",
    [
        {"equipment": 5},
        {"equipment": {"OU-1": {"kind": "mini_split_outdoor", "strips": {"p": {"terminals": ["a b"]}}}}},
        {"format_version": 0},
        {"format_version": True},
        {"format_version": "1"},
    ],
)
def test_an_old_file_that_is_wrong_is_refused_in_words(change: dict[str, Any]) -> None:
    with pytest.raises(InputError) as error:
        read_plan({**OLD, **change})
    assert error.value.problems[0].remedy


def test_a_stop_of_the_wiring_holds_back_its_own_line_and_what_its_feeder_feeds() -> None:
    plan = read_plan(museum())

    def held(circuit: str) -> set[str]:
        return {row.code for row in check_plan(plan).on_line(circuit)}

    assert "signal-crossed" in held("MS-1")
    assert "cable-not-wet" in held("RT-1")
    assert not held("UH-1") & {"signal-crossed", "cable-not-wet", "terminal-overfull"}
    loose = merge(museum(), {"cables": {"P-FD1": {"conductors": {"green": {"b": {"terminal": None}}}}}})
    plan = read_plan(loose)
    assert "ground-missing" in held("DH-1")
    assert "ground-missing" not in held("UH-2")
