"""Recording: steps, tests, settings, landings, readings and their corrections, open items, signing.

Entries are added, never changed. What they are judged by is the kept result of the revision: nothing is computed here.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, Protocol, TypeVar
from uuid import UUID

from accounts.models import User
from django.db import transaction
from installs.actions import find
from installs.models import Install
from installs.results import brief_at
from leitung_core.commissioning.judge import judge_readings
from leitung_core.commissioning.steps import StartStep, is_live, say_missing, unmet
from leitung_core.errors import InputError, Problem
from leitung_core.findings import Finding
from leitung_core.result import Brief
from leitung_core.result.progress import Recorded, done_steps, not_proved
from leitung_core.result.signed import VERSION, digest_of
from leitung_core.supply.trials import Measured, Outcome, efficiency, not_yet
from meters.actions import as_used
from problems import Refused, not_found

from records.board import refresh
from records.digest import content
from records.models import (
    LandingEntry,
    OpenItem,
    OpenItemClosing,
    Reading,
    SettingEntry,
    Signature,
    StepEntry,
    TestEntry,
    TrialEntry,
)
from records.signals import record_signed
from records.standing import recorded, standing_values, trials_made


class Keyed(Protocol):
    """Something that start-up asks for, by a stable key."""

    @property
    def key(self) -> str: ...


Asked = TypeVar("Asked", bound=Keyed)


@dataclass(frozen=True)
class Recording:
    """An install at its newest revision, and what its records are judged by."""

    install: Install
    brief: Brief


def begin(user: User, install_id: UUID, lock: bool = True) -> Recording:
    """The install and its brief. The brief is had before the install is locked."""
    seen = find(user, install_id)
    brief = brief_at(seen, seen.revision)
    if not lock:
        return Recording(seen, brief)
    install = find(user, install_id, lock=True)
    if install.revision != seen.revision:
        brief = brief_at(install, install.revision)
    return Recording(install, brief)


@dataclass(frozen=True)
class Entered:
    """An entry that was made: under which key, and what stands in the records with it."""

    found: Recording
    key: str
    standing: Recorded


def entered(user: User, found: Recording, key: str = "") -> Entered:
    """The board brought up to what stands now."""
    standing = recorded(found.install, found.brief.start_up)
    refresh(found.install, found.brief, user, standing)
    return Entered(found, key, standing)


def entry(user: User, found: Recording, noted_at: datetime | None = None) -> dict[str, Any]:
    """What every entry has: whose, of which install, at which revision, by whom, noted when."""
    return {
        "noted_at": noted_at,
        "company_id": user.company_id,
        "install": found.install,
        "revision": found.install.revision,
        "author": user,
    }


def _refuse_stopped(found: Recording, lines: Sequence[str]) -> None:
    """Nothing is recorded as energised on a line while the plan says stop on it."""
    for line in lines:
        _refuse_live(found.brief.stop_on(line))


def _passed(found: Recording, step: StartStep | None, reason: str) -> list[str]:
    """The steps that are passed over, each of which this one needs. Refused where no reason is given."""
    if step is None or not step.needs:
        return []
    asked = found.brief.start_up
    missing = unmet(step, asked.by_key(), done_steps(asked, recorded(found.install, asked)))
    if missing and not reason:
        detail = f"{say_missing(step, missing)} Or say why it is passed over."
        raise Refused(409, "order", detail, missing=[other.key for other in missing])
    return [other.key for other in missing]


def _refuse_live(stop: Finding | None) -> None:
    """Nothing is recorded as energised while the plan says stop."""
    if stop is not None:
        detail = f"The plan says stop: {stop.message} Clear it in the plan before anything is energised."
        raise Refused(409, "stop", detail)


def asked_for(entries: list[Asked], key: str) -> Asked:
    """The entry of that key. Raises InputError where the plan asks for no such thing."""
    match = next((entry for entry in entries if entry.key == key), None)
    if match is None:
        raise InputError(Problem("key", key, "this plan asks for no such thing", "Load the page again."))
    return match


def reason_for(what: str, reason: str) -> None:
    """Raises InputError where no reason is given."""
    if not reason:
        raise InputError(Problem("reason", None, f"{what} needs a reason", "Say why in a few words."))


@transaction.atomic
def tick(
    user: User,
    install_id: UUID,
    key: str,
    done: bool,
    reason: str,
    value: float | None = None,
    noted_at: datetime | None = None,
) -> Entered:
    """Record a step as done, with what was read in it, or take it back with a reason.

    A step whose needs are not done is refused; with a reason it is recorded together with what it passed over.
    """
    found = begin(user, install_id)
    step = asked_for(found.brief.start_up.steps, key)
    passed: list[str] = []
    if done:
        if step.proved_by_records:
            raise Refused(409, "by-records", "This step is done by what is read, tried, set or landed in it.")
        if is_live(step):
            _refuse_stopped(found, step.lines)
        _low_enough(step, value)
        passed = _passed(found, step, reason)
    else:
        reason_for("taking a step back", reason)
    kept = value if done and step.asks else None
    unit = step.asks.unit if step.asks and kept is not None else ""
    StepEntry.objects.create(
        **entry(user, found, noted_at), key=key, done=done, reason=reason, value=kept, unit=unit, passed=passed
    )
    return entered(user, found, key)


def _low_enough(step: StartStep, value: float | None) -> None:
    """What is read in a step is written down, and is not above what it may be."""
    asks = step.asks
    if asks is None:
        return
    if value is None:
        raise InputError(Problem("value", None, "is needed", f"Write down what the meter reads, {asks.unit}."))
    if value > asks.most:
        remedy = f"At most {asks.most:g} {asks.unit} may be read. Stop here and find out why."
        raise InputError(Problem("value", value, f"is above {asks.most:g} {asks.unit}", remedy))


@transaction.atomic
def try_test(
    user: User, install_id: UUID, key: str, outcome: str, reason: str, noted_at: datetime | None = None
) -> Entered:
    """Record that a cause was provoked and did or did not stop what it must, or take that back with a reason."""
    found = begin(user, install_id)
    test = asked_for(found.brief.start_up.tests, key)
    if outcome == TestEntry.Outcome.PASSED and test.shown != "stops":
        detail = "On the bench it does not stop. Mend the plan before it is tried on the unit."
        raise Refused(409, "stop", detail)
    passed: list[str] = []
    if outcome == TestEntry.Outcome.TAKEN_BACK:
        reason_for("taking a test back", reason)
    else:
        step = found.brief.start_up.step_of("tests", key)
        _refuse_stopped(found, step.lines if step else [])
        passed = _passed(found, step, reason)
    TestEntry.objects.create(
        **entry(user, found, noted_at), key=key, outcome=outcome, reason=reason, passed=passed, wiring=test.wiring
    )
    return entered(user, found, key)


@transaction.atomic
def set_up(
    user: User, install_id: UUID, key: str, done: bool, reason: str, noted_at: datetime | None = None
) -> Entered:
    """Record a setting as made at its device, or take that back with a reason."""
    found = begin(user, install_id)
    item = asked_for(found.brief.start_up.set_up, key)
    if not done:
        reason_for("taking a setting back", reason)
    SettingEntry.objects.create(
        **entry(user, found, noted_at), key=key, value=item.value[:200], done=done, reason=reason
    )
    return entered(user, found, key)


@transaction.atomic
def tick_landing(
    user: User, install_id: UUID, key: str, done: bool, reason: str, noted_at: datetime | None = None
) -> Entered:
    """Record a terminal as landed, or take the tick off; before what it needs is done with a reason only."""
    found = begin(user, install_id)
    item = asked_for(found.brief.start_up.landings, key)
    passed = _passed(found, found.brief.start_up.step_of("landings", key), reason) if done else []
    LandingEntry.objects.create(
        **entry(user, found, noted_at), key=item.key, done=done, passed=passed, reason=reason if passed else ""
    )
    return entered(user, found, key)


@transaction.atomic
def read_value(
    user: User,
    install_id: UUID,
    key: str,
    value: float,
    corrects: UUID | None,
    reason: str,
    noted_at: datetime | None = None,
    meter: str | None = None,
) -> Entered:
    """Record a reading, with the meter that was used, or a correction of the one that stands."""
    found = begin(user, install_id)
    point = asked_for(found.brief.start_up.readings, key)
    step = found.brief.start_up.step_of("reads", key)
    _refuse_stopped(found, step.lines if step else [])
    standing = Reading.objects.filter(install=found.install, key=key, corrected_by=None).first()
    if (standing.id if standing else None) != corrects:
        detail = (
            f"A reading of {standing.value:g} {standing.unit} stands here already. Correct that one, with a reason."
            if standing
            else "There is no such reading to correct. Enter it as a new one."
        )
        raise Refused(409, "reading-stands", detail, standing=str(standing.id) if standing else None)
    if standing:
        reason_for("a correction", reason)
    passed = _passed(found, step, reason)
    values = standing_values(found.install, found.brief.start_up) | {key: value}
    judged = judge_readings([p for p in found.brief.start_up.readings if p.about == point.about], values)[key]
    Reading.objects.create(
        **entry(user, found, noted_at),
        key=key,
        value=value,
        unit=point.unit,
        low=judged.low,
        high=judged.high,
        basis=point.basis,
        verdict=judged.verdict,
        passed=passed,
        meter=as_used(user, meter, point.unit),
        wiring=point.wiring,
        corrects=standing,
        reason=reason,
    )
    return entered(user, found, key)


@transaction.atomic
def try_start(
    user: User,
    install_id: UUID,
    key: str,
    outcome: Outcome,
    measured: Measured,
    note: str,
    noted_at: datetime | None = None,
) -> Entered:
    """Record a trial on a source, or take the last one back with a reason.

    Refused where it must not be made yet, and where what comes before it in start-up is not done; with a note that
    says why, it is recorded together with what it passed over.
    """
    found = begin(user, install_id)
    every = found.brief.trials
    asked = asked_for(every, key)
    came, passed = trials_made(found.install), list[str]()
    if outcome == "taken_back":
        reason_for("taking a trial back", note)
        if came.get(key) in (None, outcome):
            raise Refused(409, "no-trial", f"No trial on {asked.name} stands here to be taken back.")
    else:
        held = not_yet(asked, every, came)
        if held is not None:
            raise Refused(409, "trial-too-early", held)
        _plausible(measured)
        step = found.brief.start_up.step_of("trials", key)
        _refuse_stopped(found, step.lines if step else [])
        passed = _passed(found, step, note)
    expected = asked.model_dump(mode="json", include={"expected", "peak_a", "settled_a", "settled_w", "battery_a"})
    TrialEntry.objects.create(
        **entry(user, found, noted_at), key=key, outcome=outcome, on=asked.on, note=note, expected=expected,
        measured=measured.model_dump(exclude_none=True), passed=passed,
    )  # fmt: skip
    return entered(user, found, key)


def _plausible(measured: Measured) -> None:
    """A figure beyond what any trial gives is asked back, not kept."""
    found = efficiency(measured)
    if found is not None and found > 1:
        remedy = "Read both again: an inverter never gives more watts than its battery does."
        raise InputError(Problem("ac_w", measured.ac_w, "is more than the watts on the DC side", remedy))
    if measured.peak_a is not None and measured.settled_a is not None and measured.settled_a > measured.peak_a:
        message = "is below the settled current"
        raise InputError(Problem("peak_a", measured.peak_a, message, "The peak is the highest current that was seen."))


@transaction.atomic
def open_item(
    user: User,
    install_id: UUID,
    text: str,
    owner: str,
    due: date | None,
    noted_at: datetime | None = None,
    temporary: str = "",
) -> Entered:
    """Note something left to do; `temporary`: the part of the work at which something was put in for a while."""
    found = begin(user, install_id)
    if temporary and temporary not in {part.about for part in found.brief.start_up.parts}:
        raise InputError(Problem("about", temporary, "is no part of this start-up", "Load the page again."))
    OpenItem.objects.create(
        **entry(user, found, noted_at), text=text, owner=owner, due=due, temporary=bool(temporary), about=temporary
    )
    return entered(user, found)


@transaction.atomic
def close_item(user: User, install_id: UUID, item_id: UUID, note: str, noted_at: datetime | None = None) -> Entered:
    """Note an open item as done."""
    found = begin(user, install_id)
    item = OpenItem.objects.filter(install=found.install, id=item_id).first()
    if item is None:
        raise not_found()
    if OpenItemClosing.objects.filter(item=item).exists():
        raise Refused(409, "closed", "This item is closed already.")
    OpenItemClosing.objects.create(**entry(user, found, noted_at), item=item, note=note)
    return entered(user, found)


@transaction.atomic
def sign(
    user: User, install_id: UUID, revision: int, name: str, reasons: Mapping[str, str], *,
    role: Signature.As = Signature.As.INSTALLER, drawn: list[list[int]] | None = None, device: str = "",
) -> Entered:  # fmt: skip
    """Sign the record of the revision that the signer has seen; as each role once.

    reasons: why it is signed with something not proved, by that thing or by its part of the work. Who signs after
    somebody else signs with their reasons; a customer signs what the crew has signed.
    """
    found = begin(user, install_id)
    install = found.install
    if revision != install.revision:
        detail = f"The plan has moved on to revision {install.revision}. Look at it again before you sign."
        raise Refused(409, "moved-on", detail)
    _refuse_live(found.brief.stops[0] if found.brief.stops else None)
    before = list(Signature.objects.filter(install=install, revision=revision))
    if any(row.role == role for row in before):
        raise Refused(409, "signed", f"Revision {revision} is signed as {role.label} already.")
    if role == Signature.As.CUSTOMER and not before:
        raise Refused(
            409, "customer-first", "The customer signs what the crew has signed. Let the installer sign first."
        )
    given = {row["key"]: row["reason"] for signature in before for row in signature.reasons}
    said = _said_of_open(found, {**given, **reasons})
    covered = content(install, revision, reasons=said)
    Signature.objects.create(
        **entry(user, found), name=name, digest=digest_of(covered), covers=VERSION, reasons=said, role=role,
        drawn=drawn or None, device=device[:200],
    )  # fmt: skip
    install.signed_revision = revision
    done = entered(user, found)
    record_signed.send(Install, install=install, user=user)
    return done


def _said_of_open(found: Recording, reasons: Mapping[str, str]) -> list[dict[str, str]]:
    """Everything that is not proved, each with why it is signed all the same. Refused where a reason is missing."""
    asked = found.brief.start_up
    left = not_proved(asked, recorded(found.install, asked))
    said = [(entry, reasons.get(entry.key) or reasons.get(entry.about)) for entry in left]
    silent = [entry for entry, reason in said if not reason]
    if silent:
        more = f" And {len(silent) - 1} more." if len(silent) > 1 else ""
        detail = f"Not proved: {silent[0].says}{more} Do it, or say why it is signed without."
        raise Refused(409, "not-proved", detail, missing=[entry.key for entry in silent])
    return [{"key": entry.key, "says": entry.says, "reason": reason or ""} for entry, reason in said]
