"""The record on paper: one page for one line, in the order of the work."""

from __future__ import annotations

from typing import Any

from accounts.models import User
from django.utils import timezone
from installs.actions import State
from leitung_core.circuits.result import CircuitResult
from leitung_core.explain import Step
from leitung_core.units import say, say_size
from records.api import RecordOut, record_out

from documents.drawings import draw_lines
from documents.paper import WIDTH_PX, pdf


def record_pdf(found: State, user: User) -> bytes:
    """The printed record of an install as PDF."""
    return pdf("record.html", _context(found, user))


def _context(found: State, user: User) -> dict[str, Any]:
    record = record_out(found)
    drawings = draw_lines(found, WIDTH_PX)
    return {
        "plan": found.plan,
        "install": found.install,
        "company": user.company.name,
        "printed": timezone.now(),
        "lines": [
            {
                "id": circuit_id,
                "name": circuit.name or "",
                "svg": drawings.get(circuit_id, ""),
                "figures": figures(found.result.circuits.get(circuit_id)),
            }
            for circuit_id in (key for group in found.result.lines for key in group.circuits)
            for circuit in (found.plan.circuits[circuit_id],)
        ],
        "findings": found.result.findings,
        "steps": record.steps,
        "done": sum(step.done for step in record.steps),
        "cautions": [step.caution for step in record.steps if step.caution],
        "readings": _readings(record),
        "items": [item for item in record.open_items if item.closed_at is None],
        "signatures": record.signatures,
    }


def figures(result: CircuitResult | None) -> list[dict[str, str]]:
    """The figures of a line with what they rest on; what is not known is said."""
    if result is None:
        return []
    steps: dict[str, Step] = {}
    for step in result.steps:
        steps.setdefault(step.part, step)

    def figure(what: str, value: float | None, unit: str, part: str, article: str | None = None) -> dict[str, str]:
        text = "not known" if value is None else f"{say(value, 2)} {unit}"
        return {"what": what, "value": text, "article": article or (steps[part].article if part in steps else "")}

    conductor = say_size(result.conductor) if result.conductor else "not known"
    ground = say_size(result.proposed_egc) if result.proposed_egc else "not known"
    carries = result.proposed_ampacity_a if result.proposed_ampacity_a is not None else result.conductor_ampacity_a
    return [
        figure("Conductors must carry", result.min_ampacity_a, "A", "load"),
        figure("Device, at most", result.max_ocpd_a, "A", "ocpd"),
        {"what": "Least conductor", "value": conductor, "article": steps["run"].article if "run" in steps else ""},
        figure("Conductor carries", carries, "A", "run[0]", "Table 310.16"),
        {"what": "Grounding conductor, at least", "value": ground, "article": "Table 250.122, 250.122(B)"},
        figure("Disconnect, at least", result.disconnect_min_a, "A", "disconnect"),
        figure("Voltage drop", result.voltage_drop_pct, "%", "drop"),
    ]


def _readings(record: RecordOut) -> list[dict[str, Any]]:
    rows = []
    for point in record.readings:
        known = point.low is not None and point.high is not None
        bounds = f"{say(point.low or 0)} to {say(point.high or 0)} {point.unit}" if known else "cannot be judged"
        rows.append({"text": point.text, "bounds": bounds, "entries": point.entries})
    return rows
