"""The bench: control systems, what happens when something is pressed, all single mistakes, readings explained."""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Any, Literal
from uuid import UUID

from accounts.roles import PLAN, RECORD, allow, person
from django.http import HttpRequest
from installs import actions
from installs.api import PlanOut, plan_out
from installs.results import revision_at
from leitung_core.bench.frames import BenchRun, bench_run
from leitung_core.bench.overview import Overview, overview
from leitung_core.control.judgement import judge
from leitung_core.control.system import System, system_with, systems_of
from leitung_core.elements.signals import signals
from leitung_core.errors import PatchConflict
from leitung_core.findings import Finding, Way
from leitung_core.patterns.fit import Fitted, candidates, fit
from leitung_core.patterns.patterns import Pattern, patterns
from leitung_core.plan.model import dump_plan, read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.result import check_plant
from leitung_core.slips.diagnosis import Reading
from leitung_core.slips.mistakes import Mistake, mistakes
from leitung_core.slips.report import Report
from leitung_core.solver.contacts import Stretch
from ninja import Query, Router, Status
from problems import Refused
from pydantic import BaseModel, Field

from bench import analyses
from bench.models import Analysis

router = Router(tags=["bench"])
SystemKey = Annotated[str, Field(min_length=1, max_length=32)]
Node = Annotated[str, Field(max_length=98)]


class Pressed(BaseModel):
    """What was on, and for how long, s."""

    on: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=40)] = []
    for_s: Annotated[float, Field(ge=0, le=86_400)] = 0


class Presses(BaseModel):
    """Everything that was pressed, in order; the last stretch is followed as far as anything is to come."""

    system: SystemKey
    course: Annotated[list[Pressed], Field(min_length=1, max_length=60)]
    slip: Annotated[str, Field(max_length=200)] | None = Field(None, description="a single mistake to be shown")


@router.get("/installs/{install_id}/bench", response=Overview, exclude_none=True)
def bench(request: HttpRequest, install_id: UUID, system: Annotated[SystemKey | None, Query()] = None) -> Overview:
    """The control systems of an install, and one of them: its drawing, its matrix, its transformers."""
    install = actions.find(person(request), install_id)
    result = revision_at(install, install.revision).result
    return overview(_plant_of(install.id, install.revision), system, result.of_systems())


@router.post("/installs/{install_id}/bench/runs", response=BenchRun, exclude_none=True)
def bench_runs(request: HttpRequest, install_id: UUID, body: Presses) -> BenchRun:
    """What happens when something is pressed: frame by frame, with volts everywhere."""
    found = _system(_plant(request, install_id), body.system)
    course = [Stretch(frozenset(pressed.on), pressed.for_s) for pressed in body.course]
    if body.slip is None:
        return bench_run(found, course)
    mistake = _mistake(found, body.slip)
    if mistake.anew:
        return bench_run(system_with(found, mistake.patch or {}), course)
    return bench_run(found, course, mistake.gone, mistake.extra)


def _plant(request: HttpRequest, install_id: UUID) -> Plant:
    install = actions.find(person(request), install_id)
    return _plant_of(install.id, install.revision)


@lru_cache(maxsize=8)
def _plant_of(install_id: UUID, revision: int) -> Plant:
    """The wiring of a revision, which never changes: read once for all the presses on it."""
    return analyses.plant_at(install_id, revision)


@lru_cache(maxsize=16)
def _system(plant: Plant, key: str) -> System:
    return analyses.one_system(plant, key)


def _mistake(system: System, slip: str) -> Mistake:
    """A mistake by its id. Raises Refused where the plan no longer has it."""
    found = next((mistake for mistake in mistakes(system) if mistake.id == slip), None)
    if found is None:
        raise Refused(404, "slip", "That mistake cannot be made in this plan any more. Look at the list again.")
    return found


class PatternOut(BaseModel):
    """A pattern as it is offered: what it is, and the devices that could take each part that must be there."""

    id: str
    name: str
    says: str
    candidates: dict[str, list[str]]


@router.get("/installs/{install_id}/bench/patterns", response=list[PatternOut])
def bench_patterns(request: HttpRequest, install_id: UUID, near: Annotated[SystemKey, Query()]) -> list[PatternOut]:
    """The patterns, with what of this plan could take part in each."""
    plant = _plant(request, install_id)
    return [
        PatternOut(id=key, name=entry.name, says=entry.says, candidates=candidates(plant, entry, near))
        for key, entry in patterns().items()
    ]


class FitAsk(BaseModel):
    """A pattern to be fitted around a device; `parts` names devices where there is a choice."""

    pattern: SystemKey
    near: SystemKey
    parts: Annotated[dict[str, SystemKey], Field(max_length=20)] = {}
    length_ft: Annotated[float, Field(ge=0, le=2000)] = 10


