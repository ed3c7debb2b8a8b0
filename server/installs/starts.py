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
from leitung_core.starting.log import Event, envelope, read_events
from leitung_core.starting.log_file import read_log
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
LONGEST_LOG = 5_000_000


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
    rating_a: Annotated[float, Field(gt=0, le=10_000)] | None = None


class Drawn(BaseModel):
    """From `t_s` on for one part of the log: the least and the most A."""

    t_s: float
    least_a: float
    most_a: float


class LogColumn(BaseModel):
    """A current column: what happened in it, what cannot be said, and its course."""

    column: str
    samples: int
    span_s: float
    step_s: float
    noise_a: float
    events: list[Event]
    findings: list[Finding]
    course: list[Drawn]


class LogOut(BaseModel):
    """Every current column of a log."""

    columns: list[LogColumn]


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
    log = read_log(body.csv.encode())
    rows = [
        LogColumn(
            **{name: getattr(found, name) for name in LogColumn.model_fields if name != "course"},
            course=[Drawn(t_s=at, least_a=low, most_a=high) for at, low, high in envelope(log, found.column)],
        )
        for found in read_events(log, body.rating_a)
    ]
    return LogOut(columns=rows)


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
    at = found.result.supplies.get(source)
    if at is None:
        raise Refused(404, "no-supply", f"No start is judged on {source} in this plan.")
    answer = _judged(body.root)
    keep = kept(found.plan, at, body.root)
    keeps = [_kept(found.plan, at, merge(body.root, way["change"])) for way in answer["ways_out"]]
    return TriedOut.model_validate({**answer, "keep": keep or None, "keeps": keeps})


def _kept(plan: Plan, at: SupplyAt, after: dict[str, Any]) -> dict[str, Any] | None:
    """The change of a plan for a way out; None where it asks for what is no change of this plan."""
    try:
        return kept(plan, at, after) or None
    except InputError:
        return None
