"""Every entry of an install as it is kept, written into its bag and read back: the same rows, ids and times.

Who entered something goes with it by name. Read back, its author is whoever brought it in, and the name stands beside:
nobody becomes the author of what they did not enter here.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import date, datetime
from typing import Any
from uuid import UUID

from accounts.models import Authored, User
from django.core.exceptions import ValidationError
from django.db import models
from installs.models import Install, PlanRevision
from leitung_core.errors import InputError, Problem
from leitung_core.plan.patch import merge
from photos.models import Content, Photo
from records import models as records

# What refers to something else comes after it.
TABLES: dict[str, type[Any]] = {
    "revisions": PlanRevision, "steps": records.StepEntry, "tests": records.TestEntry,
    "trials": records.TrialEntry, "settings": records.SettingEntry, "landings": records.LandingEntry,
    "readings": records.Reading, "open_items": records.OpenItem, "closings": records.OpenItemClosing,
    "packing": records.PackingEntry, "forgotten": records.ForgottenEntry, "work": records.WorkEntry,
    "signatures": records.Signature, "photos": Photo,
    "visits": records.Visit, "visit_readings": records.VisitReading, "visit_ends": records.VisitEnd,
}  # fmt: skip
# A file of an earlier release has none of these.
LATER = {"visits", "visit_readings", "visit_ends"}
# Of the database it is in; a photo's content is its file.
OWN = {"company", "install", "author", "brought", "content"}
MOST = 200_000


def write_entries(install: Install) -> dict[str, list[dict[str, Any]]]:
    """All of them, by table, the earliest first."""
    return {name: list(_written(install, table)) for name, table in TABLES.items()}


def _fields(table: type[Any]) -> list[models.Field[Any, Any]]:
    """Those that go along. A revision's key is its number: that of its row is this database's own."""
    left = OWN | ({"id"} if table is PlanRevision else set())
    return [field for field in table._meta.concrete_fields if field.name not in left]


def _written(install: Install, table: type[Any]) -> Iterator[dict[str, Any]]:
    order = ["number"] if table is PlanRevision else ["at", "id"]
    rows = table._default_manager.filter(install=install).select_related("author").order_by(*order)
    if table is Photo:
        rows = rows.filter(removed_at=None).select_related("author", "content")
    document: Any = None
    for row in rows.iterator(200):
        found = {field.attname: _plain(getattr(row, field.attname)) for field in _fields(table)}
        if isinstance(row, PlanRevision):
            # A plan is what its change makes of the one before, and only else written out.
            if document is not None and merge(document, row.patch) == row.document:
                del found["document"]
            document = row.document
        if isinstance(row, Photo):
            found["sha256"] = row.content.sha256
        yield {**found, "by": row.by, "name_of": row.who}


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, datetime | date) else str(value) if isinstance(value, UUID) else value


def read_entries(kept: Any, install: Install, user: User) -> dict[str, list[Authored]]:
    """The rows that a bag's entries make, of an install and brought in by somebody; not saved yet.

    Raises InputError, naming the entry and its field.
    """
    if (
        not isinstance(kept, dict)
        or not set(TABLES) - LATER <= set(kept) <= set(TABLES)
        or not all(isinstance(rows, list) for rows in kept.values())
    ):
        raise InputError(Problem("entries", None, "is not of this release", "Bring in a file written by this Leitung."))
    if sum(len(rows) for rows in kept.values()) > MOST:
        raise InputError(Problem("entries", None, "are too many", f"At most {MOST} can be brought in."))
    found: dict[str, list[Authored]] = {}
    for name, table in TABLES.items():
        found[name], document = [], None
        for number, row in enumerate(kept.get(name, [])):
            if table is PlanRevision and isinstance(row, dict) and "document" not in row:
                row = {**row, "document": merge(document, _of(row, "patch", dict))}
            entry = _read(f"entries.{name}.{number}", row, table, install, user)
            document = getattr(entry, "document", None)
            found[name].append(entry)
    return found


def _read(where: str, row: Any, table: type[Any], install: Install, user: User) -> Authored:
    if not isinstance(row, dict):
        raise InputError(Problem(where, None, "is no entry", "Bring in the file as it was written."))
    entry: Authored = table(company_id=install.company_id, install=install, author=user)
    for field in _fields(table):
        if field.attname not in row:
            raise InputError(Problem(f"{where}.{field.attname}", None, "is missing", "Bring in the file as written."))
        try:
            value = field.to_python(row[field.attname])
            if (value is None and not field.null) or (field.choices and value not in dict(field.flatchoices)):
                raise ValueError
            field.run_validators(value)
        except (ValidationError, TypeError, ValueError, OverflowError):
            shown = str(row[field.attname])[:80]
            problem = Problem(
                f"{where}.{field.attname}", shown, "cannot be kept", "Bring in the file as it was written."
            )
            raise InputError(problem) from None
        setattr(entry, field.attname, value)
    entry.brought = {"by": _of(row, "by", str)[:150], "name": _of(row, "name_of", str)[:200]}
    if isinstance(entry, Photo):
        # Which bytes it asks for; they are kept with it once they were looked at.
        entry.content = Content(sha256=_of(row, "sha256", str))
    return entry


def _of(row: Mapping[str, Any], key: str, kind: type) -> Any:
    value = row.get(key)
    if not isinstance(value, kind):
        raise InputError(Problem(f"entries.{key}", None, "is missing", "Bring in the file as it was written."))
    return value
