"""The work list over HTTP: who does what, how long by what this company's installs took, what is begun and done."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal
from uuid import UUID

from accounts.models import Company, User
from accounts.roles import PLAN, RECORD, allow, person
from django.db import transaction
from django.http import HttpRequest
from installs.actions import checked, find
from leitung_core.errors import InputError, Problem
from leitung_core.worklist.learned import NOT_LEARNED, Took, learned, place_of, with_learned
from leitung_core.worklist.tasks import WorkTask
from leitung_core.worklist.total import hands
from leitung_core.worklist.written import read_work, write_work
from ninja import Router
from pydantic import BaseModel, Field

from records.actions import Recording, begin
from records.api import Noted
from records.models import WorkEntry
from records.standing import steps_done

router = Router(tags=["work"])
State = Literal["open", "begun", "done"]
MOST_LEARNED = 2000


class WorkOut(WorkTask):
    """A task: how far it is, by whom, how long by what was learned and how sure that is, what it took."""

    state: State = "open"
    share: float = 0
    by: str | None = None
    took_min: float | None = None
    sure: str


class WorkListOut(BaseModel):
    """The work list of an install. hours: of hands, all of it and what is left, low and high."""

    tasks: list[WorkOut]
    left_out: list[WorkTask]
    hours: tuple[float, float]
    hours_left: tuple[float, float]
    rests_on: str


class Worked(Noted):
    """A task begun, done or taken back; minutes: what it took, where that is not from begun to done."""

    key: Annotated[str, Field(min_length=1, max_length=48)]
    state: Literal["begun", "done", "taken_back"]
    minutes: Annotated[float, Field(gt=0, le=6000)] | None = None


class WorkText(BaseModel):
    """A work list as text."""

    text: Annotated[str, Field(max_length=200_000)]


class WorkChange(BaseModel):
    """What of the plan's `work` changes: as a patch has it."""

    work: dict[str, Any]


def history(company: Company) -> list[Took]:
    """What tasks took at the installs of a company; of those that were taken back nothing."""
    rows = WorkEntry.objects.filter(company=company).order_by("-at")[: 2 * MOST_LEARNED]
    tasks: dict[tuple[UUID, str], list[WorkEntry]] = {}
    for row in reversed(rows):
        tasks.setdefault((row.install_id, row.key), []).append(row)
    return [took for entries in tasks.values() if (took := _took(entries)) is not None]


def _took(entries: Sequence[WorkEntry]) -> Took | None:
    last, minutes = entries[-1], minutes_of(entries)
    if minutes is None or last.shipped_min <= 0:
        return None
    return Took.model_validate(
        {"kind": last.kind, "place": last.place, "shipped_min": last.shipped_min, "took_min": minutes}
    )


def minutes_of(entries: Sequence[WorkEntry]) -> float | None:
    """What a task took: as somebody says, else from its begin to its end on the same day; None where it is not done."""
    last = entries[-1]
    if last.state != WorkEntry.State.DONE:
        return None
    if last.minutes is not None:
        return last.minutes
    begun = next((row for row in reversed(entries) if row.state == WorkEntry.State.BEGUN), None)
    if begun is None or begun.entered_at.date() != last.entered_at.date():
        return None
    minutes = (last.entered_at - begun.entered_at).total_seconds() / 60
    # Ticked one after the other at the end of the day it says nothing.
    return minutes if minutes >= 1 else None


def tasks_of(found: Recording, known: Sequence[Took]) -> list[WorkOut]:
    """The tasks of an install as they stand; `known`: what tasks took at the installs of its company."""
    install = found.install
    entries: dict[str, list[WorkEntry]] = {}
    for row in WorkEntry.objects.filter(install=install).select_related("author"):
        entries.setdefault(row.key, []).append(row)
    done = steps_done(install)
    return [_task(task, entries.get(task.key, []), done, known) for task in found.brief.work.tasks]


def _task(task: WorkTask, entries: Sequence[WorkEntry], done: frozenset[str], known: Sequence[Took]) -> WorkOut:
    last = entries[-1] if entries else None
    state: State = last.state if last and last.state in ("begun", "done") else "open"  # type: ignore[assignment]
    share = len(done.intersection(task.steps)) / len(task.steps) if task.steps else 0.0
    found = learned(known, task)
    sure = "entered here" if "minutes" in task.changed else found.says
    return WorkOut(
        **task.model_dump() | {"minutes": with_learned(task, found)}, state=state,
        share=1.0 if state == "done" else share, by=last.who if last and state != "open" else None,
        took_min=minutes_of(entries) if entries else None, sure=sure,
    )  # fmt: skip


def work_of(found: Recording) -> WorkListOut:
    """The work list of an install as it stands."""
    tasks = tasks_of(found, history(found.install.company))
    left = [task for task in tasks if task.state != "done"]
    return WorkListOut(tasks=tasks, left_out=found.brief.work.left_out, hours=_hours(tasks), hours_left=_hours(left),
                       rests_on=rests_on(tasks))  # fmt: skip


def _hours(tasks: Sequence[WorkOut]) -> tuple[float, float]:
    """Of hands: what all of it seldom takes less and seldom more than."""
    found = hands(tasks)
    return round(found.low, 1), round(found.high, 1)


def rests_on(tasks: Sequence[WorkOut]) -> str:
    """By what the hours of tasks are reckoned, in words."""
    if all(task.sure == NOT_LEARNED for task in tasks):
        return "shipped ranges, nothing was ticked yet"
    return "what this company's tasks took, shipped ranges where few are known"


@router.get("/installs/{install_id}/work", response=WorkListOut, by_alias=True, exclude_none=True)
def work(request: HttpRequest, install_id: UUID) -> WorkListOut:
    """The work list of an install, from its plan and its start-up."""
    return work_of(begin(person(request), install_id, lock=False))


@router.get("/installs/{install_id}/work/lines", response=WorkText)
def lines(request: HttpRequest, install_id: UUID) -> WorkText:
    """The work list as one text, to be changed and read back."""
    found = checked(find(person(request), install_id))
    return WorkText(text=write_work(found.revision.brief.work, found.plan.work))


@router.post("/installs/{install_id}/work/lines", response=WorkChange)
def lines_read(request: HttpRequest, install_id: UUID, body: WorkText) -> WorkChange:
    """What a changed text says otherwise, as a change of the plan. Keeps nothing."""
    found = checked(find(allow(request, PLAN), install_id))
    return WorkChange(work=read_work(body.text, found.revision.brief.work, found.plan.work))


@router.post("/installs/{install_id}/work", response=WorkListOut, by_alias=True, exclude_none=True)
def worked(request: HttpRequest, install_id: UUID, body: Worked) -> WorkListOut:
    """Note that a task is begun, done, or neither."""
    return note(allow(request, RECORD), install_id, body)


@transaction.atomic
def note(user: User, install_id: UUID, body: Worked) -> WorkListOut:
    """Keep an entry on a task. Raises InputError for one that is not in the list."""
    found = begin(user, install_id)
    task = next((task for task in found.brief.work.tasks if task.key == body.key), None)
    if task is None:
        raise InputError(Problem("key", body.key, "is no task of this install", "Load the page again."))
    WorkEntry.objects.create(
        company_id=user.company_id, install=found.install, revision=found.install.revision, author=user,
        noted_at=body.noted_at, key=task.key, state=body.state, kind=task.kind, place=place_of(task),
        shipped_min=task.minutes.likely, minutes=body.minutes,
    )  # fmt: skip
    return work_of(found)
