"""The week planned: all tasks done, the fewest visits, then the least idling, then everything as early as can be."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Collection, Iterator, Sequence
from math import ceil
from typing import Any, Literal

from ortools.sat.python import cp_model
from pydantic import BaseModel, ConfigDict, Field

from leitung_core.week.anew import better, goals
from leitung_core.week.document import DAY_MIN, SHOP, Held, Standing, Week, minutes
from leitung_core.week.greedy import by_hand
from leitung_core.week.measure import Put, measured
from leitung_core.week.model import KINDS, Model

LIMIT_S = 10.0
# Of the time that is left, for each goal in its turn: idling is the hardest to bring down.
SHARE = (0.5, 0.5, 0.8, 1.0)
VISITS = 1  # the goal that counts visits
# Of the time that is left, before the search and once its visits are few: what is put down anew.
ANEW = 0.2
TELL_EVERY_S = 0.5
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


def plan_week(
    week: Week, limit_s: float = LIMIT_S, found: Callable[[Planned, float], None] | None = None,
    stop: Callable[[], bool] = lambda: False,
) -> Planned:  # fmt: skip
    """The best plan of a week that is found within the time given, and whether a better one can be.

    found: told each better plan and the share of the time that is gone. stop: asked now and then; True ends the search,
    and the best plan so far is the answer.
    """
    model = Model(week, list(week.tasks))
    search = _Search(week, model, limit_s, found, stop)
    search.begin_with(by_hand(week, _fixed(week)))
    goals = _Goals(model)
    for place, goal in enumerate(goals.each()):
        if isinstance(goal, int):  # nothing stands that could move
            continue
        if place in (VISITS, VISITS + 1):
            search.put_anew()
        status = search.better(goal, SHARE[place], counts_visits=place == VISITS)
        if status == cp_model.INFEASIBLE and search.puts is None:
            return Planned(status="infeasible", conflict=conflict_of(week, limit_s))
        if status not in FOUND or search.stopped:
            search.proven = False
            if search.puts is None:
                break
    if search.puts is None:
        return Planned(status="unknown")
    return search.told()


def _fixed(week: Week) -> list[Put]:
    """What stands where it is whatever is looked for: what was begun, and what is held with its people."""
    length = {task.id: task.minutes for task in week.tasks}
    held = {row.task for row in week.held}
    now = week.moment(week.now.day, week.now.at) if week.now else 0
    rows: list[Held | Standing] = [
        row for row in week.standing if row.task not in held and week.moment(row.day, row.from_) < now
    ]
    return [
        Put(row.task, tuple(row.people), row.day, minutes(row.from_), minutes(row.from_) + length[row.task])
        for row in (*rows, *week.held) if row.people
    ]  # fmt: skip


class _Search:
    """One goal after the other is brought down, each kept at what it reached."""

    def __init__(
        self, week: Week, model: Model, limit_s: float, found: Callable[[Planned, float], None] | None,
        stop: Callable[[], bool],
    ) -> None:  # fmt: skip
        self.week, self.model, self.limit_s, self.found, self.stop = week, model, limit_s, found, stop
        self.puts: list[Put] | None = None
        self.proven, self.stopped, self.least = True, False, 0
        self.began = time.monotonic()
        self.last_told = -TELL_EVERY_S

    def begin_with(self, puts: list[Put] | None) -> None:
        """A plan that was put together by hand, where it keeps every rule of the model."""
        if puts is not None and self.free:
            self._keep(puts)
        if puts is not None:
            hint_from(self.model, puts)

    @property
    def free(self) -> bool:
        """Whether nothing stands or is held: then a plan that is put together by hand keeps every rule."""
        return self.week.now is None and not self.week.held and not self.week.standing

    def put_anew(self) -> None:
        """The best plan so far made better by taking some of it out and putting it down anew."""
        if self.puts is None or not self.free:
            return
        until = time.monotonic() + ANEW * (self.limit_s - (time.monotonic() - self.began))
        for puts in better(self.week, self.puts, until, self.stop):
            self._keep(puts)
        hint_from(self.model, self.puts)

    def _keep(self, puts: list[Put]) -> None:
        """A plan that was found, where there is no better one."""
        if self.puts is not None and self.free and goals(self.week, self.puts) <= goals(self.week, puts):
            return
        self.puts = puts
        now = time.monotonic()
        if now - self.last_told > TELL_EVERY_S:
            self.last_told = now
            self._tell()

    def better(self, goal: Any, share: float, *, counts_visits: bool) -> Any:
        """Bring a goal down within its share of the time that is left."""
        left = self.limit_s - (time.monotonic() - self.began)
        solver = _solver(max(left * share, 0.2))
        self.model.cp.minimize(goal)
        told = _Told(self._improved, self.stop)
        with _watched(solver, self.stop) as watch:
            status = solver.solve(self.model.cp, told)
        self.stopped = self.stopped or watch.stopped
        if counts_visits and status != cp_model.INFEASIBLE:
            self.least = max(0, ceil(solver.best_objective_bound - 1e-6))
        if status in FOUND:
            self.proven = self.proven and status == cp_model.OPTIMAL
            self._keep(list(_puts(self.model, solver.value, solver.boolean_value)))
            # The next goal keeps what this one reached, and begins from where it is.
            self.model.cp.add(goal <= round(solver.objective_value))
            _hint(self.model, solver)
            self._tell()
        return status

    def _improved(self, value: Any) -> None:
        self._keep(list(_puts(self.model, value, lambda one: bool(value(one)))))

    def _tell(self) -> None:
        if self.found is not None and self.puts is not None:
            self.found(self.told(proven=False), min(1.0, (time.monotonic() - self.began) / self.limit_s))

    def told(self, proven: bool | None = None) -> Planned:
        """The best plan so far."""
        sure = self.proven if proven is None else proven
        return _told(self.week, self.puts or [], "optimal" if sure else "feasible", self.least)


class _Told(cp_model.CpSolverSolutionCallback):
    """Tells each better plan, at most twice a second."""

    def __init__(self, improved: Callable[[Any], None], stop: Callable[[], bool]) -> None:
        super().__init__()
        self.improved, self.stop, self.last = improved, stop, 0.0

    def on_solution_callback(self) -> None:
        if time.monotonic() - self.last > TELL_EVERY_S:
            self.last = time.monotonic()
            self.improved(self.value)


class _watched:  # noqa: N801  # a context manager
    """Ends a search from outside once it is told to."""

    def __init__(self, solver: cp_model.CpSolver, stop: Callable[[], bool]) -> None:
        self.solver, self.stop, self.stopped, self.over = solver, stop, False, threading.Event()
        self.thread = threading.Thread(target=self._watch, daemon=True)

    def _watch(self) -> None:
        while not self.over.wait(TELL_EVERY_S):
            if self.stop():
                self.stopped = True
                self.solver.stop_search()
                return

    def __enter__(self) -> _watched:
        self.thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self.over.set()
        self.thread.join()


def _solver(limit_s: float) -> cp_model.CpSolver:
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = limit_s
    solver.parameters.num_workers = WORKERS
    solver.parameters.random_seed = 7
    # A week of many tasks would spend its time on being made smaller.
    solver.parameters.max_presolve_iterations = 1
    solver.parameters.symmetry_level = 0
    return solver


def hint_from(model: Model, puts: Sequence[Put]) -> None:
    """Begin the search at a plan."""
    model.cp.clear_hints()  # type: ignore[no-untyped-call]
    by_task = {put.task: put for put in puts}
    for task in model.tasks:
        put = by_task[task.id]
        model.cp.add_hint(model.start[task.id], model.week.offset(put.day) + put.start)
        for day in model.days:
            model.cp.add_hint(model.on[task.id, day], put.day == day)
        for person in model.week.people:
            model.cp.add_hint(model.does[task.id, person.id], person.id in put.people)


def _hint(model: Model, solver: cp_model.CpSolver) -> None:
    model.cp.clear_hints()  # type: ignore[no-untyped-call]
    for index in range(len(model.cp.proto.variables)):
        variable = model.cp.get_int_var_from_proto_index(index)
        model.cp.add_hint(variable, solver.value(variable))


def _puts(model: Model, value: Callable[[Any], int], true: Callable[[Any], bool]) -> Iterator[Put]:
    for task in model.tasks:
        day = next(day for day in model.days if true(model.on[task.id, day]))
        start = value(model.start[task.id]) - model.week.offset(day)
        people = tuple(next(person for person, one in seat.items() if true(one)) for seat in model.seats[task.id])
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
    """What is wanted, in its order: least moved, fewest visits, least idle minutes, least sum of the tasks' ends."""

    def __init__(self, model: Model) -> None:
        self.model = model
        self.sites = sorted({task.site for task in model.tasks})
        self.works = {
            (task.id, person.id, day): self._works(task.id, person.id, day)
            for task in model.tasks for person in model.week.people for day in model.days
        }  # fmt: skip

    def each(self) -> Iterator[Any]:
        """One goal after the other; what measures it is put into the model only when its turn comes."""
        yield sum(self.model.moved())
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
