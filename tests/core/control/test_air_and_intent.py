"""Air for what heats and cools, whichever device moves it; what is to be on when, by what is used."""

from __future__ import annotations

import pytest
from leitung_core.control.judgement import judge
from leitung_core.control.system import System
from leitung_core.slips.report import report

from tests.core.patterns.test_patterns import base, systems
from tests.core.wiring.plans import CAPPED, Json, changed, ends, on, two

CUT = {"a": CAPPED, "b": CAPPED}


def split(*patches: Json) -> System:
    """The system of a board with its thermostat and the unit outdoors."""
    return next(one for one in systems(changed(base(), *patches)) if "CU" in one.devices)


def told(system: System, code: str) -> list[str]:
    return [row.message for row in judge(system).findings if row.code == code]


def heat_pump(*patches: Json) -> System:
    """The same with a heat pump outdoors, whose W lights the strip while it defrosts."""
    wires = {
        name: {"a": on(f"A.ctl.{board}"), "b": on(f"CU.ctl.{unit}")}
        for name, board, unit in (("red", "R", "R"), ("white", "W1", "W"), ("yellow", "Y", "Y"), ("green", "C", "C"),
                                  ("blue", "O", "O"))
    }  # fmt: skip
    unit = {"devices": {"CU": {"type": "heat-pump-outdoor"}, "B": {"settings": {"equipment": "heat pump"}}}}
    cable = {"cables": {"U": {"count": 5, "conductors": wires}}}
    return split(unit, cable, {"devices": {"B": {"settings": {"fan-with-heat": "thermostat"}}}}, *patches)


def test_a_compressor_outdoors_needs_the_blower_indoors() -> None:
    assert not [m for m in told(split(), "heat-without-air") if "compressor" in m]
    (message,) = [m for m in told(split(ends("T", green=CUT)), "heat-without-air") if "compressor" in m]
    assert "The compressor of CU is on" in message
    assert "the blower of A moves no air" in message


def test_defrost_that_lights_the_strip_is_right() -> None:
    system = heat_pump()
    assert "cause:defrost" in system.causes
    assert "cause:defrost" in system.intents["A.HR1"]
    assert told(system, "runs-without-call") == []


@pytest.mark.parametrize("landed", [True, False])
def test_a_second_stage_that_nothing_lands_on_is_not_to_be_on(landed: bool) -> None:
    second = {"a": on("A.ctl.W2"), "b": on("B.base.W2")} if landed else CUT
    system = split(ends("T", brown=second))
    assert system.intents["A.HR2"] == ("call:emergency-heat" if landed else "false")
    assert told(system, "call-does-nothing") == []


def test_a_fan_that_a_setting_takes_off_the_heat_is_unsafe_among_the_slips() -> None:
    """The thermostat switches the fan with the heat; set back to the unit, which does not, it heats without air."""
    found, _ = report(split({"devices": {"B": {"settings": {"fan-with-heat": "thermostat"}}}}))
    harm = {entry.id: (entry.harm, entry.hazard) for entry in found.mistakes}
    assert harm["set/B/fan-with-heat/unit"] == ("unsafe", "HEAT_WITHOUT_AIR")


@pytest.mark.parametrize("capped", [True, False])
def test_a_system_without_a_mistake_or_a_reading_is_reported_all_the_same(capped: bool) -> None:
    """A fan on its line beside a detector whose leads are capped: nothing can be exchanged, nothing read."""
    plan = two("air-handler-board", "duct-detector", count=2)
    plan |= {"sources": {"P": {"volts": 240, "phase": 1, "volts_to_ground": 120}},
             "equipment": {"A": {"kind": "air_handler"}},
             "circuits": {"A": {"source": "P", "equipment": "A"}}}  # fmt: skip
    plan = changed(plan, {"devices": {"A": {"equipment": "A"}}})
    plan = changed(plan, ends(red=CUT, white=CUT) if capped else {"cables": {"T": None}})
    for system in systems(plan):
        found, _ = report(system)
        assert found.tests == [] or found.mistakes


def test_a_pair_and_a_plug_are_moved_together() -> None:
    """The condenser's pair on R and W: its contactor lies in series with the heat relay, as the trade knows it."""
    found, _ = report(split())
    harm = {entry.id: entry for entry in found.mistakes}
    pair = harm["moved/U/a/ctl.R/ctl.W1"]
    assert pair.says == "Red and white of U are on R, W1 at A."
    assert pair.harm != "none"
    assert pair.exposed_by
    assert pair.patch == {"cables": {"U": {"conductors": {
        "red": {"a": {"terminal": "A.ctl.R", "capped": None}}, "white": {"a": {"terminal": "A.ctl.W1", "capped": None}},
    }}}}  # fmt: skip
