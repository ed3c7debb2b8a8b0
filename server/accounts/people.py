"""A company's people: who joins by a link, what they may do, who has left; one's own password and sessions."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from datetime import timedelta
from uuid import UUID

from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils import timezone
from leitung_core.errors import InputError, Problem
from problems import Refused, not_found

from accounts.kept import digest
from accounts.models import AccessLink, Role, SignedIn, User
from accounts.trail import note

JOIN_FOR, RESET_FOR = timedelta(days=7), timedelta(hours=24)
MOST_OPEN = 50
Kind = AccessLink.Kind


def of_company(user: User) -> Sequence[User]:
    """The people of somebody's company, who has left last."""
    return list(User.objects.filter(company_id=user.company_id).order_by("-is_active", "display_name"))


def open_links(user: User) -> Sequence[AccessLink]:
    """Links that still serve."""
    mine = AccessLink.objects.filter(company_id=user.company_id, used_at=None, until__gt=timezone.now())
    return list(mine.order_by("at"))


@transaction.atomic
def invite(user: User, name: str, role: Role) -> tuple[AccessLink, str]:
    """A link by which somebody joins with a role; it is shown once."""
    if len(open_links(user)) >= MOST_OPEN:
        raise Refused(409, "full", f"{MOST_OPEN} links are open already. Take some back first.")
    note(user, f"invited as {role.value}", words=name)
    return _link(user, Kind.JOIN, name, role, None, JOIN_FOR)


@transaction.atomic
def reset(user: User, person: int) -> tuple[AccessLink, str]:
    """A link by which somebody sets a new password, instead of every such link before."""
    found = _find(user, person)
    AccessLink.objects.filter(user=found, used_at=None).update(until=timezone.now())
    note(user, "made a link for a new password", words=found.display_name)
    return _link(user, Kind.RESET, found.display_name, Role(found.role), found, RESET_FOR)


def _link(
    by: User, kind: AccessLink.Kind, name: str, role: Role, user: User | None, lasts: timedelta
) -> tuple[AccessLink, str]:
    token = secrets.token_urlsafe(32)
    made = AccessLink.objects.create(
        company_id=by.company_id, kind=kind, digest=digest(token), name=name, role=role, user=user, by=by,
        until=timezone.now() + lasts,
    )  # fmt: skip
    return made, token


@transaction.atomic
def withdraw(user: User, link: UUID) -> None:
    """A link serves no more."""
    done = AccessLink.objects.filter(company_id=user.company_id, id=link, used_at=None).update(until=timezone.now())
    if not done:
        raise not_found()
    note(user, "took a link back")


def behind(token: str) -> AccessLink:
    """What a link is for. Raises Refused alike for one that never was, has served, or is over."""
    found = AccessLink.objects.select_related("company", "user").filter(digest=digest(token)).first()
    if found is None or found.used_at is not None or found.until <= timezone.now():
        raise _over()
    return found


def _over() -> Refused:
    return Refused(404, "link", "This link serves no more. Ask your crew lead for another one.")


@transaction.atomic
def use(token: str, username: str, password: str) -> User:
    """Join by a link, or set a new password by it. Raises Refused and InputError; the link stays good then."""
    link = behind(token)
    # Used twice at once it serves one of the two.
    if not AccessLink.objects.filter(id=link.id, used_at=None).update(used_at=timezone.now()):
        raise _over()
    user = link.user
    if user is None:
        if User.objects.filter(username__iexact=username).exists():
            raise InputError(Problem("username", username, "is taken", "Choose another name to sign in with."))
        user = User(username=username, company=link.company, role=link.role, display_name=link.name)
    set_password(user, password)
    note(user, "joined" if link.kind == Kind.JOIN else "set a new password by a link")
    return user


def set_password(user: User, password: str) -> None:
    """Raises InputError for a password that is too easily guessed. Ends every session."""
    try:
        validate_password(password, user)
    except ValidationError as error:
        says = " ".join(error.messages).rstrip(".")
        raise InputError(Problem("password", "", f"{says[:1].lower()}{says[1:]}", "Choose another one.")) from None
    user.set_password(password)
    user.save()
    end_sessions(user)


@transaction.atomic
def put_role(user: User, person: int, role: Role) -> None:
    """What somebody may do from now on."""
    found = _find(user, person)
    _one_lead_stays(found, role is Role.LEAD)
    found.role = role
    found.save()
    note(user, f"made {role.value}", words=found.display_name)


@transaction.atomic
def leave(user: User, person: int) -> None:
    """Somebody has left: no sign-in any more, every session ended at once; what they did stays under their name."""
    found = _find(user, person)
    _one_lead_stays(found, False)
    found.is_active = False
    found.save()
    end_sessions(found)
    AccessLink.objects.filter(user=found, used_at=None).update(until=timezone.now())
    note(user, "said has left", words=found.display_name)


@transaction.atomic
def come_back(user: User, person: int) -> None:
    """Somebody is there again."""
    found = _find(user, person)
    found.is_active = True
    found.save()
    note(user, "said is there again", words=found.display_name)


def end_sessions(user: User, but: str | None = None) -> None:
    """End the sessions of somebody, all but one."""
    open_ = SignedIn.objects.filter(user=user).exclude(session_key=but or "")
    Session.objects.filter(session_key__in=open_.values_list("session_key", flat=True)).delete()
    open_.delete()


@transaction.atomic
def end_one(user: User, session: UUID) -> None:
    """End one of one's own sessions."""
    found = SignedIn.objects.filter(user=user, id=session).first()
    if found is None:
        raise not_found()
    Session.objects.filter(session_key=found.session_key).delete()
    found.delete()


def sessions(user: User) -> Sequence[SignedIn]:
    """The sessions of somebody that are still open."""
    mine = SignedIn.objects.filter(user=user).values_list("session_key", flat=True)
    open_ = Session.objects.filter(expire_date__gt=timezone.now(), session_key__in=mine)
    alive = set(open_.values_list("session_key", flat=True))
    return [one for one in SignedIn.objects.filter(user=user) if one.session_key in alive]


def _find(user: User, person: int) -> User:
    found = User.objects.select_for_update().filter(company_id=user.company_id, id=person).first()
    if found is None:
        raise not_found()
    return found


def _one_lead_stays(found: User, leads: bool) -> None:
    """A company without a lead could let nobody in any more."""
    if leads or found.role != Role.LEAD:
        return
    others = User.objects.filter(company_id=found.company_id, role=Role.LEAD, is_active=True).exclude(id=found.id)
    if not others.exists():
        raise Refused(409, "last-lead", "This is the only lead. Make somebody else a lead first.")
