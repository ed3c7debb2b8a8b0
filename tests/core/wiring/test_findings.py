"""Each finding of the wiring: what provokes it, what it says, that its fix clears it and adds no stop."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.errors import InputError
from leitung_core.findings import CODES, Finding
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.wiring.check import check_wiring
from leitung_core.wiring.view import wiring_result

from tests.core.wiring.plans import (
    CAPPED,
    LOOSE,
    cable,
    changed,
    checked,
    ends,
    found,
    landed,
    on,
    plant,
    proposed,
    split_pair,
    stat,
    two,
)

Json = dict[str, Any]
COLOURS = ("red", "white", "yellow", "green", "blue")
SPLIT, STAT = split_pair(), stat()
PUMP = stat("air-handler-board", "stat-universal", 7)
COMM = landed(two("stat-adapter", "stat-communicating", "thermostat", "22", 4))
HEAD = landed(two("duct-detector", "sensing-head", "data", "18", 2))
HEATER = landed(two("breaker-2", "unit-heater", "nm-b", "12", 3))
THREE_PHASE = landed(two("breaker-3", "unit-3", "singles", "10", 4, strands="stranded"))
OUTDOORS = {"route": {"r1": {"order": 10, "spot": "outdoor", "raceway": "none"}}}
SPLICE = {"joints": {"j1": {"spot": "interior", "connector": "twist_on", "taped": True}}}


def through_disconnect(**load: Any) -> Json:
    """A heater behind a disconnect: red leaves pole 2 as it came."""
    plan = two("breaker-2", "disconnect-2", "singles", "10", 3, strands="stranded")
    plan = changed(plan, {"devices": {"C": {"type": "unit-heater"}}}, cable("T", b={"device": "B", "strip": "line"}))
    second = plan["cables"]["T"] | {"a": {"device": "B", "strip": "load"}, "b": {"device": "C"}} | load
    return landed(landed(changed(plan, {"cables": {"W": second}})), "W")


def white_leg() -> Json:
    return changed(HEATER, ends(white={"a": {"reidentified": None}, "b": {"reidentified": None}}))


def crossed_in_a_box() -> Json:
    """Two cables that meet in a box, where fan and heat are joined."""
    plan = changed(two("furnace-board", "joint-box", count=2), {"devices": {"C": {"type": "stat-basic"}}})
    plan = changed(plan, {"cables": {"U": plan["cables"]["T"] | {"a": {"device": "B"}, "b": {"device": "C"}}}})
    first = ends("T", red={"a": on("A.ctl.R"), "b": on("B.j.J1")}, white={"a": on("A.ctl.W"), "b": on("B.j.J2")})
    return changed(plan, first, ends("U", red={"a": on("B.j.J1"), "b": on("C.base.R")},
                                     white={"a": on("B.j.J2"), "b": on("C.base.G")}))  # fmt: skip


FULL = changed(
    STAT,
    {
        "devices": {"C": {"type": "humidity-limit"}},
        "cables": {
            "U": {
                **STAT["cables"]["T"],
                "count": 2,
                "a": {"device": "B"},
                "b": {"device": "C"},
                "conductors": {"red": {"a": on("B.base.R"), "b": on("C.sw.1")}, "white": {"a": CAPPED, "b": CAPPED}},
            }
        },
    },
)
LEADS = landed(two("furnace-board", "condensing-unit", "thermostat-wet", "18", 2, strands="solid", **OUTDOORS))
RELAY = changed(
    two("furnace-board", "relay", count=2),
    ends(red={"a": on("A.ctl.G"), "b": on("B.coil.A1")}, white={"a": on("A.ctl.C"), "b": on("B.coil.A2")}),
)


def jumper(a: str, b: str, **more: Any) -> Json:
    """A jumper between two terminals of one device."""
    device = {"device": a.split(".")[0]}
    wire = {"family": "jumper", "awg": "18", "strands": "stranded", "count": 1, "a": device, "b": device}
    return {"cables": {"J": {**wire, "conductors": {"jumper": {"a": on(a), "b": on(b)}}, **more}}}


def undrawn() -> Json:
    """A heater whose line is planned and whose terminals wait for it."""
    run = {"s1": {"order": 1, "method": "NM-B", "conductor": "10", "length_ft": 40, "place": "interior",
                  "construction": "solid"}}  # fmt: skip
    return {
        "format": "leitung-plan", "format_version": 2, "name": "undrawn",
        "sources": {"P": {"volts": 240, "phase": 1, "volts_to_ground": 120}},
        "equipment": {"U": {"kind": "unit_heater"}},
        "circuits": {"L": {"source": "P", "equipment": "U", "run": run}},
        "devices": {"H": {"type": "unit-heater", "equipment": "U", "spot": "interior"},
                    "T": {"type": "stat-heat"}},
        "cables": {"C": {"a": {"device": "H"}, "b": {"device": "T"}, "family": "thermostat", "awg": "18", "count": 2,
                         "length_ft": 20}},
    }  # fmt: skip


CASES: dict[str, list[Json]] = {
    "device-type-missing": [changed(STAT, {"devices": {"C": {"name": "something"}}})],
    "device-not-wired": [changed(STAT, {"devices": {"C": {"type": "humidistat"}}})],
    "terminal-absent": [changed(PUMP, {"devices": {"B": {"type": "stat-common"}}})],
    "cable-make-missing": [
        changed(STAT, cable(family=None)),
        changed(STAT, cable(awg=None)),
        changed(STAT, cable(count=None)),
        changed(COMM, cable(family="thermostat-wet", awg="18")),
    ],
    "cable-length-missing": [changed(STAT, cable(length_ft=None))],
    "cable-route-missing": [changed(STAT, cable(route=None)), changed(LEADS, cable(route={"r1": {"raceway": None}}))],
    "control-load-missing": [
        changed(
            STAT,
            cable(b={"device": "D"}),
            {
                "devices": {"D": {"type": "own"}},
                "device_types": {
                    "own": {
                        "id": "own",
                        "name": "own",
                        "group": "thermostat",
                        "strips": [
                            {
                                "id": "base",
                                "name": "base",
                                "terminals": [{"id": "R", "function": "hot"}, {"id": "C", "function": "common"}],
                            }
                        ],
                        "inside": [{"type": "load", "id": "B", "a": "base.R", "b": "base.C"}],
                    }
                },
            },
            ends(red={"b": on("D.base.R")}, blue={"b": on("D.base.C")}),
        )
    ],
    "cable-not-landed": [two("furnace-board", "stat-common")],
    "cable-wrong-kind": [
        changed(
            SPLIT,
            cable(
                family="nm-b",
                count=4,
                conductors={"green": None, "bare": {"a": on("A.zone-a.GND"), "b": on("B.unit.GND")}},
            ),
        ),
        changed(SPLIT, cable(family="speaker")),
    ],
    "cable-too-thin": [changed(SPLIT, cable(awg="18"))],
    "cable-solid": [changed(SPLIT, cable(strands="solid"))],
    "cable-too-few": [
        landed(two("split-outdoor-1", "split-indoor-wall", "tray", "14", 3, a={"device": "A", "strip": "zone-a"})),
        stat(thermostat="stat-basic", count=3),
        stat(count=4),
    ],
    "cable-class": [
        landed(
            changed(
                HEATER,
                cable(
                    family="thermostat",
                    awg="18",
                    count=3,
                    conductors={
                        "bare": None,
                        "black": None,
                        "red": {"a": on("A.load.1"), "b": on("B.power.L1")},
                        "white": {"a": on("A.load.2"), "b": on("B.power.L2")},
                    },
                ),
            )
        )
    ],
    "cable-not-wet": [
        changed(STAT, cable(route={"r1": {"spot": "outdoor", "raceway": "LFNC"}})),
        changed(STAT, cable(route={"r1": {"spot": "roof", "raceway": "none"}})),
    ],
    "cable-sunlight": [changed(STAT, cable(**OUTDOORS)), changed(LEADS, cable(sunlight=False))],
    "cable-too-long": [changed(COMM, cable(length_ft=501)), changed(SPLIT, cable(awg="16", length_ft=81))],
    "control-drop": [
        changed(LEADS, cable(family="thermostat", awg="22", length_ft=300, route={"r1": {"spot": "interior"}}))
    ],
    "control-exposed": [LEADS],
    "cable-length-unjudged": [changed(SPLIT, cable(awg="12"))],
    "ground-colour": [
        changed(
            HEATER,
            ends(bare={"a": on("A.load.2"), "b": on("B.power.L2")}, white={"a": on("A.bar.G"), "b": on("B.power.GND")}),
        ),
        changed(
            HEATER,
            ends(bare=None),
            cable(family="cord", awg="10", colours=["black", "white", "red"]),
            ends(red={"a": on("A.bar.G"), "b": on("B.power.GND")}),
        ),
        changed(
            HEATER,
            cable(family="singles", awg="4", strands="stranded", colours=["black", "white", "red"]),
            ends(bare=None, red={"a": on("A.bar.G"), "b": on("B.power.GND")}),
        ),
    ],
    "jumper-for-test": [changed(STAT, jumper("B.base.R", "B.base.G", for_test=True))],
    "control-with-power": [
        changed(STAT, cable(route={"r1": {"with_power": True}})),
        changed(
            STAT,
            cable(route={"r1": {"raceway": "EMT", "raceway_id": "R1"}}),
            {
                "cables": {
                    "P": {
                        **HEATER["cables"]["T"],
                        "route": {"r1": {"order": 1, "spot": "interior", "raceway_id": "R1"}},
                        "a": {"device": "C"},
                        "b": {"device": "D"},
                        "conductors": {},
                    }
                },
                "devices": {"C": {"type": "breaker-2"}, "D": {"type": "unit-heater"}},
            },
        ),
    ],
    "joint-forbidden": [changed(SPLIT, cable(**SPLICE))],
    "joint-connector": [
        changed(STAT, cable(joints={"j1": {"spot": "roof", "connector": "twist_on", "taped": True}})),
        changed(STAT, cable(joints={"j1": {"spot": "interior", "connector": "lever"}})),
        changed(STAT, cable(joints={"j1": {"spot": "attic", "connector": "twist_on", "taped": False}})),
        changed(LEADS, ends(red={"b": {"connector": "twist_on"}})),
    ],
    "joint-unknown": [changed(STAT, cable(joints={"j1": {"spot": "interior"}}))],
    "two-meanings": [
        changed(STAT, ends(white={"b": on("B.base.Y")}, yellow={"b": on("B.base.W")})),
        changed(STAT, ends(white={"b": on("B.base.C")}, blue={"b": CAPPED})),
        changed(HEATER, ends(bare={"b": on("B.power.L1")}, black={"b": on("B.power.GND")})),
        crossed_in_a_box(),
    ],
    "signal-crossed": [
        changed(SPLIT, ends(black={"b": on("B.unit.3")}, red={"b": on("B.unit.1")})),
        changed(SPLIT, ends(black={"b": on("B.unit.2")}, white={"b": on("B.unit.1")})),
    ],
    "power-not-drawn": [undrawn()],
    "line-on-low": [
        changed(
            STAT,
            {
                "devices": {"C": {"type": "breaker-2"}},
                "cables": {
                    "U": {
                        **HEATER["cables"]["T"],
                        "family": "tray",
                        "awg": "14",
                        "strands": "stranded",
                        "count": 2,
                        "a": {"device": "C"},
                        "b": {"device": "B"},
                        "conductors": {
                            "black": {"a": on("C.load.1"), "b": on("B.base.W")},
                            "white": {"a": CAPPED, "b": CAPPED},
                        },
                    }
                },
            },
        )
    ],
    "data-crossed": [
        changed(COMM, ends(green={"b": on("B.bus.DM")}, white={"b": on("B.bus.DP")})),
        changed(HEAD, ends(black={"b": on("B.head.M")}, white={"b": on("B.head.P")})),
    ],
    "valve-on-common": [
        changed(
            stat("air-handler-board-b", "stat-universal", 7), ends(orange={"a": on("A.ctl.B"), "b": on("B.base.OB")})
        )
    ],
    "valve-sense": [changed(PUMP, {"devices": {"B": {"settings": {"valve": "heating"}}}})],
    "pole-crossed": [changed(THREE_PHASE, ends(black={"b": on("B.power.L2")}, red={"b": on("B.power.L1")}))],
    "pole-colour": [
        changed(
            through_disconnect(),
            ends(
                "W",
                black={"a": on("B.load.T2"), "b": on("C.power.L2")},
                red={"a": on("B.load.T1"), "b": on("C.power.L1")},
            ),
        )
    ],
    "terminal-overfull": [FULL],
    "terminal-gauge": [
        changed(STAT, cable(family="tray", awg="14")),
        changed(LEADS, cable(awg="24")),
        changed(HEATER, cable(family="tray", awg="16", strands="stranded")),
    ],
    "common-missing": [
        changed(stat(count=7), ends(blue={"a": CAPPED, "b": CAPPED})),
        stat(count=4),
        changed(STAT, ends(blue={"a": CAPPED})),
    ],
    "device-unfed": [
        changed(STAT, ends(red={"a": CAPPED, "b": CAPPED})),
        changed(two("duct-detector", "sensing-head", "data", count=2)) | {"cables": HEAD["cables"]},
    ],
    "ground-missing": [changed(HEATER, ends(bare={"a": CAPPED, "b": CAPPED}))],
    "terminal-open": [changed(COMM, ends(green={"a": CAPPED, "b": CAPPED}))],
    "call-not-carried": [
        changed(stat(count=7), ends(green={"a": CAPPED, "b": CAPPED})),
        changed(
            STAT,
            ends(
                green={"a": on("A.ctl.C"), "b": on("B.base.C")},
                blue={"a": on("A.ctl.W"), "b": on("B.base.W")},
                white={"a": CAPPED, "b": LOOSE},
            ),
        ),
    ],
    "colour-misleads": [
        changed(
            STAT,
            ends(white={"a": on("A.ctl.Y"), "b": on("B.base.Y")}, yellow={"a": on("A.ctl.W"), "b": on("B.base.W")}),
        )
    ],
    "colour-two-meanings": [
        landed(
            changed(
                STAT,
                {
                    "devices": {"C": {"type": "condensing-unit"}},
                    "cables": {"U": {**STAT["cables"]["T"], "count": 2, "b": {"device": "C"}, "conductors": {}}},
                },
            ),
            "U",
        )
    ],
    "white-not-marked": [white_leg()],
    "green-ungrounded": [
        changed(
            SPLIT,
            ends(
                green={"a": on("A.zone-a.3"), "b": on("B.unit.3")}, red={"a": on("A.zone-a.GND"), "b": on("B.unit.GND")}
            ),
        )
    ],
    "existing-not-captured": [changed(STAT, cable(state="existing"))],
    "half-landed": [changed(STAT, ends(yellow={"a": CAPPED}))],
    "accessory-not-landed": [
        changed(PUMP, {"devices": {"B": {"settings": {"accessory": "dehumidify"}}}}),
        changed(
            stat("air-handler-board", "stat-universal", 8),
            {"devices": {"B": {"settings": {"accessory": "dehumidify"}}}},
        ),
    ],
    "spare-not-capped": [changed(stat(count=7), ends(brown={"b": LOOSE})), RELAY],
    "abandoned-not-capped": [
        changed(STAT, cable(state="removed")),
        changed(STAT, cable(state="removed", conductors=None)),
    ],
}
EACH = [(code, plan) for code, plans in CASES.items() for plan in plans]
FIRST, LAST = (list(CODES).index(code) for code in ("device-type-missing", "abandoned-not-capped"))
WITHOUT_FIX = {
    "device-type-missing", "device-not-wired", "cable-make-missing", "cable-length-missing", "cable-route-missing",
    "control-load-missing", "joint-unknown", "colour-two-meanings",
}  # fmt: skip


def test_every_code_of_the_wiring_has_a_case() -> None:
    assert set(CASES) == set(list(CODES)[FIRST : LAST + 1])


@pytest.mark.parametrize(("code", "plan"), EACH, ids=[code for code, _ in EACH])
def test_finding_and_its_fix(code: str, plan: Json) -> None:
    before = checked(plan)
    rows = found(plan, code)
    assert rows, [row.code for row in before.findings]
    for row in rows:
        assert row.severity == CODES[code].severity
        assert row.about.split("/")[1] in {**plan["devices"], **plan["cables"]}
        for fix in (row.fix, *(way.fix for way in row.ways or ())):
            if fix is None:
                continue
            after = checked(merge(plan, fix))
            assert (code, row.about) not in [(other.code, other.about) for other in after.findings]
            stops = {(other.code, other.about) for other in after.findings if other.severity == "stop"}
            known = {(other.code, other.about) for other in before.findings}
            assert stops <= known, stops - known


@pytest.mark.parametrize("code", [code for code in CASES if code not in WITHOUT_FIX])
def test_each_has_a_way_to_clear_it(code: str) -> None:
    """Missing data cannot be fixed by a patch; all else can, in at least one of its cases."""
    assert any(row.fix or row.ways for plan in CASES[code] for row in found(plan, code))


@pytest.mark.parametrize("plan", [SPLIT, STAT, PUMP, COMM, HEAD, through_disconnect(), LEADS])
def test_sound_landings_have_nothing_against_their_cable(plan: Json) -> None:
    allowed = {"control-exposed"}
    against = {row.code for row in checked(plan).findings if row.about.startswith("cables/")}
    assert against <= allowed


def test_crossing_1_and_3_says_what_would_be_destroyed_and_where() -> None:
    (row,) = found(CASES["signal-crossed"][0], "signal-crossed")
    assert row.message == (
        "Black leaves 1 at A and arrives on 3 at B; red leaves 3 and arrives on 1: line voltage on the signal input "
        "destroys both boards. The strip at B reads the other way: match names, not places."
    )
    assert (row.fix_label, row.about) == ("Swap black and red at B", "cables/T/conductors/black/b")


def test_without_a_free_conductor_the_ways_out_are_offered() -> None:
    (row,) = found(stat(count=4), "common-missing")
    assert [way.label for way in row.ways or []] == [
        "Replace T", "Use green for the common", "Add a power adapter", "Take CF-10", "Go wireless",
    ]  # fmt: skip
    for way in row.ways or []:
        if way.fix is not None:
            assert not found(merge(stat(count=4), way.fix), "common-missing"), way.label


def test_an_accessory_takes_a_spare_conductor_and_without_one_there_are_ways_out() -> None:
    full, spare = CASES["accessory-not-landed"]
    (row,) = found(spare, "accessory-not-landed")
    assert [way.label for way in row.ways or []] == ["Use black of T"]
    taken = merge(spare, (row.ways or [])[0].fix)
    assert not found(taken, "accessory-not-landed")
    assert [row.message for row in found(taken, "spare-not-capped")] == ["T: black at A is neither landed nor capped."]
    (row,) = found(full, "accessory-not-landed")
    assert "No conductor is spare." in row.message
    assert [way.label for way in row.ways or []] == ["Replace T"]
    assert (row.ways or [])[0].fix is not None


def test_the_last_spare_is_for_the_accessory_and_a_second_stage_waits() -> None:
    """Seven conductors: R, C, both stages of heat and cooling, fan. With a humidifier to switch, cooling has one."""
    board = two("rooftop-board", "stat-universal", count=7)
    asked = changed(board, {"devices": {"B": {"settings": {"accessory": "humidify"}}}})
    carried = {entry.function for entry in proposed(board).landings}
    assert carried - {entry.function for entry in proposed(asked).landings} == {"cool-2"}
    (row,) = found(landed(asked), "accessory-not-landed")
    assert [way.label for way in row.ways or []] == ["Use orange of T"]
    done = merge(landed(asked), (row.ways or [])[0].fix)
    assert not {row.code for row in checked(done).findings} & {"accessory-not-landed", "call-not-carried"}
    # What stands already is not taken off for it.
    kept = changed(landed(board), {"devices": {"B": {"settings": {"accessory": "humidify"}}}})
    assert proposed(kept).patch == {}


@pytest.mark.parametrize(
    ("school", "severity"), [("raceway-required", "stop"), ("strapped", None), ("raceway-advised", "note")]
)
def test_control_cable_outdoors_by_school(school: str, severity: str | None) -> None:
    said = {"title": "Local", "said_by": "the invented office", "said_on": "2026-01-05"}
    plan = merge(LEADS, {"amendments": {"x": {**said, "choices": {"control-cable-outdoors": school}}}})
    rows = found(plan, "control-exposed")
    assert [row.severity for row in rows] == ([severity] if severity else [])
    if severity == "stop":
        assert rows[0].article == "local amendment"


def test_the_manual_comes_first_unless_the_jurisdiction_says_stranded_only() -> None:
    """The ceiling unit's manual allows solid metal-clad cable; the outdoor unit for 120 V allows it too."""
    at_a = {"device": "A", "strip": "zone-a"}
    plan = landed(two("split-outdoor-120", "split-indoor-ceiling", "mc", "14", 4, a=at_a, strands="solid"))
    assert not found(plan, "cable-solid")
    assert not found(plan, "cable-wrong-kind")
    said = {"title": "Local", "said_by": "the invented office", "said_on": "2026-01-05"}
    ruled = merge(plan, {"amendments": {"x": {**said, "choices": {"inter-unit-cable": "stranded-only"}}}})
    assert found(ruled, "cable-solid")


