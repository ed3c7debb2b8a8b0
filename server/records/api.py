"""Start-up and handover over HTTP: steps, readings, open items, signatures."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from accounts.models import User
from accounts.roles import RECORD, SIGN, allow, person
from django.http import HttpRequest
from installs.actions import State, find, state
from installs.api import InstallOut, install_out
from leitung_core.result import findings_of
from leitung_core.commissioning.judge import judge_reading, say_verdict
from leitung_core.commissioning.steps import QUALIFIED, ReadingPoint, StartStep, start_up
from leitung_core.findings import Finding
from leitung_core.validation import NotNegative, Text
from ninja import Router
from pydantic import BaseModel

from records import actions
from records.models import OpenItem, Reading, Signature, StepEntry

router = Router(tags=["records"])
Key = Text


class StepEntryOut(BaseModel):
    """A tick, or one taken back."""

    done: bool
    reason: str
    author: str
    at: datetime


class StepOut(StartStep):
    """A step with everything recorded on it, oldest first; the last entry stands."""

    done: bool
    entries: list[StepEntryOut]


class ReadingOut(BaseModel):
    """One entry, with the plan's verdict on it now."""

    id: UUID
    value: float
    unit: str
    verdict: Literal["within", "outside", "unknown"]
    said: str
    corrects: UUID | None = None
    reason: str
    author: str
    at: datetime


class PointOut(ReadingPoint):
    """A reading point with its entries, oldest first; the last stands."""

    entries: list[ReadingOut]


class ItemOut(BaseModel):
    """An open item."""

    id: UUID
    text: str
    owner: str
    due: date | None = None
    author: str
    at: datetime
    closed_at: datetime | None = None
    closed_by: str | None = None
    note: str | None = None


class SignatureOut(BaseModel):
    """A signature and the revision that it covers."""

    name: str
    author: str
    revision: int
    digest: str
    at: datetime


class LineOut(BaseModel):
    """One line of the install as its start-up sees it: what stops it, on it or above it, if anything does."""

    circuit: str
    name: str
    stop: str | None = None


class RecordOut(BaseModel):
    """The record of an install: what was done, measured, left open and signed."""

    install: InstallOut
    lines: list[LineOut]
    steps: list[StepOut]
    readings: list[PointOut]
    open_items: list[ItemOut]
    signatures: list[SignatureOut]
    stops: list[Finding]
    caution: str


class Tick(BaseModel):
    """A step done, or taken back with a reason."""

    key: Key
    done: bool
    reason: Text | None = None


class NewReading(BaseModel):
    """A measured value; `corrects` names the standing entry that it replaces, with a reason."""

    key: Key
    value: NotNegative
    corrects: UUID | None = None
    reason: Text | None = None


class NewItem(BaseModel):
    """Something left to do."""

    text: Text
    owner: Text
    due: date | None = None


class Closing(BaseModel):
    """How it was done."""

    note: Text


class Sign(BaseModel):
    """A name under the revision that was read."""

    revision: int
    name: Text


def record_out(found: State) -> RecordOut:
    """Everything recorded on an install, beside what its plan asks for."""
    startup = start_up(found.plan)
    install = found.install
    return RecordOut(
        install=install_out(install),
        lines=_lines(found),
        steps=_steps(install.id, startup.steps),
        readings=_readings(install.id, startup.readings),
        open_items=_items(install.id),
        signatures=[
            SignatureOut(name=s.name, author=s.author.display_name, revision=s.revision, digest=s.digest, at=s.at)
            for s in Signature.objects.filter(install=install).select_related("author")
        ],
        stops=[finding for finding in found.result.findings if finding.severity == "stop"],
        caution=QUALIFIED,
    )


def _lines(found: State) -> list[LineOut]:
    """The lines in the order in which they are read; one without a unit has nothing to start up."""
    rows = []
    for circuit_id in (key for group in found.result.lines for key in group.circuits):
        circuit = found.plan.circuits[circuit_id]
        unit = found.plan.equipment.get(circuit.equipment or "")
        if unit is not None and circuit.source is not None:
            mine = findings_of(found.plan, circuit_id, found.result.findings)
            stop = next((finding.message for finding in mine if finding.severity == "stop"), None)
            rows.append(LineOut(circuit=circuit_id, name=circuit.name or unit.name or "", stop=stop))
    return rows


