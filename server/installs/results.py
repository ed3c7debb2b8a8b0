"""The result of a revision: computed once, kept, shared by every process that asks for it.

A revision never changes, so its result does not either. It is kept in the process for the next change, and in the
database for all others; results of an earlier engine are worked out anew.
"""

from __future__ import annotations

import hashlib
import json
import logging
import os
import zlib
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cache, partial
from importlib.resources import files
from pathlib import Path
from threading import Lock
from typing import Any, TypeVar
from uuid import UUID

from accounts.scope import Scope, seeing
from django.db import connection, transaction
from leitung_core.circuits.result import CircuitResult
from leitung_core.plan.model import FORMAT_VERSION, Plan, dump_plan, read_plan
from leitung_core.result import Brief, PlanResult, check_and_brief

from installs.models import Install, PlanRevision, RevisionResult

MOST_IN_MEMORY = 24
MOST_KEPT = 3
MOST_LINES = 2000
logger = logging.getLogger(__name__)


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
_lines: OrderedDict[int, tuple[CircuitResult, str]] = OrderedDict()
_waiting: dict[UUID, Callable[[], None]] = {}
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


def compute(plan: Plan, document: dict[str, Any]) -> Revision:
    """A plan checked; `document` is the plan as JSON data."""
    return Revision(plan, document, *check_and_brief(plan))


def revision_at(install: Install, number: int) -> Revision:
    """A revision with its result: as this process has it, else as it is kept, else worked out.

    What is worked out is kept where it will stay: of the last few, and of the signed one.
    """
    found = _recall(_memory, (install.id, number))
    if found is not None:
        return found
    document = document_at(install, number)
    row = _row(install, number)
    if row is None:
        found = compute(read_plan(document), document)
        if number > install.revision - MOST_KEPT or number == install.signed_revision:
            _keep_beside(install, number, found)
    else:
        result = PlanResult.model_validate_json(zlib.decompress(bytes(row.body)))
        plan = read_plan(document)
        found = Revision(plan, document, result, Brief.model_validate_json(zlib.decompress(bytes(row.brief))))
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


def _packed(text: str) -> bytes:
    return zlib.compress(text.encode(), 1)


def _as_json(result: PlanResult) -> str:
    """A result as JSON; the lines that a change left alone are written out once, and not with every revision."""
    rest = result.model_dump_json(exclude={"circuits"})
    lines = ",".join(f"{json.dumps(key)}:{_line_as_json(line)}" for key, line in result.circuits.items())
    return f'{rest[:-1]},"circuits":{{{lines}}}}}'


def _line_as_json(line: CircuitResult) -> str:
    with _lock:
        kept = _lines.get(id(line))
    if kept is None:
        # The line is held as well: as long as it is, no other has its id.
        kept = line, line.model_dump_json()
        with _lock:
            _lines[id(line)] = kept
            while len(_lines) > MOST_LINES:
                _lines.popitem(last=False)
    return kept[1]


def _keep(install: Install, number: int, found: Revision) -> None:
    """Keep the result of a revision that is written. Of an install's, the last few stay, and the signed one."""
    body, brief = _packed(_as_json(found.result)), _packed(found.brief.model_dump_json())
    kept = {"engine": engine(), "body": body, "brief": brief, "company_id": install.company_id}
    # One statement: several who worked out the same at once do not wait for each other's transactions.
    RevisionResult.objects.bulk_create(
        [RevisionResult(install=install, number=number, **kept)], update_conflicts=True,
        unique_fields=["company", "install", "number"], update_fields=list(kept),
    )  # fmt: skip
    old = RevisionResult.objects.filter(install=install, number__lte=number - MOST_KEPT)
    if install.signed_revision is not None:
        old = old.exclude(number=install.signed_revision)
    old._raw_delete(old.db)


def _keep_beside(install: Install, number: int, found: Revision) -> None:
    """Keep what was worked out on the way: not within a write's transaction, which others would wait for."""
    keep = partial(_keep, install, number, found)
    if connection.in_atomic_block:
        transaction.on_commit(partial(later, install, keep))
    else:
        keep()


def written(install: Install, number: int, found: Revision) -> None:
    """Keep a result with its revision: whoever sees the one finds the other, in whichever process.

    It is held here once the revision is really written: a number that was rolled back is used again.
    """
    _keep(install, number, found)
    transaction.on_commit(partial(_remember, _memory, (install.id, number), found))


@cache
def _behind() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(max_workers=1, thread_name_prefix="results")


def later(install: Install, job: Callable[[], None]) -> None:
    """Do a job of the database after the request, in this process; a newer one for the same install replaces it."""
    with _lock:
        _waiting[install.id] = job

    def done() -> None:
        with _lock:
            newest = _waiting.pop(install.id, None)
        if newest is None:
            return
        try:
            with seeing(Scope(install.company_id)):
                newest()
        except Exception:
            logger.exception("A result could not be kept; it is worked out again when it is asked for.")
        finally:
            connection.close()

    _behind().submit(done)


def settle() -> None:
    """Wait until everything that is done later is done."""
    _behind().submit(lambda: None).result()


def forget() -> None:
    """Let go of what this process holds."""
    with _lock:
        _memory.clear()
        _briefs.clear()
