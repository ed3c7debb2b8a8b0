"""The work of the worker: a week's plan is looked for, kept whenever it gets better, ended when it is told to."""

from __future__ import annotations

import logging
from uuid import UUID

from accounts.models import User
from accounts.scope import of
from procrastinate.contrib.django import app

from weeks import actions
from weeks.models import CrewWeek

log = logging.getLogger(__name__)


@app.task(queue="analyses")
def carry_out(week: str, person: str, revision: int) -> None:
    """Look for the plan of one week, as the person who asked for it sees its installs."""
    with of(CrewWeek, UUID(week)):
        try:
            actions.carry_out(UUID(week), User.objects.get(id=person), revision)
        except Exception as error:
            log.exception("week %s failed", week)
            actions.fail(UUID(week), f"{type(error).__name__}: {error}")
