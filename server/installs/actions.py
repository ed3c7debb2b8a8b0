"""Changes to installs as named actions: create, change, undo, redo. Endpoints only call these."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from threading import Lock
from typing import Any
from uuid import UUID
from weakref import WeakValueDictionary

from accounts.models import User
from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone
from leitung_core.entry.typed import understood
from leitung_core.errors import InputError, PatchConflict, Problem
from leitung_core.plan.describe import describe
from leitung_core.plan.model import Plan, dump_plan, read_plan
from leitung_core.plan.patch import clash, diff, merge, touched
from leitung_core.plant.plant import Plant
from leitung_core.result import PlanResult
from leitung_core.wiring.draw import drawn_along
from leitung_core.wiring.exchange import exchange
from leitung_core.wiring.lists import read_list
from problems import Refused, not_found

from installs.models import Install, PlanRevision, Shelf
from installs.results import Revision, compute, revision_at, written
from installs.signals import revision_written

Kind = PlanRevision.Kind


@dataclass(frozen=True)
class Checked:
    """An install with its plan as it stands, and what is computed from it; after a change, what was before it."""

    install: Install
    revision: Revision
    before: PlanResult | None = None

    @property
    def plan(self) -> Plan:
        return self.revision.plan

    @property
    def document(self) -> dict[str, Any]:
        return self.revision.document

    @property
    def result(self) -> PlanResult:
        return self.revision.result


def find(user: User, install_id: UUID, lock: bool = False) -> Install:
    """The install, if it is of this person's company. Raises a refusal otherwise, the same as for none at all."""
    rows = Install.objects.filter(company_id=user.company_id, id=install_id)
    install = (rows.select_for_update(no_key=True) if lock else rows).first()
    if install is None:
        raise not_found()
    if install.shelf == Shelf.DELETED:
        raise Refused(404, "deleted", f"{install.name} was deleted. Bring it back on the board, under Deleted.")
    return install


def checked(install: Install) -> Checked:
    """The newest revision with its result."""
    return Checked(install, revision_at(install, install.revision))


@transaction.atomic
def create(user: User, document: dict[str, Any], summary: str, shelf: str = Shelf.OPEN) -> Checked:
    """A new install from a plan document, or a template."""
    plan = read_plan(document)
    found = compute(plan, dump_plan(plan))
    install = Install(company_id=user.company_id, shelf=shelf, changed_at=timezone.now())
    install.save()
    PlanRevision.objects.create(
        company_id=user.company_id,
        install=install,
        number=1,
        kind=Kind.CREATE,
        document=found.document,
        patch={},
        inverse={},
        summary=summary,
        author=user,
    )
    _written(install, found, user)
    return Checked(install, found)


def change(user: User, install_id: UUID, base: int, patch: dict[str, Any]) -> Checked:
    """Apply a merge patch made against revision `base` to the newest one, with what it brings along on the terminals.

    Quantities may stand in it as people type them. Raises PatchConflict where it touches an element that another
    change has touched since, InputError where a quantity cannot be read or the result is no plan.
    """
    patch = understood(patch)

    def made(install: Install) -> _Made:
        if not 1 <= base <= install.revision:
            problem = Problem("base_revision", base, "there is no such revision", f"The newest is {install.revision}.")
            raise InputError(problem)
        now = revision_at(install, install.revision)
        if base < install.revision:
            mine = diff(now.document, merge(now.document, patch))
            _refuse_clash(mine, PlanRevision.objects.filter(install=install, number__gt=base))
        return _Made(now, merge(now.document, patch), Kind.EDIT)

    found = _carry_out(user, install_id, made)
    whole = base not in (found.install.revision, found.install.revision - 1)
    return replace(found, before=None) if whole else found


def earlier(install: Install, number: int) -> Checked:
    """The plan as it stood at a revision, with its result. Raises a refusal where there is no such revision."""
    if not 1 <= number <= install.revision:
        raise Refused(404, "no-revision", f"There is no revision {number}. The newest is {install.revision}.")
    return Checked(install, revision_at(install, number))


def bring_back(user: User, install_id: UUID, number: int, base: int) -> Checked:
    """The plan of an earlier revision as a change of its own, which can be taken back like any other.

    Raises a refusal where someone changed the plan after the revision `base` that this person was looking at.
    """

    def made(install: Install) -> _Made:
        if install.revision != base:
            message = f"The plan has changed meanwhile: revision {install.revision} is the newest. See it, then decide."
            raise Refused(409, "moved-on", message)
        then = earlier(install, number)
        return _Made(revision_at(install, install.revision), then.document, Kind.EDIT, number)

    return _carry_out(user, install_id, made)


def bring_landings(user: User, install_id: UUID, base: int, text: str) -> Checked:
    """Land what a CSV list says: all of it, or, with every wrong line named, nothing."""
    patch = read_list(Plant(checked(find(user, install_id)).plan), text)
    return change(user, install_id, base, patch)


def exchange_device(user: User, install_id: UUID, device: str, new: str, kind: str) -> Checked:
    """Put another device in the place of one, as the plan stands now; what was there is kept as found."""
    found = checked(find(user, install_id))
    return change(user, install_id, found.install.revision, exchange(Plant(found.plan), device, new, kind))


