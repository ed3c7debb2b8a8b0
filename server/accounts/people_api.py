"""People over HTTP: the lead's list and links, joining, one's own account, who did what."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

import segno
from django.contrib.auth import login
from django.db import transaction
from django.http import HttpRequest
from leitung_core.errors import InputError, Problem
from leitung_core.validation import Text
from ninja import Router
from ninja.utils import check_csrf
from problems import Refused
from pydantic import BaseModel, Field, StringConstraints

from accounts import factor, people
from accounts.api import BACKEND, Session, session_of
from accounts.limits import one_at_a_time
from accounts.models import AccessLink, Role, TrailEntry, User
from accounts.roles import LEAD, allow, person
from accounts.scope import EVERYONE, seeing
from accounts.trail import note

router = Router(tags=["people"])
Password = Annotated[str, StringConstraints(min_length=1, max_length=200)]
Username = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]{1,59}$")]
Code = Annotated[str, StringConstraints(min_length=6, max_length=20)]
Token = Annotated[str, StringConstraints(min_length=20, max_length=80)]
MOST_TRAIL = 200


class OnePerson(BaseModel):
    """Somebody of the company. code: whether a one-time code is asked of them."""

    id: int
    username: str
    name: str
    role: Role
    active: bool
    code: bool
    last_seen: datetime | None = None


class OpenLink(BaseModel):
    """A link that still serves."""

    id: UUID
    kind: AccessLink.Kind
    name: str
    role: Role
    until: datetime


class PeopleOut(BaseModel):
    """Everybody of the company, and the links that are open."""

    people: list[OnePerson]
    links: list[OpenLink]


class MadeLink(BaseModel):
    """A fresh link: its secret end is shown once and kept nowhere."""

    token: str
    name: str
    until: datetime
    all: PeopleOut


class Invite(BaseModel):
    """Somebody who is to join, and what they may do."""

    name: Text
    role: Role


class NewRole(BaseModel):
    """What somebody may do from now on."""

    role: Role


class Nothing(BaseModel):
    """Nothing more is to be said."""


class Behind(BaseModel):
    """What a link is for."""

    kind: AccessLink.Kind
    company: str
    name: str
    username: str | None = None


class UseLink(BaseModel):
    """How somebody signs in from now on; the name only where they join."""

    username: Username | None = None
    password: Password


class OneSession(BaseModel):
    """A session that is open; here: this very one."""

    id: UUID
    agent: str
    at: datetime
    here: bool


class Account(BaseModel):
    """One's own account."""

    username: str
    name: str
    role: Role
    code: bool
    sessions: list[OneSession]


class NewPassword(BaseModel):
    """A new password, and the old one."""

    old: Password
    password: Password


class NewCode(BaseModel):
    """A secret for a device: to be typed, or read as a picture."""

    secret: str
    picture: str = Field(description="an SVG image")


class GivenCode(BaseModel):
    """A code of the device."""

    code: Code


class Spare(BaseModel):
    """Codes for a lost device, each good once; they are shown once."""

    codes: list[str]


class NoCode(BaseModel):
    """The password, so that nobody else takes the code off."""

    password: Password


class TrailRow(BaseModel):
    """Who did or saw what."""

    name: str
    did: str
    about: UUID | None = None
    words: str
    at: datetime


class Trail(BaseModel):
    """What was done and seen, the newest first."""

    rows: list[TrailRow]


def _people(user: User) -> PeopleOut:
    with_code = factor.all_asked(user.company_id)
    return PeopleOut(
        people=[
            OnePerson(id=one.id, username=one.username, name=one.display_name, role=Role(one.role),
                      active=one.is_active, code=one.id in with_code, last_seen=one.last_login)
            for one in people.of_company(user)
        ],
        links=[OpenLink(id=one.id, kind=Kind(one.kind), name=one.name, role=Role(one.role), until=one.until)
               for one in people.open_links(user)],
    )  # fmt: skip


def _made(user: User, made: AccessLink, token: str) -> MadeLink:
    return MadeLink(token=token, name=made.name, until=made.until, all=_people(user))


Kind = AccessLink.Kind


@router.get("/people", response=PeopleOut, exclude_none=True)
def all_people(request: HttpRequest) -> PeopleOut:
    """Everybody of the company."""
    return _people(allow(request, LEAD))


@router.post("/people/links", response=MadeLink, exclude_none=True)
def invited(request: HttpRequest, body: Invite) -> MadeLink:
    """A link by which somebody joins."""
    user = allow(request, LEAD)
    return _made(user, *people.invite(user, body.name, body.role))


@router.post("/people/links/{link}/withdrawal", response=PeopleOut, exclude_none=True)
def withdrawn(request: HttpRequest, link: UUID, body: Nothing) -> PeopleOut:
    """A link serves no more."""
    user = allow(request, LEAD)
    people.withdraw(user, link)
    return _people(user)


@router.post("/people/{someone}/reset", response=MadeLink, exclude_none=True)
def made_reset(request: HttpRequest, someone: int, body: Nothing) -> MadeLink:
    """A link by which somebody sets a new password."""
    user = allow(request, LEAD)
    return _made(user, *people.reset(user, someone))


