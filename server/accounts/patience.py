"""Nobody waits for ever for a database that hangs: one that is stopped, or cut off, does not hold its own limits."""

from __future__ import annotations

from functools import partial
from typing import Any

from django.conf import settings
from django.db.backends.signals import connection_created
from psycopg import OperationalError


def _within(connection: Any, wait: Any, gen: Any, interval: float = 0.1, timeout: float | None = None) -> Any:
    """Wait for the server's answer, as long as a statement may take and a little; then let go of the connection."""
    try:
        return wait(gen, interval=interval, timeout=timeout or settings.DATABASE_ANSWERS_S)
    except OperationalError:
        # What it would answer later is for nobody any more.
        if not connection.closed and connection.info.transaction_status.name == "ACTIVE":
            connection.pgconn.finish()
        raise


def _impatient(connection: Any, **_: Any) -> None:
    if settings.DATABASE_ANSWERS_S:
        ours = connection.connection
        ours.wait = partial(_within, ours, ours.wait)


connection_created.connect(_impatient, dispatch_uid="leitung patience")
