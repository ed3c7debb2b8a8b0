"""The work list of an install: metal first, then the steps of start-up gathered into tasks that a person does in one
go, each after what its steps need; then what the install has otherwise.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence

import networkx as nx

from leitung_core.commissioning.clock import clock
from leitung_core.commissioning.steps import StartStep, StartUp
from leitung_core.control.system import System
from leitung_core.plan.work import OffWindow, Work
from leitung_core.plant.plant import Plant
from leitung_core.units import in_a_row
from leitung_core.worklist.by_hand import control_pulled, lines_roughed
from leitung_core.worklist.ranges import Range, takes
from leitung_core.worklist.tasks import KINDS, PEOPLE, After, Kind, Window, WorkList, WorkTask

DEAD = ("survey", "lock_out", "before_power")
# From here on a wait parts a task: nobody stands beside it.
LONG_S = 15 * 60
OWN_MIN = Range(low=30, likely=60, high=120)


def work_list(plant: Plant, systems: Sequence[System], start_up: StartUp) -> WorkList:
    """Everything to do at an install. `systems` and `start_up` are those of the plant."""
    lines = [part.about.partition("/")[2] for part in start_up.parts if part.about.startswith("circuits/")]
    gathered = _Gathered(plant, start_up, systems)
    tasks = {task.key: task for task in (*lines_roughed(plant, lines), *control_pulled(plant, list(systems)))}
    tasks |= {task.key: task for task in gathered.tasks()}
    order = gathered.order()
    _by_hand_first(plant, systems, tasks, order)
    return _as_entered(plant, tasks, order)


class _Gathered:
    """Steps put to tasks. What would have to be done before itself is one task."""

    def __init__(self, plant: Plant, start_up: StartUp, systems: Sequence[System]) -> None:
        self.plant, self.steps = plant, start_up.steps
        self.lines_of = {part.about: part.lines for part in start_up.parts}
        self.systems = {f"devices/{system.key}": system for system in systems}
        self.group = self._groups(start_up)
        self.key_of = {step.key: self._first_key(step) for step in self.steps}
        self._after_long_waits()
        self._rounds_are_one()

    def _groups(self, start_up: StartUp) -> dict[str, str]:
        """For each line and system with what it is started up: lines whose systems meet, by the first of them."""
        meet = nx.Graph()
        for part in start_up.parts:
            if not part.about.startswith("sources/"):
                meet.add_node(part.about)
                meet.add_edges_from((part.about, f"circuits/{line}") for line in part.lines)
        place = {part.about: number for number, part in enumerate(start_up.parts)}
        found: dict[str, str] = {}
        for several in nx.connected_components(meet):
            first = min(several, key=lambda about: place.get(about, len(place)))
            found |= dict.fromkeys(several, first.partition("/")[2])
        return found

    def _first_key(self, step: StartStep) -> str:
        group, _, name = step.about.partition("/")
        if step.about == "site":
            return step.key.partition(".")[2]
        if group == "sources":
            return "leave-site" if step.phase == "leave" else f"panel-{name}"
        circuit = self.plant.plan.circuits.get(name) if group == "circuits" else None
        if circuit is not None and step.key == f"{name}.panel":
            return f"panel-{circuit.source}"
        if circuit is not None and step.phase in DEAD and step.key != f"{name}.covers":
            return f"land-{name}"
        if group == "devices" and step.phase in DEAD:
            first = next(iter(self.lines_of.get(step.about, ())), None)
            return f"panel-{self.plant.plan.circuits[first].source}" if first else f"start-{name}"
        return f"start-{self.group.get(step.about, name)}"

    def _after_long_waits(self) -> None:
        """What comes after a long wait is a task of its own."""
        needs = nx.DiGraph((need, step.key) for step in self.steps for need in step.needs)
        for step in self.steps:
            mine = self.key_of[step.key]
            if step.wait_s < LONG_S or not mine.startswith("start-") or step.key not in needs:
                continue
            for later in nx.descendants(needs, step.key):
                if self.key_of[later] == mine:
                    self.key_of[later] = f"run-{mine.partition('-')[2]}"

    def _rounds_are_one(self) -> None:
        for several in list(nx.strongly_connected_components(self.order())):
            if len(several) > 1:
                one = min(several, key=lambda key: (-KINDS.index(_kind(key)), key))
                self.key_of = {step: one if key in several else key for step, key in self.key_of.items()}

    def order(self) -> nx.DiGraph[str]:
        """Which task comes before which; `wait`: what runs by itself in between, minutes."""
        found: nx.DiGraph[str] = nx.DiGraph()
        found.add_nodes_from(self.key_of.values())
        by_key = {step.key: step for step in self.steps}
        for step in self.steps:
            for need in step.needs:
                one, other = self.key_of[need], self.key_of[step.key]
                if one != other:
                    _before(found, one, other, by_key[need].wait_s / 60)
        return found

    def tasks(self) -> Iterable[WorkTask]:
        """The tasks, with the steps of each in their order."""
        mine: defaultdict[str, list[StartStep]] = defaultdict(list)
        for step in self.steps:
            mine[self.key_of[step.key]].append(step)
        for key, steps in mine.items():
            kind = _kind(key)
            about = list(dict.fromkeys(step.about for step in steps))
            yield WorkTask(
                key=key, kind=kind, text=self._words(kind, key, about), about=about, people=self._people(kind, steps),
                minutes=_minutes(kind, steps), steps=[step.key for step in steps],
                needs_off=[one.partition("/")[2] for one in about if one.startswith("sources/")]
                if kind == "panel" else [],
            )  # fmt: skip

    def _people(self, kind: Kind, steps: Sequence[StartStep]) -> list[str]:
        # One brings the cause about where it is, another sees what stops.
        if kind in ("start", "run") and any(step.tests for step in steps):
            return ["licensed", "installer"]
        return list(PEOPLE[kind])

    def _words(self, kind: Kind, key: str, about: Sequence[str]) -> str:
        plan = self.plant.plan
        named = [one.partition("/")[2] for one in about if one.startswith("circuits/")]
        sources = [plan.sources[one.partition("/")[2]].name or one.partition("/")[2]
                   for one in about if one.startswith("sources/")]  # fmt: skip
        ohms = " and ohms" if any(one.startswith("devices/") for one in about) else ""
        return {
            "permit": "Permit at hand", "rough-in": "Rough-in inspection", "final": "Final inspection",
            "land": f"Lock out, prove dead and land {in_a_row(named)}",
            "panel": f"Power off: lines landed at {in_a_row(sources) or key.partition('-')[2]}{ohms}, power on again",
            "start": f"Start up {in_a_row(named) or key.partition('-')[2]}",
            "run": f"Run, read and prove {in_a_row(named) or key.partition('-')[2]}",
            "leave": "Directories written, panels left in order",
        }[kind]  # fmt: skip


def _kind(key: str) -> Kind:
    if key in KINDS:
        return key
    return next((kind for kind in KINDS if key.startswith(f"{kind}-")), "own")


def _minutes(kind: Kind, steps: Sequence[StartStep]) -> Range:
    if kind in ("rough-in", "final"):
        return takes("inspection")
    inside = {step.key for step in steps}
    alone = [step.model_copy(update={"needs": [need for need in step.needs if need in inside]}) for step in steps]
    # What runs by itself after a task is nobody's minutes: it stands between the tasks.
    needed = {need for step in alone for need in step.needs}
    alone = [step if step.key in needed else step.model_copy(update={"wait_s": 0}) for step in alone]
    return takes("steps", clock(alone).interleaved_min)


def _by_hand_first(
    plant: Plant, systems: Sequence[System], tasks: Mapping[str, WorkTask], order: nx.DiGraph[str]
) -> None:
    """A line is pulled before it is landed, a control before its system is measured; both before the rough-in."""
    for key, task in tasks.items():
        order.add_node(key)
        name = task.about[0].partition("/")[2]
        if task.kind == "rough":
            source = plant.plan.circuits[name].source
            _first(order, key, f"land-{name}", f"panel-{source}")
        if task.kind == "control":
            system = next(one for one in systems if one.key == name)
            of_lines = {line for line in plant.plan.circuits if set(plant.index.devices_of_line.get(line, ()))
                        & set(system.devices)}  # fmt: skip
            units = {plant.plan.devices[key].equipment for key in system.devices if key in plant.plan.devices}
            of_lines |= {line for line, circuit in plant.plan.circuits.items() if circuit.equipment in units}
            _first(order, key, *(f"{kind}-{line}" for line in of_lines for kind in ("start", "run")),
                   *(f"panel-{plant.plan.circuits[line].source}" for line in of_lines), f"start-{name}")  # fmt: skip
        if task.kind in ("rough", "control"):
            _first(order, key, "rough-in")
    # What is closed in waits for whoever inspects it.
    if "rough-in" in order:
        _first(order, "rough-in", *(key for key, task in tasks.items() if task.kind == "land"))


def _first(order: nx.DiGraph[str], key: str, *later: str) -> None:
    for other in later:
        if other in order and other != key and not nx.has_path(order, other, key):
            _before(order, key, other)


def _before(order: nx.DiGraph[str], one: str, other: str, wait_min: float = 0.0) -> None:
    """One task before another, by the longest of the waits that are said of the two."""
    known = order.edges[one, other]["wait"] if order.has_edge(one, other) else 0.0
    order.add_edge(one, other, wait=max(known, wait_min))


def _as_entered(plant: Plant, tasks: dict[str, WorkTask], order: nx.DiGraph[str]) -> WorkList:
    """The list as the install has it: changed, added to, left out; a task that is left out passes on what it awaits."""
    entered = plant.plan.work
    for key, work in entered.items():
        if key not in tasks:
            tasks[key] = WorkTask(key=key, kind="own", text=work.text or key, about=["site"],
                                  people=list(work.people or PEOPLE["own"]), minutes=OWN_MIN)  # fmt: skip
            order.add_node(key)
        for before in work.after or ():
            if before in order:
                _first(order, before, key)
        unknown = [f"what is {before}, which it comes after?" for before in work.after or () if before not in order]
        tasks[key] = _changed(tasks[key], work)
        tasks[key] = tasks[key].model_copy(update={"lacks": [*tasks[key].lacks, *unknown]})
    out = {key for key, work in entered.items() if work.left_out}
    for key in out:
        for before, _ in list(order.in_edges(key)):
            for _, later in list(order.out_edges(key)):
                _before(order, before, later, order.edges[key, later]["wait"])
        order.remove_node(key)
    needed = nx.transitive_reduction(order)
    place = {key: number for number, key in enumerate(tasks)}
    found = []
    for key in nx.lexicographical_topological_sort(needed, key=lambda key: (KINDS.index(tasks[key].kind), place[key])):
        first = sorted(needed.predecessors(key), key=lambda one: place[one])
        # A wait is kept where its edge was dropped because of a longer way.
        waits = [one for one in order.predecessors(key) if order.edges[one, key]["wait"] and one not in first]
        after = [After(task=one, wait_min=round(order.edges[one, key]["wait"])) for one in (*first, *waits)]
        found.append(_windowed(plant, tasks[key]).model_copy(update={"after": after, "minutes": _least(tasks[key])}))
    return WorkList(tasks=found, left_out=[tasks[key] for key in tasks if key in out])


def _least(task: WorkTask) -> Range:
    """Whole minutes, and never none."""
    found = task.minutes.rounded()
    return Range(low=max(1, found.low), likely=max(2, found.likely), high=max(3, found.high))


def _changed(task: WorkTask, work: Work) -> WorkTask:
    change: dict[str, object] = {}
    if work.text:
        change["text"] = work.text
    if work.people:
        change["people"] = list(work.people)
    if work.minutes:
        low, high = work.minutes[0], work.minutes[-1]
        change["minutes"] = Range(low=min(low, high), likely=(low + high) / 2, high=max(low, high))
    if work.outdoors is not None:
        change["outdoors"] = work.outdoors
    if work.windows is not None:
        change["windows"] = [_window(one) for one in work.windows]
    return task.model_copy(update={**change, "changed": [*change, *(["after"] if work.after else [])]})


def _windowed(plant: Plant, task: WorkTask) -> WorkTask:
    """A task for which the power is off lies where the house can do without it, of every source at once."""
    asked = [windows for source in task.needs_off if (windows := plant.plan.sources[source].power_off) is not None]
    if task.windows is not None or not asked:
        return task
    common = asked[0]
    for more in asked[1:]:
        common = [both for one in common for other in more if (both := _both(one, other)) is not None]
    return task.model_copy(update={"windows": [_window(one) for one in common]})


def _both(one: OffWindow, other: OffWindow) -> OffWindow | None:
    begin, end = max(one.begins, other.begins), min(one.ends, other.ends)
    if one.day != other.day or end <= begin:
        return None
    return OffWindow(day=one.day, begins=begin, ends=end)


def _window(one: OffWindow) -> Window:
    return Window(day=one.day.isoformat(), from_=f"{one.begins:%H:%M}", to=f"{one.ends:%H:%M}")
