"""The stations of the work: every stop at exactly one, and what a state says at each."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_plan
from leitung_core.result.stations import recorded
from leitung_demo.museum import museum

from tests.core.result.plans import plans

Json = dict[str, Any]
BLANK: Json = {"format": "leitung-plan", "format_version": 1, "name": "Cooperage"}
PANEL: Json = {"kind": "panel", "name": "Panel A"}
WHOLE: Json = {"kind": "panel", "name": "Panel A", "volts": 240, "phase": 1, "volts_to_ground": 120, "bus_a": 200,
               "spaces": 30, "main_a": 200}  # fmt: skip


def states(plan: Json) -> dict[str, str]:
    return {station.id: station.state for station in check_plan(read_plan(plan)).stations}


@settings(max_examples=40)
@given(plans())
def test_every_stop_stands_at_one_station_and_at_no_other(plan: Json) -> None:
    result = check_plan(read_plan(plan))
    stops = sum(row.severity == "stop" for row in result.findings)
    said = [int(station.says.split()[0]) for station in result.stations if station.state == "stop"]
    assert sum(said) == stops
    assert all(said)
    assert sum(station.left for station in result.stations) >= sum(row.severity != "note" for row in result.findings)
    listed = [key for station in result.stations for key in station.findings]
    assert sorted(listed) == sorted(row.key for row in result.findings)


def test_nothing_entered_is_no_stop_and_nothing_open() -> None:
    assert set(states(BLANK).values()) == {"unknown"}


@pytest.mark.parametrize(
    ("patch", "station", "state"),
    [
        ({"sources": {"A": PANEL}}, "site", "open"),  # volts, phases, bus and spaces are still to enter
        ({"site": {"name": "Cooperage"}}, "site", "done"),
        ({"sources": {"A": WHOLE}}, "lines", "unknown"),
        ({"circuits": {"L": {}}}, "lines", "open"),  # neither a unit nor a source
        ({"devices": {"T": {"type": "furnace-board"}}}, "landings", "open"),  # nothing lands on it
        ({"devices": {"T": {"type": "joint-box"}}}, "bench", "unknown"),
    ],
)
def test_a_station_begins_with_the_first_thing_on_it(patch: Json, station: str, state: str) -> None:
    assert states(merge(BLANK, patch))[station] == state


def test_what_is_wrong_on_one_station_is_told_there_alone() -> None:
    """The demo's mistakes one by one: a breaker above its plate, a crossing, an interlock that does nothing, a
    microwave that nobody counted.
    """
    plan = museum()
    assert {name: state for name, state in states(plan).items() if state == "stop"}.keys() == {
        "lines", "landings", "bench", "supply",
    }  # fmt: skip
    waived = {"interlocks": {"x": {"system": "AH-1", "cause": "cause:pump-fault", "effect": "dehumidifier",
                                   "stops": False}}}  # fmt: skip
    assert states(merge(plan, waived)) == states(plan) | {"bench": states(merge(plan, waived))["bench"]}
    assert states(merge(plan, waived))["bench"] != "stop"


@pytest.mark.parametrize(
    ("progressed", "stuck", "start_up", "handover"),
    [
        ("lines", True, "unknown", "unknown"), ("start-up", False, "open", "unknown"),
        ("start-up", True, "stop", "unknown"), ("handover", False, "done", "open"), ("signed", False, "done", "done"),
    ],
)  # fmt: skip
def test_start_up_and_handover_stand_as_far_as_it_has_come(
    progressed: Any, stuck: bool, start_up: str, handover: str
) -> None:
    assert [station.state for station in recorded(progressed, stuck)] == [start_up, handover]
