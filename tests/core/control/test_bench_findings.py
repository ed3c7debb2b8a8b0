"""Each finding of the bench in a plan that has it, and not in the plan as it should be."""

from __future__ import annotations

from functools import cache
from typing import Any

import pytest
from leitung_core.catalogue.device import shipped_devices
from leitung_core.control.judgement import judge
from leitung_core.control.system import systems_of
from leitung_core.findings import CODES
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.result import check_plan

from tests.core.test_panels import PUMP_STOPS_DRYING
from tests.core.wiring.plans import CAPPED, Json, changed, ends, landed, on, two

SUPPLY = {
    "sources": {"P": {"volts": 240, "phase": 1, "volts_to_ground": 120}},
    "equipment": {"A": {"kind": "air_handler"}},
    "circuits": {"A": {"source": "P", "equipment": "A", "ocpd": {"rating_a": 20}}},
    "devices": {"A": {"equipment": "A"}},
}


@cache
def museum() -> Json:
    from leitung_demo.museum import museum as made

    return merge(made(), PUMP_STOPS_DRYING)


def of_museum(*patches: Json) -> Json:
    return changed(museum(), *patches)


def fed(board: str, other: str, count: int = 5, *patches: Json, **cable: Any) -> Json:
    """A board on a line, and something on its control strip."""
    return changed(landed(changed(two(board, other, count=count, **cable), SUPPLY)), *patches)


PAIR = fed("furnace-board", "stat-common", 5, {
    "devices": {"C": {"type": "condensing-unit"}},
    "cables": {"U": {"a": {"device": "A"}, "b": {"device": "C"}, "family": "thermostat", "awg": "18", "count": 2,
                     "length_ft": 50, "conductors": {"red": {"a": on("A.ctl.R"), "b": on("C.ctl.Y")},
                                                     "white": {"a": on("A.ctl.W"), "b": on("C.ctl.C")}}}},
})  # fmt: skip
DATA = changed(two("stat-adapter", "stat-communicating", count=4), ends(
    red={"a": on("A.bus.R"), "b": on("B.bus.R")}, white={"a": on("A.bus.C"), "b": on("B.bus.C")},
    green={"a": on("A.bus.DP"), "b": on("B.bus.DM")}, yellow={"a": on("A.bus.DM"), "b": on("B.bus.DP")},
))  # fmt: skip
ADAPTER = {"device_types": {"two-data": {
    "id": "two-data", "name": "board with data", "group": "board",
    "strips": [{"id": "bus", "name": "bus", "terminals": [{"id": "P", "function": "data-plus"},
                                                          {"id": "M", "function": "data-minus"}]}],
    "inside": [{"type": "load", "id": "D", "a": "bus.P", "b": "bus.M", "takes": "data", "rated_volts": 12}],
}}, "devices": {"A": {"type": "two-data"}, "B": {"type": "two-data"}}}  # fmt: skip
TURNED = changed(two("joint-box", "joint-box", count=2), ADAPTER, ends(
    red={"a": on("A.bus.P"), "b": on("B.bus.M")}, white={"a": on("A.bus.M"), "b": on("B.bus.P")}
))  # fmt: skip

UNKNOWN = shipped_devices()["split-indoor-wall"].model_dump(mode="json", exclude_none=True)
UNKNOWN["id"] = "own"
UNKNOWN["inside"] = [{name: value for name, value in part.items() if name != "va"} for part in UNKNOWN["inside"]]

CASES: dict[str, Json] = {
    "secondary-shorted": of_museum(ends("TC-1", brown={"a": on("AH-1.ctl.C")})),
    "supplies-tied": of_museum(ends("DC-1", blue={"a": on("AH-1.ctl.R")},
                                    yellow={"a": on("AH-1.ctl.C"), "b": on("DH-1.ctl.C")})),
    "runs-without-call": of_museum(ends("TC-1", white={"a": on("AH-1.ctl.G")}, green={"a": on("AH-1.ctl.W1")})),
    "call-does-nothing": of_museum(ends("TC-1", green={"a": CAPPED, "b": CAPPED})),
    "heat-and-cool": of_museum(ends("TC-2", white={"b": on("TS-2.base.G")}, green={"b": on("TS-2.base.W1")})),
    "no-return": of_museum(ends("SL-6", white={"a": CAPPED, "b": CAPPED})),
    "transformer-overloaded": of_museum(ends("LC-2", black={"b": on("LU-1.pri.P120")})),
    "coil-low": of_museum({"cables": {"SL-6": {"length_ft": 60_000, "route": None}}}),
    "motor-stalls": of_museum(ends("SK-1", white={"a": CAPPED, "b": CAPPED})),
    "tap-wrong": of_museum({"devices": {"AH-1": {"settings": {"tap": "240"}}}}),
    "line-on-control": of_museum(ends("IC-2", black={"b": on("IU-2.unit.3")}, red={"b": on("IU-2.unit.1")})),
    "too-many-volts": fed("air-handler-board", "stat-universal", 8, {
        "sources": {"P": {"volts": 270, "volts_to_ground": 135}}, "devices": {"A": {"settings": {"tap": "208"}}}}),
    "heat-without-air": of_museum({"devices": {"TS-1": {"settings": {"fan-with-heat": "unit"}}}}),
    "safety-dead": of_museum(ends("DC-2", red={"a": on("RT-1.ctl.R")})),
    "data-turned": TURNED,
    "dry-contact-fed-twice": of_museum(ends("DC-1", green={"a": on("JB-1.j.J2")})),
    "loads-in-series": PAIR,
    "chatters": of_museum(
        ends("SL-6", red={"b": on("IR-1.sw.COM")}),
        {"cables": {"X": {"a": {"device": "IR-1"}, "b": {"device": "JB-1"}, "length_ft": 2, "family": "thermostat",
                          "awg": "18", "count": 2,
                          "conductors": {"red": {"a": on("IR-1.sw.NC"), "b": on("JB-1.j.J6")},
                                         "white": {"a": on("IR-1.coil.A1"), "b": on("JB-1.j.J6")}}}}},
    ),
    "interlock-ineffective": of_museum({"devices": {"RT-1": {"settings": {"stop-jumper": "in"}}}}),
    "interlock-untried": of_museum(ends("SL-1", red={"a": CAPPED, "b": CAPPED})),
    "interlock-waived": of_museum({"interlocks": {"x": {"system": "AH-1", "cause": "cause:door-open", "effect": "lamp",
                                                        "stops": False}}}),
    "bench-assumed": of_museum({"devices": {"IU-1": {"type": "own"}}, "device_types": {"own": UNKNOWN}}),
    "bench-unfed": of_museum({"sources": {"VP": {"volts": None}}}),
}  # fmt: skip


