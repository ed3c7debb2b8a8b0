"""A start as a picture: the current of each leg against time, its breaker's limits and heat, each load's parts."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

from pydantic import BaseModel

from leitung_core.starting.breaker import WarmUp
from leitung_core.starting.case import magnetic
from leitung_core.starting.document import Trial
from leitung_core.starting.timeline import Course
from leitung_core.starting.verdict import Outcome, StartAt

AFTER_S = 6.0  # shown after the last event
LEAST_S = 12.0
MOST_S = 900.0
SOON_S = 60.0
SAMPLES = 160


class Warmth(BaseModel):
    """How far the quickest breaker is, above full load, towards tripping, and how far the slowest: shares of 1."""

    t_s: float
    quick: float
    slow: float


class StepAt(BaseModel):
    """From here on so many A."""

    t_s: float
    a: float


class LegPicture(BaseModel):
    """A leg's current as steps, what its breaker holds for ever, and where its magnetic trip may begin and must."""

    leg: int
    steps: list[StepAt]
    rating_a: float | None
    may_a: float | None
    must_a: float | None
    heat: list[Warmth]


class PartPicture(BaseModel):
    """From when to when a part of a load runs, and whether it is starting."""

    load: str
    part: str
    from_s: float
    to_s: float
    starting: bool


class Picture(BaseModel):
    """Everything that the drawing shows, up to `until_s`."""

    until_s: float
    legs: list[LegPicture]
    parts: list[PartPicture]
    starts: list[StartAt]


def picture(trial: Trial, outcome: Outcome, told: Iterable[float] = ()) -> Picture:
    """The course of a trial, ready to be drawn. What goes on for ever ends where the picture does.

    `told`: moments at which something happens to the supply, shown where they come soon.
    """
    course = outcome.course
    last = max([*(row.start_s for row in course.stretches), *(at for at in told if at <= SOON_S)])
    until = min(MOST_S, max(LEAST_S, last + AFTER_S))
    legs = [_leg(trial, course, leg, until) for leg in range(1, trial.supply.legs + 1)]
    parts = [
        PartPicture(load=piece.load, part=piece.part, from_s=piece.start_s, to_s=min(piece.end_s, until),
                    starting=piece.starting)
        for piece in course.pieces if piece.start_s < until
    ]  # fmt: skip
    return Picture(until_s=until, legs=legs, parts=parts, starts=list(outcome.starts))


def _leg(trial: Trial, course: Course, leg: int, until: float) -> LegPicture:
    rating = trial.supply.breaker_a.low if trial.supply.breaker_a else None
    low, high = magnetic(trial.supply)
    return LegPicture(
        leg=leg,
        steps=[StepAt(t_s=row.start_s, a=row.amps[leg - 1]) for row in course.stretches if row.start_s < until],
        rating_a=rating,
        may_a=low * rating if rating else None,
        must_a=high * rating if rating else None,
        heat=list(_heat(course, leg, rating, until)) if rating else [],
    )


def _heat(course: Course, leg: int, rating: float, until: float) -> Iterator[Warmth]:
    """The heat at every event and often between."""
    warm = WarmUp(rating)
    yield Warmth(t_s=0.0, quick=warm.quick, slow=warm.slow)
    for row in course.stretches:
        end = min(row.end_s, until)
        pieces = max(1, math.ceil((end - row.start_s) / until * SAMPLES))
        for number in range(1, pieces + 1):
            warm.carry(row.amps[leg - 1] / rating, (end - row.start_s) / pieces)
            at = row.start_s + (end - row.start_s) * number / pieces
            yield Warmth(t_s=at, quick=warm.quick, slow=warm.slow)
        if end >= until:
            return
