"""Whose rows a connection sees. The database itself holds each company's rows apart (`upkeep/guard.py`): a query that
forgets its company finds nothing of another one, and without a scope nothing at all.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from django.db import connection
from django.db.backends.signals import connection_created
from django.db.models import Model

SET = "SELECT set_config('leitung.company', %s, false), set_config('leitung.everyone', %s, false)"


@dataclass(frozen=True)
class Scope:
    """One company's rows, everybody's, or none."""

    company: int | None = None
    everyone: bool = False


NOBODY, EVERYONE = Scope(), Scope(everyone=True)


def current() -> Scope:
    """The scope of this thread's connection."""
    found: Scope = getattr(connection, "leitung_scope", NOBODY)
    return found


def enter(scope: Scope) -> None:
    """See these rows from now on, on this thread's connection."""
    # Within a transaction what is set goes with it when it is undone: there nothing is taken for known.
    if current() == scope and not connection.in_atomic_block:
        return
    with connection.cursor() as cursor:
        cursor.execute(SET, [str(scope.company or ""), "on" if scope.everyone else ""])
    connection.leitung_scope = scope  # type: ignore[attr-defined]


@contextmanager
def seeing(scope: Scope) -> Iterator[None]:
    """See these rows for as long as this lasts."""
    before = current()
    enter(scope)
    try:
        yield
    finally:
        if not connection.needs_rollback:
            enter(before)


@contextmanager
def of(table: type[Model], key: Any) -> Iterator[None]:
    """See the rows of the company to which a row belongs; those of nobody where there is none."""
    with seeing(EVERYONE):
        company = table._default_manager.filter(pk=key).values_list("company_id", flat=True).first()
    with seeing(Scope(company)):
        yield


def _forget(**_: Any) -> None:
    """A fresh connection sees nothing."""
    connection.leitung_scope = NOBODY  # type: ignore[attr-defined]


connection_created.connect(_forget, dispatch_uid="leitung scope")