def test_a_device_without_its_manual_gets_the_strict_rule() -> None:
    bare = {"id": "own", "name": "own", "group": "indoor unit", "strips": [{"id": "u", "name": "u", "terminals": [
        {"id": "1", "function": "pair-1"}, {"id": "2", "function": "pair-2"}, {"id": "3", "function": "signal"},
        {"id": "GND", "function": "ground"}]}]}  # fmt: skip
    plan = two("own", "own", "nm-b", "14", 4, strands="solid") | {"device_types": {"own": bare}}
    assert found(landed(plan), "cable-wrong-kind")


@pytest.mark.parametrize(
    ("plan", "code"),
    [
        # At the limit itself, not beyond it.
        (changed(COMM, cable(length_ft=500)), "cable-too-long"),
        (changed(COMM, cable(awg="18", length_ft=1250)), "cable-too-long"),
        (changed(SPLIT, cable(awg="16", length_ft=80)), "cable-too-long"),
        (changed(SPLIT, cable(awg="16")), "cable-too-thin"),
        (changed(SPLIT, cable(awg="12")), "terminal-gauge"),
        (changed(STAT, cable(awg="22")), "terminal-gauge"),
        # 2.4 V / (10 VA / 24 V) / (2 x 7.77 ohm per 1000 ft) = 370.7 ft of 18 AWG solid.
        (changed(LEADS, cable(length_ft=370)), "control-drop"),
        # What suits its place.
        (changed(SPLIT, cable(family="cord")), "cable-wrong-kind"),
        (
            changed(STAT, cable(family="thermostat-wet", route={"r1": {"spot": "roof", "raceway": "LFNC"}})),
            "cable-not-wet",
        ),
        (changed(STAT, cable(wet=True, route={"r1": {"spot": "outdoor", "raceway": "PVC"}})), "cable-not-wet"),
        (changed(LEADS, cable(route={"r1": {"raceway": "LFNC"}})), "control-exposed"),
        (changed(STAT, cable(route={"r1": {"spot": "attic"}})), "control-exposed"),
        (changed(STAT, cable(joints={"j1": {"spot": "roof", "connector": "crimp"}})), "joint-connector"),
        (
            changed(STAT, cable(joints={"j1": {"spot": "attic", "connector": "twist_on", "taped": True}})),
            "joint-connector",
        ),
        (changed(STAT, cable(joints={"j1": {"spot": "attic", "connector": "crimp"}})), "joint-forbidden"),
        (changed(STAT, cable(route={"r1": {"with_power": False}})), "control-with-power"),
        # What a device does without, or has by another way.
        (stat(thermostat="stat-basic", count=4), "common-missing"),
        (stat(thermostat="stat-basic", count=4), "cable-too-few"),
        (stat(thermostat="stat-basic", count=2, system="heating_only"), "call-not-carried"),
        (stat(thermostat="stat-basic", count=3, system="cooling_only"), "cable-too-few"),
        (changed(PUMP, {"devices": {"B": {"settings": {"accessory": "none"}}}}), "accessory-not-landed"),
        (
            changed(RELAY, {"devices": {"B": {"capped": {"sw.COM": True, "sw.NO": True, "sw.NC": True}}}}),
            "spare-not-capped",
        ),
        # What is said on the sheet, marked, or is what the convention has it be.
        (
            changed(CASES["colour-misleads"][0], ends(white={"note": "white is Y"}, yellow={"note": "yellow is W"})),
            "colour-misleads",
        ),
        (stat(thermostat="stat-basic", count=4), "colour-misleads"),
        (stat(thermostat="stat-basic", count=3, system="cooling_only"), "colour-misleads"),
        (HEATER, "white-not-marked"),
        (
            changed(white_leg(), ends(white={"a": {"reidentified": "red"}, "b": {"reidentified": "red"}})),
            "white-not-marked",
        ),
        (SPLIT, "white-not-marked"),
        (SPLIT, "green-ungrounded"),
        (STAT, "green-ungrounded"),
        (
            changed(FULL, ends(red={"b": {"pigtail": True}}), ends("U", red={"a": {"pigtail": True}})),
            "terminal-overfull",
        ),
        (changed(PUMP, {"devices": {"B": {"settings": {"valve": "cooling"}}}}), "valve-sense"),
        (
            changed(
                CASES["pole-colour"][0],
                ends("W", black={"a": {"reidentified": "red"}}, red={"a": {"reidentified": "black"}}),
            ),
            "pole-colour",
        ),
        (
            changed(
                STAT,
                cable(
                    state="removed",
                    conductors={name: {"a": CAPPED, "b": CAPPED} for name in COLOURS},
                ),
            ),
            "abandoned-not-capped",
        ),
    ],
)
def test_not_found_on_the_sound_side(plan: Json, code: str) -> None:
    assert code not in [row.code for row in checked(plan).findings]


