"""Why a task stands where it stands in a plan of the week, and what would have to give for it to be earlier."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from leitung_core.week.document import SHOP, Person, Task, Week, minutes
from leitung_core.week.measure import Put

Named = Callable[[str], str]


def why(week: Week, puts: Sequence[Put], named: Named) -> dict[str, list[str]]:
    """For each task what keeps it from being earlier on its day; `named`: tasks, people and sites in words."""
    tasks = {task.id: task for task in week.tasks}
    return {put.task: list(_why(week, tasks, puts, put, named)) for put in puts}


def _why(week: Week, tasks: dict[str, Task], puts: Sequence[Put], put: Put, named: Named) -> Iterator[str]:
    task, at = tasks[put.task], {other.task: other for other in puts}
    if any(row.task == task.id for row in week.held):
        yield "Somebody put it here: let it go, and it may move."
    begins = week.offset(put.day) + put.start
    tight = False
    for before in task.after:
        other = at.get(before.task)
        if other is not None and week.offset(other.day) + other.end + before.wait_min == begins:
            tight = True
            wait = f" and {before.wait_min} min of waiting" if before.wait_min else ""
            yield f"After {named(before.task)}{wait}."
    for window in task.windows or ():
        if window.day == put.day and minutes(window.from_) == put.start:
            tight = True
            yield f"It may not begin before {window.from_:%H:%M}: an earlier window would let it."
    for person in week.people:
        if person.id in put.people:
            for says in _person(week, tasks, puts, put, person, named):
                tight = True
                yield says
    if not tight and week.vehicles is not None:
        busy = [other for other in puts if other.day == put.day and tasks[other.task].site != task.site
                and other.end + week.travel(tasks[other.task].site, task.site) == put.start]  # fmt: skip
        if busy:
            tight = True
            yield f"No vehicle is free before: one is at {named(tasks[busy[0].task].site)} until then."
    if not tight:
        yield "It could begin earlier; here it costs fewer visits or less idling."


def _person(
    week: Week, tasks: dict[str, Task], puts: Sequence[Put], put: Put, person: Person, named: Named
) -> Iterator[str]:
    site = tasks[put.task].site
    mine = [one for one in puts if person.id in one.people and one.day == put.day and one.end <= put.start]
    if mine:
        last = max(mine, key=lambda one: one.end)
        way = week.travel(tasks[last.task].site, site)
        if last.end + way == put.start:
            on_way = f", and {way} min on the way" if way else ""
            yield f"{named(person.id)} is at {named(last.task)} until then{on_way}."
    elif minutes(week.from_) + week.travel(SHOP, site) == put.start:
        way = week.travel(SHOP, site)
        yield f"{named(person.id)} is there no earlier: {week.from_:%H:%M} and {way} min on the way."
    for off in person.off:
        if off.day == put.day and minutes(off.to) == put.start:
            yield f"{named(person.id)} is away until {off.to:%H:%M}."
