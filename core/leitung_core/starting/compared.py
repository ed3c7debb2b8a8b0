"""Two logs of the same loads held against each other: what a soft starter took off each start's peak."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from leitung_core.starting.figures import figure
from leitung_core.starting.log import LEAST_A, ColumnRead, Event

Sure = Literal["as_seen", "at_least", "at_most", "not_known"]


@dataclass(frozen=True)
class Taken:
    """One start before and after: A above what ran already, and the share of it that is gone.

    `sure`: a peak that a slow logger has not seen whole makes the share a bound, or nothing at all.
    """

    before_at_s: float
    after_at_s: float
    settled_a: float
    peak_before_a: float
    peak_after_a: float
    share: float
    sure: Sure


def compared(before: ColumnRead, after: ColumnRead) -> list[Taken]:
    """Each start of `before` with the rise of `after` that is most likely the same load's; none is taken twice."""
    return list(_pairs(_rises(before), _rises(after)))


def _rises(found: ColumnRead) -> list[Event]:
    return [event for event in found.events if event.kind in ("start", "step_up")]


def _pairs(before: list[Event], after: list[Event]) -> Iterator[Taken]:
    """The nearest two of all first, so that a load without a start keeps its own; of starts the pairs are told."""
    near = sorted(
        (abs(one.step_a - two.step_a), abs(one.at_s - two.at_s), index, other)
        for index, one in enumerate(before) for other, two in enumerate(after) if _alike(one, two)
    )  # fmt: skip
    found: dict[int, int] = {}
    for _, _, index, other in near:
        if index not in found.values() and other not in found:
            found[other] = index
    for other, index in sorted(found.items()):
        was, event = before[index], after[other]
        if was.kind != "start":
            continue
        one, two = was.peak_a - was.before_a, event.peak_a - event.before_a
        yield Taken(was.at_s, event.at_s, event.step_a, one, two, 1 - two / one, _sure(was, event))


def _alike(one: Event, two: Event) -> bool:
    """Whether two rises settle so near to each other that they can be of one load."""
    return abs(one.step_a - two.step_a) <= max(figure("same-load") * abs(one.step_a), 2 * LEAST_A)


def _sure(before: Event, after: Event) -> Sure:
    if before.peak_is_least and after.peak_is_least:
        return "not_known"
    return "at_least" if before.peak_is_least else "at_most" if after.peak_is_least else "as_seen"


def in_words(row: Taken) -> str:
    """`22 A above what ran, 60 A before: 63 % less`."""
    figures = f"{row.peak_after_a:.0f} A above what ran, {row.peak_before_a:.0f} A before"
    if row.sure == "not_known":
        return f"{figures}: how much less is not known, the logger has seen neither peak whole"
    bound = {"as_seen": "", "at_least": "at least ", "at_most": "at most "}[row.sure]
    more = "less" if row.share >= 0 else "more"
    return f"{figures}: {bound}{abs(row.share) * 100:.0f} % {more}"
