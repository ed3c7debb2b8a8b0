"""How far an install has come: its station, what is next, and what it is stuck on."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Literal

from pydantic import BaseModel, ConfigDict

from leitung_core.commissioning.judge import Verdict
from leitung_core.commissioning.steps import StartStep, StartUp
from leitung_core.findings import Finding
from leitung_core.result.brief import Brief
from leitung_core.result.stations import Progressed

Tried = Literal["passed", "failed", "taken_back"]
WIRING = ("devices/", "cables/")


class Progress(BaseModel):
    """The station of an install, what is next there, and what it is stuck on."""

    model_config = ConfigDict(frozen=True)

    station: Progressed
    next: str
    stuck_on: str | None


@dataclass(frozen=True)
class Temporary:
    """Something put in for a while at a part of the work, that is still there."""

    key: str
    about: str
    text: str


@dataclass(frozen=True)
class Recorded:
    """What stands in the records: steps done, verdicts on readings, tests, settings and landings, what trials gave."""

    done: frozenset[str] = frozenset()
    verdicts: dict[str, Verdict] = field(default_factory=dict)
    tests: dict[str, Tried] = field(default_factory=dict)
    settings: frozenset[str] = frozenset()
    landings: frozenset[str] = frozenset()
    trials: dict[str, str] = field(default_factory=dict)
    temporary: tuple[Temporary, ...] = ()


def progress(
    brief: Brief, recorded: Callable[[], Recorded], signed_revision: int | None, revision: int,
    visit: Callable[[], str | None] = lambda: None,
) -> Progress:  # fmt: skip
    """The station of an install. The records are asked for only where the lines themselves are in order.

    visit: why somebody is there on a visit that is not over; asked for only where nothing else comes first.
    """
    if signed_revision == revision:
        return Progress(station="signed", next=_visited(visit) or f"Signed at revision {revision}", stuck_on=None)
    if brief.stops:
        return _stopped(brief)
    if not brief.drawn:
        return Progress(station="lines", next="Draw the first line", stuck_on=None)
    if brief.to_do is not None:
        return Progress(station="lines", next=_named(brief, brief.to_do), stuck_on=None)
    records = recorded()
    wrong = next(_wrong(brief, records), None)
    if wrong is not None:
        stuck, then = wrong
        return Progress(station="start-up", next=then, stuck_on=stuck)
    left = next(left_to_record(brief, records), None)
    if left is not None:
        return Progress(station="start-up", next=left, stuck_on=None)
    what = "Sign the record" if signed_revision is None else f"Sign again: changed since revision {signed_revision}"
    return Progress(station="handover", next=_visited(visit) or what, stuck_on=None)


def _visited(visit: Callable[[], str | None]) -> str | None:
    why = visit()
    return f"A visit is open: “{why}”" if why else None


def left_to_record(brief: Brief, records: Recorded) -> Iterator[str]:
    """Everything that start-up asks for and nobody has recorded, in the order of the work."""
    asked = brief.start_up
    done = done_steps(asked, records)
    points = {point.key: point.text for point in asked.readings}
    tests = {test.key: f"Prove that {test.cause_words} stops the {test.effect}, {test.title}" for test in asked.tests}
    settings = {item.key: f"{item.device}: set {item.what} to {item.value}" for item in asked.set_up}
    for step in asked.steps:
        if step.key not in done and (step.landings or step.trials or not step.proved_by_records):
            yield step.text
        yield from (points[key] for key in step.reads if key not in records.verdicts)
        yield from (tests[key] for key in step.tests if records.tests.get(key) != "passed")
        yield from (settings[key] for key in step.settings if key not in records.settings)


def done_steps(asked: StartUp, records: Recorded) -> frozenset[str]:
    """The steps that are done: ticked, or all that belongs to them recorded and as it should be."""
    return frozenset(step.key for step in asked.steps if _is_done(step, records))


def _is_done(step: StartStep, records: Recorded) -> bool:
    if not step.proved_by_records:
        return step.key in records.done
    return (
        all(records.verdicts.get(key, "outside") != "outside" for key in step.reads)
        and all(records.tests.get(key) == "passed" for key in step.tests)
        and records.settings.issuperset(step.settings)
        and records.landings.issuperset(step.landings)
        and all(records.trials.get(key) == "started" for key in step.trials)
    )


class NotProved(BaseModel):
    """Something that a signature would cover unproved: `key` of the step or reading, in which part of the work."""

    model_config = ConfigDict(frozen=True)

    key: str
    about: str
    says: str


def not_proved(asked: StartUp, records: Recorded) -> list[NotProved]:
    """Every hold that is not done, interlocks among them, every reading outside, and what was put in and is not out."""
    done = done_steps(asked, records)
    found = [NotProved(key=step.key, about=step.about, says=step.text) for step in asked.steps
             if step.hold and step.key not in done]  # fmt: skip
    found += [NotProved(key=item.key, about=item.about, says=f"Still there: {item.text}") for item in records.temporary]
    return found + [
        NotProved(key=point.key, about=point.about, says=f"{point.text} reads outside what it should")
        for point in asked.readings if records.verdicts.get(point.key) == "outside"
    ]  # fmt: skip


def _wrong(brief: Brief, records: Recorded) -> Iterator[tuple[str, str]]:
    """What was recorded and is not as it should be, and what to do."""
    for point in brief.start_up.readings:
        if records.verdicts.get(point.key) == "outside":
            yield f"{point.text} reads outside what it should", "Find out why, then measure again"
    for test in brief.start_up.tests:
        if records.tests.get(test.key) == "failed":
            yield f"{test.cause_words} did not stop the {test.effect}, {test.title}", "Find out why, then try it again"


def _stopped(brief: Brief) -> Progress:
    rest = len(brief.stops) - 1
    more = f" {rest} more {'stop' if rest == 1 else 'stops'} on other parts." if rest else ""
    wiring = all(finding.about.startswith(WIRING) for finding in brief.stops)
    many = f"Clear the stops on the {'landings' if wiring else 'lines'}"
    todo = many if rest else f"Clear the stop on the {'landing' if wiring else 'line'}"
    return Progress(station="lines", next=todo, stuck_on=_named(brief, brief.stops[0]) + more)


def _named(brief: Brief, finding: Finding) -> str:
    """The finding with the part that it is about, where there are several lines."""
    part = finding.about.split("/")[1:2]
    return f"{part[0]}: {finding.message}" if part and brief.drawn > 1 else finding.message
