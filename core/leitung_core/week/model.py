"""The week as a constraint model (CP-SAT): where each task may lie, who does it, what keeps people apart."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterator
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property
from itertools import combinations
from typing import Any

from ortools.sat.python import cp_model

from leitung_core.week.document import DAY_MIN, SHOP, Person, Task, Week, minutes

KINDS = ("window", "after", "off", "hours", "travel", "skills", "vehicles", "held", "begun")
Bool = Any  # a literal of the solver: a variable, its negation, or a constant


@dataclass
class Model:
    """The model of a week with some of its tasks and some kinds of what binds them; left out: all.

    start: minutes after midnight of the first day. on: whether a task lies on a day. does: whether a person does it.
    seats: for each skill of a task, who may take it. rides: which vehicle is there while a task is done.
    """

    week: Week
    tasks: list[Task]
    kinds: Collection[str] = KINDS
    cp: cp_model.CpModel = field(default_factory=cp_model.CpModel)
    start: dict[str, Any] = field(default_factory=dict)
    on: dict[tuple[str, date], Bool] = field(default_factory=dict)
    does: dict[tuple[str, str], Bool] = field(default_factory=dict)
    seats: dict[str, list[dict[str, Bool]]] = field(default_factory=dict)
    rides: dict[str, list[Bool]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.days = sorted(self.week.days)
        for task in self.tasks:
            self._place(task)
            self._people(task)
            self._vehicles(task)
        self._order()
        self._held()
        self._begun()
        self._one_at_a_time()
        self._between_sites()
        self._out_and_back()

    @cached_property
    def hours(self) -> tuple[int, int]:
        """Between which minutes of a day there is work."""
        return (minutes(self.week.from_), minutes(self.week.to)) if "hours" in self.kinds else (0, DAY_MIN)

    def travel(self, a: str, b: str) -> int:
        return self.week.travel(a, b) if "travel" in self.kinds else 0

    def end(self, task: Task) -> Any:
        return self.start[task.id] + task.minutes

    def _spans(self, task: Task) -> Iterator[tuple[date, int, int]]:
        """The stretches of days within which a task may lie, minutes of the day."""
        low, high = self.hours
        if task.windows is None or "window" not in self.kinds:
            yield from ((day, low, high) for day in self.days)
            return
        for window in task.windows:
            first, last = max(low, minutes(window.from_)), min(high, minutes(window.to))
            if last - first >= task.minutes:
                yield window.day, first, last

    def _place(self, task: Task) -> None:
        """A task lies within one day, and whole within one of its windows."""
        chosen: dict[date, list[Bool]] = defaultdict(list)
        at = self.cp.new_int_var(0, (self.days[-1] - self.days[0]).days * DAY_MIN + DAY_MIN, f"start {task.id}")
        self.start[task.id] = at
        for number, (day, first, last) in enumerate(self._spans(task)):
            here = self.cp.new_bool_var(f"{task.id} in {number}")
            base = self.week.offset(day)
            self.cp.add(at >= base + first).only_enforce_if(here)
            self.cp.add(at <= base + last - task.minutes).only_enforce_if(here)
            chosen[day].append(here)
        self.cp.add_exactly_one(one for several in chosen.values() for one in several)
        for day in self.days:
            on = self.cp.new_bool_var(f"{task.id} on {day}")
            self.cp.add(sum(chosen[day]) == on)
            self.on[task.id, day] = on

    def _can(self, person: Person, skill: str) -> bool:
        return skill in person.skills or "skills" not in self.kinds

    def may(self, person: str, task: Task) -> bool:
        """Whether somebody has a skill that a task asks for."""
        return any(person in seat for seat in self.seats[task.id])

    def _people(self, task: Task) -> None:
        """One person for each skill that is named, and nobody for two of them."""
        takes: dict[str, list[Bool]] = defaultdict(list)
        for number, skill in enumerate(task.skills):
            able = [one.id for one in self.week.people if self._can(one, skill)]
            chosen = {person: self.cp.new_bool_var(f"{task.id} {number} {person}") for person in able}
            self.cp.add_exactly_one(chosen.values())
            self.seats.setdefault(task.id, []).append(chosen)
            for person, one in chosen.items():
                takes[person].append(one)
        for person in (one.id for one in self.week.people):
            does = self.cp.new_bool_var(f"{task.id} by {person}")
            self.cp.add(sum(takes[person]) == does)
            self.does[task.id, person] = does

    def _vehicles(self, task: Task) -> None:
        """One of the vehicles, where there are fewer than could be asked for at once."""
        sites, count = {one.site for one in self.tasks}, self.week.vehicles
        if count is None or "vehicles" not in self.kinds or count >= min(len(sites), len(self.week.people)):
            return
        self.rides[task.id] = [self.cp.new_bool_var(f"{task.id} with {number}") for number in range(count)]
        self.cp.add_exactly_one(self.rides[task.id])

    def _order(self) -> None:
        if "after" not in self.kinds:
            return
        by_id = {task.id: task for task in self.tasks}
        for task in self.tasks:
            for before in task.after:
                if before.task in by_id:
                    self.cp.add(self.start[task.id] >= self.end(by_id[before.task]) + before.wait_min)

    def _held(self) -> None:
        """What somebody has put somewhere stands there."""
        here = {task.id for task in self.tasks}
        if "held" in self.kinds:
            for row in self.week.held:
                if row.task in here:
                    self._fix(row.task, self.week.moment(row.day, row.from_), row.people)

    def _begun(self) -> None:
        """What has begun stays, and nothing else begins before now."""
        if self.week.now is None or "begun" not in self.kinds:
            return
        now = self.week.moment(self.week.now.day, self.week.now.at)
        stands = {row.task: row for row in self.week.standing}
        for task in self.tasks:
            row = stands.get(task.id)
            at = self.week.moment(row.day, row.from_) if row else now
            if row is not None and at < now:
                self._fix(task.id, at, row.people)
            else:
                self.cp.add(self.start[task.id] >= now)

    def _fix(self, task: str, at: int, people: list[str] | None) -> None:
        self.cp.add(self.start[task] == at)
        for person in people or ():
            self.cp.add(self.does[task, person] == 1)

    def moved(self) -> Iterator[Bool]:
        """For each task that stands in the plan so far, whether it moves: another time, or other people."""
        here = {task.id for task in self.tasks}
        for row in self.week.standing:
            if row.task not in here:
                continue
            moves = self.cp.new_bool_var(f"{row.task} moves")
            at = self.week.moment(row.day, row.from_)
            self.cp.add(self.start[row.task] == at).only_enforce_if(~moves)
            for person in row.people:
                self.cp.add(self.does[row.task, person] == 1).only_enforce_if(~moves)
            yield moves

    def _one_at_a_time(self) -> None:
        for person in self.week.people:
            spans = [
                self.cp.new_optional_fixed_size_interval_var(
                    self.start[task.id], task.minutes, self.does[task.id, person.id], f"{task.id} {person.id}"
                )
                for task in self.tasks if self.may(person.id, task)
            ]  # fmt: skip
            if "off" in self.kinds:
                for off in person.off:
                    begin, length = self.week.offset(off.day) + minutes(off.from_), minutes(off.to) - minutes(off.from_)
                    spans.append(self.cp.new_fixed_size_interval_var(begin, length, f"off {person.id}"))
            self.cp.add_no_overlap(spans)

    def _between_sites(self) -> None:
        """From one site to another somebody is on the way, and a vehicle too."""
        for one, other in combinations(self.tasks, 2):
            way, cars = self.travel(one.site, other.site), self.rides.get(one.id, [])
            if one.site == other.site or not (way or cars):
                continue
            able = [person.id for person in self.week.people
                    if self.may(person.id, one) and self.may(person.id, other)]  # fmt: skip
            if not able and not cars:
                continue
            first = self.cp.new_bool_var(f"{one.id} before {other.id}")
            # One for all: whether anybody does both, or one vehicle is at both.
            share = self.cp.new_bool_var(f"{one.id} and {other.id}")
            for here, there in zip(cars, self.rides.get(other.id, []), strict=True):
                self.cp.add_bool_or([~here, ~there, share])
            for person in able:
                self.cp.add_bool_or([~self.does[one.id, person], ~self.does[other.id, person], share])
            self.cp.add(self.start[other.id] >= self.end(one) + way).only_enforce_if(first, share)
            self.cp.add(self.start[one.id] >= self.end(other) + way).only_enforce_if(~first, share)

    def _out_and_back(self) -> None:
        """Everybody begins and ends the day at the shop, the ways within the hours."""
        low, high = self.hours
        for task in self.tasks:
            way = self.travel(SHOP, task.site)
            if not way:
                continue
            over = [other for other in self.tasks if other.id != task.id and self._shorter_over(other, task, way)]
            base = sum(self.week.offset(day) * self.on[task.id, day] for day in self.days)
            out, back = self.start[task.id] >= base + low + way, self.end(task) <= base + high - way
            if not over:
                self.cp.add(out)
                self.cp.add(back)
                continue
            # Only whoever comes straight from the shop, or goes straight there, takes that way.
            for person in self.week.people:
                self._unless(task, person.id, over, out, before=True)
                self._unless(task, person.id, over, back, before=False)

    def _shorter_over(self, other: Task, task: Task, way: int) -> bool:
        return self.travel(SHOP, other.site) + self.travel(other.site, task.site) < way

    def _unless(self, task: Task, person: str, over: list[Task], bound: Any, before: bool) -> None:
        """A bound on a task of a person, unless another task on the same day lies before it, or behind it."""
        others = []
        for other in over:
            there = self.cp.new_bool_var("")
            self.cp.add_implication(there, self.does[other.id, person])
            for day in self.days:
                self.cp.add(self.on[other.id, day] == self.on[task.id, day]).only_enforce_if(there)
            apart = self.start[task.id] >= self.end(other) if before else self.start[other.id] >= self.end(task)
            self.cp.add(apart).only_enforce_if(there)
            others.append(there)
        alone = self.cp.new_bool_var("")
        self.cp.add_bool_or([alone, *others])
        self.cp.add(bound).only_enforce_if(alone, self.does[task.id, person])
