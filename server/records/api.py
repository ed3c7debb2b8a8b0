"""Start-up and handover over HTTP: steps, readings, open items, signatures."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Annotated, Literal
from uuid import UUID

from accounts.models import User
from accounts.roles import RECORD, SIGN, allow, person
from django.http import HttpRequest
from installs.actions import find
from leitung_core.commissioning.lockout import LockOut
from leitung_core.errors import InputError, Problem
from leitung_core.supply.trials import Measured
from leitung_core.supply.trials import Outcome as Came
from leitung_core.validation import Id, NotNegative, Text
from ninja import Router
from pydantic import AfterValidator, AwareDatetime, BaseModel, Field

from records import actions, visits
from records.ink import Strokes
from records.lockouts import lock_out_at
from records.models import Signature
from records.out import NewsOut, Outcome, RecordOut, news_out, record_out

router = Router(tags=["records"])
Key = Text


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


class NewTrial(Noted):
    """What came of a trial on a source, and what it gave; taken back with a reason.

    A note with one that was made says why what comes before it in start-up is passed over.
    """

    key: Key
    outcome: Came
    measured: Measured = Measured()
    note: Text | None = None


class LandingTick(Noted):
    """A terminal ticked, or the tick taken off; a reason says why it is landed before what comes first is done."""

    key: Key
    done: bool
    reason: Text | None = None


class NewReading(Noted):
    """A measured value; `corrects` names the standing entry that it replaces, with a reason.

    A reason with the first one says why what its step needs is passed over. `meter`: the id of the one that was used.
    """

    key: Key
    value: NotNegative
    corrects: UUID | None = None
    reason: Text | None = None
    meter: Text | None = None


class NewVisit(Noted):
    """Why somebody came."""

    why: Text


class NewAtVisit(Noted):
    """What is read on a visit, as found or as left; read again it needs a reason. `meter`: the id of the one used."""

    key: Key
    state: Literal["found", "left"]
    value: NotNegative
    reason: Text | None = None
    meter: Text | None = None


class NewItem(Noted):
    """Something left to do; `temporary`: put in for a while at a part of the work, `about`, and to come out again."""

    text: Text
    owner: Text
    due: date | None = None
    temporary: bool = False
    about: Annotated[str, Field(max_length=120)] = ""


class Closing(Noted):
    """How it was done."""

    note: Text


class Sign(BaseModel):
    """A name under the revision that was read; why it is signed without what is not proved, by that or by its part."""

    revision: int
    name: Text
    reasons: Annotated[dict[Key, Text], Field(max_length=2000)] = {}
    role: Literal["installer", "licensed", "customer"] = "installer"
    drawn: Strokes | None = None


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


@router.post("/installs/{install_id}/steps", response=NewsOut, exclude_none=True)
def tick(request: HttpRequest, install_id: UUID, body: Tick) -> NewsOut:
    """Tick a step, or take it back with a reason."""
    return news_out(
        actions.tick(_recorder(request), install_id, body.key, body.done, body.reason or "", body.value, body.noted_at)
    )


@router.post("/installs/{install_id}/tests", response=NewsOut, exclude_none=True)
def try_test(request: HttpRequest, install_id: UUID, body: Tried) -> NewsOut:
    """Record a functional test: passed, failed, or taken back with a reason."""
    return news_out(
        actions.try_test(_recorder(request), install_id, body.key, body.outcome, body.reason or "", body.noted_at)
    )


@router.post("/installs/{install_id}/start-trials", response=NewsOut, exclude_none=True)
def try_start(request: HttpRequest, install_id: UUID, body: NewTrial) -> NewsOut:
    """Record a trial on a source, or take the last one back with a reason."""
    user, note = _recorder(request), body.note or ""
    return news_out(actions.try_start(user, install_id, body.key, body.outcome, body.measured, note, body.noted_at))


@router.post("/installs/{install_id}/settings", response=NewsOut, exclude_none=True)
def set_up(request: HttpRequest, install_id: UUID, body: Tick) -> NewsOut:
    """Record a setting as made at its device, or take it back with a reason."""
    return news_out(
        actions.set_up(_recorder(request), install_id, body.key, body.done, body.reason or "", body.noted_at)
    )


@router.post("/installs/{install_id}/landing-ticks", response=NewsOut, exclude_none=True)
def tick_landing(request: HttpRequest, install_id: UUID, body: LandingTick) -> NewsOut:
    """Tick a terminal, or take the tick off."""
    user, why = _recorder(request), body.reason or ""
    return news_out(actions.tick_landing(user, install_id, body.key, body.done, why, body.noted_at))


@router.post("/installs/{install_id}/readings", response=NewsOut, exclude_none=True)
def read_value(request: HttpRequest, install_id: UUID, body: NewReading) -> NewsOut:
    """Record a reading or a correction."""
    user, why = _recorder(request), body.reason or ""
    return news_out(
        actions.read_value(user, install_id, body.key, body.value, body.corrects, why, body.noted_at, body.meter)
    )


@router.post("/installs/{install_id}/visits", response=NewsOut, exclude_none=True)
def begin_visit(request: HttpRequest, install_id: UUID, body: NewVisit) -> NewsOut:
    """Begin a visit to an install that runs."""
    return news_out(visits.begin_visit(_recorder(request), install_id, body.why, body.noted_at))


@router.post("/installs/{install_id}/visits/readings", response=NewsOut, exclude_none=True)
def read_at_visit(request: HttpRequest, install_id: UUID, body: NewAtVisit) -> NewsOut:
    """Record what is read on the visit that is open, as found or as left."""
    user, why = _recorder(request), body.reason or ""
    return news_out(
        visits.read_at_visit(user, install_id, body.key, body.state, body.value, why, body.noted_at, body.meter)
    )


@router.post("/installs/{install_id}/visits/end", response=NewsOut, exclude_none=True)
def end_visit(request: HttpRequest, install_id: UUID, body: Closing) -> NewsOut:
    """End the visit that is open, with what was done."""
    return news_out(visits.end_visit(_recorder(request), install_id, body.note, body.noted_at))


@router.post("/installs/{install_id}/open-items", response=NewsOut, exclude_none=True)
def open_item(request: HttpRequest, install_id: UUID, body: NewItem) -> NewsOut:
    """Note something left to do."""
    user, at = _recorder(request), body.about if body.temporary else ""
    if body.temporary and not at:
        raise InputError(Problem("about", None, "is needed", "Say at which part of the work it was put in."))
    return news_out(actions.open_item(user, install_id, body.text, body.owner, body.due, body.noted_at, at))


@router.post("/installs/{install_id}/open-items/{item_id}/closing", response=NewsOut, exclude_none=True)
def close_item(request: HttpRequest, install_id: UUID, item_id: UUID, body: Closing) -> NewsOut:
    """Note an open item as done."""
    return news_out(actions.close_item(_recorder(request), install_id, item_id, body.note, body.noted_at))


@router.post("/installs/{install_id}/signatures", response=NewsOut, exclude_none=True)
def sign(request: HttpRequest, install_id: UUID, body: Sign) -> NewsOut:
    """Sign the record of the revision that was read."""
    device = request.headers.get("User-Agent", "")
    return news_out(actions.sign(
        allow(request, SIGN), install_id, body.revision, body.name, body.reasons,
        role=Signature.As(body.role), drawn=body.drawn, device=device,
    ))  # fmt: skip
