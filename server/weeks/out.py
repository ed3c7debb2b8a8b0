"""A week as it is shown: what is wished, the plan with why each task stands where it stands, what has no place."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any
from uuid import UUID

from accounts.models import User
from leitung_core.worklist.as_week import task_key
from leitung_core.worklist.tasks import Window
from pydantic import BaseModel, Field

from weeks import actions
from weeks.models import CrewWeek
from weeks.wishes import Comes, Status, Wishes


class WeekPart(BaseModel):
    """A part of a task in the plan: who does it and when, and why there. moved: what was agreed has it elsewhere."""

    id: str
    site: str
    install: UUID
    key: str
    text: str
    kind: str
    people: list[str]
    day: str
    from_: Annotated[str, Field(serialization_alias="from")]
    to: str
    wait_min: int = 0
    held: bool = False
    moved: bool = False
    outdoors: bool = False
    access: list[str] = []
    windows: list[Window] | None = None
    why: list[str] = []


class NoPlace(BaseModel):
    """A task that has no place in this week, and why."""

    id: str
    site: str
    text: str
    says: str


class WeekPlace(BaseModel):
    """An install of the week: its name, the way to it, when its power may be off, how many tasks are left, how many
    findings in its plan stop work.
    """

    id: str
    install: UUID
    name: str
    way_min: int
    tasks: int
    off: list[Window] | None = None
    stops: int = 0
    material: Comes | None = None


class InstallChoice(BaseModel):
    """An install that could be put into the week."""

    install: UUID
    name: str


class WeekOut(BaseModel):
    """A week: what is wished, how far the search is, the plan. stale: the wishes have changed since it was found."""

    monday: date
    days: list[date]
    revision: int
    wishes: Wishes
    sites: list[WeekPlace]
    choices: list[InstallChoice]
    status: Status
    share: float
    why: str
    stale: bool
    result: str | None = None
    visits: int | None = None
    least_visits: int | None = None
    idle_min: int | None = None
    parts: list[WeekPart] = []
    open: list[NoPlace] = []
    conflict: list[str] = []
    agreed: bool = False
    agreed_moves: int = 0
    waiting: int


# A shorter wait is nothing that anybody could use.
SAID_FROM_MIN = 5
KINDS = {
    "window": "the windows", "after": "what comes first", "off": "who is away", "hours": "the hours of the day",
    "travel": "the way there", "skills": "who may do it", "vehicles": "how many vehicles there are",
    "held": "what was put somewhere", "begun": "what has begun",
}  # fmt: skip


def week_out(user: User, found: CrewWeek) -> WeekOut:
    """A week as it stands."""
    given = actions.laid(user, found)
    wishes = actions.wishes_of(found)
    plan = found.found or {}
    rows = plan.get("assignments", [])
    stood = {row["task"]: row for row in found.agreed or []}
    why = actions.reasons(given, rows)
    held = {one.task for one in wishes.held}
    asked = {row.id: row for row in given.week.tasks} if given.week else {}
    waits = {
        before.task: before.wait_min
        for task in asked.values()
        for before in task.after
        if before.wait_min >= SAID_FROM_MIN
    }
    parts = [
        WeekPart(
            id=row["task"], site=site, install=given.sites[site].id, key=task_key(row["task"].partition(".")[2]),
            text=given.named.get(row["task"], row["task"]), kind=given.tasks[row["task"]].kind, people=row["people"],
            day=row["day"], from_=row["from"], to=row["to"], wait_min=waits.get(row["task"], 0),
            held=row["task"] in held, moved=_moved(row, stood.get(row["task"])),
            outdoors=given.tasks[row["task"]].outdoors, access=list(given.tasks[row["task"]].access),
            windows=given.tasks[row["task"]].windows, why=why.get(row["task"], []),
        )
        for row in rows
        if (site := row["task"].partition(".")[0]) in given.sites and row["task"] in given.tasks
    ]  # fmt: skip
    material = {actions.site_key(one.install): one.material for one in wishes.sites}
    ways = {actions.site_key(one.install): one.way_min for one in wishes.sites}
    placed = {part.id for part in parts}
    return WeekOut(
        monday=found.monday, days=actions.days_of(found.monday, wishes), revision=found.revision, wishes=wishes,
        sites=[
            WeekPlace(
                id=key, install=install.id, name=install.name, way_min=ways[key], off=_off(given, key),
                tasks=sum(one.partition(".")[0] == key for one in asked), stops=given.stops[key],
                material=material[key],
            )
            for key, install in given.sites.items()
        ],
        choices=[InstallChoice(install=one.id, name=one.name) for one in actions.choices(user, wishes)],
        status=found.status, share=found.share, why=found.why, stale=bool(rows) and found.found_for != found.revision,
        result=plan.get("status"), visits=plan.get("visits"), least_visits=(plan.get("bound") or {}).get("visits"),
        idle_min=plan.get("idle_min"), parts=parts, conflict=_conflict(given, plan.get("conflict", [])),
        open=[
            NoPlace(id=one, site=one.partition(".")[0], text=given.named.get(one, one),
                    says="no window, no dry day, its material too late, or after such a task")
            for one in given.outside
        ],
        agreed=found.agreed is not None and found.agreed == rows, waiting=len(set(asked) - placed),
        agreed_moves=sum(part.moved for part in parts),
    )  # fmt: skip


def _off(given: actions.Laid, site: str) -> list[Window] | None:
    """When the power of a site may be off; None: at any time, or nothing asks for it."""
    asked = [task.windows for key, task in given.tasks.items() if key.partition(".")[0] == site and task.needs_off]
    found = [window for windows in asked if windows is not None for window in windows]
    return list(dict.fromkeys(found)) if any(windows is not None for windows in asked) else None


def _moved(row: dict[str, Any], stood: dict[str, Any] | None) -> bool:
    return stood is not None and any(row[name] != stood[name] for name in ("day", "from", "people"))


def _conflict(given: actions.Laid, keys: list[str]) -> list[str]:
    """The least that cannot all be had, in words: tasks with their site, then the kinds of wish."""
    said = []
    for key in keys:
        site = key.partition(".")[0]
        place = f"{given.named[site]}: " if site in given.sites else ""
        said.append(KINDS.get(key) or f"{place}{given.named.get(key, key)}")
    return said
