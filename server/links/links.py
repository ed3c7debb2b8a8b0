"""Who reads what without an account: links made, taken back, and the address of each.

An address holds a code over what it opens, made with the link's own key: none can be guessed, and none can be turned
into that of something else.
"""

from __future__ import annotations

import base64
import hashlib
import hmac
from datetime import date, datetime, timedelta
from uuid import UUID

from accounts.models import User
from accounts.trail import note
from django.db import transaction
from django.utils import timezone
from installs import actions
from installs.models import Install, Shelf
from leitung_core.errors import InputError, Problem
from problems import Refused, not_found

from links.models import ReaderLink

Scope = ReaderLink.Scope
CODE_LENGTH = 22  # 128 bits, more than can be tried
LONGEST = {Scope.LABELS: timedelta(days=25 * 366)}
USUALLY_LONGEST = timedelta(days=2 * 366)
MOST_OPEN = 50


def code_of(link: ReaderLink, about: str) -> str:
    """The code of an address: over its link and what of it is opened."""
    said = f"{link.id} {link.scope} {about}".encode()
    made = hmac.new(link.key.encode(), said, hashlib.sha256).digest()
    return base64.urlsafe_b64encode(made).decode()[:CODE_LENGTH]


def path_of(link: ReaderLink, line: str | None = None) -> str:
    """The address of a link; of a line's label where it is that of the labels."""
    if line is None:
        return f"/read/{link.id}/{code_of(link, link.about)}"
    return f"/read/{link.id}/{code_of(link, line)}/{line}"


def opened(link_id: UUID, code: str, line: str | None) -> ReaderLink | None:
    """The link behind an address; None alike for one that never was, was changed, is over or was taken back."""
    link = ReaderLink.objects.select_related("install", "company", "by").filter(id=link_id).first()
    if link is None or (line is not None) != (link.scope == Scope.LABELS):
        return None
    if not hmac.compare_digest(code.encode(), code_of(link, link.about if line is None else line).encode()):
        return None
    return link if is_open(link) else None


def is_open(link: ReaderLink) -> bool:
    """Whether it still serves: not over, not taken back, its install not deleted."""
    there = link.install.shelf != Shelf.DELETED
    return there and link.ended_at is None and link.until > timezone.now()


def of_install(install: Install) -> list[ReaderLink]:
    """Every link of an install, the newest first."""
    return list(ReaderLink.objects.filter(install=install).select_related("by", "install"))


def labels_link(install: Install) -> ReaderLink | None:
    """The link under which the labels' codes open without an account, where there is one."""
    rows = ReaderLink.objects.filter(install=install, scope=Scope.LABELS, ended_at=None, until__gt=timezone.now())
    return rows.order_by("-at").first()


@transaction.atomic
def make(
    user: User, install_id: UUID, scope: ReaderLink.Scope, about: str, name: str, until: datetime,
    warranty_until: date | None = None,
) -> ReaderLink:  # fmt: skip
    """Make a link. Raises Refused and InputError."""
    install = actions.find(user, install_id, lock=True)
    _fits(install, scope, about)
    longest = LONGEST.get(scope, USUALLY_LONGEST)
    now = timezone.now()
    if not now < until <= now + longest:
        remedy = f"Choose a day within the next {longest.days // 366} years."
        raise InputError(Problem("until", until.date().isoformat(), "is not a day until which it can serve", remedy))
    if scope == Scope.LABELS and labels_link(install):
        raise Refused(409, "labels", "The labels' codes are open already. Take that link back first.")
    if sum(is_open(link) for link in of_install(install)) >= MOST_OPEN:
        raise Refused(409, "full", f"{MOST_OPEN} links are open already. Take some back first.")
    note(user, f"made a link: {scope.value}", about=install.id, words=name)
    return ReaderLink.objects.create(
        company_id=user.company_id, install=install, scope=scope, about=about, name=name, until=until, by=user,
        warranty_until=warranty_until,
    )  # fmt: skip


def _fits(install: Install, scope: ReaderLink.Scope, about: str) -> None:
    plan = actions.checked(install).plan
    groups: dict[str, set[str]] = {Scope.LINE: set(plan.circuits), Scope.DEVICE: set(plan.devices)}
    if scope in groups and about not in groups[scope]:
        known = ", ".join(sorted(groups[scope])[:8]) or "none"
        raise InputError(Problem("about", about, f"is no {scope.value} of this plan", f"The plan has: {known}."))
    if scope not in groups and about:
        raise InputError(Problem("about", about, "is not asked for here", "Leave it out."))


@transaction.atomic
def end(user: User, install_id: UUID, link_id: UUID) -> None:
    """Take a link back: it serves no more from now on."""
    install = actions.find(user, install_id)
    done = ReaderLink.objects.filter(install=install, id=link_id, ended_at=None).update(ended_at=timezone.now())
    if not done:
        raise not_found()
    note(user, "took a link back", about=install.id)
