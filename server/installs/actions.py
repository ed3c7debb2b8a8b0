"""Changes to installs as named actions: create, change, undo, redo. Endpoints only call these."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, replace
from typing import Any
from uuid import UUID

from accounts.models import User
from config.problems import Refused, not_found
from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone
from leitung_core.result import PlanResult, check_plan
from leitung_core.errors import InputError, PatchConflict, Problem
from leitung_core.plan.describe import describe
from leitung_core.plan.model import FORMAT_VERSION, Plan, dump_plan, read_plan
from leitung_core.plan.patch import clash, diff, merge, touched
from leitung_core.plant.plant import Plant
from leitung_core.wiring.exchange import exchange
from leitung_core.wiring.lists import read_list

from installs.board import refresh
from installs.models import Install, PlanRevision

Kind = PlanRevision.Kind


@dataclass(frozen=True)
class State:
    """An install with its plan as it stands, and what is computed from it; after a change, what was before it."""

    install: Install
    plan: Plan
    document: dict[str, Any]
    result: PlanResult
    before: PlanResult | None = None


def find(user: User, install_id: UUID, lock: bool = False) -> Install:
    """The install, if it is of this person's company. Raises a refusal otherwise, the same as for none at all."""
    rows = Install.objects.filter(company_id=user.company_id, id=install_id)
    install = (rows.select_for_update() if lock else rows).first()
    if install is None:
        raise not_found()
    return install


def newest_document(install: Install) -> dict[str, Any]:
    """The plan document of the newest revision, in the newest version of the format whenever it was written."""
    kept = PlanRevision.objects.values_list("document", flat=True).get(install=install, number=install.revision)
    return dump_plan(read_plan(kept)) if kept.get("format_version") != FORMAT_VERSION else kept


def state(install: Install) -> State:
    """The newest revision, checked."""
    document = newest_document(install)
    plan = read_plan(document)
    return State(install, plan, document, check_plan(plan))


@transaction.atomic
def create(user: User, document: dict[str, Any], summary: str) -> State:
    """A new install from a plan document."""
    plan = read_plan(document)
    result, document = check_plan(plan), dump_plan(plan)
    install = Install(company_id=user.company_id, rank=0, changed_at=timezone.now())
    install.save()
    PlanRevision.objects.create(
        company_id=user.company_id,
        install=install,
        number=1,
        kind=Kind.CREATE,
        document=document,
        patch={},
        inverse={},
        summary=summary,
        author=user,
    )
    refresh(install, plan, result)
    return State(install, plan, document, result)


@transaction.atomic
def change(user: User, install_id: UUID, base: int, patch: dict[str, Any]) -> State:
    """Apply a merge patch made against revision `base` to the newest one.

    Raises PatchConflict where it touches an element that another change has touched since, InputError where the
    result is no plan.
    """
    install = find(user, install_id, lock=True)
    if not 1 <= base <= install.revision:
        problem = Problem("base_revision", base, "there is no such revision", f"The newest is {install.revision}.")
        raise InputError(problem)
    document = newest_document(install)
    before = _result_of(install, document) if base == install.revision else None
    mine = diff(document, merge(document, patch))
    if base < install.revision:
        _refuse_clash(mine, PlanRevision.objects.filter(install=install, number__gt=base))
    return replace(_append(user, install, document, patch, Kind.EDIT, None), before=before)


@transaction.atomic
def bring_landings(user: User, install_id: UUID, base: int, text: str) -> State:
    """Land what a CSV list says: all of it, or, with every wrong line named, nothing."""
    patch = read_list(Plant(read_plan(newest_document(find(user, install_id, lock=True)))), text)
    return change(user, install_id, base, patch)


@transaction.atomic
def exchange_device(user: User, install_id: UUID, device: str, new: str, kind: str) -> State:
    """Put another device in the place of one, as the plan stands now; what was there is kept as found."""
    install = find(user, install_id, lock=True)
    plant = Plant(read_plan(newest_document(install)))
    return change(user, install_id, install.revision, exchange(plant, device, new, kind))


