"""Work lists of several installs as the week of a crew: tasks with their people, what comes first, their windows."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from math import ceil
from typing import Any

from leitung_core.worklist.tasks import Kind, Window, WorkTask

# Longer work is parted: nobody holds a roof unit for six hours in one go, and a day has its way out and back.
MOST_MIN = 240
GRID_MIN = 5
NEEDS_NO_MATERIAL: tuple[Kind, ...] = ("permit", "own", "rough-in", "final", "leave")


@dataclass(frozen=True)
class Bounds:
    """What a week itself allows: its days and hours; wet: days on which nothing is done outdoors; material: by install
    the day and the hour from which what goes in is there.
    """

    days: Sequence[str]
    from_: str = "07:00"
    to: str = "16:00"
    wet: Collection[str] = ()
    material: Mapping[str, tuple[str, str]] = field(default_factory=dict)

    def windows(self, site: str, task: WorkTask) -> list[Window] | None:
        """Within which stretches a task may lie in this week; None: at any time of it."""
        comes = self.material.get(site) if task.kind not in NEEDS_NO_MATERIAL else None
        wet = self.wet if task.outdoors else ()
        if task.windows is None and comes is None and not wet:
            return None
        open_ = [Window(day=day, from_=self.from_, to=self.to) for day in self.days]
        found = [one for one in (open_ if task.windows is None else task.windows) if one.day in self.days]
        found = [one for one in found if one.day not in wet]
        if comes is not None:
            found = [one for one in found if one.day >= comes[0]]
            found = [one if one.day > comes[0] or one.from_ >= comes[1] else one.model_copy(update={"from_": comes[1]})
                     for one in found]  # fmt: skip
        return [one for one in found if one.to > one.from_]


def week_tasks(
    lists: Mapping[str, Sequence[WorkTask]], done: Mapping[str, Collection[str]], bounds: Bounds
) -> Iterator[dict[str, Any]]:
    """The tasks of a week document: by install its tasks, those that are done left out.

    What is waited for after a task that is done is taken as over. A window on another day than these is none.
    """
    for site, tasks in lists.items():
        over = done.get(site, ())
        open_ = [task for task in tasks if task.key not in over]
        last = {task.key: parts(task)[-1][0] for task in open_}
        for task in open_:
            before = None
            for key, length in parts(task):
                after = [{"task": before, "wait_min": 0}] if before else [
                    {"task": f"{site}.{last[one.task]}", "wait_min": one.wait_min}
                    for one in task.after if one.task in last
                ]  # fmt: skip
                before = f"{site}.{key}"
                row: dict[str, Any] = {"id": before, "site": site, "skills": list(task.people), "minutes": length,
                                       "after": after}  # fmt: skip
                windows = bounds.windows(site, task)
                if windows is not None:
                    row["windows"] = [one.model_dump(by_alias=True) for one in windows]
                yield row


def parts(task: WorkTask) -> list[tuple[str, int]]:
    """A task in pieces that are done in one go each: keys and minutes, on a grid."""
    length = max(GRID_MIN, ceil(task.minutes.likely / GRID_MIN) * GRID_MIN)
    count = ceil(length / MOST_MIN)
    if count == 1:
        return [(task.key, length)]
    piece = ceil(length / count / GRID_MIN) * GRID_MIN
    return [(f"{task.key}.{number + 1}", piece) for number in range(count)]


def task_key(part: str) -> str:
    """The key of a task by that of one of its parts."""
    return part.partition(".")[0]


def without_window(rows: Iterable[dict[str, Any]]) -> list[str]:
    """The tasks that have no window in this week: they cannot be done in it."""
    return [row["id"] for row in rows if row.get("windows") == []]


def between(ways: Mapping[str, int]) -> list[dict[str, Any]]:
    """Minutes between all sites, where only those from the shop are known: over the shop."""
    names = sorted(ways)
    found = [{"a": "shop", "b": name, "min": ways[name]} for name in names]
    return found + [{"a": one, "b": other, "min": ways[one] + ways[other]}
                    for number, one in enumerate(names) for other in names[number + 1 :]]  # fmt: skip
