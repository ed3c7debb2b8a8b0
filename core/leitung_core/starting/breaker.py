"""A thermal-magnetic breaker between the quickest and the slowest that its standard allows, with their heat.

Heat is in squares of the rating: at rest under its rating a breaker comes to 1. The quickest trips where its heat
passes one of two bounds, one for seconds and one for a long while; the slowest where it has had all of the time that
the standard allows it. Both remember earlier starts. What the breaker carried before the trial is not known: for the
seconds it is taken as warm from its full rating.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cache

from leitung_core.starting.figures import figure
from leitung_core.starting.timeline import Stretch

EXACT = 1e-9


@dataclass(frozen=True)
class Opens:
    """When a breaker may or must open, at how many amperes, against which limit, and why."""

    at_s: float
    certain: bool
    amps: float
    limit_a: float
    says: str


@cache
def longest_s(times: float, rating_a: float) -> float:
    """How long a breaker may carry a current at the most before it trips, s; for ever below 135 %.

    Between the two points of its standard by a straight line on logarithms, beyond them in inverse square.
    """
    low, high = figure("must-trip-low"), figure("must-trip-high")
    if times < low - EXACT:
        return math.inf
    at_low = figure("must-trip-low-to-50" if rating_a <= 50 else "must-trip-low-above")
    at_high = figure(_at_high(rating_a))
    if times >= high:
        return at_high * (high / times) ** 2
    return at_high * float((high / times) ** (math.log(at_low / at_high) / math.log(high / low)))


def _at_high(rating_a: float) -> str:
    for most in (30, 50, 100):
        if rating_a <= most:
            return f"must-trip-high-to-{most}"
    return "must-trip-high-above"


def opens(stretches: Iterable[Stretch], leg: int, rating_a: float, magnetic: tuple[float, float]) -> list[Opens]:
    """What the breaker of a leg may do first and must do first, in the order of time; empty where it holds."""
    found: list[Opens] = []
    for event in _events(stretches, leg, rating_a, magnetic):
        if event.certain or not found:
            found.append(event)
        if event.certain:
            break
    return found


def _events(stretches: Iterable[Stretch], leg: int, rating_a: float, magnetic: tuple[float, float]) -> Iterator[Opens]:
    quick = _quickest()
    creep = _Heat(figure("creep-heat"), figure("creep-time"))
    slow = _Slowest(rating_a)
    for stretch in stretches:
        amps = stretch.amps[leg - 1]
        times, start, lasts = amps / rating_a, stretch.start_s, stretch.end_s - stretch.start_s
        if times >= magnetic[1] - EXACT:
            yield Opens(start, True, amps, magnetic[1] * rating_a, f"{times:.1f} times the rating: the magnetic trip")
        elif times >= magnetic[0] - EXACT:
            says = f"{times:.1f} times the rating: the magnetic trip begins between {magnetic[0]:g} and {magnetic[1]:g}"
            yield Opens(start, False, amps, magnetic[0] * rating_a, says)
        told = [
            Opens(start + after, False, amps, rating_a, f"{times:.2f} times the rating for {_time(after)}: {words}")
            for heat, words in ((quick, "the quickest breakers trip"), (creep, "some trip in the end"))
            if (after := heat.passes(times, lasts)) is not None
        ]
        if not told and lasts == math.inf and times > figure("never-trips") + EXACT:
            told = [Opens(start + creep.time_s, False, amps, rating_a, f"{times:.3f} times the rating for ever")]
        yield from told
        after = slow.passes(times, lasts)
        if after is not None:
            says = f"{times:.2f} times the rating: every breaker has tripped after {_time(after)}"
            yield Opens(start + after, True, amps, rating_a, says)


class WarmUp:
    """The heat of the quickest and the slowest breaker as a current goes through them, as shares of what trips them."""

    def __init__(self, rating_a: float) -> None:
        self._quick = _quickest()
        self._slow = _Slowest(rating_a)

    def carry(self, times: float, lasts: float) -> None:
        self._quick.passes(times, lasts)
        self._slow.passes(times, lasts)

    @property
    def quick(self) -> float:
        """Above full load: 0 at the heat of its rating, 1 where it trips."""
        full = figure("never-trips")
        return min(1.0, max(0.0, (self._quick.now - full) / (self._quick.bound - full)))

    @property
    def slow(self) -> float:
        return min(1.0, self._slow.share)


def _time(seconds: float) -> str:
    return f"{seconds:.1f} s" if seconds < 90 else f"{seconds / 60:.0f} min"


class _Heat:
    """Heat that comes and goes in one time, and the bound at which it trips."""

    def __init__(self, bound: float, time_s: float, begins: float = 0.0) -> None:
        self.bound, self.time_s, self.now = bound, time_s, begins

    def passes(self, times: float, lasts: float) -> float | None:
        """After how many seconds of this stretch the bound is passed; None where it is not."""
        goal, before = times * times, self.now
        self.now = goal if lasts == math.inf else goal + (before - goal) * math.exp(-lasts / self.time_s)
        if goal <= self.bound or before >= self.bound:
            return 0.0 if before >= self.bound and goal > self.bound else None
        after = self.time_s * math.log((goal - before) / (goal - self.bound))
        return after if after <= lasts else None


def _quickest() -> _Heat:
    return _Heat(figure("quick-heat"), figure("quick-time"), figure("never-trips"))


class _Slowest:
    """The share of its time that the slowest breaker has had; below 135 % it forgets."""

    def __init__(self, rating_a: float) -> None:
        self.rating_a, self.share = rating_a, 0.0

    def passes(self, times: float, lasts: float) -> float | None:
        whole = longest_s(times, self.rating_a)
        if whole == math.inf:
            self.share *= math.exp(-lasts / figure("slow-cools")) if lasts < math.inf else 0.0
            return None
        left = (1 - self.share) * whole
        self.share += lasts / whole
        return left if left <= lasts * (1 + EXACT) else None
