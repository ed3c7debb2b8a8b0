"""Every key of a company's rows carries the company: a row cannot point at another company's, and tables can be
distributed by company over several databases.

Django knows a key by its own column alone; in the database the company stands beside it. Made by the owner at each
`prepare`, so that a table which is added later has it too; what is so already is left alone.
"""

from __future__ import annotations

from typing import NamedTuple

from accounts.models import User
from django.db import connection, transaction
from django.db.backends.utils import CursorWrapper
from psycopg import sql

from upkeep.guard import guarded

COMPANY = "company_id"
PLAIN = "plain_key_of_"
FOUND = """
SELECT c.conname, c.contype, c.conrelid::regclass::text, c.confrelid::regclass::text,
       ARRAY(SELECT attname FROM unnest(c.conkey) WITH ORDINALITY AS k(number, place)
             JOIN pg_attribute ON attrelid = c.conrelid AND attnum = k.number ORDER BY place),
       ARRAY(SELECT attname FROM unnest(c.confkey) WITH ORDINALITY AS k(number, place)
             JOIN pg_attribute ON attrelid = c.confrelid AND attnum = k.number ORDER BY place)
FROM pg_constraint c
WHERE c.conrelid = ANY (%s::regclass[])
  AND (c.contype IN ('p', 'u') OR c.contype = 'f' AND c.confrelid = ANY (%s::regclass[]))
ORDER BY c.conname
"""


class Key(NamedTuple):
    """A primary (p), unique (u) or foreign (f) key: of which table, over which columns, to which."""

    name: str
    kind: str
    table: str
    to: str
    columns: list[str]
    to_columns: list[str]

    @property
    def carries_the_company(self) -> bool:
        return COMPANY in self.columns and (self.kind != "f" or COMPANY in self.to_columns)


def keys() -> list[Key]:
    """The keys of every table of a company, and those by which they point at one another and at people."""
    with connection.cursor() as cursor:
        # Before its migration a table is not there yet.
        there = {table.name for table in connection.introspection.get_table_list(cursor)}
        ours = [model._meta.db_table for model in guarded() if model._meta.db_table in there]
        cursor.execute(FOUND, [ours, [table for table in (*ours, User._meta.db_table) if table in there]])
        return [Key(*row) for row in cursor.fetchall()]


def plain_for_now() -> None:
    """A migration points at a table by its own key alone: each has that beside, until the company is put in again."""
    every = keys()
    there = {key.name for key in every}
    with transaction.atomic(), connection.cursor() as cursor:
        for key in every:
            name = f"{PLAIN}{key.table}"
            if key.kind == "p" and key.carries_the_company and name not in there:
                own = [column for column in key.columns if column != COMPANY]
                cursor.execute(sql.SQL("ALTER TABLE {} ADD CONSTRAINT {} UNIQUE ({})").format(
                    sql.Identifier(key.table), sql.Identifier(name), _columns(own)
                ))  # fmt: skip


def carry_the_company() -> None:
    """Put the company into each key that does not carry it yet, over this connection, which is the owner's."""
    every = [key for key in keys() if not key.carries_the_company]
    plain = [key for key in every if key.name.startswith(PLAIN)]
    without = [key for key in every if key not in plain]
    pointing = [key for key in without if key.kind == "f"]
    with transaction.atomic(), connection.cursor() as cursor:
        for key in pointing:
            _dropped(cursor, key)
        for key in plain:
            _dropped(cursor, key)
        for key in without:
            if key.kind != "f":
                _dropped(cursor, key)
                _unique(cursor, key)
        _people(cursor)
        for key in pointing:
            _points(cursor, key)


def _dropped(cursor: CursorWrapper, key: Key) -> None:
    cursor.execute(
        sql.SQL("ALTER TABLE {} DROP CONSTRAINT {}").format(sql.Identifier(key.table), sql.Identifier(key.name))
    )


def _unique(cursor: CursorWrapper, key: Key) -> None:
    kind = sql.SQL("PRIMARY KEY" if key.kind == "p" else "UNIQUE")
    cursor.execute(sql.SQL("ALTER TABLE {} ADD CONSTRAINT {} {} ({})").format(
        sql.Identifier(key.table), sql.Identifier(key.name), kind, _columns([*key.columns, COMPANY])
    ))  # fmt: skip


def _points(cursor: CursorWrapper, key: Key) -> None:
    cursor.execute(sql.SQL(
        "ALTER TABLE {} ADD CONSTRAINT {} FOREIGN KEY ({}) REFERENCES {} ({}) DEFERRABLE INITIALLY DEFERRED"
    ).format(
        sql.Identifier(key.table), sql.Identifier(key.name), _columns([*key.columns, COMPANY]),
        sql.Identifier(key.to), _columns([*key.to_columns, COMPANY]),
    ))  # fmt: skip


def _people(cursor: CursorWrapper) -> None:
    """A person's name is unique over all companies, by which they sign in; rows point at them within their own."""
    cursor.execute("SELECT 1 FROM pg_constraint WHERE conname = 'person_of_a_company'")
    if not cursor.fetchone():
        cursor.execute(sql.SQL("ALTER TABLE {} ADD CONSTRAINT person_of_a_company UNIQUE (id, company_id)").format(
            sql.Identifier(User._meta.db_table)
        ))  # fmt: skip


def _columns(names: list[str]) -> sql.Composed:
    return sql.SQL(", ").join(map(sql.Identifier, names))
