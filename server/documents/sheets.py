"""Printed sheets are made by the worker, once for what they say, and kept: no click costs the server its cores."""

from __future__ import annotations

import hashlib
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from datetime import timedelta
from typing import Any
from uuid import UUID

from accounts.models import User
from bench.models import Analysis
from catalogue.models import OwnPrice
from django.conf import settings
from django.db import models, transaction
from django.utils import timezone
from installs import actions
from installs.actions import Checked
from installs.models import Install
from leitung_core.loadout.rows import LoadOut
from photos.models import Photo
from problems import Refused
from records import models as records
from records.packing import ordered, taken_along

from documents.control import control_paper
from documents.estimate import estimate_paper
from documents.landings import conductor_labels_paper, landings_paper
from documents.loadout import loadout_paper
from documents.models import Sheet
from documents.package import directory_paper, labels_paper, line_paper, schedule_paper
from documents.paper import Paper, Printed
from documents.record import record_paper
from documents.together import together
from documents.trials import trials_paper

Make = Callable[[Checked, User, str], Printed]
Status = Sheet.Status
# A request waits so long for a sheet; then it says how far it is and looks again.
WAIT_S, LOOK_EACH_S = 4.0, 0.1
MOST_AT_ONCE = 8
STALLED = timedelta(seconds=180)
KEEP = timedelta(days=7)
OF_AN_INSTALL: tuple[type[models.Model], ...] = (*records.Record.__subclasses__(), Photo)
FAULT = (500, "fault", "The sheet could not be made. Nothing was changed; if it happens again, report it.")


@dataclass(frozen=True)
class Kind:
    """A kind of sheet: how it is made, and how its file is called beside the plan's name."""

    make: Make
    name: str


def landings(found: Checked, user: User, what: str) -> Paper:
    """Of `device:D`, of `cable:C`, or of everything."""
    group, _, key = what.partition(":")
    return landings_paper(found, user, key if group == "device" else None, key if group == "cable" else None)


def asked_for(found: Checked, what: str) -> LoadOut:
    """Everything to take along, or of it what is still to be bought."""
    taken = taken_along(found.revision)
    return ordered(found.install, taken) if what == "buy" else taken


KINDS: dict[str, Kind] = {
    "record": Kind(lambda found, user, _: record_paper(found, user), ""),
    "estimate": Kind(lambda found, user, _: estimate_paper(found, user), "estimate"),
    "schedule": Kind(lambda found, user, _: schedule_paper(found, user), "schedule"),
    "line": Kind(line_paper, "line"),
    "directory": Kind(lambda found, user, _: directory_paper(found, user), "directory"),
    "package": Kind(lambda found, user, parts: together(found, user, parts.split()), "package"),
    "labels": Kind(labels_paper, "labels"),
    "landings": Kind(landings, "landings"),
    "controls": Kind(control_paper, "controls"),
    "trials": Kind(lambda found, user, _: trials_paper(found, user), "trials"),
    "load-out": Kind(lambda found, user, what: loadout_paper(found, user, asked_for(found, what)), "load-out"),
    "conductor-labels": Kind(lambda found, user, _: conductor_labels_paper(found, user), "conductor labels"),
}  # fmt: skip


def stands(install: Install) -> str:
    """A digest over all that a sheet of this install may say: revision, records, the crew's prices and hours."""
    total = hashlib.sha256(f"{install.id} {install.revision}".encode())
    mine: dict[str, object] = {"install": install}
    crews: dict[str, object] = {"company_id": install.company_id}
    tables: list[tuple[type[models.Model], dict[str, object], str]] = [(table, mine, "at") for table in OF_AN_INSTALL]
    tables += [(Analysis, mine, "touched"), (records.WorkEntry, crews, "at"), (OwnPrice, crews, "at")]
    for table, where, at in tables:
        found = table._default_manager.filter(**where).aggregate(count=models.Count("pk"), last=models.Max(at))
        total.update(f"{table.__name__} {found['count']} {found['last']};".encode())
    return total.hexdigest()


def sheet_of(user: User, install_id: UUID, kind: str, what: str = "") -> Sheet:
    """A sheet as it stands: made already, or asked for now and waited for a little. Raises Refused."""
    install = actions.find(user, install_id)
    sheet = _asked(user, install, kind, what, stands(install))
    until = time.monotonic() + WAIT_S
    while sheet.status in (Status.QUEUED, Status.RUNNING) and time.monotonic() < until:
        time.sleep(LOOK_EACH_S)
        sheet.refresh_from_db()
    if sheet.status == Status.FAILED:
        status, code, detail = sheet.refused or FAULT
        raise Refused(status, code, detail)
    return sheet


def on_signature(sender: type[Install], install: Install, user: User, **more: Any) -> None:
    """Who has signed takes the package along next: it is made meanwhile, where somebody else makes it."""
    if settings.SHEETS_BY_WORKER:
        with suppress(Refused):
            _asked(user, install, "package", "", stands(install))


def before(sheet: Sheet) -> int:
    """How many others are made first."""
    return Sheet.objects.filter(status__in=(Status.QUEUED, Status.RUNNING), at__lt=sheet.at).count()


def _asked(user: User, install: Install, kind: str, what: str, state: str) -> Sheet:
    named = {"company_id": user.company_id, "install": install, "kind": kind, "what": what, "stands": state}
    known = Sheet.objects.filter(**named).first()
    if known is not None and not _dead(known):
        return known
    waiting = Sheet.objects.filter(asked_by=user, status__in=(Status.QUEUED, Status.RUNNING))
    if known is None and waiting.count() >= MOST_AT_ONCE:
        raise Refused(429, "busy", f"{MOST_AT_ONCE} sheets are being made for you already. Wait for one of them.")
    with transaction.atomic():
        if known is not None:
            known.delete()
        sheet, created = Sheet.objects.get_or_create(**named, defaults={"asked_by": user})
        if created and settings.SHEETS_BY_WORKER:
            from documents.tasks import carry_out as task

            task.defer(sheet=str(sheet.id))
    if created and not settings.SHEETS_BY_WORKER:
        carry_out(sheet.id)
        sheet.refresh_from_db()
    return sheet


def _dead(sheet: Sheet) -> bool:
    """One that failed for no reason of its own, or of which nothing was heard for too long, is asked for anew."""
    if sheet.status == Status.FAILED:
        return sheet.refused is None
    return sheet.status == Status.RUNNING and timezone.now() - sheet.touched > STALLED


def carry_out(sheet_id: UUID) -> None:
    """Make a sheet. What its making refuses is kept with it."""
    begun = Sheet.objects.filter(id=sheet_id, status=Status.QUEUED)
    if not begun.update(status=Status.RUNNING, touched=timezone.now()):
        return
    sheet = Sheet.objects.select_related("asked_by").get(id=sheet_id)
    mine = Sheet.objects.filter(id=sheet_id)
    try:
        found = actions.checked(actions.find(sheet.asked_by, sheet.install_id))
        body = KINDS[sheet.kind].make(found, sheet.asked_by, sheet.what).pdf()
    except Refused as refused:
        mine.update(status=Status.FAILED, refused=[refused.status, refused.code, refused.detail])
    else:
        mine.update(status=Status.DONE, body=body, touched=timezone.now())


def fail(sheet_id: UUID) -> None:
    """Mark one that broke off: it is made anew when it is asked for again."""
    Sheet.objects.filter(id=sheet_id).update(status=Status.FAILED, touched=timezone.now())


def clear_old() -> None:
    """Let go of sheets that have lain: they are made again when somebody asks."""
    Sheet.objects.filter(at__lt=timezone.now() - KEEP).delete()
