"""Who saw and changed what: an entry for every write, and for each install that somebody looks at, once an hour."""

from __future__ import annotations

import logging
from datetime import timedelta
from uuid import UUID

from django.db import DatabaseError
from django.utils import timezone

from accounts.models import TrailEntry, User

log = logging.getLogger(__name__)
# Looked at again within so long it is the same look.
ONE_LOOK = timedelta(hours=1)
SAW, PRINTED = "saw", "printed"


def note(user: User, did: str, about: UUID | None = None, words: str = "") -> None:
    """Note what somebody did."""
    TrailEntry.objects.create(company_id=user.company_id, user=user, did=did[:120], about=about, words=words[:200])


def note_a_look(user: User, did: str, about: UUID) -> None:
    """Note that somebody saw something, unless they did so shortly before."""
    since = timezone.now() - ONE_LOOK
    mine = TrailEntry.objects.filter(company_id=user.company_id, user=user, did=did, about=about, at__gte=since)
    try:
        if not mine.exists():
            note(user, did, about)
    except DatabaseError:
        # Whoever stands before a panel gets the figures, also where nothing more can be kept.
        log.exception("a look could not be noted")
