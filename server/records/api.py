"""Start-up and handover over HTTP: steps, readings, open items, signatures."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, date, datetime
from typing import Annotated, Literal, TypeVar
from uuid import UUID

from accounts.models import User
from accounts.roles import RECORD, SIGN, allow, person
from django.db.models import QuerySet
from django.http import HttpRequest
from installs.actions import find
from installs.api import InstallOut, install_out
from installs.models import Install
from leitung_core.cautions import QUALIFIED
from leitung_core.commissioning.judge import Judged, Verdict, judge_reading, judge_readings, say_verdict
from leitung_core.commissioning.lockout import LockOut
from leitung_core.commissioning.set_up import SetUpItem
from leitung_core.commissioning.steps import (
    Clock,
    PhaseOfWork,
    ReadingPoint,
    StartStep,
    StartUp,
    WorkPart,
    is_live,
    unmet,
)
from leitung_core.commissioning.tests import FunctionalTest
from leitung_core.findings import Finding
from leitung_core.result import Brief
from leitung_core.result.progress import NotProved, Recorded, done_steps, left_to_record, not_proved
from leitung_core.supply.trials import SAYS, Expected, Measured, TrialAsked, against, not_yet
from leitung_core.supply.trials import Outcome as Came
from leitung_core.validation import Id, NotNegative, Text
from ninja import Router
from pydantic import AfterValidator, AwareDatetime, BaseModel, Field

from records import actions
from records.lockouts import lock_out_at
from records.models import OpenItem, Reading, SettingEntry, Signature, StepEntry, TestEntry, TrialEntry
from records.standing import recorded, trials_made

router = Router(tags=["records"])
Key = Text
Outcome = Literal["passed", "failed", "taken_back"]


class StepEntryOut(BaseModel):
    """A tick with what was read in it, or one taken back; `passed`: the steps that it was done without."""

    done: bool
    value: float | None = None
    unit: str = ""
    passed: list[str] = []
    reason: str
    author: str
    at: datetime
    noted_at: datetime | None = None


class StepOut(StartStep):
    """A step with everything recorded on it, oldest first; the last entry stands.

    stop: what stops it while the plan stands so. by_records: it is done by what is recorded in it. missing: the steps
    that it needs and that are not done.
    """

    done: bool
    live: bool
    stop: str | None = None
    by_records: bool
    missing: list[str]
    entries: list[StepEntryOut]


class ReadingOut(BaseModel):
    """One entry, with the plan's verdict on it now."""

    id: UUID
    value: float
    unit: str
    verdict: Verdict
    said: str
    corrects: UUID | None = None
    passed: list[str] = []
    reason: str
    author: str
    at: datetime
    noted_at: datetime | None = None


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


class SignedWithout(BaseModel):
    """Something that was not proved when it was signed, and why it was signed all the same."""

    key: str
    says: str
    reason: str


class SignatureOut(BaseModel):
    """A signature and the revision that it covers."""

    name: str
    author: str
    revision: int
    digest: str
    reasons: list[SignedWithout] = []
    at: datetime


class PartOut(BaseModel):
    """A part of the work, a source, a line or a system: what stops it, on it or above it, if anything does."""

    about: str
    name: str
    stop: str | None = None
    stop_about: str | None = None


class TestEntryOut(BaseModel):
    """What came of a functional test, or that it was taken back."""

    outcome: Outcome
    passed: list[str] = []
    reason: str
    author: str
    at: datetime
    noted_at: datetime | None = None
    revision: int


class TestOut(FunctionalTest):
    """A functional test with everything recorded on it, oldest first; the last entry stands."""

    outcome: Outcome | None = None
    entries: list[TestEntryOut]


class SettingOut(SetUpItem):
    """A setting with who made it; `done` while the value that was set is the one that the plan asks for."""

    done: bool
    entries: list[StepEntryOut]


class LandingsOut(BaseModel):
    """The terminals of a device: how many there are to land on, and which are ticked."""

    device: str
    terminals: int
    ticked: list[str]


class TrialEntryOut(BaseModel):
    """A trial that was made: what was on, what came of it, what it gave, and that against what was expected."""

    outcome: Came
    said: str
    on: list[str]
    measured: Measured
    against: list[str]
    note: str
    author: str
    at: datetime
    revision: int


class TrialOut(TrialAsked):
    """A trial with everything recorded on it, oldest first; `not_yet`: why it may not be made now."""

    not_yet: str | None = None
    entries: list[TrialEntryOut]


