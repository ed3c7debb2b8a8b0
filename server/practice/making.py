"""Rounds take a second or more of a core: the worker makes them, once."""

from __future__ import annotations

import logging
from datetime import timedelta
from uuid import UUID

from accounts.scope import of
from django.conf import settings
from django.utils import timezone
from leitung_core.practice.rounds import make_round, offers
from procrastinate.contrib.django import app

from practice.grounds import ground
from practice.models import PracticeRound

KEEP = timedelta(days=60)
log = logging.getLogger(__name__)


def have_made(row: PracticeRound) -> None:
    """Have a round made; without a worker beside, at once."""
    if settings.SHEETS_BY_WORKER:
        carry_out.defer(round=str(row.id))
    else:
        make(row)


def make(row: PracticeRound) -> None:
    """Make a round. One that cannot be asked is kept as such."""
    plan = ground(row.plan)
    offer = next((one for one in offers(plan) if (one.level, one.about) == (row.level, row.about)), None)
    made = make_round(plan, offer, row.seed) if offer else None
    row.status = PracticeRound.Status.DONE if made else PracticeRound.Status.NONE
    row.body = made.model_dump(mode="json") if made else None
    row.save(update_fields=["status", "body"])


@app.task(queue="documents")
def carry_out(round: str) -> None:  # noqa: A002 the name that the queue keeps
    """Make one round."""
    with of(PracticeRound, UUID(round)):
        row = PracticeRound.objects.filter(id=round, status=PracticeRound.Status.QUEUED).first()
        if row is None:
            return
        try:
            make(row)
        except Exception:
            log.exception("round %s failed", round)
            PracticeRound.objects.filter(id=round).update(status=PracticeRound.Status.NONE)


def clear_old() -> None:
    """Let go of rounds that nobody answered, and of those long answered: how they went is kept with the topic."""
    PracticeRound.objects.filter(at__lt=timezone.now() - KEEP).delete()
