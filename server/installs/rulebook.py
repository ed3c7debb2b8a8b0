"""The rulebook as data, and what another edition or amendment would change in an install, without changing it."""

from __future__ import annotations

from functools import cache
from typing import Annotated, Any
from uuid import UUID

from accounts.roles import person
from django.http import HttpRequest
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_plan
from leitung_core.result.compare import Comparison, compare
from leitung_core.rulebook import known_amendments, schools
from leitung_core.rulebook.book import TABLES
from leitung_core.rulebook.editions import NEWEST, Edition, editions
from leitung_core.rulebook.editions import edition as edition_of
from leitung_core.rulebook.schools import Amendment, School
from leitung_core.rulebook.tables import table_of
from ninja import Query, Router
from pydantic import BaseModel, Field

from installs import actions

router = Router(tags=["rulebook"])


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

    edition: str
    editions: list[Edition]
    schools: dict[str, School]
    amendments: dict[str, Amendment]
    tables: list[TableOut]


class Trial(BaseModel):
    """A merge patch that is tried on the newest revision and not kept."""

    patch: dict[str, Any]


class EditionQuery(BaseModel):
    """Whose tables are asked for; the newest edition's where nothing is said."""

    edition: Annotated[str, Field(max_length=60)] = NEWEST


@cache
def _rulebook(edition: str) -> RulebookOut:
    tables = []
    for name in TABLES:
        table = table_of(edition_of(edition), name)
        columns = list(table.rows[0])
        rows = [[row[column] or "" for column in columns] for row in table.rows]
        tables.append(
            TableOut(id=name, table=table.table, title=table.title, edition=table.edition, range=table.range,
                     columns=columns, rows=rows)
        )  # fmt: skip
    return RulebookOut(
        edition=edition, editions=list(editions().values()), schools=dict(schools()),
        amendments=dict(known_amendments()), tables=tables,
    )  # fmt: skip


@router.get("/rulebook", response=RulebookOut, exclude_none=True)
def rulebook(request: HttpRequest, query: Query[EditionQuery]) -> RulebookOut:
    """Editions, tables with their articles, the questions on which practice differs, amendments that ship."""
    return _rulebook(query.edition)


@router.post("/installs/{install_id}/trials", response=Comparison, exclude_none=True)
def trial(request: HttpRequest, install_id: UUID, body: Trial) -> Comparison:
    """What a change would do to this install's lines: figures and findings, before and after. Nothing is kept."""
    found = actions.checked(actions.find(person(request), install_id))
    return compare(found.result, check_plan(read_plan(merge(found.document, body.patch))))
