"""A plan of the week measured by itself: visits, idle minutes, ends. Knows nothing of how it was found."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from leitung_core.week.document import Week


@dataclass(frozen=True)
class Put:
    """A task put to people and a time; start and end are minutes since midnight of its day."""

    task: str
    people: tuple[str, ...]
    day: date
    start: int
    end: int


@dataclass(frozen=True)
class Measured:
    """Visits: one person at one site on one day. Idle: between the first and the last task of a visit, working nowhere.
    Ends: minutes after the first day's start, summed over the tasks.
    """

    visits: int
    idle_min: int
    end_sum_min: int


def measured(week: Week, puts: Sequence[Put]) -> Measured:
    """What a plan of the week comes to."""
    site = {task.id: task.site for task in week.tasks}
    visits = {(person, site[put.task], put.day) for put in puts for person in put.people}
    idle = sum(_idle(person, place, day, puts, site) for person, place, day in visits)
    ends = sum(week.offset(put.day) + put.end - week.first_minute for put in puts)
    return Measured(len(visits), idle, ends)


def _idle(person: str, place: str, day: date, puts: Sequence[Put], site: dict[str, str]) -> int:
    mine = [put for put in puts if person in put.people and put.day == day]
    here = [put for put in mine if site[put.task] == place]
    first, last = min(put.start for put in here), max(put.end for put in here)
    return last - first - sum(put.end - put.start for put in mine if put.start >= first and put.end <= last)
