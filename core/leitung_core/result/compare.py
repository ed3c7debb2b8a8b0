"""What a change of rules or of anything else does to a plan: every figure and finding that differs."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from leitung_core.circuits.result import CircuitResult
from leitung_core.findings import Finding
from leitung_core.result.check import PlanResult
from leitung_core.units import say, say_size

# The figures that a crew lead compares, with what they are called and their unit; no unit: a conductor size.
FIGURES = {
    "min_ampacity_a": ("conductors must carry", "A"),
    "max_ocpd_a": ("device at most", "A"),
    "ocpd_a": ("recommended device", "A"),
    "conductor": ("least conductor", ""),
    "egc": ("grounding conductor", ""),
    "disconnect_min_a": ("disconnect at least", "A"),
    "voltage_drop_pct": ("drop", "%"),
}


class _Frozen(BaseModel):
    model_config = ConfigDict(frozen=True)


class Changed(_Frozen):
    """One figure of one circuit, before and after."""

    circuit: str
    what: str
    before: str
    after: str


class Comparison(_Frozen):
    """What differs between two results of the same lines: figures, findings that come, findings that go."""

    figures: list[Changed]
    comes: list[Finding]
    goes: list[Finding]


def compare(before: PlanResult, after: PlanResult) -> Comparison:
    """Every difference, in the order of the lines."""
    figures = [
        row
        for circuit_id, result in after.circuits.items()
        if circuit_id in before.circuits
        for row in _figures(circuit_id, before.circuits[circuit_id], result)
    ]
    old = {(f.code, f.about): f for f in before.findings}
    new = {(f.code, f.about): f for f in after.findings}
    return Comparison(
        figures=figures,
        comes=[finding for key, finding in new.items() if key not in old],
        goes=[finding for key, finding in old.items() if key not in new],
    )


def _figures(circuit_id: str, before: CircuitResult, after: CircuitResult) -> list[Changed]:
    rows = []
    for name, (what, unit) in FIGURES.items():
        old, new = getattr(before, name), getattr(after, name)
        if old != new:
            rows.append(Changed(circuit=circuit_id, what=what, before=_say(old, unit), after=_say(new, unit)))
    return rows


def _say(value: float | str | None, unit: str) -> str:
    if value is None:
        return "not known"
    return say_size(value) if isinstance(value, str) else f"{say(value, 2)} {unit}"
