"""Starts: a trial on paper judged and drawn, without keeping anything."""

from __future__ import annotations

from typing import Annotated, Any
from uuid import UUID

from accounts.roles import person
from django.http import HttpRequest
from leitung_core.errors import InputError
from leitung_core.findings import Finding
from leitung_core.plan.model import Plan
from leitung_core.plan.patch import merge
from leitung_core.result import PlanResult
from leitung_core.starting.compared import Sure, compared, in_words
from leitung_core.starting.document import read_trial
from leitung_core.starting.expected import Expected, expected_of, matched
from leitung_core.starting.log import ColumnRead, Event, envelope, read_events
from leitung_core.starting.log_file import Log, read_log
from leitung_core.starting.open_form import drawn
from leitung_core.starting.picture import Picture
from leitung_core.starting.verdict import LegResult, SupplyResult, Verdict, Why
from leitung_core.starting.ways import WayOut
from leitung_core.starting.words import headline
from leitung_core.supply.changes import kept
from leitung_core.supply.judged import SupplyAt
from leitung_core.validation import Id
from ninja import Router
from problems import Refused
from pydantic import BaseModel, Field, RootModel

from installs import actions

router = Router(tags=["starts"])
LONGEST_LOG = 12_000_000
MOST_SHOWN = 40  # of the rises, each with its own course


class TrialDocument(RootModel[dict[str, Any]]):
    """A trial that the core reads itself: its messages name field, value and remedy."""


class StartOut(BaseModel):
    """Who starts, what decides it, each leg and the source, the ways out; and the picture of it."""

    verdict: Verdict
    headline: str
    why: list[Why]
    legs: list[LegResult]
    supply: SupplyResult
    ways_out: list[WayOut]
    findings: list[Finding]
    picture: Picture


class LogFile(BaseModel):
    """A logged current as CSV, and the rating of the breaker by which a trip is told from a stop, A."""

    csv: Annotated[str, Field(max_length=LONGEST_LOG)]
    before_csv: Annotated[str | None, Field(max_length=LONGEST_LOG, description="an earlier log of the same loads")] = (
        None
    )
    rating_a: Annotated[float, Field(gt=0, le=10_000)] | None = None


class Drawn(BaseModel):
    """From `t_s` on for one part of the log: the least and the most A."""

    t_s: float
    least_a: float
    most_a: float


class Rise(BaseModel):
    """A start or a step up from close by: its course from a moment before to a while after it."""

    at_s: float
    course: list[Drawn]


class TakenOut(BaseModel):
    """A start against the same one before, in words; `sure` says whether the share is a bound."""

    before_at_s: float
    after_at_s: float
    share: float
    sure: Sure
    says: str


class LogColumn(BaseModel):
    """A current column: what happened in it, what cannot be said, and its course; each rise from close by."""

    column: str
    samples: int
    span_s: float
    step_s: float
    noise_a: float
    events: list[Event]
    findings: list[Finding]
    course: list[Drawn]
    rises: list[Rise]


class LogOut(BaseModel):
    """Every current column of a log."""

    columns: list[LogColumn]
    taken: list[TakenOut] = []


class TriedOut(StartOut):
    """A start on a source of an install, as it was changed on paper.

    `keep`: the change of the plan that makes it so; none where it is as planned. `keeps`: that of each way out, in
    their order; none where a way is no change of this plan.
    """

    keep: dict[str, Any] | None
    keeps: list[dict[str, Any] | None]


@router.post("/logs", response=LogOut, exclude_none=True)
def read_a_log(request: HttpRequest, body: LogFile) -> LogOut:
    """Find what happened in a logged current, without keeping it."""
    person(request)
    return _logged(body, None)


@router.post("/installs/{install_id}/supplies/{source}/logs", response=LogOut, exclude_none=True)
def read_a_log_of_a_source(request: HttpRequest, install_id: UUID, source: Id, body: LogFile) -> LogOut:
    """Find what happened in the logged current of a source, and which of its loads each change is likely to be."""
    at = _supply(request, install_id, source)
    return _logged(body, expected_of(read_trial(at.document)) if at.document else None)


def _logged(body: LogFile, about: Expected | None) -> LogOut:
    log = read_log(body.csv.encode())
    rating = body.rating_a if body.rating_a is not None else about.rating_a if about else None
    found = read_events(log, rating)
    earlier = read_events(read_log(body.before_csv.encode()), rating) if body.before_csv else []
    taken = [row for one, two in zip(earlier, found, strict=False) for row in compared(one, two)]
    return LogOut(
        columns=[_column(log, matched(column, about) if about else column) for column in found],
        taken=[TakenOut(before_at_s=row.before_at_s, after_at_s=row.after_at_s, share=row.share, sure=row.sure,
                        says=in_words(row)) for row in taken],
    )  # fmt: skip


def _column(log: Log, found: ColumnRead) -> LogColumn:
    rises = [event.at_s for event in found.events if event.kind in ("start", "step_up")][:MOST_SHOWN]
    told = {name: getattr(found, name) for name in LogColumn.model_fields if name not in ("course", "rises")}
    return LogColumn(
        **told,
        course=_drawn(log, found.column),
        rises=[Rise(at_s=at, course=_drawn(log, found.column, 400, (at - 2, at + 90))) for at in rises],
    )


def _drawn(log: Log, column: str, buckets: int = 600, within: tuple[float, float] | None = None) -> list[Drawn]:
    return [Drawn(t_s=at, least_a=low, most_a=high) for at, low, high in envelope(log, column, buckets, within)]


@router.post("/starting", response=StartOut, exclude_none=True)
def starting(request: HttpRequest, body: TrialDocument) -> StartOut:
    """Judge a trial on paper."""
    person(request)
    return StartOut.model_validate(_judged(body.root))


def _judged(document: dict[str, Any]) -> dict[str, Any]:
    answer, picture = drawn(document)
    why = [Why(**row) for row in answer["why"]]
    return {**answer, "picture": picture, "headline": headline(answer["verdict"], why)}


@router.post("/installs/{install_id}/supplies/{source}/starts", response=TriedOut, exclude_none=True)
def try_on_paper(request: HttpRequest, install_id: UUID, source: Id, body: TrialDocument) -> TriedOut:
    """Judge a start on a source of an install, changed on paper, and say what of the plan would change."""
    found = actions.checked(actions.find(person(request), install_id))
    at = _at(found.result, source)
    answer = _judged(body.root)
    keep = kept(found.plan, at, body.root)
    keeps = [_kept(found.plan, at, merge(body.root, way["change"])) for way in answer["ways_out"]]
    return TriedOut.model_validate({**answer, "keep": keep or None, "keeps": keeps})


def _supply(request: HttpRequest, install_id: UUID, source: str) -> SupplyAt:
    return _at(actions.checked(actions.find(person(request), install_id)).result, source)


def _at(result: PlanResult, source: str) -> SupplyAt:
    found = result.supplies.get(source)
    if found is None:
        raise Refused(404, "no-supply", f"No start is judged on {source} in this plan.")
    return found


def _kept(plan: Plan, at: SupplyAt, after: dict[str, Any]) -> dict[str, Any] | None:
    """The change of a plan for a way out; None where it asks for what is no change of this plan."""
    try:
        return kept(plan, at, after) or None
    except InputError:
        return None
