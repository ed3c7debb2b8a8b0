"""What the board shows of an install, worked out from its plan and its records after every change of either."""

from __future__ import annotations

from typing import Any

from accounts.models import User
from django.utils import timezone
from installs.models import Install
from leitung_core.result import Brief
from leitung_core.result.progress import Recorded, progress

from records.standing import open_visit, recorded


def refresh(install: Install, brief: Brief, author: User, standing: Recorded | None = None) -> None:
    """Set the board's fields of an install after a change by somebody, and save it."""

    def records() -> Recorded:
        return standing or recorded(install, brief.start_up)

    def visit() -> str | None:
        there = open_visit(install)
        return there.why if there else None

    found = progress(brief, records, install.signed_revision, install.revision, visit)
    install.name, install.site, install.found_by = brief.name, brief.site, brief.found_by or brief.name
    install.station = found.station
    install.next, install.stuck_on = found.next[:300], (found.stuck_on or "")[:400]
    install.changed_at, install.changed_by = timezone.now(), author
    install.save()


def on_revision(sender: type[Install], install: Install, brief: Brief, author: User, **more: Any) -> None:
    """A revision was written."""
    refresh(install, brief, author)
