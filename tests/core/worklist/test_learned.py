"""What a crew's ticks say: honest without any, near the truth after ten, whatever the truth is."""

from __future__ import annotations

import random
from math import exp

import pytest
from leitung_core.worklist.learned import Took, learned, place_of, with_learned
from leitung_core.worklist.ranges import Range
from leitung_core.worklist.tasks import WorkTask

TASK = WorkTask(key="rough-U", kind="rough", text="", about=[], people=["installer"],
                minutes=Range(low=60, likely=120, high=240))  # fmt: skip


def took(times: float, place: str = "indoors", kind: str = "rough", shipped: float = 90) -> Took:
    return Took.model_validate({"kind": kind, "place": place, "shipped_min": shipped, "took_min": shipped * times})


def test_without_any_the_shipped_range_stands() -> None:
    found = learned([took(3, kind="land")], TASK)
    assert with_learned(TASK, found) == TASK.minutes
    assert (found.of, found.says) == (0, "the shipped range: none was done yet")


def test_one_that_took_twice_as_long_moves_it_part_of_the_way_by_hand() -> None:
    """Of the kind: ln 2 / 3. Of the place: (ln 2 + 2 ln 2 / 3) / 3 = 5 ln 2 / 9, so 2^(5/9) = 1.47; else 2^(1/3)."""
    found = learned([took(2)], TASK)
    assert found.likely == pytest.approx(2 ** (5 / 9))
    assert learned([took(2, "roof")], TASK).likely == pytest.approx(2 ** (1 / 3))


@pytest.mark.parametrize("truth", [0.6, 1.0, 1.6, 2.2])
def test_after_ten_the_estimate_is_within_15_percent_of_what_it_takes(truth: float) -> None:
    """Over 200 made-up crews whose tasks vary by a fifth: nine in ten of the estimates are."""
    dice = random.Random(11)
    near, held = 0, 0
    for _ in range(200):
        history = [took(truth * exp(dice.gauss(0, 0.2)), shipped=dice.uniform(20, 300)) for _ in range(10)]
        minutes = with_learned(TASK, learned(history, TASK))
        near += abs(minutes.likely / (truth * 120) - 1) <= 0.15
        held += minutes.low <= truth * 120 * exp(dice.gauss(0, 0.2)) <= minutes.high
    assert near >= 180
    # The range is as wide as it says: of the next task at least eight in ten lie in it.
    assert held >= 160


def test_places_are_learned_apart_and_what_somebody_entered_stands() -> None:
    history = [took(2.0, "roof") for _ in range(8)] + [took(1.0) for _ in range(8)]
    roof = TASK.model_copy(update={"access": ["roof", "lift"]})
    assert (place_of(roof), place_of(TASK)) == ("roof", "indoors")
    assert learned(history, roof).likely > 1.6 > 1.2 > learned(history, TASK).likely
    entered = TASK.model_copy(update={"changed": ["minutes"]})
    assert with_learned(entered, learned(history, entered)) == TASK.minutes
