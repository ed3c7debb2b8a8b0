"""The record of an install as it is answered: what its plan asks for beside everything that was recorded."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from datetime import date, datetime
from typing import Any, Literal, TypeVar
from uuid import UUID

from installs.api import InstallOut, install_out
from leitung_core.cautions import QUALIFIED
from leitung_core.commissioning.judge import (
    Judged,
    Verdict,
    judge_reading,
    judge_readings,
    say_bounds,
    say_read,
    say_verdict,
)
from leitung_core.commissioning.meanings import Meaning, meanings
from leitung_core.commissioning.set_up import SetUpItem
from leitung_core.commissioning.steps import (
    Clock,
    Lights,
    PhaseOfWork,
    ReadingPoint,
    StartStep,
    StartUp,
    WorkPart,
    is_live,
    say_missing,
    unmet,
)
from leitung_core.commissioning.tests import FunctionalTest
from leitung_core.findings import Finding
from leitung_core.instruments.classes import both_right, out_of_date, say_calibration, say_class
from leitung_core.instruments.trend import Change
from leitung_core.result import Brief
from leitung_core.result.progress import NotProved, Recorded, done_steps, left_to_record, not_proved
from leitung_core.supply.trials import SAYS, Expected, Measured, TrialAsked, against, not_yet
from leitung_core.supply.trials import Outcome as Came
from meters.actions import class_used
from pydantic import BaseModel

from records.actions import Entered, Keyed, Recording
from records.ink import path_of
from records.models import (
    OpenItem,
    Reading,
    SettingEntry,
    Signature,
    StepEntry,
    TestEntry,
    TrialEntry,
    Visit,
    VisitReading,
)
from records.standing import holds, recorded
from records.visits import History, history_of

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


class MeterUsed(BaseModel):
    """With what something was read, as it was then; what is to be said of it, if anything."""

    name: str
    serial: str
    says: str
    doubt: str | None = None


class ReadingOut(BaseModel):
    """One entry, with the plan's verdict on it now."""

    id: UUID
    value: float
    unit: str
    shown: str
    verdict: Verdict
    said: str
    meaning: Meaning | None = None
    meter: MeterUsed | None = None
    corrects: UUID | None = None
    passed: list[str] = []
    reason: str
    author: str
    at: datetime
    noted_at: datetime | None = None


class PointOut(ReadingPoint):
    """A reading point with its entries, oldest first; the last stands. `should`: what it should read, in words.

    void: it was read, and the system is wired otherwise since: it counts no more.
    """

    should: str | None = None
    void: bool = False
    entries: list[ReadingOut]


class ItemOut(BaseModel):
    """An open item."""

    id: UUID
    text: str
    owner: str
    due: date | None = None
    temporary: bool = False
    about: str = ""
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
    """A signature and the revision that it covers. drawn: the path of what a finger wrote, on 1000 by 300."""

    name: str
    author: str
    revision: int
    digest: str
    reasons: list[SignedWithout] = []
    role: Literal["installer", "licensed", "customer"] = "installer"
    drawn: str = ""
    device: str = ""
    at: datetime


class ReadAtVisit(BaseModel):
    """What was read on a visit, with the verdict of then, and what it says against earlier ones.

    earlier: what stood here before, on the same visit and in the same state, as shown, with why it was read again.
    """

    key: str
    about: str
    text: str
    state: Literal["found", "left"]
    value: float
    shown: str
    verdict: Verdict
    said: str
    changes: list[Change]
    earlier: list[str] = []
    meter: MeterUsed | None = None
    author: str
    at: datetime
    noted_at: datetime | None = None


class VisitOut(BaseModel):
    """A visit with what was read on it, in the order of the work."""

    why: str
    author: str
    at: datetime
    noted_at: datetime | None = None
    revision: int
    ended_at: datetime | None = None
    ended_by: str | None = None
    note: str | None = None
    readings: list[ReadAtVisit]


class ReadThen(BaseModel):
    """A value of a trend: when, and whether at start-up, as found or as left."""

    at: datetime
    of: Literal["start-up", "found", "left"]
    value: float
    shown: str


class TrendOut(BaseModel):
    """What was read at one place from start-up through the visits, the earliest first, in its unit."""

    key: str
    unit: str
    low: float | None = None
    high: float | None = None
    taken: list[ReadThen]


class ServiceOut(BaseModel):
    """The visits of an install, the newest first, and the trend of every place that was read on one."""

    visits: list[VisitOut]
    trends: list[TrendOut]


