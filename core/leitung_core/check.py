"""Check a whole plan: every circuit sized, every finding on its element."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from leitung_core.circuits.result import CircuitResult
from leitung_core.circuits.size import size
from leitung_core.errors import NotHandledYet, Problem
from leitung_core.findings import CODES, Finding, Severity, worst
from leitung_core.panels.spaces import judge_spaces
from leitung_core.plan.circuit import plan_address, spec_of
from leitung_core.plan.model import Plan


class PlanResult(BaseModel):
    """Everything computed from a plan. `findings` holds the plan's own and those of every circuit, gravest first."""

    model_config = ConfigDict(frozen=True)

    circuits: dict[str, CircuitResult]
    findings: list[Finding]
    worst: Severity | None


def check_plan(plan: Plan) -> PlanResult:
    """Size and judge every circuit of a plan. Raises NotHandledYet for what this version does not compute with."""
    results: dict[str, CircuitResult] = {}
    findings: list[Finding] = []
    refused: list[Problem] = []
    for circuit_id, circuit in plan.circuits.items():
        spec = spec_of(plan, circuit)
        if spec is None:
            message = "No unit on this line yet."
            findings.append(_missing("equipment-missing", circuit_id, "equipment", message))
            continue
        address = plan_address(circuit_id, circuit)
        try:
            results[circuit_id] = size(spec, address)
        except NotHandledYet as error:
            refused += [_in_plan(problem, circuit_id, circuit.equipment) for problem in error.problems]
            continue
        findings += results[circuit_id].findings
        if circuit.source is None:
            findings.append(_missing("source-missing", circuit_id, "source", "No source on this line yet."))
        findings += judge_spaces(plan, circuit_id)
    if refused:
        raise NotHandledYet(*refused)
    order = {"stop": 0, "warning": 1, "note": 2}
    findings.sort(key=lambda finding: order[finding.severity])
    return PlanResult(circuits=results, findings=findings, worst=worst(findings))


def _missing(code: str, circuit_id: str, field: str, message: str) -> Finding:
    entry = CODES[code]
    about = f"circuits/{circuit_id}/{field}"
    return Finding(code=code, severity=entry.severity, about=about, message=message, article=entry.article)


def _in_plan(problem: Problem, circuit_id: str, unit_id: str | None) -> Problem:
    field = problem.field
    if field.startswith("equipment."):
        field = f"equipment.{unit_id}.{field.removeprefix('equipment.')}"
    elif field != "rulebook":
        field = f"circuits.{circuit_id}.{field}"
    return Problem(field, problem.value, problem.message, problem.remedy)
