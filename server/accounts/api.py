"""Signing in and out, with throttling of failed attempts."""

from __future__ import annotations

from typing import Annotated, Literal

from axes.handlers.proxy import AxesProxyHandler
from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.signals import user_login_failed
from django.db import transaction
from django.http import HttpRequest
from django.middleware.csrf import get_token
from leitung_core.validation import Text
from ninja import Router
from ninja.utils import check_csrf
from problems import Refused
from pydantic import BaseModel, Field, StringConstraints

from accounts import factor, trail
from accounts.limits import not_too_many, one_at_a_time
from accounts.models import User
from accounts.roles import may
from accounts.scope import EVERYONE, seeing

router = Router(tags=["session"])
BACKEND = "django.contrib.auth.backends.ModelBackend"


class SignIn(BaseModel):
    """A name and a password, and where it is asked for a code of the moment."""

    username: Text
    password: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    code: Annotated[str, StringConstraints(max_length=20)] | None = None


class Person(BaseModel):
    """Who is signed in."""

    username: str
    name: str
    company: str
    role: str
    may: list[Literal["plan", "record", "sign", "people"]]


class Session(BaseModel):
    """The session: who, if anybody, and the token that every write sends back as X-CSRFToken."""

    csrf_token: str
    person: Person | None = Field(None)


def session_of(request: HttpRequest) -> Session:
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
    return session_of(request)


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
    assert isinstance(user, User)
    with seeing(EVERYONE), transaction.atomic():
        asked = factor.asked(user)
        wrong = asked and body.code and not factor.right(user, body.code)
    if wrong:
        user_login_failed.send(sender=sign_in, credentials=credentials, request=request)
        raise Refused(422, "wrong-code", "That code is not good, or was used already. Type the next one.")
    if asked and not body.code:
        raise Refused(422, "code", "Type the code that your device shows now, or one of your spare codes.")
    with seeing(EVERYONE):
        login(request, user, BACKEND)
        trail.note(user, "signed in")
    return session_of(request)


def _resting() -> Refused:
    detail = "Too many failed attempts. This name rests for 15 minutes; ask your crew lead if you forgot the password."
    return Refused(429, "throttled", detail)


@router.delete("/session", response=Session, exclude_none=True)
def sign_out(request: HttpRequest) -> Session:
    """Sign out."""
    logout(request)
    return session_of(request)