class PartOut(BaseModel):
    """A part of the work, a source, a line or a system: what stops it, on it or above it, if anything does."""

    about: str
    name: str
    stop: str | None = None
    stop_about: str | None = None


class TestEntryOut(BaseModel):
    """What came of a functional test, or that it was taken back."""

    outcome: Outcome
    wiring: str = ""
    passed: list[str] = []
    reason: str
    author: str
    at: datetime
    noted_at: datetime | None = None
    revision: int


class TestOut(FunctionalTest):
    """A functional test with everything recorded on it, oldest first; the last entry stands.

    void: it was tried, and the wiring has changed since: it counts no more.
    """

    outcome: Outcome | None = None
    void: bool = False
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
    passed: list[str] = []
    author: str
    at: datetime
    revision: int


class TrialOut(TrialAsked):
    """A trial with everything recorded on it, oldest first; `not_yet`: why it may not be made now.

    first: what comes before it in start-up and is not done; recorded all the same, it needs a note that says why.
    """

    not_yet: str | None = None
    first: str = ""
    entries: list[TrialEntryOut]


class RowsOut(BaseModel):
    """The rows that something was recorded in, each whole, and what is left in all."""

    install: InstallOut
    steps: list[StepOut]
    readings: list[PointOut]
    tests: list[TestOut]
    set_up: list[SettingOut]
    landings: list[LandingsOut]
    trials: list[TrialOut]
    left: int
    not_proved: list[NotProved]


class NewsOut(RowsOut):
    """What an entry has changed in a record: the rows that it touches, and these where it is of their kind."""

    open_items: list[ItemOut] | None = None
    signatures: list[SignatureOut] | None = None
    service: ServiceOut | None = None


class RecordOut(RowsOut):
    """The record of an install: what was done, measured, tried, set, landed, left open and signed."""

    phases: list[PhaseOfWork]
    parts: list[PartOut]
    clock: Clock
    meanings: list[Meaning]
    shown: list[Lights]
    open_items: list[ItemOut]
    signatures: list[SignatureOut]
    service: ServiceOut
    stops: list[Finding]
    caution: str


def record_out(found: Recording) -> RecordOut:
    """Everything recorded on an install, beside what its plan asks for."""
    install, brief = found.install, found.brief
    return RecordOut(
        **_rows(found, brief.start_up, brief.trials, recorded(install, brief.start_up)),
        phases=brief.start_up.phases,
        parts=[_part(brief, part) for part in brief.start_up.parts],
        clock=brief.start_up.clock,
        meanings=list(meanings()),
        shown=brief.start_up.shown,
        open_items=_items(install.id),
        signatures=_signatures(install.id),
        service=service_out(found),
        stops=brief.stops,
        caution=QUALIFIED,
    )


def news_out(entered: Entered) -> NewsOut:
    """What an entry has changed."""
    found, key = entered.found, entered.key
    brief, install_id = found.brief, found.install.id
    trials = brief.trials if any(trial.key == key for trial in brief.trials) else []
    return NewsOut(
        **_rows(found, brief.start_up.touched_by(key), trials, entered.standing),
        open_items=None if key else _items(install_id),
        signatures=None if key else _signatures(install_id),
        service=None if key else service_out(found),
    )


def _rows(found: Recording, shown: StartUp, trials: list[TrialAsked], standing: Recorded) -> dict[str, Any]:
    """The rows of a record for as much of start-up and of the trials as is shown."""
    install, brief = found.install, found.brief
    return {
        "install": install_out(install),
        "steps": _steps(install.id, shown.steps, brief, standing),
        "readings": _readings(install.id, shown.readings),
        "tests": _tests(install.id, shown.tests),
        "set_up": _settings(install.id, shown.set_up, standing),
        "landings": _landings(shown, standing),
        "trials": _trials(found, trials, standing),
        "left": sum(1 for _ in left_to_record(brief, standing)),
        "not_proved": not_proved(brief.start_up, standing),
    }


def _part(brief: Brief, part: WorkPart) -> PartOut:
    """A system is stopped where every line of it is: else something of it can be started up."""
    stops = [brief.stop_on(line) for line in part.lines]
    stop = stops[0] if stops and all(stops) else None
    return PartOut(about=part.about, name=part.name, stop=stop.message if stop else None,
                   stop_about=stop.about if stop else None)  # fmt: skip


Row = TypeVar("Row", TestEntry, SettingEntry, StepEntry, Reading)
Shown = TypeVar("Shown")


