"""The crew's week over HTTP: what is wished of it, its plan as it is found, who does what, calendars and day sheets."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any

from accounts.roles import PLAN, allow, person
from django.http import HttpRequest, HttpResponse
from leitung_core.errors import InputError, Problem
from leitung_core.validation import read
from ninja import Query, Router, Schema
from pydantic import BaseModel, Field

from weeks import actions
from weeks.calendar import MOST_BYTES, brought_back, calendar
from weeks.out import WeekOut, week_out
from weeks.sheets import sheets_pdf
from weeks.wishes import Wishes

router = Router(tags=["weeks"])
Monday = date


class NewWishes(Schema):
    """What is wished of a week, over the revision that it was seen at."""

    base_revision: Annotated[int, Field(ge=0)]
    wishes: dict[str, Any]


class Ask(Schema):
    """Nothing more is to be said."""


class Calendar(Schema):
    """A calendar file that was changed elsewhere."""

    base_revision: Annotated[int, Field(ge=0)]
    ics: Annotated[str, Field(min_length=1, max_length=MOST_BYTES)]


class Brought(BaseModel):
    """What a calendar brought: tasks that are held where it has them, hours in which somebody is away, what was not
    understood.
    """

    held: int
    off: int
    unread: list[str]
    week: WeekOut


@router.get("/weeks/{monday}", response=WeekOut, by_alias=True, exclude_none=True)
def week(request: HttpRequest, monday: Monday) -> WeekOut:
    """A week of the crew."""
    return week_out(person(request), actions.find(person(request), monday))


@router.post("/weeks/{monday}/wishes", response=WeekOut, by_alias=True, exclude_none=True)
def wishes(request: HttpRequest, monday: Monday, body: NewWishes) -> WeekOut:
    """Keep what is wished of a week."""
    user = allow(request, PLAN)
    return week_out(user, actions.wish(user, monday, body.base_revision, read(Wishes, body.wishes)))


@router.post("/weeks/{monday}/plans", response=WeekOut, by_alias=True, exclude_none=True)
def plans(request: HttpRequest, monday: Monday, body: Ask) -> WeekOut:
    """Look for the best plan of a week; the worker does, and keeps each better one."""
    user = allow(request, PLAN)
    return week_out(user, actions.ask(user, monday))


@router.post("/weeks/{monday}/stops", response=WeekOut, by_alias=True, exclude_none=True)
def stops(request: HttpRequest, monday: Monday, body: Ask) -> WeekOut:
    """End the search; the best plan so far is kept."""
    user = allow(request, PLAN)
    return week_out(user, actions.stop(user, monday))


@router.post("/weeks/{monday}/agreements", response=WeekOut, by_alias=True, exclude_none=True)
def agreements(request: HttpRequest, monday: Monday, body: Ask) -> WeekOut:
    """The crew goes by the plan as it is: from now on as little of it moves as must."""
    user = allow(request, PLAN)
    return week_out(user, actions.agree(user, monday))


@router.get("/weeks/{monday}/calendar.ics", response={200: bytes})
def ics(request: HttpRequest, monday: Monday, hand: Annotated[str | None, Query(max_length=32)] = None) -> HttpResponse:
    """The plan as a calendar: of the whole crew, or of one person."""
    user = person(request)
    out = week_out(user, actions.find(user, monday))
    if hand is not None and all(one.id != hand for one in out.wishes.people):
        raise InputError(Problem("hand", hand, "is nobody of this crew", "Name one of it."))
    answer = HttpResponse(calendar(out, hand), content_type="text/calendar; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="week-{monday.isoformat()}.ics"'
    return answer


@router.post("/weeks/{monday}/calendars", response=Brought, by_alias=True, exclude_none=True)
def calendars(request: HttpRequest, monday: Monday, body: Calendar) -> Brought:
    """Bring a calendar back: tasks that were moved in it are held there, other events of a person are hours away."""
    user = allow(request, PLAN)
    found = actions.find(user, monday)
    brought = brought_back(body.ics, week_out(user, found))
    kept = actions.wish(user, monday, body.base_revision, brought.wishes)
    return Brought(held=brought.held, off=brought.off, unread=brought.unread, week=week_out(user, kept))


@router.get("/weeks/{monday}/sheets.pdf", response={200: bytes})
def sheets(request: HttpRequest, monday: Monday) -> HttpResponse:
    """Who does what, a sheet for each person and day."""
    user = person(request)
    out = week_out(user, actions.find(user, monday))
    answer = HttpResponse(sheets_pdf(out, user), content_type="application/pdf")
    answer["Content-Disposition"] = f'inline; filename="week-{monday.isoformat()}.pdf"'
    return answer
