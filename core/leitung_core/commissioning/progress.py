"""How far an install has come: its station, what is next, and what it is stuck on."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from pydantic import BaseModel, ConfigDict

from leitung_core.commissioning.judge import Verdict
from leitung_core.commissioning.steps import StartUp
from leitung_core.findings import Finding
from leitung_core.plan.model import Plan
from leitung_core.result import PlanResult

Station = Literal["lines", "start-up", "handover", "signed"]


WIRING = ("devices/", "cables/")


class Progress(BaseModel):
    """`rank` orders a board: stuck first, then what is nearest to its end, signed last."""

    model_config = ConfigDict(frozen=True)

    station: Station
    next: str
    stuck_on: str | None
    rank: int


# What start-up asks for, the keys of the steps that are ticked, and the verdict on each standing reading.
Records = tuple[StartUp, frozenset[str], dict[str, Verdict]]


def progress(
    plan: Plan,
    result: PlanResult,
    records: Callable[[], Records],
    signed_revision: int | None,
    revision: int,
) -> Progress:
    """The station of an install. The records are asked for only where the lines themselves are in order."""
    if signed_revision == revision:
        return Progress(station="signed", next=f"Signed at revision {revision}", stuck_on=None, rank=90)
    stops = [finding for finding in result.findings if finding.severity == "stop"]
    if stops:
        rest = len(stops) - 1
        more = f" {rest} more {'stop' if rest == 1 else 'stops'} on other parts." if rest else ""
        wiring = all(finding.about.startswith(WIRING) for finding in stops)
        many = f"Clear the stops on the {'landings' if wiring else 'lines'}"
        todo = many if rest else f"Clear the stop on the {'landing' if wiring else 'line'}"
        return Progress(station="lines", next=todo, stuck_on=_named(plan, stops[0]) + more, rank=10)
    if not plan.circuits:
        return Progress(station="lines", next="Draw the first line", stuck_on=None, rank=40)
    blocking = [finding for finding in result.findings if _open(finding)]
    if blocking:
        return Progress(station="lines", next=_named(plan, blocking[0]), stuck_on=None, rank=40)
    startup, done, verdicts = records()
    wrong = [point for point in startup.readings if verdicts.get(point.key) == "outside"]
    if wrong:
        stuck = f"{wrong[0].text} reads outside what it should"
        return Progress(station="start-up", next="Find out why, then measure again", stuck_on=stuck, rank=20)
    left = [step.text for step in startup.steps if step.key not in done]
    left += [point.text for point in startup.readings if point.key not in verdicts]
    if left:
        return Progress(station="start-up", next=left[0], stuck_on=None, rank=30)
    what = "Sign the record" if signed_revision is None else f"Sign again: changed since revision {signed_revision}"
    return Progress(station="handover", next=what, stuck_on=None, rank=25)


def _named(plan: Plan, finding: Finding) -> str:
    """The finding with the part that it is about, where there are several lines."""
    part = finding.about.split("/")[1:2]
    return f"{part[0]}: {finding.message}" if part and len(plan.circuits) > 1 else finding.message


def _open(finding: Finding) -> bool:
    """Whether the line is not drawn to its end: something it needs is not known, or not chosen."""
    return finding.code.endswith("-not-chosen") or (finding.severity == "warning" and finding.code.endswith("-missing"))