def _steps(install_id: UUID, steps: list[StartStep]) -> list[StepOut]:
    entries: dict[str, list[StepEntryOut]] = {}
    for row in StepEntry.objects.filter(install_id=install_id).select_related("author"):
        entry = StepEntryOut(done=row.done, reason=row.reason, author=row.author.display_name, at=row.at)
        entries.setdefault(row.key, []).append(entry)
    found = ((step, entries.get(step.key, [])) for step in steps)
    return [StepOut(**step.model_dump(), done=bool(rows) and rows[-1].done, entries=rows) for step, rows in found]


def _readings(install_id: UUID, points: list[ReadingPoint]) -> list[PointOut]:
    rows: dict[str, list[Reading]] = {}
    for row in Reading.objects.filter(install_id=install_id).select_related("author"):
        rows.setdefault(row.key, []).append(row)
    return [
        PointOut(**point.model_dump(), entries=[_reading(point, row) for row in rows.get(point.key, [])])
        for point in points
    ]


def _reading(point: ReadingPoint, row: Reading) -> ReadingOut:
    return ReadingOut(
        id=row.id,
        value=row.value,
        unit=row.unit,
        verdict=judge_reading(point, row.value),
        said=say_verdict(point, row.value),
        corrects=row.corrects_id,
        reason=row.reason,
        author=row.author.display_name,
        at=row.at,
    )


def _items(install_id: UUID) -> list[ItemOut]:
    rows = OpenItem.objects.filter(install_id=install_id).select_related("author", "closing__author")
    items = []
    for row in rows:
        closing = getattr(row, "closing", None)
        items.append(
            ItemOut(
                id=row.id,
                text=row.text,
                owner=row.owner,
                due=row.due,
                author=row.author.display_name,
                at=row.at,
                closed_at=closing.at if closing else None,
                closed_by=closing.author.display_name if closing else None,
                note=closing.note if closing else None,
            )
        )
    return items


@router.get("/installs/{install_id}/record", response=RecordOut, exclude_none=True)
def record(request: HttpRequest, install_id: UUID) -> RecordOut:
    """The record of an install."""
    return record_out(state(find(person(request), install_id)))


def _recorder(request: HttpRequest) -> User:
    return allow(request, RECORD)


@router.post("/installs/{install_id}/steps", response=RecordOut, exclude_none=True)
def tick(request: HttpRequest, install_id: UUID, body: Tick) -> RecordOut:
    """Tick a step, or take it back with a reason."""
    return record_out(actions.tick(_recorder(request), install_id, body.key, body.done, body.reason or ""))


@router.post("/installs/{install_id}/readings", response=RecordOut, exclude_none=True)
def read_value(request: HttpRequest, install_id: UUID, body: NewReading) -> RecordOut:
    """Record a reading or a correction."""
    user = _recorder(request)
    return record_out(actions.read_value(user, install_id, body.key, body.value, body.corrects, body.reason or ""))


@router.post("/installs/{install_id}/open-items", response=RecordOut, exclude_none=True)
def open_item(request: HttpRequest, install_id: UUID, body: NewItem) -> RecordOut:
    """Note something left to do."""
    return record_out(actions.open_item(_recorder(request), install_id, body.text, body.owner, body.due))


@router.post("/installs/{install_id}/open-items/{item_id}/closing", response=RecordOut, exclude_none=True)
def close_item(request: HttpRequest, install_id: UUID, item_id: UUID, body: Closing) -> RecordOut:
    """Note an open item as done."""
    return record_out(actions.close_item(_recorder(request), install_id, item_id, body.note))


@router.post("/installs/{install_id}/signatures", response=RecordOut, exclude_none=True)
def sign(request: HttpRequest, install_id: UUID, body: Sign) -> RecordOut:
    """Sign the record of the revision that was read."""
    return record_out(actions.sign(allow(request, SIGN), install_id, body.revision, body.name))