def _refuse_clash(patch: dict[str, Any], since: QuerySet[PlanRevision]) -> None:
    """Raise PatchConflict where the patch touches an element that one of these revisions has touched."""
    theirs = frozenset[str]().union(*(touched(row) for row in since.values_list("patch", flat=True)))
    both = clash(touched(patch), theirs)
    if both:
        raise PatchConflict(both)


@dataclass(frozen=True)
class _Made:
    """A change on its way: what it was made from, the document that it makes, and what kind of change it is."""

    now: Revision
    document: dict[str, Any]
    kind: str
    of: int | None = None


TRIES = 12
TURN_S = 10.0
_turns: WeakValueDictionary[UUID, Lock] = WeakValueDictionary()
_turns_lock = Lock()


@contextmanager
def _turn(install_id: UUID) -> Iterator[None]:
    """One change of an install is worked out at a time: of several at once all but one would be worked out in vain.

    Of this process alone, and nobody waits for long: it saves work, it keeps nothing right.
    """
    with _turns_lock:
        turn = _turns.setdefault(install_id, Lock())
    mine = turn.acquire(timeout=TURN_S)
    try:
        yield
    finally:
        if mine:
            turn.release()


def _carry_out(user: User, install_id: UUID, make: Callable[[Install], _Made]) -> Checked:
    """Work a change out without holding anybody up, then write it; where another came first, work it out anew."""
    with _turn(install_id):
        for _ in range(TRIES):
            install = find(user, install_id)
            made = make(install)
            fresh = _computed(made)
            with transaction.atomic():
                there = find(user, install_id, lock=True)
                if there.revision == install.revision:
                    return _append(user, there, made, fresh)
    raise Refused(503, "busy", "Many are changing this install at once. Nothing was changed; send it again.")


def _computed(made: _Made) -> Revision:
    """The revision that a change makes: an edit brings its cables and landings along, in the same change."""
    plan = read_plan(made.document)
    if made.kind == Kind.EDIT and made.of is None and (along := drawn_along(made.now.plan, plan)):
        plan = read_plan(merge(dump_plan(plan), along))
    document = dump_plan(plan)
    return made.now if document == made.now.document else compute(plan, document)


def _append(user: User, install: Install, made: _Made, fresh: Revision) -> Checked:
    """The next revision; none where the change changes nothing."""
    before = made.now.document
    if fresh is made.now:
        return Checked(install, fresh, made.now.result)
    install.revision += 1
    real = diff(before, fresh.document)
    PlanRevision.objects.create(
        company_id=install.company_id,
        install=install,
        number=install.revision,
        kind=made.kind,
        of=made.of,
        document=fresh.document,
        patch=real,
        inverse=diff(fresh.document, before),
        summary=describe(before, real)[:1000],
        author=user,
    )
    _written(install, fresh, user)
    return Checked(install, fresh, made.now.result)


def _written(install: Install, fresh: Revision, author: User) -> None:
    """What follows from a revision that is written: its result is kept, and whoever listens is told."""
    written(install, install.revision, fresh)
    revision_written.send(sender=Install, install=install, brief=fresh.brief, author=author)


@dataclass(frozen=True)
class Stacks:
    """Revision numbers that this person may undo and redo, the next one last."""

    undo: list[int]
    redo: list[int]


def stacks(user: User, install: Install) -> Stacks:
    """Replay this person's own changes: each takes back their own, never another's."""
    undo: list[int] = []
    redo: list[int] = []
    rows = PlanRevision.objects.filter(install=install, author=user, brought__isnull=True).order_by("number")
    for number, kind, of in rows.values_list("number", "kind", "of"):
        if kind == Kind.EDIT:
            undo.append(number)
            redo.clear()
        elif kind == Kind.UNDO and of is not None:
            undo.remove(of)
            redo.append(of)
        elif kind == Kind.REDO and of is not None:
            redo.remove(of)
            undo.append(of)
    return Stacks(undo, redo)


def step_back(user: User, install_id: UUID) -> Checked:
    """Undo this person's last change that still stands."""
    return _replay(user, install_id, Kind.UNDO)


def step_forward(user: User, install_id: UUID) -> Checked:
    """Bring back the last change that this person took back."""
    return _replay(user, install_id, Kind.REDO)


def _replay(user: User, install_id: UUID, kind: str) -> Checked:
    def made(install: Install) -> _Made:
        found = stacks(user, install)
        stack = found.undo if kind == Kind.UNDO else found.redo
        if not stack:
            raise Refused(409, "nothing-left", "There is nothing of yours left to take back or bring back here.")
        target = PlanRevision.objects.get(install=install, number=stack[-1])
        # What others changed since on the same element must not be lost; own revisions nest and cancel out.
        patch = target.inverse if kind == Kind.UNDO else target.patch
        since = PlanRevision.objects.filter(install=install, number__gt=target.number)
        _refuse_clash(patch, since.exclude(author=user))
        now = revision_at(install, install.revision)
        return _Made(now, merge(now.document, patch), kind, target.number)

    return _carry_out(user, install_id, made)
