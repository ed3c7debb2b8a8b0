"""Starts: a trial on paper judged and drawn, without keeping anything."""

from __future__ import annotations

from typing import Annotated, Any

from accounts.roles import person
from django.http import HttpRequest
from leitung_core.findings import Finding
from leitung_core.starting.log import Event, envelope, read_events
from leitung_core.starting.log_file import read_log
from leitung_core.starting.open_form import drawn
from leitung_core.starting.picture import Picture
from leitung_core.starting.verdict import LegResult, SupplyResult, Verdict, Why
from leitung_core.starting.ways import WayOut
from ninja import Router
from pydantic import BaseModel, Field, RootModel

router = Router(tags=["starts"])
LONGEST_LOG = 5_000_000


class TrialDocument(RootModel[dict[str, Any]]):
    """A trial that the core reads itself: its messages name field, value and remedy."""


class StartOut(BaseModel):
    """Who starts, what decides it, each leg and the source, the ways out; and the picture of it."""

    verdict: Verdict
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
    answer, picture = drawn(body.root)
    return StartOut.model_validate({**answer, "picture": picture})
