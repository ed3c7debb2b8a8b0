"""The tests' database: what is tested works in it as the application's role, some set-up as the owner."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.conf import settings
from django.db import connection as of_this_thread


def as_application(connection: Any, **_: Any) -> None:
    """What is tested has the rights of the application's role; the tests themselves see everybody's rows."""
    from accounts.scope import EVERYONE

    with connection.cursor() as cursor:
        cursor.execute(f"SET ROLE {settings.DATABASE_ROLE}")
        cursor.execute("SELECT set_config('leitung.everyone', 'on', false)")
    connection.leitung_scope = EVERYONE


@contextmanager
def as_owner(connection: Any = of_this_thread) -> Iterator[None]:
    """Whatever makes, migrates and empties tables."""
    with connection.cursor() as cursor:
        cursor.execute("RESET ROLE")
    try:
        yield
    finally:
        if not connection.needs_rollback:
            as_application(connection)