def _by_key(
    model: type[Row], install_id: UUID, shown: Iterable[Keyed], show: Callable[[Row], Shown]
) -> dict[str, list[Shown]]:
    """The entries for each key that is shown, oldest first."""
    found: dict[str, list[Shown]] = {}
    keys = [item.key for item in shown]
    if not keys:
        return found
    for row in model._default_manager.filter(install_id=install_id, key__in=keys).select_related("author"):
        found.setdefault(row.key, []).append(show(row))
    return found


def _test_entry(row: TestEntry) -> TestEntryOut:
    return TestEntryOut.model_validate({
        "outcome": row.outcome, "wiring": row.wiring, "reason": row.reason, "author": row.who,
        "at": row.at, "revision": row.revision, "passed": row.passed, "noted_at": row.noted_at,
    })  # fmt: skip


def _step_entry(row: StepEntry) -> StepEntryOut:
    return StepEntryOut(done=row.done, value=row.value, unit=row.unit, passed=row.passed, reason=row.reason,
                        author=row.who, at=row.at, noted_at=row.noted_at)  # fmt: skip


def _setting_entry(row: SettingEntry) -> StepEntryOut:
    return StepEntryOut(done=row.done, reason=row.reason, author=row.who, at=row.at,
                        noted_at=row.noted_at)  # fmt: skip


def _tests(install_id: UUID, tests: list[FunctionalTest]) -> list[TestOut]:
    entries = _by_key(TestEntry, install_id, tests, _test_entry)
    return [_test(test, entries.get(test.key, [])) for test in tests]


def _test(test: FunctionalTest, rows: list[TestEntryOut]) -> TestOut:
    last = rows[-1] if rows else None
    void = last is not None and last.outcome != "taken_back" and not holds(last.wiring, test.wiring)
    return TestOut(
        **test.model_dump(), outcome=last.outcome if last is not None and not void else None, void=void, entries=rows
    )


def _trials(found: Recording, asked: list[TrialAsked], standing: Recorded) -> list[TrialOut]:
    if not asked:
        return []
    install, start_up = found.install, found.brief.start_up
    by_key, done = start_up.by_key(), done_steps(start_up, standing)
    steps = {key: step for step in start_up.steps for key in step.trials}
    first = {key: say_missing(step, unmet(step, by_key, done)) for key, step in steps.items()}
    entries: dict[str, list[TrialEntryOut]] = {}
    for row in TrialEntry.objects.filter(install=install).select_related("author"):
        entries.setdefault(row.key, []).append(_trial_entry(row))
    stopped = {key: next((stop for line in step.lines if (stop := found.brief.stop_on(line))), None)
               for key, step in steps.items()}  # fmt: skip
    return [
        TrialOut(
            **trial.model_dump(),
            not_yet=not_yet(trial, asked, standing.trials) or _says_stop(stopped.get(trial.key)),
            first=first.get(trial.key, ""), entries=entries.get(trial.key, []),
        )
        for trial in asked
    ]  # fmt: skip


def _says_stop(stop: Finding | None) -> str | None:
    return f"The plan says stop: {stop.message}" if stop is not None else None


def _trial_entry(row: TrialEntry) -> TrialEntryOut:
    """A trial against what was expected when it was made, whatever the plan has become since."""
    measured = Measured.model_validate(row.measured)
    return TrialEntryOut.model_validate({
        "outcome": row.outcome, "said": SAYS[row.outcome], "on": row.on, "measured": measured,
        "against": against(Expected.model_validate(row.expected), measured), "note": row.note, "passed": row.passed,
        "author": row.who, "at": row.at, "revision": row.revision,
    })  # fmt: skip


def _settings(install_id: UUID, items: list[SetUpItem], standing: Recorded) -> list[SettingOut]:
    entries = _by_key(SettingEntry, install_id, items, _setting_entry)
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


def _steps(install_id: UUID, steps: list[StartStep], brief: Brief, standing: Recorded) -> list[StepOut]:
    entries = _by_key(StepEntry, install_id, steps, _step_entry)
    startup = brief.start_up
    done, by_key = done_steps(startup, standing), startup.by_key()
    return [
        StepOut(
            **step.model_dump(), done=step.key in done, live=is_live(step), stop=_stop(brief, step),
            by_records=step.proved_by_records,
            missing=[other.key for other in unmet(step, by_key, done)], entries=entries.get(step.key, []),
        )
        for step in steps
    ]  # fmt: skip