class RecordOut(BaseModel):
    """The record of an install: what was done, measured, tried, set, landed, left open and signed."""

    install: InstallOut
    phases: list[PhaseOfWork]
    parts: list[PartOut]
    steps: list[StepOut]
    readings: list[PointOut]
    tests: list[TestOut]
    set_up: list[SettingOut]
    landings: list[LandingsOut]
    trials: list[TrialOut]
    left: int
    not_proved: list[NotProved]
    clock: Clock
    open_items: list[ItemOut]
    signatures: list[SignatureOut]
    stops: list[Finding]
    caution: str


def _in_utc(noted: datetime) -> datetime:
    try:
        return noted.astimezone(UTC)
    except OverflowError:
        raise ValueError("is outside what a clock can say") from None


class Noted(BaseModel):
    """An entry; `noted_at`: when it was made, by the clock of the device, where it could not be sent at once."""

    noted_at: Annotated[AwareDatetime, AfterValidator(_in_utc)] | None = None


class Tick(Noted):
    """A step done, with what was read where something is; or taken back with a reason.

    A reason with one that is done says why what it needs is passed over.
    """

    key: Key
    done: bool
    value: NotNegative | None = None
    reason: Text | None = None


class Tried(Noted):
    """What came of a functional test; taken back with a reason."""

    key: Key
    outcome: Outcome
    reason: Text | None = None


class NewTrial(BaseModel):
    """What came of a trial on a source, and what it gave; taken back with a reason."""

    key: Key
    outcome: Came
    measured: Measured = Measured()
    note: Text | None = None


class Landed(Noted):
    """A terminal ticked, or the tick taken off."""

    key: Key
    done: bool


class NewReading(Noted):
    """A measured value; `corrects` names the standing entry that it replaces, with a reason.

    A reason with the first one says why what its step needs is passed over.
    """

    key: Key
    value: NotNegative
    corrects: UUID | None = None
    reason: Text | None = None


class NewItem(Noted):
    """Something left to do."""

    text: Text
    owner: Text
    due: date | None = None


class Closing(Noted):
    """How it was done."""

    note: Text


class Sign(BaseModel):
    """A name under the revision that was read; why it is signed without what is not proved, by that or by its part."""

    revision: int
    name: Text
    reasons: Annotated[dict[Key, Text], Field(max_length=2000)] = {}


def record_out(found: actions.Recording) -> RecordOut:
    """Everything recorded on an install, beside what its plan asks for."""
    install, brief = found.install, found.brief
    startup = brief.start_up
    standing = recorded(install, startup)
    return RecordOut(
        install=install_out(install),
        phases=startup.phases,
        parts=[_part(brief, part) for part in startup.parts],
        steps=_steps(install.id, brief, standing),
        readings=_readings(install.id, startup.readings),
        tests=_tests(install.id, startup.tests),
        set_up=_settings(install.id, startup.set_up, standing),
        landings=_landings(startup, standing),
        trials=_trials(install, brief.trials),
        left=sum(1 for _ in left_to_record(brief, standing)),
        not_proved=not_proved(startup, standing),
        clock=startup.clock,
        open_items=_items(install.id),
        signatures=[
            SignatureOut(name=s.name, author=s.author.display_name, revision=s.revision, digest=s.digest, at=s.at,
                         reasons=s.reasons)
            for s in Signature.objects.filter(install=install).select_related("author")
        ],
        stops=brief.stops,
        caution=QUALIFIED,
    )  # fmt: skip


def _part(brief: Brief, part: WorkPart) -> PartOut:
    """A system is stopped where every line of it is: else something of it can be started up."""
    stops = [brief.stop_on(line) for line in part.lines]
    stop = stops[0] if stops and all(stops) else None
    return PartOut(about=part.about, name=part.name, stop=stop.message if stop else None,
                   stop_about=stop.about if stop else None)  # fmt: skip


Row = TypeVar("Row", TestEntry, SettingEntry, StepEntry, Reading)
Shown = TypeVar("Shown")


def _by_key(rows: QuerySet[Row], show: Callable[[Row], Shown]) -> dict[str, list[Shown]]:
    """The entries for each key, oldest first."""
    found: dict[str, list[Shown]] = {}
    for row in rows.select_related("author"):
        found.setdefault(row.key, []).append(show(row))
    return found