class ObstacleOut(BaseModel):
    """What a pattern lacks here, and the ways out."""

    says: str
    ways: list[Way]


class FitOut(BaseModel):
    """A pattern fitted, nothing changed yet: the change, what it puts in, what it would bring, what is in its way."""

    parts: dict[str, str]
    devices: list[str]
    cables: list[str]
    patch: dict[str, Any] | None
    obstacles: list[ObstacleOut]
    findings: list[Finding]
    proved: list[str]


@router.post("/installs/{install_id}/bench/fits", response=FitOut)
def bench_fits(request: HttpRequest, install_id: UUID, body: FitAsk) -> FitOut:
    """Fit a pattern to the plan without changing it."""
    install = actions.find(person(request), install_id)
    plant = _plant_of(install.id, install.revision)
    found = _fitted(plant, body)
    before = {(row.code, row.about) for row in revision_at(install, install.revision).result.findings}
    after = Plant(read_plan(merge(dump_plan(plant.plan), found.patch)))
    fresh = [row for row in check_plant(after).findings if (row.code, row.about) not in before]
    return FitOut(
        parts=found.parts,
        devices=[key for key in found.patch.get("devices", {}) if key not in plant.plan.devices],
        cables=[key for key in found.patch.get("cables", {}) if key not in plant.plan.cables],
        patch=found.patch or None,
        obstacles=[ObstacleOut(says=entry.says, ways=list(entry.ways)) for entry in found.obstacles],
        findings=fresh if found.patch else [],
        proved=_proved(after, patterns()[body.pattern]) if found.patch else [],
    )


class Placement(FitAsk):
    """A fit that is to be put in, with the change as it was shown."""

    patch: Annotated[dict[str, Any], Field(min_length=1)]


@router.post("/installs/{install_id}/bench/placements", response=PlanOut, exclude_none=True)
def bench_placements(request: HttpRequest, install_id: UUID, body: Placement) -> PlanOut:
    """Put a pattern in: the fit that was shown, or, where it would be another by now, nothing. 409 then."""
    user = allow(request, PLAN)
    install = actions.find(user, install_id)
    if _fitted(_plant_of(install.id, install.revision), body).patch != body.patch:
        raise Refused(
            409,
            "fit-changed",
            "The plan has changed since this fit was shown. Look at it again, then put it in.",
        )
    try:
        return plan_out(user, actions.change(user, install_id, install.revision, body.patch))
    except PatchConflict as error:
        raise Refused(409, "fit-changed", "Somebody changed the same parts just now. Look at the fit again.") from error


def _fitted(plant: Plant, asked: FitAsk) -> Fitted:
    pattern = patterns().get(asked.pattern)
    if pattern is None:
        raise Refused(404, "pattern", f"There is no pattern {asked.pattern}. Take one of the list.")
    return fit(plant, pattern, asked.near, asked.parts, asked.length_ft)


def _proved(plant: Plant, pattern: Pattern) -> list[str]:
    """What the simulation shows of a pattern's safety contacts once it is in."""
    shown = {
        (entry.cell.cause, entry.cell.effect): entry.outcome
        for system in systems_of(plant) for entry in judge(system).cells
    }  # fmt: skip
    words = []
    for cause, effect in pattern.stops:
        outcome = shown.get((cause, effect))
        named = signals()[cause].short
        if outcome == "stops":
            words.append(f"{named} stops the {effect}")
        elif outcome is not None:
            words.append(f"{named}: the {effect} {outcome}")
    return words


class AskAnalysis(BaseModel):
    """The system whose mistakes are to be worked out."""

    system: SystemKey


class PairOut(BaseModel):
    """Two terminals between which a meter is worth reading; `direct`: direct volts, `a` plus."""

    a: str
    b: str
    direct: bool


class AnalysisOut(BaseModel):
    """How an analysis stands; its report once it is done."""

    id: UUID
    system: str
    revision: int
    status: Literal["queued", "running", "done", "cancelled", "failed", "stalled"]
    share: float
    why: str | None = None
    report: Report | None = None
    pairs: list[PairOut] = []
    watched: list[str] = []


def _out(analysis: Analysis) -> AnalysisOut:
    waiting = analysis.status in (Analysis.Status.QUEUED, Analysis.Status.RUNNING)
    status = "stalled" if waiting and analyses.stalled(analysis) else analysis.status
    done = analysis.status == Analysis.Status.DONE
    outcomes = analyses.outcomes_of(analysis) if done else None
    pairs = (
        [PairOut(a=a, b=b, direct=direct) for (a, b), direct in zip(outcomes.pairs, outcomes.direct, strict=True)]
        if outcomes
        else []
    )
    return AnalysisOut.model_validate({
        "id": analysis.id, "system": analysis.system, "revision": analysis.revision, "status": status,
        "share": analysis.share, "why": analysis.why or None, "report": analysis.report,
        "pairs": [pair.model_dump() for pair in pairs],
        "watched": outcomes.watched if outcomes else [],
    })  # fmt: skip