def test_through_a_contact_a_call_counts_as_carried_and_past_it_as_open() -> None:
    """A float switch in the cooling call at the board: the conductor from the thermostat ends on the switch."""
    float_switch = {"devices": {"F": {"type": "overflow-switch"}}}
    second = {**STAT["cables"]["T"], "count": 2, "b": {"device": "F"}, "conductors": {
        "red": {"a": on("A.ctl.Y"), "b": on("F.sw.1")}, "white": {"a": CAPPED, "b": CAPPED}}}  # fmt: skip
    plan = changed(STAT, float_switch, {"cables": {"U": second}}, ends(yellow={"a": on("F.sw.2")}))
    assert not found(plan, "call-not-carried")
    # Without the conductor from the board to the switch the call ends there.
    assert found(changed(plan, ends("U", red={"a": CAPPED, "b": CAPPED})), "call-not-carried")


def test_power_through_a_joint_is_no_line_on_24_volts() -> None:
    plan = changed(two("breaker-2", "joint-box", "singles", "12", 3, strands="stranded"), ends(
        black={"a": on("A.load.1"), "b": on("B.j.J1")}, red={"a": on("A.load.2"), "b": on("B.j.J2")}))  # fmt: skip
    assert not found(plan, "line-on-low")
    done, _ = wiring_result(plant(plan))
    assert done.devices["B"].strips[0].terminals[0].kind_words == "joint"
    spare = {"a": CAPPED, "b": CAPPED}
    wires = {"red": {"a": on("B.j.J1"), "b": on("C.base.R")}, "white": spare}
    second = {**STAT["cables"]["T"], "count": 2, "a": {"device": "B"}, "b": {"device": "C"}, "conductors": wires}
    onto = changed(plan, {"devices": {"C": {"type": "stat-basic"}}, "cables": {"U": second}})
    assert found(onto, "line-on-low")