def _test_entry(row: TestEntry) -> TestEntryOut:
    return TestEntryOut.model_validate({
        "outcome": row.outcome, "reason": row.reason, "author": row.author.display_name, "at": row.at,
        "revision": row.revision, "passed": row.passed, "noted_at": row.noted_at,
    })  # fmt: skip


def _step_entry(row: StepEntry) -> StepEntryOut:
    return StepEntryOut(done=row.done, value=row.value, unit=row.unit, passed=row.passed, reason=row.reason,
                        author=row.author.display_name, at=row.at, noted_at=row.noted_at)  # fmt: skip


def _setting_entry(row: SettingEntry) -> StepEntryOut:
    return StepEntryOut(done=row.done, reason=row.reason, author=row.author.display_name, at=row.at,
                        noted_at=row.noted_at)  # fmt: skip


def _tests(install_id: UUID, tests: list[FunctionalTest]) -> list[TestOut]:
    entries = _by_key(TestEntry.objects.filter(install_id=install_id), _test_entry)
    found = ((test, entries.get(test.key, [])) for test in tests)
    return [
        TestOut(**test.model_dump(), outcome=rows[-1].outcome if rows else None, entries=rows) for test, rows in found
    ]


def _trials(install: Install, asked: list[TrialAsked]) -> list[TrialOut]:
    came = trials_made(install)
    entries: dict[str, list[TrialEntryOut]] = {}
    for row in TrialEntry.objects.filter(install=install).select_related("author"):
        entries.setdefault(row.key, []).append(_trial_entry(row))
    return [
        TrialOut(**trial.model_dump(), not_yet=not_yet(trial, asked, came), entries=entries.get(trial.key, []))
        for trial in asked
    ]


def _trial_entry(row: TrialEntry) -> TrialEntryOut:
    """A trial against what was expected when it was made, whatever the plan has become since."""
    measured = Measured.model_validate(row.measured)
    return TrialEntryOut.model_validate({
        "outcome": row.outcome, "said": SAYS[row.outcome], "on": row.on, "measured": measured,
        "against": against(Expected.model_validate(row.expected), measured), "note": row.note,
        "author": row.author.display_name, "at": row.at, "revision": row.revision,
    })  # fmt: skip


def _settings(install_id: UUID, items: list[SetUpItem], standing: Recorded) -> list[SettingOut]:
    entries = _by_key(SettingEntry.objects.filter(install_id=install_id), _setting_entry)
    return [
        SettingOut(**item.model_dump(), done=item.key in standing.settings, entries=entries.get(item.key, []))
        for item in items
    ]


def _landings(startup: StartUp, standing: Recorded) -> list[LandingsOut]:
    by_device: dict[str, list[str]] = {}
    for item in startup.landings:
        by_device.setdefault(item.device, []).append(item.key)
    return [
        LandingsOut(device=device, terminals=len(keys), ticked=[key for key in keys if key in standing.landings])
        for device, keys in by_device.items()
    ]


def _stop(brief: Brief, step: StartStep) -> str | None:
    return next((stop.message for line in step.lines if (stop := brief.stop_on(line)) is not None), None)


def _steps(install_id: UUID, brief: Brief, standing: Recorded) -> list[StepOut]:
    entries = _by_key(StepEntry.objects.filter(install_id=install_id), _step_entry)
    startup = brief.start_up
    done, by_key = done_steps(startup, standing), startup.by_key()
    return [
        StepOut(
            **step.model_dump(), done=step.key in done, live=is_live(step), stop=_stop(brief, step),
            by_records=step.proved_by_records,
            missing=[other.key for other in unmet(step, by_key, done)], entries=entries.get(step.key, []),
        )
        for step in startup.steps
    ]  # fmt: skip


def _readings(install_id: UUID, points: list[ReadingPoint]) -> list[PointOut]:
    rows = _by_key(Reading.objects.filter(install_id=install_id), lambda row: row)
    standing = {key: entries[-1].value for key, entries in rows.items()}
    judged = judge_readings(points, standing)
    return [
        PointOut(
            **point.model_dump(),
            entries=[
                _reading(point, row, judged[point.key] if row is entries[-1] else None)
                for entries in (rows.get(point.key, []),) for row in entries
            ],
        )
        for point in points
    ]  # fmt: skip


