"""What the worker does by itself, once a day."""

from __future__ import annotations

import logging
from datetime import timedelta

from accounts.models import Write
from accounts.scope import EVERYONE, seeing
from bench.models import Analysis
from django.db import transaction
from django.utils import timezone
from documents import sheets
from documents.models import Sheet
from installs import shelves
from installs.models import Install, PlanRevision, RevisionResult
from installs.results import document_at
from leitung_core.plan.model import found_by, read_plan
from links.models import ReaderLink, ReaderLook
from photos import store
from photos.models import Content, Photo
from practice import making
from practice.models import PracticeRound
from procrastinate.contrib.django import app
from records import models as records

KEEP_ANSWERS = timedelta(days=60)
log = logging.getLogger(__name__)
# Everything that belongs to an install, what refers to something else first.
PARTS = (
    Sheet, ReaderLook, ReaderLink, records.VisitReading, records.VisitEnd, records.Visit,
    records.StepEntry, records.TestEntry, records.TrialEntry, records.SettingEntry, records.LandingEntry,
    records.PackingEntry, records.WorkEntry, records.ForgottenEntry, records.OpenItemClosing, records.OpenItem,
    records.Reading, records.Signature, Photo, Analysis, RevisionResult, PlanRevision,
)  # fmt: skip


@app.periodic(cron="17 3 * * *")
@app.task(queue="upkeep", queueing_lock="clear-out")
def clear_out(timestamp: int) -> None:
    """Take away for good what was deleted and has lain its time."""
    with seeing(EVERYONE):
        for install in list(shelves.gone()):
            with transaction.atomic():
                take_away(install)
            forget_files()
            log.info("install %s was deleted on %s and is gone for good", install.id, install.shelved_at)


@app.periodic(cron="41 3 * * *")
@app.task(queue="upkeep", queueing_lock="clear-kept")
def clear_kept(timestamp: int) -> None:
    """Let go of answers, sheets and rounds of practice that have served."""
    with seeing(EVERYONE):
        clear_answers()
        sheets.clear_old()
        making.clear_old()


def forget_files() -> None:
    """Let go of bytes that no photo shows any more, in the database and beside it."""
    rows = Content.objects.filter(photo=None)
    gone = list(rows.filter(beside=True).values_list("company_id", "sha256"))
    rows.delete()
    store.forget(gone)


def clear_answers() -> None:
    """A client tries again within minutes, or when it has a signal again; an answer kept for two months has served."""
    Write.objects.filter(at__lt=timezone.now() - KEEP_ANSWERS).delete()


def fill_found_by() -> None:
    """Installs of an earlier release are found by what their plans say, too."""
    for install in Install.objects.filter(found_by=""):
        install.found_by = found_by(read_plan(document_at(install, install.revision)))
        install.save(update_fields=["found_by"])


def take_away(install: Install) -> None:
    """One install with all that belongs to it. The database refuses it before its time."""
    for table in PARTS:
        rows = table.objects.filter(install=install)
        rows._raw_delete(rows.db)
    PracticeRound.objects.filter(company_id=install.company_id, plan__startswith=f"{install.id}.").delete()
    install.delete()