@router.post("/people/{someone}/role", response=PeopleOut, exclude_none=True)
def new_role(request: HttpRequest, someone: int, body: NewRole) -> PeopleOut:
    """What somebody may do from now on."""
    user = allow(request, LEAD)
    people.put_role(user, someone, body.role)
    return _people(user)


@router.post("/people/{someone}/leaving", response=PeopleOut, exclude_none=True)
def has_left(request: HttpRequest, someone: int, body: Nothing) -> PeopleOut:
    """Somebody has left: every session ends at once."""
    user = allow(request, LEAD)
    people.leave(user, someone)
    return _people(user)


@router.post("/people/{someone}/return", response=PeopleOut, exclude_none=True)
def is_back(request: HttpRequest, someone: int, body: Nothing) -> PeopleOut:
    """Somebody is there again."""
    user = allow(request, LEAD)
    people.come_back(user, someone)
    return _people(user)


@router.get("/trail", response=Trail, exclude_none=True)
def trail(request: HttpRequest, about: UUID | None = None, until: datetime | None = None) -> Trail:
    """Who saw and changed what, the newest first; of one install, or before a moment."""
    user = allow(request, LEAD)
    rows = TrailEntry.objects.filter(company_id=user.company_id).select_related("user")
    rows = rows.filter(about=about) if about else rows
    rows = rows.filter(at__lt=until) if until else rows
    return Trail(rows=[TrailRow(name=row.user.display_name, did=row.did, about=row.about, words=row.words, at=row.at)
                       for row in rows[:MOST_TRAIL]])  # fmt: skip


@router.get("/links/{token}", response=Behind, auth=None, exclude_none=True)
def link(request: HttpRequest, token: Token) -> Behind:
    """What a link is for."""
    with seeing(EVERYONE):
        found = people.behind(token)
        return Behind(kind=Kind(found.kind), company=found.company.name, name=found.name,
                      username=found.user.username if found.user else None)  # fmt: skip


@router.post("/links/{token}", response=Session, auth=None, exclude_none=True)
def link_used(request: HttpRequest, token: Token, body: UseLink) -> Session:
    """Join, or set a new password; signed in afterwards, unless a code is asked for."""
    if check_csrf(request, link_used):
        raise Refused(403, "csrf", "The page is out of date. Load it again.")
    with seeing(EVERYONE):
        found = people.behind(token)
        if found.user is None and body.username is None:
            raise InputError(Problem("username", "", "is missing", "Choose the name to sign in with."))
        with one_at_a_time():
            user = people.use(token, body.username or "", body.password)
        if not factor.asked(user):
            login(request, user, BACKEND)
        return session_of(request)


@router.get("/account", response=Account)
def account(request: HttpRequest) -> Account:
    """One's own account."""
    return _account(request, person(request))


def _account(request: HttpRequest, user: User) -> Account:
    here = request.session.session_key
    return Account(
        username=user.username, name=user.display_name, role=Role(user.role), code=factor.asked(user),
        sessions=[OneSession(id=one.id, agent=one.agent, at=one.at, here=one.session_key == here)
                  for one in people.sessions(user)],
    )  # fmt: skip


def _knows(user: User, password: str) -> None:
    with one_at_a_time():
        if not user.check_password(password):
            raise InputError(Problem("old", "", "is not your password", "Type the one you sign in with."))


@router.post("/account/password", response=Session, exclude_none=True)
def new_password(request: HttpRequest, body: NewPassword) -> Session:
    """A new password: every other session ends."""
    user = person(request)
    _knows(user, body.old)
    people.set_password(user, body.password)
    note(user, "changed the password")
    login(request, user, BACKEND)
    return session_of(request)


@router.post("/account/code", response=NewCode)
def new_code(request: HttpRequest, body: NoCode) -> NewCode:
    """A secret for a device; it counts once a code of it is given."""
    user = person(request)
    _knows(user, body.password)
    if factor.asked(user):
        raise Refused(409, "code", "A code is asked for already. Take it off first.")
    secret, address = factor.begin(user)
    return NewCode(secret=secret, picture=segno.make(address, error="m").svg_inline(scale=4, omitsize=True))


@router.post("/account/code/confirmation", response=Spare)
def confirmed_code(request: HttpRequest, body: GivenCode) -> Spare:
    """From now on a code is asked for at sign-in."""
    user = person(request)
    codes = factor.confirm(user, body.code)
    note(user, "asks for a code at sign-in")
    return Spare(codes=codes)


@router.post("/account/code/removal", response=Account)
def no_code(request: HttpRequest, body: NoCode) -> Account:
    """No code is asked for any more."""
    user = person(request)
    _knows(user, body.password)
    factor.take_off(user)
    note(user, "took the code off")
    return _account(request, user)


@router.post("/account/sessions/{session}/end", response=Account)
def session_ended(request: HttpRequest, session: UUID, body: Nothing) -> Account:
    """End one of one's own sessions."""
    user = person(request)
    with transaction.atomic():
        people.end_one(user, session)
    return _account(request, user)
