"""The result of a revision: computed once, kept, shared by every process that asks for it.

A revision never changes, so its result does not either. It is kept in the process for the next change, and in the
database for all others; results of an earlier engine are worked out anew.
"""

from __future__ import annotations

import hashlib
import os
import zlib
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from pathlib import Path
from threading import Lock
from typing import Any, TypeVar
from uuid import UUID

from django.db import transaction
from leitung_core.plan.model import FORMAT_VERSION, Plan, dump_plan, read_plan
from leitung_core.result import Brief, PlanResult, brief_of, check_plan
from pydantic import BaseModel

from installs.models import Install, PlanRevision, RevisionResult

MOST_IN_MEMORY = 24
MOST_KEPT = 3


@dataclass(frozen=True)
class Revision:
    """A plan as it stood at a revision, and what is computed from it."""

    plan: Plan
    document: dict[str, Any]
    result: PlanResult
    brief: Brief


@cache
def engine() -> str:
    """What computes here: a digest over the core's code and tables, and over the editions that the machine names."""
    total = hashlib.blake2b(digest_size=16)
    homes = [Path(str(files("leitung_core")))]
    homes += [Path(part) for part in os.environ.get("LEITUNG_EDITIONS", "").split(os.pathsep) if part]
    for home in homes:
        for file in sorted(file for file in home.rglob("*") if file.suffix in (".py", ".json", ".csv")):
            total.update(file.relative_to(home).as_posix().encode() + file.read_bytes())
    return total.hexdigest()


_memory: OrderedDict[tuple[UUID, int], Revision] = OrderedDict()
_briefs: OrderedDict[tuple[UUID, int], Brief] = OrderedDict()
_lock = Lock()
Found = TypeVar("Found")


def _recall(memory: OrderedDict[tuple[UUID, int], Found], key: tuple[UUID, int]) -> Found | None:
    with _lock:
        found = memory.get(key)
        if found is not None:
            memory.move_to_end(key)
        return found


def _remember(memory: OrderedDict[tuple[UUID, int], Found], key: tuple[UUID, int], value: Found) -> None:
    with _lock:
        memory[key] = value
        while len(memory) > MOST_IN_MEMORY:
            memory.popitem(last=False)


def document_at(install: Install, number: int) -> dict[str, Any]:
    """The plan document of a revision, in the newest version of the format whenever it was written."""
    kept = PlanRevision.objects.values_list("document", flat=True).get(install=install, number=number)
    return dump_plan(read_plan(kept)) if kept.get("format_version") != FORMAT_VERSION else kept


def compute(document: dict[str, Any]) -> Revision:
    """A plan document read and checked. Raises InputError where it is no plan."""
    plan = read_plan(document)
    result = check_plan(plan)
    return Revision(plan, dump_plan(plan), result, brief_of(plan, result))


def revision_at(install: Install, number: int) -> Revision:
    """A revision with its result: as this process has it, else as it is kept, else worked out and kept."""
    found = _recall(_memory, (install.id, number))
    if found is not None:
        return found
    document = document_at(install, number)
    row = _row(install, number)
    if row is None:
        found = compute(document)
        keep(install, number, found)
    else:
        result = PlanResult.model_validate_json(zlib.decompress(bytes(row.body)))
        plan = read_plan(document)
        found = Revision(plan, document, result, brief_of(plan, result))
    _remember(_memory, (install.id, number), found)
    return found


def brief_at(install: Install, number: int) -> Brief:
    """What records need of a revision's result, without the rest of it."""
    found = _recall(_briefs, (install.id, number))
    if found is not None:
        return found
    whole = _recall(_memory, (install.id, number))
    row = _row(install, number) if whole is None else None
    if whole is not None:
        found = whole.brief
    elif row is not None:
        found = Brief.model_validate_json(zlib.decompress(bytes(row.brief)))
    else:
        found = revision_at(install, number).brief
    _remember(_briefs, (install.id, number), found)
    return found


def _row(install: Install, number: int) -> RevisionResult | None:
    return RevisionResult.objects.filter(install=install, number=number, engine=engine()).first()


def _packed(model: BaseModel) -> bytes:
    return zlib.compress(model.model_dump_json().encode(), 1)


def keep(install: Install, number: int, found: Revision) -> None:
    """Keep the result of a revision that is written. Of an install's, the last few stay, and the signed one."""
    kept = {"engine": engine(), "body": _packed(found.result), "brief": _packed(found.brief),
            "company_id": install.company_id}  # fmt: skip
    RevisionResult.objects.update_or_create(install=install, number=number, defaults=kept)
    old = RevisionResult.objects.filter(install=install, number__lte=number - MOST_KEPT)
    if install.signed_revision is not None:
        old = old.exclude(number=install.signed_revision)
    old.delete()


def on_commit_remember(install_id: UUID, number: int, found: Revision) -> None:
    """Hold a result in this process once it is really written: a number that was rolled back is used again."""
    hold: Callable[[], None] = lambda: _remember(_memory, (install_id, number), found)  # noqa: E731
    transaction.on_commit(hold)


def forget() -> None:
    """Let go of what this process holds."""
    with _lock:
        _memory.clear()
        _briefs.clear()