def told(plan: Json) -> list[Finding]:
    return check_wiring(Plant(read_plan(plan)))


def test_two_hots_exchanged_on_two_poles_are_nothing() -> None:
    """The sense of poles matters on three phases alone: a heater on two does not mind."""
    turned = changed(HEATER, ends(black={"b": on("B.power.L2")}, white={"b": on("B.power.L1")}))
    assert {row.code for row in told(turned)} == {row.code for row in told(HEATER)}


def test_a_ground_marked_green_at_both_ends_is_one_from_4_awg_on() -> None:
    """250.119(A): conductors of 4 AWG and larger; a thinner one is never re-identified as ground."""
    for awg, asked in (("6", True), ("4", False), ("1/0", False)):
        red = {end: on(ref) | {"reidentified": "green"} for end, ref in (("a", "A.bar.G"), ("b", "B.power.GND"))}
        make = cable(family="singles", awg=awg, strands="stranded", colours=["black", "white", "red"])
        plan = changed(HEATER, make, ends(bare=None, red=red))
        assert bool(found(plan, "ground-colour")) == asked


def through_a_box(far: Json) -> Json:
    """A spare that a box carries from one cable into the next: capped at both ends, or landed where `far` says."""
    plan = changed(two("furnace-board", "joint-box", count=3), {"devices": {"C": {"type": "stat-basic"}}})
    plan = changed(plan, {"cables": {"U": plan["cables"]["T"] | {"a": {"device": "B"}, "b": {"device": "C"}}}})
    joined = (("red", "R", "J1"), ("white", "W", "J2"))
    near = {name: {"a": on(f"A.ctl.{ref}"), "b": on(f"B.j.{box}")} for name, ref, box in joined}
    away = {name: {"a": on(f"B.j.{box}"), "b": on(f"C.base.{ref}")} for name, ref, box in joined}
    return changed(plan, ends("T", **near, green={"a": CAPPED, "b": on("B.j.J3")}),
                   ends("U", **away, green={"a": on("B.j.J3"), "b": far}))  # fmt: skip


