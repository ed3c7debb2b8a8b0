"""Recording: ticking steps, readings and their corrections, open items, signing. Entries are added, never changed."""

from __future__ import annotations

import hashlib
from datetime import date
from typing import Any, TypeVar
from uuid import UUID

import orjson
from accounts.models import User
from config.problems import Refused, not_found
from django.db import transaction
from installs.actions import State, find, state
from installs.board import refresh
from installs.models import Install
from leitung_core.result import findings_of
from leitung_core.commissioning.judge import judge_reading
from leitung_core.commissioning.steps import LIVE_PHASES, ReadingPoint, StartStep, start_up
from leitung_core.control.judgement import judge
from leitung_core.control.system import system_of
from leitung_core.errors import InputError, Problem
from leitung_core.plant.plant import Plant

from records.models import OpenItem, OpenItemClosing, Reading, Signature, StepEntry

Entry = TypeVar("Entry", StartStep, ReadingPoint)


def _begin(user: User, install_id: UUID) -> State:
    return state(find(user, install_id, lock=True))


def _entry(user: User, found: State) -> dict[str, Any]:
    return {
        "company_id": user.company_id,
        "install": found.install,
        "revision": found.install.revision,
        "author": user,
    }


def _refuse_live(found: State, circuit_id: str | None = None) -> None:
    """Nothing is recorded as energised while the plan says stop: on that line, or anywhere where none is named."""
    findings = found.result.findings
    if circuit_id is not None:
        findings = findings_of(found.plan, circuit_id, findings)
    stops = [finding for finding in findings if finding.severity == "stop"]
    if stops:
        detail = f"The plan says stop: {stops[0].message} Clear it in the plan before anything is energised."
        raise Refused(409, "stop", detail)


@transaction.atomic
def tick(user: User, install_id: UUID, key: str, done: bool, reason: str) -> State:
    """Record a step as done, or take it back with a reason."""
    found = _begin(user, install_id)
    step = _known(start_up(found.plan).steps, key)
    if done and step.phase in LIVE_PHASES:
        _refuse_live(found, step.circuit)
    if not done and not reason:
        raise InputError(Problem("reason", None, "taking a step back needs a reason", "Say why in a few words."))
    StepEntry.objects.create(**_entry(user, found), key=key, done=done, reason=reason)
    refresh(found.install, found.plan, found.result)
    return found


@transaction.atomic
def try_interlock(
    user: User, install_id: UUID, system: str, cause: str, effect: str, done: bool, reason: str
) -> StepEntry:
    """Record that a cause was provoked and stopped what it must, or take that back with a reason."""
    found = _begin(user, install_id)
    there = system_of(Plant(found.plan), system)
    cells = judge(there).cells if there else ()
    cell = next((c for c in cells if (c.cell.cause, c.cell.effect) == (cause, effect) and c.cell.wanted), None)
    if there is None or cell is None:
        raise InputError(
            Problem("cause", cause, f"nothing here asks that it stops the {effect}", "Load the page again.")
        )
    if done and cell.outcome != "stops":
        detail = "On the bench it does not stop. Mend the plan before it is tried on the unit."
        raise Refused(409, "stop", detail)
    if not done and not reason:
        raise InputError(Problem("reason", None, "taking a test back needs a reason", "Say why in a few words."))
    key = interlock_key(there.key, cause, effect)
    return StepEntry.objects.create(**_entry(user, found), key=key, done=done, reason=reason)


def interlock_key(system: str, cause: str, effect: str) -> str:
    """Under which key the test of a cell is recorded."""
    return f"interlock.{system}.{cause.partition(':')[2]}.{effect}"


@transaction.atomic
def read_value(user: User, install_id: UUID, key: str, value: float, corrects: UUID | None, reason: str) -> State:
    """Record a reading, or a correction of the one that stands."""
    found = _begin(user, install_id)
    point = _known(start_up(found.plan).readings, key)
    _refuse_live(found, point.circuit)
    standing = Reading.objects.filter(install=found.install, key=key, corrected_by=None).first()
    if (standing.id if standing else None) != corrects:
        detail = (
            f"A reading of {standing.value:g} {standing.unit} stands here already. Correct that one, with a reason."
            if standing
            else "There is no such reading to correct. Enter it as a new one."
        )
        raise Refused(409, "reading-stands", detail, standing=str(standing.id) if standing else None)
    if standing and not reason:
        raise InputError(Problem("reason", None, "a correction needs a reason", "Say why in a few words."))
    Reading.objects.create(
        **_entry(user, found),
        key=key,
        value=value,
        unit=point.unit,
        low=point.low,
        high=point.high,
        basis=point.basis,
        verdict=judge_reading(point, value),
        corrects=standing,
        reason=reason,
    )
    refresh(found.install, found.plan, found.result)
    return found


def _known(entries: list[Entry], key: str) -> Entry:
    match = next((entry for entry in entries if entry.key == key), None)
    if match is None:
        raise InputError(Problem("key", key, "this plan has no such step or reading", "Load the page again."))
    return match


@transaction.atomic
def open_item(user: User, install_id: UUID, text: str, owner: str, due: date | None) -> State:
    """Note something left to do."""
    found = _begin(user, install_id)
    OpenItem.objects.create(**_entry(user, found), text=text, owner=owner, due=due)
    return found


@transaction.atomic
def close_item(user: User, install_id: UUID, item_id: UUID, note: str) -> State:
    """Note an open item as done."""
    found = _begin(user, install_id)
    item = OpenItem.objects.filter(install=found.install, id=item_id).first()
    if item is None:
        raise not_found()
    if OpenItemClosing.objects.filter(item=item).exists():
        raise Refused(409, "closed", "This item is closed already.")
    OpenItemClosing.objects.create(**_entry(user, found), item=item, note=note)
    return found


@transaction.atomic
def sign(user: User, install_id: UUID, revision: int, name: str) -> State:
    """Sign the record of the revision that the signer has seen."""
    found = _begin(user, install_id)
    if revision != found.install.revision:
        detail = f"The plan has moved on to revision {found.install.revision}. Look at it again before you sign."
        raise Refused(409, "moved-on", detail)
    _refuse_live(found)
    if found.install.signed_revision == revision:
        raise Refused(409, "signed", f"Revision {revision} is signed already.")
    Signature.objects.create(**_entry(user, found), name=name, digest=digest(found.install, found.document))
    found.install.signed_revision = revision
    refresh(found.install, found.plan, found.result)
    return found


def digest(install: Install, document: dict[str, Any]) -> str:
    """SHA-256 over the plan and every record that stands with it, so that a print can be held against the data."""
    rows = [
        list(model.objects.filter(install=install).order_by("at", "id").values_list("id", flat=True))
        for model in (StepEntry, Reading, OpenItem, OpenItemClosing)
    ]
    return hashlib.sha256(orjson.dumps([document, rows], option=orjson.OPT_SORT_KEYS)).hexdigest()
