"""What the records of an install need of its plan's result: what stops it, line by line, and what is to be recorded."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel, ConfigDict

from leitung_core.commissioning.startup import start_up
from leitung_core.commissioning.steps import StartUp
from leitung_core.control.system import System, systems_of
from leitung_core.findings import Finding
from leitung_core.plan.model import Plan, found_by
from leitung_core.plant.plant import Plant
from leitung_core.result.check import PlanResult, check_plant
from leitung_core.supply.trials import TrialAsked, trials_asked
from leitung_core.worklist.list import work_list
from leitung_core.worklist.tasks import WorkList


class LineBrief(BaseModel):
    """A line that is started up: what stops it, on it or above it, if anything does."""

    model_config = ConfigDict(frozen=True)

    circuit: str
    name: str
    stop: Finding | None


class Brief(BaseModel):
    """The part of a result that records are judged by. `to_do`: what keeps the lines from being whole, if anything."""

    model_config = ConfigDict(frozen=True)

    name: str
    site: str
    found_by: str = ""
    lines: list[LineBrief]
    drawn: int
    stops: list[Finding]
    to_do: Finding | None
    start_up: StartUp
    trials: list[TrialAsked] = []
    work: WorkList = WorkList(tasks=[])

    def stop_on(self, circuit_id: str) -> Finding | None:
        """What stops a line; None where it may be energised."""
        return next((line.stop for line in self.lines if line.circuit == circuit_id), None)


def check_and_brief(plan: Plan) -> tuple[PlanResult, Brief]:
    """The result of a plan, and what records need of it."""
    plant = Plant(plan)
    systems = systems_of(plant)
    result = check_plant(plant, systems)
    return result, _brief_of(plant, systems, result)


def _brief_of(plant: Plant, systems: Sequence[System], result: PlanResult) -> Brief:
    plan, lines = plant.plan, []
    for circuit_id in (key for group in result.lines for key in group.circuits):
        circuit = plan.circuits[circuit_id]
        unit = plan.equipment.get(circuit.equipment or "")
        if unit is not None and circuit.source is not None:
            name = circuit.name or unit.name or ""
            lines.append(LineBrief(circuit=circuit_id, name=name, stop=result.stop_on(circuit_id)))
    trials = trials_asked(result.supplies)
    started = start_up(plant, systems, result.circuits, trials)
    return Brief(
        name=plan.name, site=plan.site.name or "", found_by=found_by(plan), lines=lines, drawn=len(plan.circuits),
        stops=[row for row in result.findings if row.severity == "stop"],
        to_do=next((row for row in result.findings if _open(row)), None),
        start_up=started, trials=trials, work=work_list(plant, systems, started),
    )  # fmt: skip


def _open(row: Finding) -> bool:
    """Whether the line is not drawn to its end: something it needs is not known, or not chosen."""
    return row.code.endswith("-not-chosen") or (row.severity == "warning" and row.code.endswith("-missing"))