_KEPT: OrderedDict[tuple[UUID, int], PlanResult] = OrderedDict()
_KEPT_MOST = 16


def _result_of(install: Install, document: dict[str, Any]) -> PlanResult:
    """The result of the newest revision: as it was kept when that was written, else worked out."""
    kept = _KEPT.get((install.id, install.revision))
    return kept if kept is not None else check_plan(read_plan(document))


def _remember(install_id: UUID, revision: int, result: PlanResult) -> None:
    """Keep the result of a revision that is really written: a number that was rolled back is used again."""

    def keep() -> None:
        _KEPT[install_id, revision] = result
        while len(_KEPT) > _KEPT_MOST:
            _KEPT.popitem(last=False)

    transaction.on_commit(keep)


def _refuse_clash(patch: dict[str, Any], since: QuerySet[PlanRevision]) -> None:
    """Raise PatchConflict where the patch touches an element that one of these revisions has touched."""
    theirs = frozenset[str]().union(*(touched(row) for row in since.values_list("patch", flat=True)))
    both = clash(touched(patch), theirs)
    if both:
        raise PatchConflict(both)


def _append(
    user: User, install: Install, before: dict[str, Any], patch: dict[str, Any], kind: str, of: int | None
) -> State:
    """The revision after `patch`; none where the patch changes nothing."""
    plan = read_plan(merge(before, patch))
    document, result = dump_plan(plan), check_plan(plan)
    if document == before:
        return State(install, plan, document, result)
    install.revision += 1
    real = diff(before, document)
    PlanRevision.objects.create(
        company_id=install.company_id,
        install=install,
        number=install.revision,
        kind=kind,
        of=of,
        document=document,
        patch=real,
        inverse=diff(document, before),
        summary=describe(before, real)[:1000],
        author=user,
    )
    refresh(install, plan, result)
    _remember(install.id, install.revision, result)
    return State(install, plan, document, result)


@dataclass(frozen=True)
class Stacks:
    """Revision numbers that this person may undo and redo, the next one last."""

    undo: list[int]
    redo: list[int]


def stacks(user: User, install: Install) -> Stacks:
    """Replay this person's own changes: each takes back their own, never another's."""
    undo: list[int] = []
    redo: list[int] = []
    rows = PlanRevision.objects.filter(install=install, author=user).order_by("number")
    for number, kind, of in rows.values_list("number", "kind", "of"):
        if kind == Kind.EDIT:
            undo.append(number)
            redo.clear()
        elif kind == Kind.UNDO:
            undo.remove(of)
            redo.append(of)
        elif kind == Kind.REDO:
            redo.remove(of)
            undo.append(of)
    return Stacks(undo, redo)


@transaction.atomic
def step_back(user: User, install_id: UUID) -> State:
    """Undo this person's last change that still stands."""
    return _replay(user, install_id, Kind.UNDO)


@transaction.atomic
def step_forward(user: User, install_id: UUID) -> State:
    """Bring back the last change that this person took back."""
    return _replay(user, install_id, Kind.REDO)


def _replay(user: User, install_id: UUID, kind: str) -> State:
    install = find(user, install_id, lock=True)
    found = stacks(user, install)
    stack = found.undo if kind == Kind.UNDO else found.redo
    if not stack:
        raise Refused(409, "nothing-left", "There is nothing of yours left to take back or bring back here.")
    target = PlanRevision.objects.get(install=install, number=stack[-1])
    # What others changed since on the same element must not be lost; own revisions nest and cancel out.
    patch = target.inverse if kind == Kind.UNDO else target.patch
    _refuse_clash(patch, PlanRevision.objects.filter(install=install, number__gt=target.number).exclude(author=user))
    return _append(user, install, newest_document(install), patch, kind, target.number)
