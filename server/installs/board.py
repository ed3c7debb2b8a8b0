"""The board: installs by shelf, one's own first, newest first; begun anew or from another, shelved, brought back."""

from __future__ import annotations

import base64
import binascii
from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from accounts.models import User
from accounts.roles import PLAN, allow, person
from django.db.models import Q, QuerySet
from django.http import HttpRequest
from leitung_core.validation import Text
from ninja import Query, Router, Status
from problems import Refused
from pydantic import BaseModel, Field

from installs import shelves
from installs.api import PAGE, InstallOut, PlanOut, Standing, install_out, plan_out
from installs.models import Install

router = Router(tags=["board"])
OWN, OTHERS = 0, 1


class Board(BaseModel):
    """One page of installs. `cursor` asks for the next page; absent on the last."""

    installs: list[InstallOut]
    cursor: str | None = None


class BoardQuery(BaseModel):
    """A page of the board: of a shelf, by words in name, address or on a plate, only what is stuck or at a station."""

    search: Text | None = None
    shelf: Standing = "open"
    only: Literal["stuck", "lines", "start-up", "handover", "signed"] | None = None
    cursor: Annotated[str, Field(max_length=200)] | None = None


class NewInstall(BaseModel):
    """A new install starts with a name, empty or as a copy of another's plan; so does a template."""

    name: Text
    site: Text | None = None
    like: Annotated[UUID | None, Field(description="the install or template whose plan it begins with")] = None
    template: bool = False


class Shelved(BaseModel):
    """Where an install is to stand."""

    shelf: Standing


@router.get("/installs", response=Board, exclude_none=True)
def board(request: HttpRequest, query: Query[BoardQuery]) -> Board:
    """The installs of this person's company: what is next, what is stuck, on what."""
    user = person(request)
    rows = shelves.on_shelf(user, query.shelf)
    if query.search:
        rows = rows.filter(Q(name__icontains=query.search) | Q(found_by__icontains=query.search))
    if query.only == "stuck":
        rows = rows.exclude(stuck_on="")
    elif query.only:
        rows = rows.filter(station=query.only)
    page = _page(user, rows, _read_cursor(query.cursor) if query.cursor else None)
    cursor = _write_cursor(user, page[PAGE - 1]) if len(page) > PAGE else None
    return Board(installs=[install_out(row) for row in page[:PAGE]], cursor=cursor)


Cursor = tuple[int, datetime, UUID]


def _page(user: User, rows: QuerySet[Install], after: Cursor | None) -> list[Install]:
    """What comes after the cursor, one row more than a page: what this person changed last first."""
    found: list[Install] = []
    for group in (OWN, OTHERS):
        if after and after[0] > group:
            continue
        part = rows.filter(changed_by=user) if group == OWN else rows.exclude(changed_by=user)
        if after and after[0] == group:
            _, at, last = after
            part = part.filter(Q(changed_at__lt=at) | Q(changed_at=at, id__gt=last))
        found += part.order_by("-changed_at", "id")[: PAGE + 1 - len(found)]
    return found


def _write_cursor(user: User, row: Install) -> str:
    group = OWN if row.changed_by_id == user.id else OTHERS
    return base64.urlsafe_b64encode(f"{group}|{row.changed_at.isoformat()}|{row.id}".encode()).decode()


def _read_cursor(cursor: str) -> Cursor:
    try:
        group, at, last = base64.urlsafe_b64decode(cursor.encode()).decode().split("|")
        moment = datetime.fromisoformat(at)
        if moment.tzinfo is None or int(group) not in (OWN, OTHERS):
            raise ValueError(cursor)
        return int(group), moment, UUID(last)
    except (ValueError, binascii.Error):
        raise Refused(422, "cursor", "That page marker is not one of ours. Start from the first page.") from None


class Use(BaseModel):
    """An open install that uses a model, and the tags of its units of it."""

    id: UUID
    name: str
    units: list[str]


class Uses(BaseModel):
    """Newest first."""

    installs: list[Use]


@router.get("/catalogue/uses", response=Uses)
def uses(request: HttpRequest, maker: Annotated[str, Query()], model: Annotated[str, Query()]) -> Uses:
    """Where a model is used."""
    rows = shelves.using(person(request), maker, model)
    return Uses(installs=[Use(id=install.id, name=install.name, units=tags) for install, tags in rows])


@router.post("/installs", response={201: PlanOut}, exclude_none=True)
def new_install(request: HttpRequest, body: NewInstall) -> Status[PlanOut]:
    """Begin an install or a template, empty or like another."""
    user = allow(request, PLAN)
    return Status(201, plan_out(user, shelves.begin(user, body.name, body.site, body.like, body.template)))


@router.post("/installs/{install_id}/shelf", response=InstallOut, exclude_none=True)
def shelve(request: HttpRequest, install_id: UUID, body: Shelved) -> InstallOut:
    """Archive an install, delete it, or bring it back. A signed one is not deleted."""
    return install_out(shelves.shelve(allow(request, PLAN), install_id, body.shelf))
