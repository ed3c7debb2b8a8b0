"""Check a whole plan: every circuit sized, every panel summed, every landing checked, each finding on its element."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from pydantic import BaseModel, ConfigDict

from leitung_core.bench.overview import bench_findings
from leitung_core.circuits.loads.heat import power_at
from leitung_core.circuits.result import CircuitResult
from leitung_core.findings import SEVERITIES, Finding, Severity, finding, worst
from leitung_core.panels.panel import PanelResult, panel_result
from leitung_core.panels.spaces import judge_spaces, taken_spaces
from leitung_core.plan.model import Plan, feeders_above, feeding
from leitung_core.plant.circuit import supply_of
from leitung_core.plant.order import lines_of, sources_in_order
from leitung_core.plant.plant import Plant
from leitung_core.sizing import size_all
from leitung_core.suit import (
    Answer,
    BranchQuestion,
    HeatQuestion,
    SteamQuestion,
    branch_answer,
    heat_answer,
    steam_answer,
)
from leitung_core.units import exact, say
from leitung_core.wiring.view import WiringResult, wiring_result

WITH_FEEDER_PCT = 5


class SourceLines(BaseModel):
    """The lines of one source, in the order in which they are read; without a source: those that have none yet."""

    model_config = ConfigDict(frozen=True)

    source: str | None
    circuits: list[str]


class PlanResult(BaseModel):
    """Everything computed from a plan. `findings` holds the plan's own and those of every circuit, gravest first."""

    model_config = ConfigDict(frozen=True)

    lines: list[SourceLines]
    circuits: dict[str, CircuitResult]
    panels: dict[str, PanelResult]
    answers: dict[str, Answer]
    wiring: WiringResult
    findings: list[Finding]
    worst: Severity | None


def check_plan(plan: Plan) -> PlanResult:
    """Size and judge every circuit and panel of a plan."""
    results = size_all(plan)
    panels = {source_id: panel_result(plan, source_id, results) for source_id in plan.sources}
    answers = {key: _answer(plan, question) for key, question in plan.questions.items()}
    findings = [row for result in results.values() for row in result.findings]
    findings += _unsuited(plan, answers)
    findings += [row for panel in panels.values() for row in panel.findings]
    taken = {source_id: taken_spaces(plan, source_id) for source_id in plan.sources}
    fed_by = feeding(plan)
    for circuit_id, circuit in plan.circuits.items():
        about = f"circuits/{circuit_id}"
        if circuit_id not in results:
            findings.append(finding("equipment-missing", f"{about}/equipment", "No unit on this line yet."))
            continue
        if circuit.source is None:
            findings.append(finding("source-missing", f"{about}/source", "No source on this line yet."))
        findings += judge_spaces(plan, circuit_id, taken.get(circuit.source or "", {}))
        findings += _drop_with_feeder(plan, circuit_id, results, fed_by)
    plant = Plant(plan)
    wiring, wired = wiring_result(plant)
    findings += wired
    findings += bench_findings(plant, wired)
    findings.sort(key=lambda row: SEVERITIES.index(row.severity))
    return PlanResult(
        lines=_lines(plan),
        circuits=results,
        panels=panels,
        answers=answers,
        wiring=wiring,
        findings=findings,
        worst=worst(findings),
    )


def _lines(plan: Plan) -> list[SourceLines]:
    rows = [SourceLines(source=key, circuits=lines_of(plan, key)) for key in sources_in_order(plan)]
    loose = lines_of(plan, None)
    return [*rows, SourceLines(source=None, circuits=loose)] if loose else rows


def _answer(plan: Plan, question: HeatQuestion | SteamQuestion | BranchQuestion) -> Answer:
    if isinstance(question, BranchQuestion):
        return branch_answer(question)
    if isinstance(question, SteamQuestion):
        return steam_answer(question)
    return heat_answer(question, heater_watts(plan, question.equipment))


def heater_watts(plan: Plan, unit_id: str | None) -> float | None:
    """What the heater gives at the voltage of its circuit, W; all like units of the circuit together."""
    unit = plan.equipment.get(unit_id or "")
    if unit is None or unit.nameplate is None:
        return None
    for circuit in plan.circuits.values():
        if circuit.equipment == unit_id:
            volts = supply_of(circuit, plan.sources.get(circuit.source or "")).volts
            found = power_at(unit.nameplate, exact(volts)) if volts else None
            return float(found[0]) * (unit.quantity or 1) if found else None
    return None


def _unsuited(plan: Plan, answers: Mapping[str, Answer]) -> list[Finding]:
    codes = {"no": "does-not-suit", "unknown": "suit-unknown"}
    return [
        finding(codes[answer.suits], f"questions/{key}", f"{plan.questions[key].name or key}: {answer.verdict}")
        for key, answer in answers.items()
        if answer.suits in codes
    ]


def findings_of(plan: Plan, circuit_id: str, findings: Iterable[Finding]) -> list[Finding]:
    """The findings on one line: its own, those of its unit and its wiring, and of every source above it."""
    circuit = plan.circuits[circuit_id]
    mine = [f"circuits/{circuit_id}", f"equipment/{circuit.equipment}"]
    feeders = list(feeders_above(plan, circuit.source, feeding(plan)))
    mine += [f"circuits/{feeder}" for feeder in feeders]
    above = [circuit.source, *(plan.circuits[feeder].source for feeder in feeders)]
    mine += [f"sources/{source}" for source in above if source is not None]
    mine += [at for line in (circuit_id, *feeders) for at in _wiring_of(plan, line)]
    return [row for row in findings if any(row.about == at or row.about.startswith(f"{at}/") for at in mine)]


def _wiring_of(plan: Plan, circuit_id: str) -> list[str]:
    """The devices of a line and of its unit, and every cable that ends at one of them."""
    unit = plan.circuits[circuit_id].equipment
    devices = {
        key for key, device in plan.devices.items()
        if device.circuit == circuit_id or (unit is not None and device.equipment == unit)
    }  # fmt: skip
    cables = [
        key for key, cable in plan.cables.items()
        if cable.circuit == circuit_id or {cable.a.device, cable.b.device} & devices
    ]  # fmt: skip
    return [*(f"devices/{key}" for key in devices), *(f"cables/{key}" for key in cables)]


def _drop_with_feeder(
    plan: Plan, circuit_id: str, results: Mapping[str, CircuitResult], fed_by: Mapping[str, str]
) -> list[Finding]:
    """Advice of 5 % for the branch with its feeders."""
    own, total = results[circuit_id].voltage_drop_pct, exact(0)
    if own is None:
        return []
    for feeder in feeders_above(plan, plan.circuits[circuit_id].source, fed_by):
        upstream = results[feeder].voltage_drop_pct if feeder in results else None
        total += exact(upstream or 0)
    if not total or total + exact(own) <= WITH_FEEDER_PCT:
        return []
    message = f"With its feeder the drop is {say(total + exact(own))} %; 5 % is advised."
    return [finding("drop-with-feeder", f"circuits/{circuit_id}/run", message)]
