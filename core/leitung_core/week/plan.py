"""The week planned: all tasks done, the fewest visits, then the least idling, then everything as early as can be."""

from __future__ import annotations

import time
from collections.abc import Collection, Iterator
from typing import Any, Literal

from ortools.sat.python import cp_model
from pydantic import BaseModel, ConfigDict, Field

from leitung_core.week.document import DAY_MIN, SHOP, Week
from leitung_core.week.measure import Put, measured
from leitung_core.week.model import KINDS, Model

LIMIT_S = 10.0
# Of the time that is left, for each goal in its turn: idling is the hardest to bring down.
SHARE = (0.6, 0.8, 1.0)
# More searches than cores: what proves a bound is among the later ones.
WORKERS = 8
Status = Literal["optimal", "feasible", "infeasible", "unknown"]
FOUND = (cp_model.OPTIMAL, cp_model.FEASIBLE)


class Assignment(BaseModel):
    """A task with its people and its time."""

    model_config = ConfigDict(frozen=True, populate_by_name=True)

    task: str
    people: list[str]
    day: str
    from_: str = Field(serialization_alias="from")
    to: str


class Bound(BaseModel):
    """What no plan can better: the fewest visits."""

    model_config = ConfigDict(frozen=True)

    visits: int


class Planned(BaseModel):
    """A week planned, or why it cannot be: the least tasks and kinds of wish that cannot all be had."""

    model_config = ConfigDict(frozen=True)

    status: Status
    visits: int | None = None
    idle_min: int | None = None
    end_sum_min: int | None = None
    bound: Bound | None = None
    assignments: list[Assignment] = []
    conflict: list[str] = []


def plan_week(week: Week, limit_s: float = LIMIT_S) -> Planned:
    """The best plan of a week that is found within the time given, and whether a better one can be."""
    model = Model(week, list(week.tasks))
    goals = _Goals(model)
    proven, puts, least = True, None, 0
    began = time.monotonic()
    for place, goal in enumerate(goals.each()):
        left = limit_s - (time.monotonic() - began)
        share = left * SHARE[place]
        solver = _solver(max(share, 0.2))
        model.cp.minimize(goal)
        status = solver.solve(model.cp)
        if status == cp_model.INFEASIBLE and puts is None:
            return Planned(status="infeasible", conflict=conflict_of(week, limit_s))
        if status not in FOUND:
            proven = False
            break
        proven = proven and status == cp_model.OPTIMAL
        if place == 0:
            least = round(solver.best_objective_bound)
        puts = list(_puts(model, solver))
        # The next goal keeps what this one reached, and begins from where it is.
        model.cp.add(goal <= round(solver.objective_value))
        _hint(model, solver)
    if puts is None:
        return Planned(status="unknown")
    return _told(week, puts, "optimal" if proven else "feasible", least)


def _solver(limit_s: float) -> cp_model.CpSolver:
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = limit_s
    solver.parameters.num_workers = WORKERS
    solver.parameters.random_seed = 7
    return solver


def _hint(model: Model, solver: cp_model.CpSolver) -> None:
    model.cp.clear_hints()  # type: ignore[no-untyped-call]
    for index in range(len(model.cp.proto.variables)):
        variable = model.cp.get_int_var_from_proto_index(index)
        model.cp.add_hint(variable, solver.value(variable))


def _puts(model: Model, solver: cp_model.CpSolver) -> Iterator[Put]:
    for task in model.tasks:
        day = next(day for day in model.days if solver.boolean_value(model.on[task.id, day]))
        start = solver.value(model.start[task.id]) - model.week.offset(day)
        people = tuple(
            next(person for person, one in seat.items() if solver.boolean_value(one)) for seat in model.seats[task.id]
        )
        yield Put(task.id, people, day, start, start + task.minutes)


def _told(week: Week, puts: list[Put], status: Status, least: int) -> Planned:
    found = measured(week, puts)
    order = sorted(puts, key=lambda put: (put.day, put.start, put.task))
    return Planned(
        status=status, visits=found.visits, idle_min=found.idle_min, end_sum_min=found.end_sum_min,
        bound=Bound(visits=least),
        assignments=[
            Assignment(task=put.task, people=list(put.people), day=put.day.isoformat(), from_=_clock(put.start),
                       to=_clock(put.end))
            for put in order
        ],
    )  # fmt: skip


def _clock(minute: int) -> str:
    return f"{minute // 60:02d}:{minute % 60:02d}"


