"""The cord and its plug: each blade's colour, and the one that stays empty."""

from __future__ import annotations

import pytest
from leitung_core.wiring.view import StripView, device_view

from tests.core.wiring.plans import Json, landed, plant, two


def plug(kind: str, unit: str, conductors: int) -> StripView:
    bare = two(kind, unit, "cord", "10", conductors, a={"device": "A", "strip": "slot"}, length_ft=5, route={})
    plan: Json = landed(bare)
    return next(strip for strip in device_view(plant(plan), "A").strips if strip.id == "slot")


@pytest.mark.parametrize(
    ("kind", "unit", "conductors", "empty"),
    [
        ("receptacle-14-50", "unit-2", 3, {"W": "stays empty: B takes no neutral"}),
        ("receptacle-6-20", "unit-2", 3, {}),
        ("receptacle", "unit-1-neutral", 3, {}),
    ],
)
def test_a_three_wire_load_leaves_the_neutral_blade_empty(
    kind: str, unit: str, conductors: int, empty: dict[str, str]
) -> None:
    found = plug(kind, unit, conductors)
    assert {row.label: row.empty for row in found.terminals if row.empty} == empty
    assert {row.label for row in found.terminals if row.landed} == {row.label for row in found.terminals} - set(empty)
    assert all(len(row.landed) <= 1 for row in found.terminals)
    assert any(note.startswith("W stays empty in the plug") for note in found.notes) is bool(empty)
    assert found.notes[0] == "T: cut to 5 ft"
    assert "Strain relief" in found.notes[-1]


def test_without_a_cord_there_is_nothing_to_say_and_what_may_not_stay_open_is_said() -> None:
    view = device_view(plant(two("receptacle-14-50", "unit-2", "cord", "10", 3)), "A")
    screws, slots = view.strips
    assert slots.notes == screws.notes == []
    assert {row.label: row.empty for row in screws.terminals} == {
        "X": "nothing lands here and it may not stay open", "Y": "nothing lands here and it may not stay open",
        "W": None, "GND": "nothing lands here and it may not stay open",
    }  # fmt: skip
