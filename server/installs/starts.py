"""Starts: a trial on paper judged and drawn, without keeping anything."""

from __future__ import annotations

from typing import Any

from accounts.roles import person
from django.http import HttpRequest
from leitung_core.findings import Finding
from leitung_core.starting.open_form import drawn
from leitung_core.starting.picture import Picture
from leitung_core.starting.verdict import LegResult, SupplyResult, Verdict
from ninja import Router
from pydantic import BaseModel, RootModel

router = Router(tags=["starts"])


class TrialDocument(RootModel[dict[str, Any]]):
    """A trial that the core reads itself: its messages name field, value and remedy."""


class Reason(BaseModel):
    """One thing that was looked at: when, what, in words, its figure against its limit."""

    at_s: float
    about: str
    says: str
    value: float
    limit: float
    unit: str


class Way(BaseModel):
    """A way out, tried: what to do, and the merge patch that does it."""

    says: str
    change: dict[str, Any]


class StartOut(BaseModel):
    """Who starts, what decides it, each leg and the source, the ways out; and the picture of it."""

    verdict: Verdict
    why: list[Reason]
    legs: list[LegResult]
    supply: SupplyResult
    ways_out: list[Way]
    findings: list[Finding]
    picture: Picture


@router.post("/starting", response=StartOut, exclude_none=True)
def starting(request: HttpRequest, body: TrialDocument) -> StartOut:
    """Judge a trial on paper."""
    person(request)
    answer, picture = drawn(body.root)
    return StartOut.model_validate({**answer, "picture": picture})
