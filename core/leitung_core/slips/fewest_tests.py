"""The fewest tests that expose every single mistake: a set cover, exact where it is small.

A functional test is a trial of which one looks what runs; a reading is a trial with a meter on one pair. A test
exposes a mistake when its outcome differs from the sound plan's by more than the meter may be off.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import optimize, sparse

from leitung_core.slips.harm import Slips
from leitung_core.solver.arrays import Bools, Floats, Ints

METER_SHARE = 0.01  # a clamp or multimeter of the trade on AC volts: 1 % and three digits
METER_VOLTS = 0.3
LIMIT_S = 5.0
EXACT_UP_TO = 400


@dataclass(frozen=True)
class Test:
    """One test: the trial (its number), and where the leads go; without leads one looks what runs."""

    __test__ = False
    trial: int
    pair: int | None


@dataclass(frozen=True)
class Choice:
    """The tests chosen, the mistakes (their number in `slips`) that each exposes, and those that none does."""

    tests: tuple[Test, ...]
    exposes: tuple[tuple[int, ...], ...]
    hidden: tuple[int, ...]
    exact: bool


def meter_volts(volts: Floats) -> Floats:
    """How far a meter may be off, V."""
    found: Floats = METER_SHARE * np.abs(volts) + METER_VOLTS
    return found


def outcomes(slips: Slips) -> tuple[list[Test], Bools]:
    """Every test and which mistakes it exposes, (tests, mistakes)."""
    trials, pairs = len(slips.trials), len(slips.pairs)
    looked = (slips.on[1:] != slips.on[:1]).any(axis=2).T
    sound, wrong = slips.volts[:1], slips.volts[1:]
    read = np.abs(wrong - sound) > meter_volts(wrong) + meter_volts(sound)
    tests = [Test(trial, None) for trial in range(trials)]
    tests += [Test(trial, pair) for trial in range(trials) for pair in range(pairs)]
    return tests, np.concatenate([looked, read.reshape(len(wrong), trials * pairs).T])


def choose(slips: Slips) -> Choice:
    """The fewest tests that expose every mistake that any test exposes; looking is preferred to reading."""
    tests, exposes = outcomes(slips)
    wanted = np.flatnonzero(exposes.any(axis=0))
    chosen, exact = cover(exposes[:, wanted], np.array([test.pair is not None for test in tests]))
    picked = sorted(chosen, key=lambda row: (tests[row].trial, tests[row].pair or -1))
    return Choice(
        tests=tuple(tests[row] for row in picked),
        exposes=tuple(tuple(int(i) for i in np.flatnonzero(exposes[row])) for row in picked),
        hidden=tuple(int(i) for i in np.flatnonzero(~exposes.any(axis=0))),
        exact=exact,
    )


def _reduced(exposes: Bools) -> tuple[list[int], Bools]:
    """Without tests that expose no more than an earlier one, and without mistakes that any cover covers anyway."""
    small = exposes[:, _firsts(exposes.T)]
    kept: list[int] = []
    first = _firsts(small)
    for row in first[np.argsort(-small[first].sum(axis=1), kind="stable")]:
        mine = small[row]
        if mine.any() and not any((mine <= small[other]).all() for other in kept):
            kept.append(int(row))
    return kept, small[kept]


def _firsts(rows: Bools) -> Ints:
    """Of rows that are alike the first stands for all: the numbers of those."""
    seen: dict[bytes, int] = {}
    for number, row in enumerate(np.packbits(rows, axis=1)):
        seen.setdefault(row.tobytes(), number)
    found: Ints = np.array(list(seen.values()), dtype=np.int64)
    return found


def cover(exposes: Bools, reading: Bools) -> tuple[list[int], bool]:
    """The fewest rows that together cover every column, and whether fewer will not do.

    By integer programming where it is small, else the largest first. Of two covers of one size, the one with fewer
    rows marked as `reading`.
    """
    rows, small = _reduced(exposes)
    if not small.size:
        return [], True
    if len(small) <= EXACT_UP_TO:
        found = optimize.milp(
            1.0 + 1e-3 * reading[rows], integrality=np.ones(len(small)), bounds=optimize.Bounds(0, 1),
            constraints=optimize.LinearConstraint(sparse.csr_matrix(small.T.astype(float)), lb=1),
            options={"time_limit": LIMIT_S},
        )  # fmt: skip
        if found.x is not None and found.status == 0:
            return [rows[i] for i in np.flatnonzero(found.x > 0.5)], True
    return [rows[i] for i in _greedy(small)], False


def _greedy(small: Bools) -> list[int]:
    left, chosen = np.ones(small.shape[1], dtype=bool), []
    while left.any():
        best = int(np.argmax((small & left).sum(axis=1)))
        chosen.append(best)
        left &= ~small[best]
    return chosen
