"""Signing in and out, with throttling of failed attempts."""

from __future__ import annotations

from typing import Annotated, Literal

from axes.handlers.proxy import AxesProxyHandler
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from leitung_core.validation import Text
from ninja import Router
from ninja.utils import check_csrf
from problems import Refused
from pydantic import BaseModel, Field, StringConstraints

from accounts.limits import not_too_many, one_at_a_time
from accounts.models import User
from accounts.roles import may

router = Router(tags=["session"])


class SignIn(BaseModel):
    """A name and a password."""

    username: Text
    password: Annotated[str, StringConstraints(min_length=1, max_length=200)]


class Person(BaseModel):
    """Who is signed in."""

    username: str
    name: str
    company: str
    role: str
    may: list[Literal["plan", "record", "sign"]]


class Session(BaseModel):
    """The session: who, if anybody, and the token that every write sends back as X-CSRFToken."""

    csrf_token: str
    person: Person | None = Field(None)


def _session(request: HttpRequest) -> Session:
    user = request.user
    found = None
    if isinstance(user, User):
        found = Person.model_validate({
            "username": user.username, "name": user.display_name, "company": user.company.name, "role": user.role,
            "may": may(user),
        })  # fmt: skip
    return Session(csrf_token=get_token(request), person=found)


@router.get("/session", response=Session, auth=None, exclude_none=True)
def session(request: HttpRequest) -> Session:
    """Who is signed in."""
    return _session(request)


@router.post("/session", response=Session, auth=None, exclude_none=True)
def sign_in(request: HttpRequest, body: SignIn) -> Session:
    """Sign in. After five failures the name rests for a quarter of an hour at that address, after forty the address."""
    if check_csrf(request, sign_in):
        raise Refused(403, "csrf", "The page is out of date. Load it again and sign in.")
    credentials = {"username": body.username}
    if not AxesProxyHandler.is_allowed(request, credentials):
        raise _resting()
    not_too_many(request)
    with one_at_a_time():
        user = authenticate(request, username=body.username, password=body.password)
    if user is None:
        if not AxesProxyHandler.is_allowed(request, credentials):
            raise _resting()
        raise Refused(422, "sign-in-failed", "That name and password do not belong together. Try again.")
    login(request, user)
    return _session(request)


def _resting() -> Refused:
    detail = "Too many failed attempts. This name rests for 15 minutes; ask your crew lead if you forgot the password."
    return Refused(429, "throttled", detail)


@router.delete("/session", response=Session, exclude_none=True)
def sign_out(request: HttpRequest) -> Session:
    """Sign out."""
    logout(request)
    return _session(request)
