"""What the board shows of an install, worked out from its plan and its records after every change."""

from __future__ import annotations

from django.utils import timezone
from leitung_core.result import PlanResult
from leitung_core.commissioning.progress import Records, progress
from leitung_core.commissioning.steps import start_up
from leitung_core.plan.model import Plan

from installs.models import Install


def refresh(install: Install, plan: Plan, result: PlanResult) -> None:
    """Set the board's fields of an install and save it."""
    from records.standing import standing

    def records() -> Records:
        startup = start_up(plan)
        now = standing(install, startup)
        return startup, now.done, now.verdicts

    found = progress(plan, result, records, install.signed_revision, install.revision)
    install.name, install.site = plan.name, plan.site.name or ""
    install.station, install.rank = found.station, found.rank
    install.next, install.stuck_on = found.next[:300], (found.stuck_on or "")[:400]
    install.changed_at = timezone.now()
    install.save()