@router.post("/installs/{install_id}/analyses", response={202: AnalysisOut}, exclude_none=True)
def ask_analysis(request: HttpRequest, install_id: UUID, body: AskAnalysis) -> Status[AnalysisOut]:
    """Have all single mistakes of a system worked out. One that there is for this revision is given again."""
    return Status(202, _out(analyses.ask(allow(request, RECORD), install_id, body.system)))


@router.get("/installs/{install_id}/analyses/{analysis_id}", response=AnalysisOut, exclude_none=True)
def analysis(request: HttpRequest, install_id: UUID, analysis_id: UUID) -> AnalysisOut:
    """How an analysis stands, and its report."""
    return _out(analyses.find(person(request), install_id, analysis_id))


@router.post("/installs/{install_id}/analyses/{analysis_id}/cancellation", response=AnalysisOut, exclude_none=True)
def cancel_analysis(request: HttpRequest, install_id: UUID, analysis_id: UUID) -> AnalysisOut:
    """Stop an analysis; what is done stays."""
    return _out(analyses.cancel(allow(request, RECORD), install_id, analysis_id))


class FoundReading(BaseModel):
    """What was found in a trial: volts between two terminals, or whether something runs."""

    trial: Annotated[int, Field(ge=0, le=500)]
    a: Node | None = None
    b: Node | None = None
    volts: Annotated[float, Field(ge=-1000, le=1000)] | None = None
    watched: Node | None = None
    on: bool | None = None


class Found(BaseModel):
    """Everything that was found, in any order."""

    readings: Annotated[list[FoundReading], Field(max_length=200)]


class SuspectOut(BaseModel):
    """A mistake that explains the readings; without an id: the plan as it is."""

    id: str | None
    share: float


class FollowingOut(BaseModel):
    """The test that tells most: the trial, and where the leads go; without leads one looks what runs."""

    trial: int
    a: str | None = None
    b: str | None = None


class DiagnosisOut(BaseModel):
    """The suspects, likeliest first, and what to try next."""

    suspects: list[SuspectOut]
    following: FollowingOut | None


@router.post("/installs/{install_id}/analyses/{analysis_id}/diagnoses", response=DiagnosisOut)
def diagnosis(request: HttpRequest, install_id: UUID, analysis_id: UUID, body: Found) -> DiagnosisOut:
    """The mistakes that explain what was found, best first, and the next reading that would tell them apart."""
    found = analyses.find(person(request), install_id, analysis_id)
    outcomes, told = analyses.outcomes_of(found), analyses.report_of(found)
    readings = [_reading(outcomes, entry, number) for number, entry in enumerate(body.readings)]
    result = analyses.explain(found, readings)
    mistakes_ = told.mistakes if told else []
    after = result.following
    pair = outcomes.pairs[after.pair] if after and after.pair is not None else (None, None)
    return DiagnosisOut(
        suspects=[
            SuspectOut(id=mistakes_[s.slip].id if s.slip is not None else None, share=round(s.share, 4))
            for s in result.suspects if s.share >= 0.001
        ],
        following=FollowingOut(trial=after.trial, a=pair[0], b=pair[1]) if after else None,
    )  # fmt: skip


def _reading(outcomes: analyses.Outcomes, entry: FoundReading, number: int) -> Reading:
    if entry.trial >= outcomes.volts.shape[1]:
        raise Refused(422, "readings", f"Reading {number + 1}: there is no trial {entry.trial}. Take one of the list.")
    if entry.watched is not None:
        if entry.watched not in outcomes.watched:
            raise Refused(422, "readings", f"Reading {number + 1}: {entry.watched} is nothing that one sees running.")
        return Reading(entry.trial, watched=outcomes.watched.index(entry.watched), on=entry.on)
    ends = (entry.a or "", entry.b or "")
    known = {pair: i for i, pair in enumerate(outcomes.pairs)} | {(b, a): i for i, (a, b) in enumerate(outcomes.pairs)}
    if ends not in known:
        raise Refused(
            422, "readings", f"Reading {number + 1}: {ends[0]} to {ends[1]} is not among the readings of this system."
        )
    pair, volts = known[ends], entry.volts
    if volts is not None and volts < 0 and not outcomes.direct[pair]:
        raise Refused(
            422, "readings", f"Reading {number + 1}: {volts:g} V. Alternating volts have no sign: take it off."
        )
    if volts is not None and outcomes.direct[pair] and outcomes.pairs[pair] != ends:
        volts = -volts
    return Reading(entry.trial, pair=pair, volts=volts)
