"""Who may do what. One place: the endpoints ask here."""

from __future__ import annotations

from typing import cast

from django.http import HttpRequest
from problems import Refused

from accounts.models import Role, User

PLAN = (Role.LEAD,)
RECORD = (Role.LEAD, Role.CREW)
SIGN = (Role.LEAD,)
LEAD = (Role.LEAD,)


MAY = {"plan": PLAN, "record": RECORD, "sign": SIGN, "people": LEAD}


def may(user: User) -> list[str]:
    """What this person may do: plan, record, sign, see to people."""
    return [what for what, roles in MAY.items() if user.role in roles]


def person(request: HttpRequest) -> User:
    """The signed-in person."""
    return cast(User, request.user)


def allow(request: HttpRequest, roles: tuple[Role, ...]) -> User:
    """The signed-in person, if their role is among these; refused otherwise."""
    user = person(request)
    if user.role not in roles:
        names = " or ".join(str(role.value) for role in roles)
        raise Refused(403, "role", f"This is for: {names}. You are signed in as {user.role}. Ask your crew lead.")
    return user