def bench_codes(plan: Json) -> set[str]:
    return {row.code for system in systems_of(Plant(read_plan(plan))) for row in judge(system).findings}


def test_every_code_of_the_bench_has_a_case() -> None:
    first = list(CODES).index("secondary-shorted")
    assert set(CASES) == set(list(CODES)[first:])


@pytest.mark.parametrize("code", CASES)
def test_each_is_found(code: str) -> None:
    assert code in bench_codes(CASES[code])


def test_the_museum_as_it_should_be_has_only_what_landings_and_the_catalogue_leave() -> None:
    """1 and 3 are crossed at the first indoor unit; nothing else."""
    crossed = {"line-on-control", "no-return", "call-does-nothing", "runs-without-call"}
    assert bench_codes(museum()) == crossed
    whole = {row.code for row in check_plan(read_plan(museum())).findings if row.code in CASES}
    assert not whole, "told by the rules of the landings already"


@pytest.mark.parametrize(("colour", "says"), [
    ("red", "With nothing called: IU-2 powers up and does not talk: the signal input of IU-2 hears nothing."),
    ("black", "With nothing called: The electronics of IU-2 stays off: 0 V."),
])  # fmt: skip
def test_without_its_signal_a_unit_powers_up_and_does_not_talk(colour: str, says: str) -> None:
    """The signal's far end is loose: 50 V behind 1 kΩ is not heard; without line 1 the electronics has no supply."""
    system = next(
        s for s in systems_of(Plant(read_plan(of_museum(ends("IC-2", **{colour: {"a": CAPPED}}))))) if s.key == "OU-1"
    )
    assert says in [row.message for row in judge(system).findings if row.code == "call-does-nothing"]


def test_the_pumps_contact_in_r_does_not_stop_the_dehumidifier_and_in_its_call_it_does() -> None:
    from leitung_demo.museum import museum as made

    rows = [row for row in check_plan(read_plan(made())).findings if row.code == "interlock-ineffective"]
    assert [(row.severity, row.about) for row in rows] == [("stop", "devices/DH-1")]
    waiver = next(way.fix for way in rows[0].ways or [] if way.fix)
    waived = {row.code for row in check_plan(read_plan(merge(made(), waiver))).findings}
    assert "interlock-waived" in waived
    assert "interlock-ineffective" not in waived
    assert "interlock-ineffective" not in bench_codes(museum())


def test_a_unit_without_a_drawn_power_cable_is_fed_by_its_line() -> None:
    plan = fed("furnace-board", "stat-common")
    plan = changed(plan, {"sources": {"P": {"volts": 120, "volts_to_ground": 120}}})
    (system,) = systems_of(Plant(read_plan(plan)))
    assert [note.kind for note in system.built.notes] == ["by-line"]
    assert judge(system).findings == ()
    unfed = changed(plan, {"circuits": {"A": None}})
    (bare,) = systems_of(Plant(read_plan(unfed)))
    assert "bench-unfed" in {row.code for row in judge(bare).findings}


def test_two_systems_leave_out_the_same_cell_each_under_an_entry_of_its_own() -> None:
    """The id that a cell is to have is free in the plan: a waiver of one system never takes another's place."""
    entry = {"system": "RT-1", "cause": "cause:door-open", "effect": "lamp", "stops": False}
    plan = of_museum({"interlocks": {"door-open-lamp": entry}})
    (vault, *_) = systems_of(Plant(read_plan(plan)))
    cell = next(cell for cell in vault.cells if (cell.cause, cell.effect) == ("cause:door-open", "lamp"))
    assert cell.interlock == "door-open-lamp-2"


def test_a_heater_on_half_its_volts_is_hot_and_never_called_off() -> None:
    """5 kW at 240 V behind 120 V: a quarter of its heat, less what 1.5 V of drop take."""
    half = {"sources": {"P": {"volts": 120, "volts_to_ground": 60}}}
    (system,) = systems_of(Plant(read_plan(fed("unit-heater", "joint-box", 3, half))))
    (row,) = judge(system).findings
    assert (row.code, row.message) == (
        "coil-low", "With heat called: The heater of A gets 118.5 V of 240 V: it is hot, at 24 % of its heat."
    )  # fmt: skip