def _reading(point: ReadingPoint, row: Reading, judged: Judged | None) -> ReadingOut:
    """A reading as it is judged: the one that stands with the others of its line, a corrected one by itself."""
    return ReadingOut(
        id=row.id,
        value=row.value,
        unit=row.unit,
        verdict=judged.verdict if judged else judge_reading(point, row.value),
        said=judged.said if judged else say_verdict(point, row.value),
        corrects=row.corrects_id,
        passed=row.passed,
        reason=row.reason,
        author=row.author.display_name,
        at=row.at,
        noted_at=row.noted_at,
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
    return record_out(actions.begin(person(request), install_id, lock=False))


class LockOutOut(BaseModel):
    """What has to be open before a hand goes into the unit of a line; none where nothing of it is drawn."""

    found: LockOut | None = None


@router.get("/installs/{install_id}/lines/{line}/lock-out", response=LockOutOut, exclude_none=True)
def lock_out(request: HttpRequest, install_id: UUID, line: Id) -> LockOutOut:
    """What has to be open before a hand goes into the unit of a line, proved by the solver."""
    return LockOutOut(found=lock_out_at(find(person(request), install_id), line))


def _recorder(request: HttpRequest) -> User:
    return allow(request, RECORD)


@router.post("/installs/{install_id}/steps", response=RecordOut, exclude_none=True)
def tick(request: HttpRequest, install_id: UUID, body: Tick) -> RecordOut:
    """Tick a step, or take it back with a reason."""
    return record_out(
        actions.tick(_recorder(request), install_id, body.key, body.done, body.reason or "", body.value, body.noted_at)
    )


@router.post("/installs/{install_id}/tests", response=RecordOut, exclude_none=True)
def try_test(request: HttpRequest, install_id: UUID, body: Tried) -> RecordOut:
    """Record a functional test: passed, failed, or taken back with a reason."""
    return record_out(
        actions.try_test(_recorder(request), install_id, body.key, body.outcome, body.reason or "", body.noted_at)
    )


@router.post("/installs/{install_id}/start-trials", response=RecordOut, exclude_none=True)
def try_start(request: HttpRequest, install_id: UUID, body: NewTrial) -> RecordOut:
    """Record a trial on a source, or take the last one back with a reason."""
    return record_out(
        actions.try_start(_recorder(request), install_id, body.key, body.outcome, body.measured, body.note or "")
    )


@router.post("/installs/{install_id}/settings", response=RecordOut, exclude_none=True)
def set_up(request: HttpRequest, install_id: UUID, body: Tick) -> RecordOut:
    """Record a setting as made at its device, or take it back with a reason."""
    return record_out(
        actions.set_up(_recorder(request), install_id, body.key, body.done, body.reason or "", body.noted_at)
    )


@router.post("/installs/{install_id}/landing-ticks", response=RecordOut, exclude_none=True)
def tick_landing(request: HttpRequest, install_id: UUID, body: Landed) -> RecordOut:
    """Tick a terminal, or take the tick off."""
    return record_out(actions.tick_landing(_recorder(request), install_id, body.key, body.done, body.noted_at))


@router.post("/installs/{install_id}/readings", response=RecordOut, exclude_none=True)
def read_value(request: HttpRequest, install_id: UUID, body: NewReading) -> RecordOut:
    """Record a reading or a correction."""
    user = _recorder(request)
    return record_out(
        actions.read_value(user, install_id, body.key, body.value, body.corrects, body.reason or "", body.noted_at)
    )


@router.post("/installs/{install_id}/open-items", response=RecordOut, exclude_none=True)
def open_item(request: HttpRequest, install_id: UUID, body: NewItem) -> RecordOut:
    """Note something left to do."""
    return record_out(actions.open_item(_recorder(request), install_id, body.text, body.owner, body.due, body.noted_at))


@router.post("/installs/{install_id}/open-items/{item_id}/closing", response=RecordOut, exclude_none=True)
def close_item(request: HttpRequest, install_id: UUID, item_id: UUID, body: Closing) -> RecordOut:
    """Note an open item as done."""
    return record_out(actions.close_item(_recorder(request), install_id, item_id, body.note, body.noted_at))


@router.post("/installs/{install_id}/signatures", response=RecordOut, exclude_none=True)
def sign(request: HttpRequest, install_id: UUID, body: Sign) -> RecordOut:
    """Sign the record of the revision that was read."""
    return record_out(actions.sign(allow(request, SIGN), install_id, body.revision, body.name, body.reasons))
