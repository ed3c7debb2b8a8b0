"""A week put together by hand: each task in its turn as early as it goes, by people who are at its site anyway.

No best plan: one that keeps every rule, from which the search begins, and which stands where there is no time for one.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

from leitung_core.week.document import DAY_MIN, SHOP, Person, Task, Week, minutes
from leitung_core.week.measure import Put


@dataclass(frozen=True)
class Taste:
    """Which of several ways is taken: how many minutes later a task may be to save a visit; which site goes first, and
    who is asked first, by figures that are theirs.
    """

    visit_min: int = 0
    first: Mapping[str, float] = field(default_factory=dict)


def by_hand(week: Week, fixed: Sequence[Put] = (), taste: Taste = Taste()) -> list[Put] | None:  # frozen
    """A plan in which `fixed` stand as they are; None where this way finds none."""
    book = _Book(week, taste)
    for put in sorted(fixed, key=lambda put: (put.day, put.start)):
        if not book.put(put):
            return None
    ahead = chains(week)
    waiting = {task.id: task for task in week.tasks if task.id not in book.at}
    while waiting:
        ready = [task for task in waiting.values() if all(one.task not in waiting for one in task.after)]
        # What leaves least choice goes first, then what most hangs on.
        task = min(ready, key=lambda one: (taste.first.get(one.site, 0), one.windows is None, -ahead[one.id], one.id))
        found = book.best(task)
        if found is None:
            return None
        book.put(found)
        del waiting[task.id]
    return [book.at[task.id] for task in week.tasks]


def chains(week: Week) -> dict[str, int]:
    """Minutes of the longest chain that begins with each task."""
    behind: defaultdict[str, list[tuple[str, int]]] = defaultdict(list)
    for task in week.tasks:
        for before in task.after:
            behind[before.task].append((task.id, before.wait_min))
    length = {task.id: task.minutes for task in week.tasks}
    found: dict[str, int] = {}

    def chain(key: str) -> int:
        if key not in found:
            found[key] = length[key] + max((wait + chain(other) for other, wait in behind[key]), default=0)
        return found[key]

    for task in week.tasks:
        chain(task.id)
    return found


@dataclass
class _Book:
    """What is put down so far: by task, and by person and day in the order of the hours."""

    week: Week
    taste: Taste
    at: dict[str, Put] = field(default_factory=dict)
    days: defaultdict[tuple[str, date], list[Put]] = field(default_factory=lambda: defaultdict(list))

    def __post_init__(self) -> None:
        self.site: Mapping[str, str] = {task.id: task.site for task in self.week.tasks}

    def put(self, put: Put) -> bool:
        """Put a task down; whether a vehicle can be there."""
        self.at[put.task] = put
        for person in put.people:
            mine = self.days[person, put.day]
            mine.append(put)
            mine.sort(key=lambda one: one.start)
        vehicle = self._vehicle(self.site[put.task], put.day, put.start, put.end)
        if vehicle is not None:
            self.days[vehicle, put.day].append(put)
        return vehicle is not None or self.week.vehicles is None

    def best(self, task: Task) -> Put | None:
        """As early as it goes, or later by no more than what a visit that it saves is worth."""
        found: tuple[int, Put] | None = None
        ready = max((self.week.offset(put.day) + put.end + one.wait_min
                     for one in task.after if (put := self.at.get(one.task))), default=0)  # fmt: skip
        # What is fixed and comes after it bounds it too.
        latest = min((self.week.offset(put.day) + put.start - one.wait_min for other in self.week.tasks
                      for one in other.after if one.task == task.id and (put := self.at.get(other.id))),
                     default=len(self.week.days) * 31 * DAY_MIN)  # fmt: skip
        for day in sorted(self.week.days):
            base = self.week.offset(day)
            for start in self._starts(task, day, ready - base):
                if base + start < ready or base + start + task.minutes > latest:
                    continue
                if found is not None and base + start >= found[0]:
                    return found[1]
                people = self._people(task, day, start)
                free = self.week.vehicles is None or self._vehicle(task.site, day, start, start + task.minutes)
                if people is not None and free:
                    more = sum(not self._there(person, task.site, day) for person in people)
                    costs = base + start + more * self.taste.visit_min
                    if found is None or costs < found[0]:
                        found = costs, Put(task.id, people, day, start, start + task.minutes)
        return found[1] if found is not None else None

    def _starts(self, task: Task, day: date, ready: int) -> list[int]:
        """The minutes of a day at which it could begin: where something ends or opens."""
        low, high = minutes(self.week.from_), minutes(self.week.to)
        spans = [(low, high)] if task.windows is None else [
            (max(low, minutes(one.from_)), min(high, minutes(one.to))) for one in task.windows if one.day == day
        ]  # fmt: skip
        ends = [low + self.week.travel(SHOP, task.site), ready]
        for person in self.week.people:
            ends += [minutes(off.to) for off in person.off if off.day == day]
        ends += [put.end + self.week.travel(self.site[put.task], task.site)
                 for put in self.at.values() if put.day == day]  # fmt: skip
        found = {max(first, end) for first, _ in spans for end in [first, *ends]}
        return sorted(
            start for start in found if any(first <= start and start + task.minutes <= last for first, last in spans)
        )

    def _people(self, task: Task, day: date, start: int) -> tuple[str, ...] | None:
        """Somebody for each skill: who is there that day anyway first, then who can do least else."""
        chosen: list[str] = []
        for skill in task.skills:
            able = [one for one in self.week.people if skill in one.skills and one.id not in chosen
                    and self._free(one, task, day, start)]  # fmt: skip
            if not able:
                return None
            chosen.append(min(able, key=lambda one: (
                not self._there(one.id, task.site, day), len(one.skills), self.taste.first.get(one.id, 0)
            )).id)  # fmt: skip
        return tuple(chosen)

    def _vehicle(self, site: str, day: date, start: int, end: int) -> str | None:
        """A vehicle that is at a site then, or can be; one that is there anyway first."""
        week = self.week
        able = []
        for number in range(week.vehicles or 0):
            name = f"vehicle {number}"
            others = [put for put in self.days[name, day] if self.site[put.task] != site]
            if all(put.end + week.travel(self.site[put.task], site) <= start
                   or end + week.travel(site, self.site[put.task]) <= put.start for put in others):  # fmt: skip
                able.append(name)
        return min(able, key=lambda name: (not self._there(name, site, day), name), default=None)

    def _there(self, person: str, site: str, day: date) -> bool:
        return any(self.site[put.task] == site for put in self.days[person, day])

    def _free(self, person: Person, task: Task, day: date, start: int) -> bool:
        end, week = start + task.minutes, self.week
        if any(off.day == day and start < minutes(off.to) and minutes(off.from_) < end for off in person.off):
            return False
        mine = self.days[person.id, day]
        before = max((put for put in mine if put.end <= start), key=lambda put: put.end, default=None)
        if any(put.start < end and start < put.end for put in mine):
            return False
        after = min((put for put in mine if put.start >= end), key=lambda put: put.start, default=None)
        free = before.end if before else minutes(week.from_)
        due = after.start if after else minutes(week.to)
        came, goes = self._at(before), self._at(after)
        return free + week.travel(came, task.site) <= start and end + week.travel(task.site, goes) <= due

    def _at(self, put: Put | None) -> str:
        return self.site[put.task] if put else SHOP
