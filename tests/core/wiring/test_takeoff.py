"""What a cable takes out of the truck, counted by hand: length with its slack, connectors, hardware, caps, markers."""

from __future__ import annotations

import pytest
from leitung_core.wiring.takeoff import CableTakeOff, take_off

from tests.core.wiring.plans import CAPPED, Json, cable, changed, ends, landed, on, plant, two


def of(plan: Json, key: str = "T") -> CableTakeOff:
    return next(row for row in take_off(plant(plan)) if row.cable == key)


@pytest.mark.parametrize(
    ("a", "b", "slack"),
    [
        ("furnace-board", "stat-common", 3 + 1),  # a board, and anything else
        ("breaker-2", "unit-heater", 6 + 3),  # a panel, and a heater's board
        ("split-outdoor-1", "split-indoor-wall", 3 + 2),
        ("joint-box", "joint-box", 1 + 1),
    ],
)
def test_length_is_the_way_and_what_is_dressed_in_at_each_end(a: str, b: str, slack: float) -> None:
    """300.14: six inches free at least; more where it is dressed in a cabinet."""
    row = of(two(a, b, route={}, length_ft=40))
    assert (row.slack_ft, row.length_ft) == (slack, 40 + slack)


def test_what_is_there_already_is_not_pulled_again_and_what_goes_out_not_counted() -> None:
    plan = landed(two("furnace-board", "stat-common"))
    there = of(changed(plan, cable(state="existing")))
    assert (there.length_ft, there.slack_ft) == (0, 0)
    assert take_off(plant(changed(plan, cable(state="removed")))) == []
    unknown = of(changed(plan, cable(route={"r1": None}, length_ft=None)))
    assert (unknown.length_ft, unknown.slack_ft) == (None, 4)


def test_each_end_takes_what_its_terminal_asks() -> None:
    """Stranded under a screw: a fork or ferrule at each; solid: nothing. A spade takes its spade terminal."""
    split = two("split-outdoor-1", "split-indoor-wall", "tray", "14", 4)
    row = of(landed(changed(split, cable(strands="stranded", a={"strip": "zone-a"}))))
    assert row.hardware == {"fork terminal or ferrule": 8}
    solid = of(landed(two("breaker-2", "unit-heater", "nm-b", "12", 2, strands="solid")))
    assert solid.hardware == {}
    spades = of(landed(two("roof-unit", "soft-starter", "tray", "12", 4, a={"device": "A", "strip": "comp"})))
    assert spades.hardware == {"spade terminal": 6}, "three conductors, two ends"


def test_caps_and_markers_are_counted_at_each_end() -> None:
    plan = landed(two("furnace-board", "stat-common", count=7))
    before = of(plan)
    capped = of(changed(plan, ends(yellow={"a": CAPPED, "b": CAPPED})))
    assert capped.caps == before.caps + 2
    marked = changed(plan, ends(white={"a": on("A.ctl.W") | {"reidentified": "red"}}))
    assert of(marked).markers == before.markers + 1


def test_a_joint_takes_a_connector_for_every_conductor_of_its_sort_of_place() -> None:
    plan = landed(two("furnace-board", "stat-common", count=5))
    dry = of(changed(plan, cable(joints={"j": {"spot": "interior"}}))).connectors
    wet = of(changed(plan, cable(joints={"j": {"spot": "outdoor"}}))).connectors
    assert sum(dry.values()) == sum(wet.values()) == 5
    assert set(dry) != set(wet)
