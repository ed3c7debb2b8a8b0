"""Recording: steps, tests, settings, landings, readings and their corrections, open items, signing.

Entries are added, never changed. What they are judged by is the kept result of the revision: nothing is computed here.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any, Protocol, TypeVar
from uuid import UUID

from accounts.models import User
from django.db import transaction
from installs.actions import find
from installs.models import Install
from installs.results import brief_at
from leitung_core.commissioning.judge import judge_readings
from leitung_core.commissioning.steps import is_live
from leitung_core.errors import InputError, Problem
from leitung_core.findings import Finding
from leitung_core.result import Brief
from leitung_core.result.signed import VERSION, digest_of
from leitung_core.supply.trials import Measured, Outcome, efficiency, not_yet
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
from records.standing import standing_values, trials_made


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


def _entry(user: User, found: Recording) -> dict[str, Any]:
    return {
        "company_id": user.company_id,
        "install": found.install,
        "revision": found.install.revision,
        "author": user,
    }


def _refuse_live(stop: Finding | None) -> None:
    """Nothing is recorded as energised while the plan says stop."""
    if stop is not None:
        detail = f"The plan says stop: {stop.message} Clear it in the plan before anything is energised."
        raise Refused(409, "stop", detail)


def _asked(entries: list[Asked], key: str) -> Asked:
    match = next((entry for entry in entries if entry.key == key), None)
    if match is None:
        raise InputError(Problem("key", key, "this plan asks for no such thing", "Load the page again."))
    return match


def _reason_for(what: str, reason: str) -> None:
    if not reason:
        raise InputError(Problem("reason", None, f"{what} needs a reason", "Say why in a few words."))


@transaction.atomic
def tick(user: User, install_id: UUID, key: str, done: bool, reason: str) -> Recording:
    """Record a step as done, or take it back with a reason."""
    found = begin(user, install_id)
    step = _asked(found.brief.start_up.steps, key)
    if done and is_live(found.brief.start_up, step):
        _refuse_live(found.brief.stop_on(step.circuit))
    if not done:
        _reason_for("taking a step back", reason)
    StepEntry.objects.create(**_entry(user, found), key=key, done=done, reason=reason)
    refresh(found.install, found.brief, user)
    return found


@transaction.atomic
def try_test(user: User, install_id: UUID, key: str, outcome: str, reason: str) -> Recording:
    """Record that a cause was provoked and did or did not stop what it must, or take that back with a reason."""
    found = begin(user, install_id)
    test = _asked(found.brief.start_up.tests, key)
    if outcome == TestEntry.Outcome.PASSED and test.shown != "stops":
        detail = "On the bench it does not stop. Mend the plan before it is tried on the unit."
        raise Refused(409, "stop", detail)
    if outcome == TestEntry.Outcome.TAKEN_BACK:
        _reason_for("taking a test back", reason)
    TestEntry.objects.create(**_entry(user, found), key=key, outcome=outcome, reason=reason)
    refresh(found.install, found.brief, user)
    return found


@transaction.atomic
def set_up(user: User, install_id: UUID, key: str, done: bool, reason: str) -> Recording:
    """Record a setting as made at its device, or take that back with a reason."""
    found = begin(user, install_id)
    item = _asked(found.brief.start_up.set_up, key)
    if not done:
        _reason_for("taking a setting back", reason)
    SettingEntry.objects.create(**_entry(user, found), key=key, value=item.value[:200], done=done, reason=reason)
    refresh(found.install, found.brief, user)
    return found


@transaction.atomic
def tick_landing(user: User, install_id: UUID, key: str, done: bool) -> Recording:
    """Record a terminal as landed, or take the tick off."""
    found = begin(user, install_id)
    item = _asked(found.brief.start_up.landings, key)
    LandingEntry.objects.create(**_entry(user, found), key=item.key, done=done)
    return found


@transaction.atomic
def read_value(user: User, install_id: UUID, key: str, value: float, corrects: UUID | None, reason: str) -> Recording:
    """Record a reading, or a correction of the one that stands."""
    found = begin(user, install_id)
    point = _asked(found.brief.start_up.readings, key)
    _refuse_live(found.brief.stop_on(point.circuit))
    standing = Reading.objects.filter(install=found.install, key=key, corrected_by=None).first()
    if (standing.id if standing else None) != corrects:
        detail = (
            f"A reading of {standing.value:g} {standing.unit} stands here already. Correct that one, with a reason."
            if standing
            else "There is no such reading to correct. Enter it as a new one."
        )
        raise Refused(409, "reading-stands", detail, standing=str(standing.id) if standing else None)
    if standing:
        _reason_for("a correction", reason)
    values = standing_values(found.install) | {key: value}
    judged = judge_readings([p for p in found.brief.start_up.readings if p.circuit == point.circuit], values)[key]
    Reading.objects.create(
        **_entry(user, found),
        key=key,
        value=value,
        unit=point.unit,
        low=judged.low,
        high=judged.high,
        basis=point.basis,
        verdict=judged.verdict,
        corrects=standing,
        reason=reason,
    )
    refresh(found.install, found.brief, user)
    return found


@transaction.atomic
def try_start(user: User, install_id: UUID, key: str, outcome: Outcome, measured: Measured, note: str) -> Recording:
    """Record a trial on a source, or take the last one back with a reason. Refused where it must not be made yet."""
    found = begin(user, install_id)
    every = found.brief.trials
    asked = _asked(every, key)
    came = trials_made(found.install)
    if outcome == "taken_back":
        _reason_for("taking a trial back", note)
        if came.get(key) in (None, outcome):
            raise Refused(409, "no-trial", f"No trial on {asked.name} stands here to be taken back.")
    else:
        held = not_yet(asked, every, came)
        if held is not None:
            raise Refused(409, "trial-too-early", held)
        _plausible(measured)
    expected = asked.model_dump(mode="json", include={"expected", "peak_a", "settled_a", "settled_w", "battery_a"})
    TrialEntry.objects.create(
        **_entry(user, found), key=key, outcome=outcome, on=asked.on, note=note, expected=expected,
        measured=measured.model_dump(exclude_none=True),
    )  # fmt: skip
    refresh(found.install, found.brief, user)
    return found


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
def open_item(user: User, install_id: UUID, text: str, owner: str, due: date | None) -> Recording:
    """Note something left to do."""
    found = begin(user, install_id)
    OpenItem.objects.create(**_entry(user, found), text=text, owner=owner, due=due)
    return found


@transaction.atomic
def close_item(user: User, install_id: UUID, item_id: UUID, note: str) -> Recording:
    """Note an open item as done."""
    found = begin(user, install_id)
    item = OpenItem.objects.filter(install=found.install, id=item_id).first()
    if item is None:
        raise not_found()
    if OpenItemClosing.objects.filter(item=item).exists():
        raise Refused(409, "closed", "This item is closed already.")
    OpenItemClosing.objects.create(**_entry(user, found), item=item, note=note)
    return found


@transaction.atomic
def sign(user: User, install_id: UUID, revision: int, name: str) -> Recording:
    """Sign the record of the revision that the signer has seen."""
    found = begin(user, install_id)
    install = found.install
    if revision != install.revision:
        detail = f"The plan has moved on to revision {install.revision}. Look at it again before you sign."
        raise Refused(409, "moved-on", detail)
    _refuse_live(found.brief.stops[0] if found.brief.stops else None)
    if install.signed_revision == revision:
        raise Refused(409, "signed", f"Revision {revision} is signed already.")
    covered = content(install, revision)
    Signature.objects.create(**_entry(user, found), name=name, digest=digest_of(covered), covers=VERSION)
    install.signed_revision = revision
    refresh(install, found.brief, user)
    return found
