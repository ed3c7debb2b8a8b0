"""A company's data taken out whole, and deleted whole: what a customer who leaves may ask for."""

from __future__ import annotations

import base64
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import orjson
from accounts.models import AccessLink, Company, SecondFactor, SignedIn, User, Write
from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.contrib.sessions.models import Session
from django.db import connection, transaction
from django.db.models import Model
from documents.bag import write_bag
from documents.models import Sheet
from installs import actions
from installs.models import Install, RevisionResult, Shelf
from links.models import ReaderLink
from photos import store
from photos.models import Content
from practice.models import PracticeAnswer, PracticeCard, PracticeRound, PracticeShared
from psycopg import sql

from upkeep.guard import guarded

# What is somebody's own, and seen by nobody else.
PRIVATE = (PracticeAnswer, PracticeCard, PracticeShared)
# Of no use to anybody but here: secrets, what was answered, and what is worked out from the rest.
LEFT = (AccessLink, ReaderLink, SecondFactor, SignedIn, Write, Sheet, RevisionResult, PracticeRound, *PRIVATE)
SECRETS = ("password",)
READ_ME = """Everything of a company.

installs/   each install as a ZIP of open files that can be checked without Leitung; those in the bin are in the tables
tables/     every row, one JSON object a line, named as its columns; bytes as base64

Left out: passwords, secrets of codes, sessions, links; how somebody practises, which is their own; and what can be
worked out again from the rest.
"""


def tables() -> list[type[Model]]:
    """The people and every table of which each row belongs to a company."""
    return [User, *guarded()]


def take_out(company: Company, file: Path) -> dict[str, int]:
    """Write everything of a company to a ZIP; how many rows each table has. Raises OSError."""
    counted = {}
    part = file.with_name(file.name + ".part")
    try:
        with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as packed:
            packed.writestr("README.txt", READ_ME)
            for table in (model for model in tables() if model not in LEFT):
                name = table._meta.db_table
                with packed.open(f"tables/{name}.jsonl", "w") as lines:
                    counted[name] = 0
                    for row in _rows(company, table):
                        lines.write(orjson.dumps(row, default=_written) + b"\n")
                        counted[name] += 1
            _installs(company, packed)
        part.chmod(0o600)
        part.replace(file)
    finally:
        part.unlink(missing_ok=True)
    return counted


def _rows(company: Company, table: type[Model]) -> Iterator[dict[str, Any]]:
    for row in table._default_manager.filter(company=company).order_by("pk").values().iterator(200):
        yield {key: value for key, value in row.items() if key not in SECRETS}


def _written(value: Any) -> str:
    return base64.b64encode(value).decode() if isinstance(value, bytes | memoryview) else str(value)


def _installs(company: Company, packed: zipfile.ZipFile) -> None:
    for install in Install.objects.filter(company=company).exclude(shelf=Shelf.DELETED):
        with packed.open(f"installs/{install.id}.zip", "w", force_zip64=True) as into:
            write_bag(actions.checked(install), into)


@transaction.atomic
def delete(company: Company) -> int:
    """Delete a company with everything that is its own, over this connection, which is the owner's; how many rows.

    Records are append-only by triggers, which the owner alone may set aside: for this transaction.
    """
    people = list(User.objects.filter(company=company).values_list("username", flat=True))
    Session.objects.filter(session_key__in=SignedIn.objects.filter(company=company).values("session_key")).delete()
    for log in (AccessAttempt, AccessFailureLog, AccessLog):
        log.objects.filter(username__in=people).delete()
    files = list(Content.objects.filter(company=company, beside=True).values_list("company_id", "sha256"))
    total = 0
    for table in tables():
        name = sql.Identifier(table._meta.db_table)
        with connection.cursor() as cursor:
            cursor.execute(sql.SQL("ALTER TABLE {} DISABLE TRIGGER USER").format(name))
            # Keys are looked at once all is gone, at the end of the transaction.
            cursor.execute(sql.SQL("DELETE FROM {} WHERE company_id = %s").format(name), [company.id])
            total += cursor.rowcount
    company.delete()
    transaction.on_commit(lambda: store.forget(files))
    with connection.cursor() as cursor:
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
        for table in tables():
            cursor.execute(sql.SQL("ALTER TABLE {} ENABLE TRIGGER USER").format(sql.Identifier(table._meta.db_table)))
    return total
