"""A thousand rounds: each can be solved by reading, with fewer than the least it cannot, and no mistake that explains
every reading taken is called wrong.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from itertools import islice, product
from random import Random

import numpy as np
import pytest
from leitung_core.control.system import System, system_with, systems_of
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.practice.fault import find_the_fault, solvable, suspects_of, with_mistake
from leitung_core.practice.judge import Given, judge, never_told, ruled_by
from leitung_core.practice.model import FaultTask, Mend, Round
from leitung_demo import museum

ROUNDS = 1000
METER = 0.01, 0.3  # the share and the volts by which the meter of the trade may be off


NO_MEND = Mend(device="", options=[], safe=[[]], harm="")


@cache
def systems() -> list[System]:
    """Those of the demo's plan; then the smaller ones again, each otherwise wired by a slip that harms nothing."""
    sound = systems_of(Plant(read_plan(museum())))
    harmless = [(one, slip.mistake.patch) for one in sound for slip in suspects_of(one).slips
                if slip.harm == "none" and slip.mistake.patch and len(suspects_of(one).slips) < 80]  # fmt: skip
    return [*sound, *(system_with(one, patch) for one, patch in harmless)]


def _every() -> Iterator[tuple[System, FaultTask]]:
    for one in systems():
        yield from ((one, with_mistake(one, hidden, NO_MEND)) for hidden in solvable(suspects_of(one)))


@cache
def rounds() -> list[tuple[System, FaultTask]]:
    return list(islice(_every(), ROUNDS))


def _verdict(task: FaultTask, readings: list[tuple[int, int]], named: int) -> bool | None:
    asked = Round(id="r", topic="fault/x", title="x", of="x", ask="x", task=task)
    return judge(asked, Given(readings=readings, named=named)).told[0].right


def _all(task: FaultTask) -> list[tuple[int, int]]:
    return list(product(range(len(task.states)), range(-1, len(task.leads))))


def test_each_of_a_thousand_can_be_solved_by_reading_and_by_nothing_else() -> None:
    assert len(rounds()) == ROUNDS
    assert len({(id(one), task.hidden) for one, task in rounds()}) == ROUNDS
    for _, task in rounds():
        assert _verdict(task, _all(task), task.hidden) is True
        assert _verdict(task, [], task.hidden) is None
        assert not ruled_by(task, _all(task)) >> task.hidden & 1
        assert ruled_by(task, _all(task)) & 1, "that nothing is wrong is ruled out by some reading"


def test_with_fewer_than_the_least_readings_nobody_can_prove_it() -> None:
    for _, task in rounds():
        rows = {int(row, 16) for row in task.sets}
        wanted = 0
        for row in rows:
            wanted |= row
        assert task.exact
        assert _covers(rows, wanted, task.least)
        assert not _covers(rows, wanted, task.least - 1)
        assert task.least <= task.usual


def _covers(rows: set[int], wanted: int, count: int) -> bool:
    """Whether so many of the rows together hold every bit: tried out, one after the other."""
    if wanted == 0:
        return True
    if count == 0:
        return False
    lowest = wanted & -wanted
    return any(_covers(rows, wanted & ~row, count - 1) for row in rows if row & lowest)


@pytest.mark.parametrize("seed", range(3))
def test_no_mistake_that_explains_every_reading_taken_is_called_wrong(seed: int) -> None:
    random = Random(seed)
    wrong = 0
    for one, task in rounds():
        solved, readings = suspects_of(one).solved, random.sample(_all(task), random.randint(1, 6))
        named = random.randrange(len(task.suspects))
        explains = all(_explains(solved.volts, solved.on, task.hidden, named, *reading) for reading in readings)
        verdict = _verdict(task, readings, named)
        assert (verdict is not False) == explains
        wrong += verdict is False
        if verdict is True:
            assert never_told(task) >> named & 1
    assert 100 < wrong < 900


def _explains(volts: np.ndarray, on: np.ndarray, hidden: int, named: int, state: int, lead: int) -> bool:
    if lead < 0:
        return bool((on[named, state] == on[hidden, state]).all())
    shown, meant = float(volts[hidden, state, lead]), float(volts[named, state, lead])
    share, fixed = METER
    return abs(shown - meant) <= share * (abs(shown) + abs(meant)) + 2 * fixed


def test_a_round_says_what_to_open_before_the_hand_that_mends_goes_in() -> None:
    system = next(one for one in systems() if one.key == "RT-1")
    task = find_the_fault(system, 1, "swap")
    assert task is not None
    assert task == find_the_fault(system, 1, "swap")
    asked = Round(id="r", topic="fault/x", title="x", of="x", ask="x", task=task)
    for opened, right in (([], False), (["B-RT1"], True), (["B-RT1", "D-RT1"], True)):
        told = judge(asked, Given(readings=_all(task), named=task.hidden, opened=opened)).told[-1]
        assert told.right == right
