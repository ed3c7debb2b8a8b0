"""Named actions on analyses: ask for one, tell how it stands, cancel it, work it out, read from it."""

from __future__ import annotations

import io
from dataclasses import dataclass
from datetime import timedelta
from uuid import UUID

import numpy as np
from accounts.models import User
from django.db import transaction
from django.utils import timezone
from installs import actions
from installs.models import PlanRevision
from leitung_core.control.system import System, system_of
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.slips.diagnosis import Diagnosis, Reading, diagnose_in
from leitung_core.slips.harm import Slips
from leitung_core.slips.report import Report, report
from problems import Refused

from bench.models import Analysis

Status = Analysis.Status
STALLED = timedelta(minutes=2)  # without a sign from the worker: it has died


class Cancelled(Exception):  # noqa: N818
    """The analysis was cancelled while it ran."""


def ask(user: User, install_id: UUID, key: str) -> Analysis:
    """The analysis of a system at the newest revision: one that there is already, else a new one in the queue."""
    from bench.tasks import carry_out as task

    install = actions.find(user, install_id)
    system = one_system(plant_at(install.id, install.revision), key)
    mine = Analysis.objects.filter(install=install, revision=install.revision, system=system.key)
    for known in mine:
        if known.status == Status.DONE or (known.status in (Status.QUEUED, Status.RUNNING) and not stalled(known)):
            return known
    with transaction.atomic():
        fresh = Analysis.objects.create(
            company_id=install.company_id, install=install, revision=install.revision, system=system.key, author=user
        )
        task.defer(analysis=str(fresh.id))
    return fresh


def stalled(analysis: Analysis) -> bool:
    """Whether nothing has been heard of it for too long."""
    return timezone.now() - analysis.touched > STALLED


def find(user: User, install_id: UUID, analysis_id: UUID) -> Analysis:
    """The analysis, if it is of this person's company and of that install."""
    install = actions.find(user, install_id)
    found = Analysis.objects.filter(install=install, id=analysis_id).first()
    if found is None:
        raise Refused(404, "not-found", "There is no such analysis. Start it again.")
    return found


def cancel(user: User, install_id: UUID, analysis_id: UUID) -> Analysis:
    """Stop an analysis that is not done; one that is done stays."""
    found = find(user, install_id, analysis_id)
    Analysis.objects.filter(id=found.id, status__in=(Status.QUEUED, Status.RUNNING)).update(
        status=Status.CANCELLED, touched=timezone.now()
    )
    found.refresh_from_db()
    return found


def carry_out(analysis_id: UUID) -> None:
    """Work an analysis out, step by step; does nothing where it was cancelled before it began."""
    begun = Analysis.objects.filter(id=analysis_id, status=Status.QUEUED)
    if not begun.update(status=Status.RUNNING, touched=timezone.now()):
        return
    analysis = Analysis.objects.get(id=analysis_id)
    plant = plant_at(analysis.install_id, analysis.revision)

    def progress(share: float) -> None:
        running = Analysis.objects.filter(id=analysis_id, status=Status.RUNNING)
        if not running.update(share=share, touched=timezone.now()):
            raise Cancelled

    try:
        found, outcomes = report(one_system(plant, analysis.system), progress)
    except Cancelled:
        return
    Analysis.objects.filter(id=analysis_id, status=Status.RUNNING).update(
        status=Status.DONE,
        share=1,
        touched=timezone.now(),
        report=found.model_dump(mode="json"),
        outcomes=_packed(outcomes),
    )


def fail(analysis_id: UUID, why: str) -> None:
    """Mark an analysis whose work broke off, and keep why."""
    Analysis.objects.filter(id=analysis_id).update(status=Status.FAILED, touched=timezone.now(), why=why[:300])


@dataclass(frozen=True)
class Outcomes:
    """What each mistake would read and run, as it is kept."""

    volts: np.ndarray
    on: np.ndarray
    pairs: list[tuple[str, str]]
    direct: list[bool]
    watched: list[str]


def _packed(slips: Slips) -> bytes:
    raw = io.BytesIO()
    np.savez_compressed(
        raw,
        volts=slips.volts.astype(np.float32),
        on=slips.on,
        pairs=np.array(slips.pairs),
        direct=np.array(slips.direct),
        watched=np.array(slips.watched),
    )
    return raw.getvalue()


def outcomes_of(analysis: Analysis) -> Outcomes:
    """The outcomes of an analysis that is done."""
    if analysis.status != Status.DONE or analysis.outcomes is None:
        raise Refused(409, "not-done", "The mistakes of this system are not worked out yet. Wait for the analysis.")
    with np.load(io.BytesIO(bytes(analysis.outcomes)), allow_pickle=False) as kept:
        pairs = [(str(a), str(b)) for a, b in kept["pairs"]]
        direct = kept["direct"].tolist() if "direct" in kept else [False] * len(pairs)
        watched = [str(name) for name in kept["watched"]]
        return Outcomes(kept["volts"].astype(float), kept["on"], pairs, direct, watched)


def explain(analysis: Analysis, readings: list[Reading]) -> Diagnosis:
    """The mistakes that explain some readings."""
    found = outcomes_of(analysis)
    return diagnose_in(found.volts, found.on, readings)


def report_of(analysis: Analysis) -> Report | None:
    return Report.model_validate(analysis.report) if analysis.report is not None else None


def plant_at(install_id: UUID, revision: int) -> Plant:
    """The wiring of a revision."""
    kept = PlanRevision.objects.values_list("document", flat=True).get(install_id=install_id, number=revision)
    return Plant(read_plan(kept))


def one_system(plant: Plant, key: str) -> System:
    """The system with that device. Raises Refused where there is none."""
    found = system_of(plant, key)
    if found is None:
        raise Refused(404, "system", "There is no such control system in this plan. Open the bench again.")
    return found