class _Goals:
    """What is wanted, in its order: fewest visits, least idle minutes, least sum of the tasks' ends."""

    def __init__(self, model: Model) -> None:
        self.model = model
        self.sites = sorted({task.site for task in model.tasks})
        self.works = {
            (task.id, person.id, day): self._works(task.id, person.id, day)
            for task in model.tasks for person in model.week.people for day in model.days
        }  # fmt: skip

    def each(self) -> Iterator[Any]:
        """One goal after the other; what measures it is put into the model only when its turn comes."""
        yield sum(self._visits())
        people = [one.id for one in self.model.week.people]
        yield sum(self._idle(site, person, day) for site in self.sites for person in people for day in self.model.days)
        yield sum(self.model.end(task) - self.model.week.first_minute for task in self.model.tasks)

    def _visits(self) -> Iterator[Any]:
        model, cp = self.model, self.model.cp
        low, high = model.hours
        for site in self.sites:
            here = [task for task in model.tasks if task.site == site]
            room = high - low - (0 if _shortcuts(model, site) else 2 * model.travel(SHOP, site))
            for day in model.days:
                came = []
                for person in (one.id for one in model.week.people):
                    visit = cp.new_bool_var(f"{person} at {site} on {day}")
                    mine = [self.works[task.id, person, day] for task in here]
                    for works in mine:
                        cp.add_implication(works, visit)
                    cp.add_bool_or([*mine, ~visit])
                    # Said for the bound: a visit holds no more than a day's work.
                    cp.add(sum(task.minutes * works for task, works in zip(here, mine, strict=True)) <= room * visit)
                    came.append(visit)
                    yield visit
                for task in here:
                    cp.add(sum(came) >= len(task.skills) * model.on[task.id, day])

    def _works(self, task: str, person: str, day: Any) -> Any:
        model = self.model
        works = model.cp.new_bool_var(f"{person} does {task} on {day}")
        does, on = model.does[task, person], model.on[task, day]
        model.cp.add_bool_and([does, on]).only_enforce_if(works)
        model.cp.add_bool_or([works, ~does, ~on])
        return works

    def _idle(self, site: str, person: str, day: Any) -> Any:
        """From the first to the last task of a visit, less what is worked in between, there or elsewhere."""
        model, cp = self.model, self.model.cp
        works = {task.id: self.works[task.id, person, day] for task in model.tasks}
        base = model.week.offset(day)
        first, last = cp.new_int_var(base, base + DAY_MIN, ""), cp.new_int_var(base, base + DAY_MIN, "")
        idle = cp.new_int_var(0, DAY_MIN, "")
        worked: list[Any] = []
        for task in model.tasks:
            if task.site == site:
                cp.add(first <= model.start[task.id]).only_enforce_if(works[task.id])
                cp.add(last >= model.end(task)).only_enforce_if(works[task.id])
                worked.append(task.minutes * works[task.id])
            else:
                between = cp.new_bool_var("")
                cp.add_implication(between, works[task.id])
                cp.add(model.start[task.id] >= first).only_enforce_if(between)
                cp.add(model.end(task) <= last).only_enforce_if(between)
                worked.append(task.minutes * between)
        cp.add(idle >= last - first - sum(worked))
        return idle


def _shortcuts(model: Model, site: str) -> bool:
    """Whether a site is reached sooner over another than straight from the shop."""
    way = model.travel(SHOP, site)
    return any(model.travel(SHOP, task.site) + model.travel(task.site, site) < way for task in model.tasks)


def conflict_of(week: Week, limit_s: float = LIMIT_S) -> list[str]:
    """A least set of tasks and kinds of wish that cannot all be had: without any one of them the rest can."""
    tasks, kinds = [task.id for task in week.tasks], list(KINDS)
    began = time.monotonic()
    for one in [*tasks, *kinds]:
        fewer_tasks = [task for task in tasks if task != one]
        fewer_kinds = [kind for kind in kinds if kind != one]
        left = limit_s - (time.monotonic() - began)
        if fewer_tasks and left > 0 and cannot(week, fewer_tasks, fewer_kinds, left):
            tasks, kinds = fewer_tasks, fewer_kinds
    return [*tasks, *kinds]


def cannot(week: Week, tasks: Collection[str], kinds: Collection[str], limit_s: float) -> bool:
    """Whether some tasks cannot be done where only some kinds of wish bind them."""
    model = Model(week, [task for task in week.tasks if task.id in tasks], kinds)
    return bool(_solver(limit_s).solve(model.cp) == cp_model.INFEASIBLE)
