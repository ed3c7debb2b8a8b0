"""Readings that look wrong: the mistakes that explain them, best first, and the reading that would tell them apart.

Every mistake predicts every reading. A reading is taken as that prediction with the meter's tolerance as two standard
deviations, and now and then (one in fifty) as plainly wrong, so that one slip of the pen rules nothing out.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from leitung_core.slips.fewest_tests import Test, meter_volts
from leitung_core.slips.harm import Slips
from leitung_core.solver.arrays import Bools, Floats

BLUNDER = 0.02
RANGE_V = 300.0  # a blunder may read anything up to here
SOUND_WEIGHT = 3.0  # before any reading, the sound plan is likelier than one given mistake


@dataclass(frozen=True)
class Reading:
    """What was found in a trial: volts on a pair of leads (`pair`), or whether something runs (`watched`)."""

    trial: int
    pair: int | None = None
    volts: float | None = None
    watched: int | None = None
    on: bool | None = None


@dataclass(frozen=True)
class Suspect:
    """A mistake (its number in `slips`, None: the plan as it is) and how likely it is among all."""

    slip: int | None
    share: float


@dataclass(frozen=True)
class Diagnosis:
    """The suspects, likeliest first, and the test that tells most."""

    suspects: tuple[Suspect, ...]
    following: Test | None
    gain_bits: float


def shares(volts: Floats, on: Bools, readings: Sequence[Reading]) -> Floats:
    """How likely each is after the readings, (1 + mistakes,), the sound plan first; the sum is 1."""
    log = np.zeros(len(volts))
    log[0] = np.log(SOUND_WEIGHT)
    for reading in readings:
        log += np.log(_likely(volts, on, reading))
    log -= log.max()
    found: Floats = np.exp(log) / np.exp(log).sum()
    return found


def _likely(volts: Floats, on: Bools, reading: Reading) -> Floats:
    """How likely the reading is under each."""
    if reading.pair is not None and reading.volts is not None:
        expected = volts[:, reading.trial, reading.pair]
        sigma = meter_volts(expected) / 2
        density = np.exp(-(((reading.volts - expected) / sigma) ** 2) / 2) / (sigma * np.sqrt(2 * np.pi))
        found: Floats = (1 - BLUNDER) * density + BLUNDER / RANGE_V
        return found
    if reading.watched is None or reading.on is None:
        return np.ones(len(on))
    agrees = on[:, reading.trial, reading.watched] == reading.on
    return np.where(agrees, 1 - BLUNDER, BLUNDER)


def diagnose(slips: Slips, readings: Sequence[Reading], most: int = 12) -> Diagnosis:
    """The suspects after the readings, and the next test."""
    return diagnose_in(slips.volts, slips.on, readings, most)


def diagnose_in(volts: Floats, on: Bools, readings: Sequence[Reading], most: int = 12) -> Diagnosis:
    """The same from the outcomes alone, as they are kept; their shapes are those of `Slips`."""
    share = shares(volts, on, readings)
    order = np.argsort(-share, kind="stable")[:most]
    suspects = tuple(Suspect(int(i) - 1 if i else None, float(share[i])) for i in order)
    following, gain = _next(volts, on, share, readings)
    return Diagnosis(suspects, following, gain)


def _next(volts: Floats, on: Bools, share: Floats, readings: Sequence[Reading]) -> tuple[Test | None, float]:
    """The test whose outcomes split the likeliest most evenly: the largest expected gain of information, bits."""
    likely = np.flatnonzero(share > 1e-4)
    if len(likely) < 2:
        return None, 0.0
    weight = share[likely] / share[likely].sum()
    done = {(reading.trial, reading.pair) for reading in readings if reading.pair is not None}
    best: tuple[float, Test | None] = (1e-3, None)
    for trial in range(volts.shape[1]):
        gain = _entropy_of_groups(on[likely, trial], weight)
        if gain > best[0] + 1e-9 and not any(r.trial == trial and r.watched is not None for r in readings):
            best = (gain, Test(trial, None))
        for pair in range(volts.shape[2]):
            if (trial, pair) not in done:
                gain = _entropy_of_volts(volts[likely, trial, pair], weight)
                if gain > best[0] + 0.05:  # a look is easier than a reading, and an earlier trial than a later
                    best = (gain, Test(trial, pair))
    return best[1], (best[0] if best[1] else 0.0)


def _entropy(weights: Floats) -> float:
    some = weights[weights > 0]
    return float(-(some * np.log2(some)).sum())


def _entropy_of_groups(outcomes: Bools, weight: Floats) -> float:
    _, group = np.unique(outcomes, axis=0, return_inverse=True)
    return _entropy(np.bincount(group.ravel(), weight).astype(float))


def _entropy_of_volts(volts: Floats, weight: Floats) -> float:
    """Volts that a meter cannot tell apart are one outcome."""
    order = np.argsort(volts)
    step = np.diff(volts[order]) > 2 * meter_volts(volts[order][:-1])
    group = np.concatenate([[0], np.cumsum(step)])
    return _entropy(np.bincount(group, weight[order]).astype(float))
