"""Shared by all tests."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from django.conf import settings as django_settings
from django.core.signals import request_finished
from django.db import OperationalError, connection
from django.db.backends.postgresql.operations import DatabaseOperations
from django.db.backends.signals import connection_created
from hypothesis import HealthCheck, settings

from tests.database import as_application, as_owner

# Timing says nothing on a shared machine; the same examples every time keep a red run reproducible.
settings.register_profile("leitung", deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
settings.load_profile("leitung")


def everyone_again(**_: Any) -> None:
    from accounts.scope import EVERYONE, enter

    if connection.connection is not None and not connection.needs_rollback:
        enter(EVERYONE)


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup: None, django_db_blocker: Any) -> Iterator[None]:
    """A database with its owner's rules, in which the application works in its own role."""
    from upkeep.guard import guard
    from upkeep.keys import carry_the_company

    database = django_settings.CONFIG["database"]
    with django_db_blocker.unblock():
        carry_the_company()
        guard(django_settings.DATABASE_ROLE, database["role_password"])
        connection.close()
    empty = DatabaseOperations.execute_sql_flush

    def by_owner(self: DatabaseOperations, sql_list: list[str]) -> None:
        """Between tests the tables are emptied at one stroke: that is the owner's."""
        for last in (False, False, True):
            try:
                with as_owner(self.connection):
                    return empty(self, sql_list)
            except OperationalError:
                # A reader of the test before that had not ended yet held a table: by now it has its answer.
                if last:
                    raise

    DatabaseOperations.execute_sql_flush = by_owner  # type: ignore[method-assign]
    connection_created.connect(as_application, dispatch_uid="tests")
    request_finished.connect(everyone_again, dispatch_uid="tests")
    yield
    connection_created.disconnect(dispatch_uid="tests")
    DatabaseOperations.execute_sql_flush = empty  # type: ignore[method-assign]
