"""From which rolls cable is cut: the least length bought, by hand and held against what always works."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.loadout.cuts import Cut, cut_of, cuts
from leitung_core.loadout.take_off import load_out
from leitung_core.loadout.written import say_cut
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.sizing import size_all

SOLD = (25, 50, 100, 250)


def bought(cut: Cut) -> list[float]:
    return [roll.length_ft for roll in cut.rolls]


@pytest.mark.parametrize(
    ("pieces", "rolls", "said"),
    [
        ((50, 39), [100], "1 roll of 100 ft: 50, 39"),  # two of 50 ft are as long, and one roll more
        ((60, 60, 40, 40), [100, 100], "2 rolls of 100 ft: 60, 40 | 60, 40"),  # 200 ft in two, none left
        ((24, 24, 24), [25, 50], None),  # 75 ft; one of 100 ft is longer
        ((251,), [], "251 ft from the reel"),
        ((), [], ""),
    ],
)
def test_by_hand(pieces: tuple[float, ...], rolls: list[float], said: str | None) -> None:
    found = cut_of("x", pieces, SOLD)
    assert (sorted(bought(found)), found.proven) == (rolls, True)
    if said is not None:
        assert say_cut(found) == said


def test_what_is_sold_by_the_foot_is_cut_at_the_counter() -> None:
    assert cut_of("3 AWG THWN-2", [88, 88], ()).by_the_foot == [88, 88]


@given(st.lists(st.integers(1, 2600).map(lambda tenths: tenths / 10), max_size=14))
def test_every_piece_comes_whole_from_one_roll_and_no_less_would_do(pieces: list[float]) -> None:
    found = cut_of("x", pieces, SOLD)
    cut = [piece for roll in found.rolls for piece in roll.pieces_ft]
    assert sorted([*cut, *found.by_the_foot]) == sorted(pieces)
    assert all(roll.left_ft >= 0 and roll.pieces_ft for roll in found.rolls)
    # A roll for each piece always works, and less than the pieces themselves never does.
    assert sum(cut) - 1e-6 <= sum(bought(found)) <= sum(min(s for s in SOLD if s >= piece) for piece in cut)


def test_the_museums_rolls_hold_what_its_load_out_asks_for(museum_plan: dict[str, Any]) -> None:
    plant = Plant(read_plan(museum_plan))
    found = load_out(plant, size_all(plant))
    asked = {row.item: row.quantity for row in found.rows if row.unit == "ft" and row.group in ("cable", "conductor")}
    cut = {one.item: one for one in cuts(found)}
    assert cut.keys() == asked.keys()
    for item, one in cut.items():
        pieces = [piece for roll in one.rolls for piece in roll.pieces_ft] + one.by_the_foot
        assert sum(pieces) == pytest.approx(asked[item], abs=0.1), item
        assert one.proven, item
