"""The week document: days, people with their skills, travel, tasks with what comes before them and their windows."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, time
from functools import cached_property
from typing import Annotated, Any

import networkx as nx
from pydantic import Field, model_validator

from leitung_core.errors import InputError, Problem
from leitung_core.validation import Entered, Hour, Text, read

SHOP = "shop"
DAY_MIN = 1440
Minutes = Annotated[int, Field(strict=True, gt=0, le=DAY_MIN)]
Wait = Annotated[int, Field(strict=True, ge=0, le=31 * DAY_MIN)]
Name = Text


def minutes(at: time) -> int:
    """Minutes since midnight."""
    return at.hour * 60 + at.minute


class DaySpan(Entered):
    """A stretch of a day."""

    day: date
    from_: Annotated[Hour, Field(alias="from")]
    to: Hour

    @model_validator(mode="after")
    def _ends_after_it_begins(self) -> DaySpan:
        if self.to <= self.from_:
            raise ValueError("ends before it begins: give an end after its start")
        return self


class Person(Entered):
    """Somebody with skills; off: no work then."""

    id: Name
    skills: Annotated[list[Name], Field(max_length=20)] = []
    off: Annotated[list[DaySpan], Field(max_length=100)] = []


class Travel(Entered):
    """Minutes between two sites, both ways."""

    a: Name
    b: Name
    min: Annotated[int, Field(strict=True, ge=0, le=DAY_MIN)]


class After(Entered):
    """A task that comes first, and how long is waited after it, nights included."""

    task: Name
    wait_min: Wait = 0


class Task(Entered):
    """Something to do at a site: one person for each skill named, in one go, within one day and one of its windows."""

    id: Name
    site: Name
    skills: Annotated[list[Name], Field(min_length=1, max_length=10)]
    minutes: Minutes
    after: Annotated[list[After], Field(max_length=50)] = []
    windows: Annotated[list[DaySpan], Field(max_length=50)] | None = None


class Held(Entered):
    """Where somebody wants a task to stand; without people: whoever can."""

    task: Name
    day: date
    from_: Annotated[Hour, Field(alias="from")]
    people: Annotated[list[Name], Field(min_length=1, max_length=10)] | None = None


class Standing(Entered):
    """Where a task stands in the plan that the crew goes by."""

    task: Name
    day: date
    from_: Annotated[Hour, Field(alias="from")]
    people: Annotated[list[Name], Field(min_length=1, max_length=10)]


class Now(Entered):
    """How far the week has come."""

    day: date
    at: Hour


class Week(Entered):
    """What is to be done in some days, by whom, and what binds it.

    vehicles: each is at one site at a time, and has to be there while a task is done; left out: one for all.
    held: what somebody has put somewhere. standing: the plan so far; as little of it moves as must. now: what began
    before it stays, nothing else begins before it.
    """

    days: Annotated[list[date], Field(min_length=1, max_length=31)]
    from_: Annotated[Hour, Field(alias="from")]
    to: Hour
    people: Annotated[list[Person], Field(min_length=1, max_length=40)]
    travel_min: Annotated[list[Travel], Field(max_length=2000)] = []
    vehicles: Annotated[int, Field(strict=True, ge=1, le=40)] | None = None
    tasks: Annotated[list[Task], Field(min_length=1, max_length=300)]
    held: Annotated[list[Held], Field(max_length=300)] = []
    standing: Annotated[list[Standing], Field(max_length=300)] = []
    now: Now | None = None

    @property
    def first_minute(self) -> int:
        """The hour at which the day begins, minutes since midnight."""
        return minutes(self.from_)

    def offset(self, day: date) -> int:
        """Midnight of a day, minutes after midnight of the first one; every day of the calendar counts."""
        return (day - min(self.days)).days * DAY_MIN

    def moment(self, day: date, at: time) -> int:
        """An hour of a day, minutes after midnight of the first one."""
        return self.offset(day) + minutes(at)

    def travel(self, a: str, b: str) -> int:
        """Minutes from one site to another; pairs that nobody named take none."""
        return 0 if a == b else self._ways.get((a, b), 0)

    @cached_property
    def _ways(self) -> dict[tuple[str, str], int]:
        # The first of two that name the same pair counts.
        found: dict[tuple[str, str], int] = {}
        for row in self.travel_min:
            found.setdefault((row.a, row.b), row.min)
            found.setdefault((row.b, row.a), row.min)
        return found


def read_week(data: Any) -> Week:
    """The week in `data`. Raises InputError for everything that cannot be meant."""
    week = read(Week, data)
    problems = list(_problems(week))
    if problems:
        raise InputError(*problems[:20])
    return week


def _problems(week: Week) -> Iterator[Problem]:
    if week.to <= week.from_:
        yield Problem("to", str(week.to), "is not after the day's start", "Give an end after it.")
    for field, ids in (("days", list(map(str, week.days))), ("people", [one.id for one in week.people]),
                       ("tasks", [one.id for one in week.tasks])):  # fmt: skip
        for twice in sorted({one for one in ids if ids.count(one) > 1}):
            yield Problem(field, twice, "stands twice", "Give each its own.")
    known = {skill for person in week.people for skill in person.skills}
    names = {task.id for task in week.tasks}
    for task in week.tasks:
        for skill in task.skills:
            if skill not in known:
                yield Problem(f"tasks.{task.id}.skills", skill, "is a skill that nobody has", "Name one of the crew's.")
        for before in task.after:
            if before.task not in names:
                yield Problem(f"tasks.{task.id}.after", before.task, "is no task of this week", "Name one that is.")
        yield from _days(week, f"tasks.{task.id}.windows", task.windows or [])
    for person in week.people:
        yield from _days(week, f"people.{person.id}.off", person.off)
    yield from _places(week, names)
    order = nx.DiGraph((before.task, task.id) for task in week.tasks for before in task.after)
    if not nx.is_directed_acyclic_graph(order):
        round_ = " after ".join(edge[0] for edge in nx.find_cycle(order))
        yield Problem("tasks.after", round_, "goes round in a circle", "Take one of them out.")


def _places(week: Week, names: set[str]) -> Iterator[Problem]:
    """What is held or stands is a task of this week, on one of its days, with people who are there for its skills."""
    known = {person.id for person in week.people}
    seats = {task.id: len(task.skills) for task in week.tasks}
    for field, rows in (("held", week.held), ("standing", week.standing)):
        for row in rows:
            if row.task not in names:
                yield Problem(field, row.task, "is no task of this week", "Name one that is.")
            elif row.day not in week.days:
                yield Problem(
                    f"{field}.{row.task}", str(row.day), "is none of the days of this week", "Name one of them."
                )
            elif row.people is not None and len(set(row.people)) != seats[row.task]:
                yield Problem(f"{field}.{row.task}.people", ", ".join(row.people), "is not one for each of its skills",
                              f"Name {seats[row.task]}, each once.")  # fmt: skip
            else:
                for person in row.people or ():
                    if person not in known:
                        yield Problem(f"{field}.{row.task}.people", person, "is nobody of this crew", "Name one of it.")
    for field, rows in (("held", week.held), ("standing", week.standing)):
        for twice in sorted({row.task for row in rows if sum(one.task == row.task for one in rows) > 1}):
            yield Problem(field, twice, "stands twice", "Give each its own.")
    if week.now is not None and week.now.day not in week.days:
        yield Problem("now", str(week.now.day), "is none of the days of this week", "Name one of them.")


def _days(week: Week, field: str, spans: list[DaySpan]) -> Iterator[Problem]:
    for span in spans:
        if span.day not in week.days:
            yield Problem(field, str(span.day), "is none of the days of this week", "Name one of its days.")
