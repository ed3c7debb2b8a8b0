"""The application's own role in the database: it reads and writes rows, and may change no table and no rule.

Tables, triggers and policies belong to the owner, who makes and migrates them. The application cannot switch off what
keeps records append-only, cannot empty a table at one stroke, and sees the rows of one company at a time.
"""

from __future__ import annotations

from collections.abc import Iterator

from accounts.models import Company, User
from django.apps import apps
from django.db import connection
from django.db.backends.utils import CursorWrapper
from django.db.models import Model
from psycopg import sql

POLICY = "rows_of_a_company"
MINE = (
    "company_id = nullif(current_setting('leitung.company', true), '')::bigint "
    "OR current_setting('leitung.everyone', true) = 'on'"
)
# Somebody is looked up by name before it is known whose they are.
NOT_APART: tuple[type[Model], ...] = (Company, User)


def guarded() -> Iterator[type[Model]]:
    """The tables of which each row belongs to a company."""
    for model in apps.get_models():
        if model not in NOT_APART and any(field.name == "company" for field in model._meta.local_fields):
            yield model


def guard(role: str, password: str | None = None) -> None:
    """Make the role as it is to be, over this connection, which is the owner's; without a password it is there already.

    Does nothing that is done already, so that a running application is not held up.
    """
    name = sql.Identifier(role)
    with connection.cursor() as cursor:
        if password is not None:
            # As the server keeps it: a message that quotes the statement gives nothing away.
            kept = connection.connection.pgconn.encrypt_password(password.encode(), role.encode(), b"scram-sha-256")
            _role(cursor, name, role, kept.decode())
        cursor.execute(sql.SQL(
            "GRANT USAGE ON SCHEMA public TO {0};"
            "GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO {0};"
            "GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA public TO {0};"
            "REVOKE INSERT, UPDATE, DELETE ON django_migrations FROM {0}"
        ).format(name))  # fmt: skip
        for model in guarded():
            _apart(cursor, model._meta.db_table)


def _role(cursor: CursorWrapper, name: sql.Identifier, role: str, secret: str) -> None:
    """Several may do so at once, each in a database of its own: the role is the whole server's."""
    cursor.execute(sql.SQL(
        "DO $$ BEGIN "
        "BEGIN "
        "  IF NOT EXISTS (SELECT 1 FROM pg_roles WHERE rolname = {1}) THEN CREATE ROLE {0} LOGIN; END IF; "
        "EXCEPTION WHEN duplicate_object OR unique_violation THEN NULL; "
        "END; "
        "LOOP "
        "  BEGIN "
        "    ALTER ROLE {0} LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE NOREPLICATION NOBYPASSRLS PASSWORD {2}; EXIT; "
        "  EXCEPTION WHEN internal_error THEN PERFORM pg_sleep(0.1); "  # another has just altered it
        "  END; "
        "END LOOP; "
        "END $$"
    ).format(name, sql.Literal(role), sql.Literal(secret)))  # fmt: skip


def _apart(cursor: CursorWrapper, table: str) -> None:
    cursor.execute(
        "SELECT c.relrowsecurity AND EXISTS (SELECT 1 FROM pg_policy WHERE polrelid = c.oid AND polname = %s) "
        "FROM pg_class c WHERE c.oid = %s::regclass",
        [POLICY, table],
    )
    if not cursor.fetchone()[0]:
        cursor.execute(
            sql.SQL(
                "ALTER TABLE {0} ENABLE ROW LEVEL SECURITY;"
                "DROP POLICY IF EXISTS {1} ON {0};"
                "CREATE POLICY {1} ON {0} USING ({2}) WITH CHECK ({2})"
            ).format(sql.Identifier(table), sql.Identifier(POLICY), sql.SQL(MINE))
        )