def _readings(install_id: UUID, points: list[ReadingPoint]) -> list[PointOut]:
    rows = _by_key(Reading, install_id, points, lambda row: row)
    last = {key: entries[-1] for key, entries in rows.items()}
    void = {point.key for point in points
            if (row := last.get(point.key)) is not None and not holds(row.wiring, point.wiring)}  # fmt: skip
    judged = judge_readings(points, {key: row.value for key, row in last.items() if key not in void})
    return [
        PointOut(
            **point.model_dump(),
            should=say_bounds(point),
            void=point.key in void,
            entries=_entries(point, rows.get(point.key, []), judged.get(point.key)),
        )
        for point in points
    ]  # fmt: skip


def _entries(point: ReadingPoint, rows: Sequence[Reading], judged: Judged | None) -> list[ReadingOut]:
    """The readings of a point, each with the one before it; the last is the one that stands."""
    before = [None, *rows[:-1]]
    return [
        _reading(point, row, earlier, judged if row is rows[-1] else None)
        for earlier, row in zip(before, rows, strict=True)
    ] if rows else []  # fmt: skip


def service_out(found: Recording) -> ServiceOut:
    """The visits, and what was read on them against what was read before."""
    history = history_of(found.install, found.brief.start_up)
    return ServiceOut(
        visits=[_visit(visit, history) for visit in reversed(history.visits)],
        trends=[
            TrendOut(
                key=key, unit=taken[-1].unit, low=taken[-1].low, high=taken[-1].high,
                taken=[ReadThen(at=row.entered_at, of=row.state if isinstance(row, VisitReading) else "start-up",
                                value=row.value, shown=say_read(row.value, row.unit)) for row in taken],
            )
            for key, taken in history.trends()
        ],
    )  # fmt: skip


def _visit(visit: Visit, history: History) -> VisitOut:
    ending = getattr(visit, "ending", None)
    return VisitOut(
        why=visit.why, author=visit.who, at=visit.at, noted_at=visit.noted_at, revision=visit.revision,
        ended_at=ending.entered_at if ending else None, ended_by=ending.who if ending else None,
        note=ending.note if ending else None,
        readings=[
            ReadAtVisit(
                key=row.key, about=row.about, text=row.text, state=row.state, value=row.value,
                shown=say_read(row.value, row.unit), verdict=row.verdict, said=row.said,
                changes=history.changes(row), earlier=history.earlier(row), meter=_meter(row, None),
                author=row.who, at=row.at, noted_at=row.noted_at,
            )
            for row in history.standing[visit.id]
        ],
    )  # fmt: skip


def _meter(row: Reading | VisitReading, before: Reading | None) -> MeterUsed | None:
    """The meter of a reading; whether it and that of the reading which it corrects can both be right."""
    own = class_used(row.meter)
    if own is None:
        return None
    on = date.fromisoformat(row.meter["calibrated_on"]) if row.meter["calibrated_on"] else None
    doubt = out_of_date(on, row.entered_at.date())
    if before is not None and before.meter and before.meter["id"] != row.meter["id"]:
        other = class_used(before.meter)
        if other is not None and not both_right(row.value, own, before.value, other):
            apart = f"it and {before.meter['name']} cannot both be right: have both looked at"
            doubt = f"{doubt}; {apart}" if doubt else apart
    says = f"{say_class(own, row.unit)}, {say_calibration(on)}"
    return MeterUsed(name=row.meter["name"], serial=row.meter["serial"], says=says, doubt=doubt)


def _reading(point: ReadingPoint, row: Reading, before: Reading | None, judged: Judged | None) -> ReadingOut:
    """A reading as it is judged: the one that stands with the others of its line, a corrected one by itself."""
    return ReadingOut(
        id=row.id,
        value=row.value,
        unit=row.unit,
        shown=say_read(row.value, row.unit),
        verdict=judged.verdict if judged else judge_reading(point, row.value),
        said=judged.said if judged else say_verdict(point, row.value),
        meaning=judged.meaning if judged else None,
        meter=_meter(row, before),
        corrects=row.corrects_id,
        passed=row.passed,
        reason=row.reason,
        author=row.who,
        at=row.at,
        noted_at=row.noted_at,
    )


def _signatures(install_id: UUID) -> list[SignatureOut]:
    return [
        SignatureOut.model_validate({
            "name": s.name, "author": s.who, "revision": s.revision, "digest": s.digest, "at": s.at,
            "reasons": s.reasons, "role": s.role, "drawn": path_of(s.drawn), "device": s.device,
        })
        for s in Signature.objects.filter(install_id=install_id).select_related("author")
    ]  # fmt: skip


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
                temporary=row.temporary,
                about=row.about,
                author=row.who,
                at=row.at,
                closed_at=closing.at if closing else None,
                closed_by=closing.who if closing else None,
                note=closing.note if closing else None,
            )
        )
    return items