def test_a_spare_carried_through_a_box_is_no_half_landed_conductor() -> None:
    assert not found(through_a_box(CAPPED), "half-landed")
    (told,) = found(through_a_box(on("C.base.G")), "half-landed")
    assert "lands on G at C" in told.message


@pytest.mark.parametrize(
    ("spot", "connector", "fix"),
    [("outdoor", "twist_on", "sealed"), ("outdoor", "sealed", None), ("inside_unit", "twist_on", "crimp"),
     ("vehicle", "crimp", None), ("crawl_space", "twist_on", None)],
)  # fmt: skip
def test_a_connector_suits_its_place(spot: str, connector: str, fix: str | None) -> None:
    plan = changed(STAT, cable(joints={"j1": {"spot": spot, "connector": connector, "taped": True}}))
    told = found(plan, "joint-connector")
    assert [row.fix["cables"]["T"]["joints"]["j1"]["connector"] for row in told if row.fix] == ([fix] if fix else [])


def test_one_stage_of_a_strip_that_has_two_is_a_lawful_landing() -> None:
    """A board and a thermostat with W1, W2, Y1, Y2, and seven conductors for R, C, G and the first stages."""
    plan = stat("furnace-board-2", "stat-universal", 5)
    assert not found(plan, "cable-too-few")
    assert not found(plan, "call-not-carried")
    half = changed(plan, cable(count=6), ends(brown={"a": on("A.ctl.W2"), "b": CAPPED}))
    assert found(half, "half-landed") or found(half, "call-not-carried")


def test_a_factory_harness_has_its_own_colours_and_its_jumper_its_place() -> None:
    own = ["violet", "tan", "white-2", "white"]
    plan = changed(STAT, cable(family="harness", count=None, strands="stranded", colours=own, conductors=None))
    assert [wire.id for wire in plant(plan).wires["T"]] == own
    joined = plant(changed(STAT, jumper("B.base.Y", "B.base.G")))
    assert joined.makes["J"].length_ft == 0.5
    assert joined.nets["B.base.Y"] is joined.nets["B.base.G"]


def test_a_harness_colour_that_stands_twice_is_refused() -> None:
    with pytest.raises(InputError, match="stands there twice"):
        read_plan(changed(STAT, cable(family="harness", colours=["red", "red"], conductors=None)))
