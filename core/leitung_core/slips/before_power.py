"""Which of the mistakes that harm the tests before power show, so that no call need show them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from leitung_core.control.system import System
from leitung_core.slips.dead_tests import DeadTest, dead_tests
from leitung_core.slips.harm import Slips
from leitung_core.slips.mistakes import mistakes

GRAVE = ("shock", "destroys")


@dataclass(frozen=True)
class BeforePower:
    """The tests before power, and the grave mistakes (their number in `slips`) that none of them shows."""

    tests: tuple[DeadTest, ...]
    left: tuple[int, ...]


def before_power(system: System, found: Slips, hidden: Sequence[int]) -> BeforePower:
    """For whatever shocks or destroys, and for what harms and shows in no live test (`hidden`)."""
    unseen = set(hidden)
    wanted = {
        number for number, slip in enumerate(found.slips)
        if slip.harm in GRAVE or (number in unseen and slip.harm != "none")
    }  # fmt: skip
    number_of = {slip.mistake.id: number for number, slip in enumerate(found.slips)}
    numbers = [number_of[mistake.id] for mistake in mistakes(system)]
    tests = tuple(
        replace(test, exposes=tuple(sorted(wanted.intersection(numbers[place] for place in test.exposes))))
        for test in dead_tests(system) or ()
    )
    left = wanted.difference(*(test.exposes for test in tests))
    return BeforePower(tests, tuple(sorted(left)))
