"""What the bench says of each hazard, word for word: its figures by hand, one fact once however many loads it has."""

from __future__ import annotations

import pytest
from leitung_core.control.judgement import judge
from leitung_core.control.system import systems_of
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant

from tests.core.control.test_bench_findings import CASES, Json, of_museum

SAYS = {
    # 60 VA at 24 V is 2.5 A.
    "secondary-shorted": ["With emergency heat called: The secondary of the transformer of AH-1 is shorted: "
                          "13.8 A where 2.5 A is its rating."],
    "supplies-tied": ["With nothing called: Two supplies are tied together: the transformer of AH-1 and the "
                      "transformer of DH-1."],
    # The demo's own mistake, 1 and 3 crossed at IU-1, counts as asking: its board closes the signal's loop.
    "runs-without-call": ["With cool called: The heat relay of AH-1 is on without a call.",
                          "With nothing called: The valve of zone A of OU-1 is on without a call.",
                          "With nothing called: The compressor of OU-1 is on without a call."],
    "heat-and-cool": ["With cool called: Heat and cooling run at once."],
    # 208 V on the 120 V tap: 18 VA x 208 / 120 is 31.2 by amperes, less what the winding's 6 % take.
    "transformer-overloaded": ["With nothing called: The transformer of LU-1 is asked for 30 VA of its 25 VA."],
    "coil-low": ["With cool called: The coil of IR-1 gets 4 V of 24 V: too little to pull in."],
    # 208 / 240 of 24 V is 20.8 V, less what its regulation takes.
    "tap-wrong": ["With nothing called: The transformer of AH-1 has 208 V on its 240 V tap: 20.7 V where 24 V is "
                  "meant."],
    "heat-without-air": ["With heat called: The heater of AH-1 is on and the blower of AH-1 moves no air."],
    "safety-dead": ["With smoke: DD-1 has no supply when it is to act: it proves nothing."],
    "data-turned": ["With nothing called: A data pair is crossed: nothing will be understood."],
    "loads-in-series": ["With nothing called: The heat input of A and the compressor contactor of C lie in series and "
                        "share the volts."],
    "chatters": ["With cool called: Contacts never come to rest: a relay chatters."],
    # A motor on three phases is one motor: its three loads are told once.
    "interlock-ineffective": [
        f"With smoke while {calls} called: The {load} of RT-1 goes on: the safety contact does nothing."
        for calls, load in (
            ("heat", "heat input"), ("emergency heat", "second heat input"), ("cool", "first compressor"),
            ("cool and second stage", "second compressor"), ("cool", "blower"),
        )
    ],
    "interlock-waived": ["Door open does not have to stop the lamp here, says the plan; 110.3(B), the lamp's manual "
                         "asks."],
    "bench-assumed": ["What the electronics of IU-1 and the signal input of IU-1 draws is not known."],
}  # fmt: skip


def told(plan: Json, code: str) -> list[str]:
    rows = [row for system in systems_of(Plant(read_plan(plan))) for row in judge(system).findings]
    return [row.message for row in rows if row.code == code]


@pytest.mark.parametrize("code", SAYS)
def test_each_is_said_in_peoples_words_and_once(code: str) -> None:
    assert told(CASES[code], code) == SAYS[code]


def test_a_way_out_names_the_motor_and_not_one_of_its_phases() -> None:
    plan = of_museum({"devices": {"RT-1": {"settings": {"stop-jumper": "in"}}}})
    rows = [row for system in systems_of(Plant(read_plan(plan))) for row in judge(system).findings]
    ways = [way.label for row in rows if row.code == "interlock-ineffective" for way in row.ways or []]
    assert "Break what runs the blower of RT-1" in ways
    assert not [label for label in ways if " to 2" in label]
    assert len({row.key for row in rows}) == len(rows)
