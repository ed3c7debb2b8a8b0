"""The rulebook as data, and what another edition or amendment would change in an install, without changing it."""

from __future__ import annotations

from datetime import date
from functools import cache
from typing import Any
from uuid import UUID

from accounts.roles import person
from django.http import HttpRequest
from leitung_core.result import check_plan
from leitung_core.result.compare import Comparison, compare
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.rulebook import known_amendments, schools
from leitung_core.rulebook.book import TABLES
from leitung_core.rulebook.schools import Amendment, School
from leitung_core.rulebook.tables import read_table
from ninja import Router
from pydantic import BaseModel

from installs import actions

router = Router(tags=["rulebook"])


class EditionOut(BaseModel):
    """An edition at hand. `from_day` is the edition's own; a local adoption may be later."""

    id: str
    title: str
    from_day: date
    uncertain: bool


class TableOut(BaseModel):
    """A table as data with its citation; rows marked uncertain say so in their last column."""

    id: str
    table: str
    title: str
    edition: str
    range: str
    columns: list[str]
    rows: list[list[str]]


class RulebookOut(BaseModel):
    """Everything that Leitung judges by."""

    editions: list[EditionOut]
    schools: dict[str, School]
    amendments: dict[str, Amendment]
    tables: list[TableOut]


class Trial(BaseModel):
    """A merge patch that is tried on the newest revision and not kept."""

    patch: dict[str, Any]


@cache
def _rulebook() -> RulebookOut:
    tables = []
    for name in TABLES:
        table = read_table(name)
        columns = list(table.rows[0])
        rows = [[row[column] or "" for column in columns] for row in table.rows]
        tables.append(
            TableOut(id=name, table=table.table, title=table.title, edition=table.edition, range=table.range,
                     columns=columns, rows=rows)
        )  # fmt: skip
    editions = [
        EditionOut(id=row["edition"], title=row["title"], from_day=date.fromisoformat(row["from"]),
                   uncertain=bool(row["uncertain"]))
        for row in read_table("editions").rows
    ]  # fmt: skip
    return RulebookOut(editions=editions, schools=dict(schools()), amendments=dict(known_amendments()), tables=tables)


@router.get("/rulebook", response=RulebookOut, exclude_none=True)
def rulebook(request: HttpRequest) -> RulebookOut:
    """Editions, tables with their articles, the questions on which practice differs, amendments that ship."""
    return _rulebook()


@router.post("/installs/{install_id}/trials", response=Comparison, exclude_none=True)
def trial(request: HttpRequest, install_id: UUID, body: Trial) -> Comparison:
    """What a change would do to this install's lines: figures and findings, before and after. Nothing is kept."""
    found = actions.state(actions.find(person(request), install_id))
    return compare(found.result, check_plan(read_plan(merge(found.document, body.patch))))
