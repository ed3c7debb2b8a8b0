"""The record on paper: one page for one line, in the order of the work."""

from __future__ import annotations

import base64
import io
from typing import Any

import orjson
from accounts.models import User
from installs.actions import Checked
from installs.models import Install
from leitung_core.circuits.result import CircuitResult
from leitung_core.explain import Step
from leitung_core.units import say, say_size
from photos import store
from photos.models import Photo
from PIL import Image
from records.actions import Recording
from records.digest import content, covered_by
from records.models import Signature
from records.out import RecordOut, record_out

from documents.drawings import draw_lines, draw_readings
from documents.paper import WIDTH_PX, Paper, heading

ATTACHED = "leitung-record.json"
MOST_PRINTED = 60
PRINTED_PX = 900


def record_paper(found: Checked, user: User) -> Paper:
    """The printed record of an install as PDF. It carries what the newest signature covers, to be verified."""
    return Paper("record.html", _context(found, user), attached={ATTACHED: _attached(found.install)})


def _attached(install: Install) -> bytes:
    known = Signature.objects.filter(install=install, covers__gte=1)
    signature = known.select_related("author").order_by("-at").first()
    if signature is None:
        return orjson.dumps({"content": content(install, install.revision)})
    signed = {
        "name": signature.name, "by": signature.by, "revision": signature.revision,
        "at": signature.at.isoformat(), "digest": signature.digest, "role": signature.role,
    }  # fmt: skip
    return orjson.dumps({"content": covered_by(signature), "signature": signed})


def _context(found: Checked, user: User) -> dict[str, Any]:
    record = record_out(Recording(found.install, found.revision.brief))
    drawings = draw_lines(found, WIDTH_PX)
    return heading(found, user) | {
        "lines": [
            {
                "id": circuit_id,
                "name": circuit.name or "",
                "svg": drawings.get(circuit_id, ""),
                "figures": _in_pairs(figures(found.result.circuits.get(circuit_id))),
            }
            for circuit_id in (key for group in found.result.lines for key in group.circuits)
            for circuit in (found.plan.circuits[circuit_id],)
        ],
        "findings": found.result.findings,
        "parts": _parts(record),
        "steps": record.steps,
        "done": sum(step.done for step in record.steps),
        "cautions": list(dict.fromkeys(step.caution for step in record.steps if step.caution)),
        "readings": _readings(found, record),
        "visits": list(reversed(record.service.visits)),
        "tests": record.tests,
        "trials": [trial for trial in record.trials if trial.entries],
        "set_up": record.set_up,
        "set": sum(row.done for row in record.set_up),
        "landings": record.landings,
        "items": [item for item in record.open_items if item.closed_at is None],
        "signatures": record.signatures,
        "photos": photos_of(found, record),
    }


def _in_pairs(rows: list[dict[str, str]]) -> list[list[dict[str, str]]]:
    return [rows[at : at + 2] for at in range(0, len(rows), 2)]


def _parts(record: RecordOut) -> list[dict[str, Any]]:
    """The start-up part by part: how far it came, what was written down or passed over, which holds are not done."""
    texts = {step.key: _first(step.text) for step in record.steps}
    found = []
    for part in record.parts:
        steps = [step for step in record.steps if step.about == part.about]
        told = [
            {"text": _first(step.text), "entry": entry, "before": [texts.get(key, key) for key in entry.passed]}
            for step in steps for entry in step.entries if entry.value is not None or entry.passed or not entry.done
        ]  # fmt: skip
        found.append({
            "id": part.about.partition("/")[2], "name": part.name, "done": sum(step.done for step in steps),
            "all": len(steps), "told": told,
            "open": [_first(step.text) for step in steps if step.hold and not step.done],
        })  # fmt: skip
    return found


def _first(text: str) -> str:
    """The first sentence of a step: what it is called on paper."""
    return f"{text.partition('. ')[0].rstrip('.')}."


def photos_of(found: Checked, record: RecordOut) -> list[dict[str, Any]]:
    """The pictures of an install, small, with what each is of; the first of them where there are very many."""
    named = {f"steps/{step.key}": step.text for step in record.steps}
    named |= {f"readings/{point.key}": point.text for point in record.readings}
    named |= {f"open-items/{item.id}": item.text for item in record.open_items}
    rows = Photo.objects.filter(install=found.install, removed_at=None, kind__startswith="image/")
    return [
        {"src": _small(store.read(row.content)), "author": row.who, "at": row.at,
         "of": named.get(row.about, row.about.partition("/")[2] or "the site")}
        for row in rows.select_related("content", "author")[:MOST_PRINTED]
    ]  # fmt: skip


def _small(raw: bytes) -> str:
    """A picture as it is put into a sheet."""
    with Image.open(io.BytesIO(raw)) as image:
        image.thumbnail((PRINTED_PX, PRINTED_PX))
        small = io.BytesIO()
        image.convert("RGB").save(small, "JPEG", quality=80)
    return f"data:image/jpeg;base64,{base64.b64encode(small.getvalue()).decode()}"


def figures(result: CircuitResult | None) -> list[dict[str, str]]:
    """The figures of a line with what they rest on; what is not known is said."""
    if result is None:
        return []
    first: dict[str, Step] = {}
    last: dict[str, Step] = {}
    for step in result.steps:
        first.setdefault(step.part, step)
        last[step.part] = step

    def article(part: str, steps: dict[str, Step] = first) -> str:
        return steps[part].article if part in steps else ""

    def figure(what: str, value: float | None, unit: str, part: str) -> dict[str, str]:
        text = "not known" if value is None else f"{say(value, 2)} {unit}"
        return {"what": what, "value": text, "article": article(part)}

    conductor = say_size(result.conductor) if result.conductor else "not known"
    ground = say_size(result.proposed_egc) if result.proposed_egc else "not known"
    carries = result.proposed_ampacity_a if result.proposed_ampacity_a is not None else result.conductor_ampacity_a
    return [
        figure("Conductors must carry", result.min_ampacity_a, "A", "load"),
        figure("Device, at most", result.max_ocpd_a, "A", "ocpd"),
        {"what": "Least conductor", "value": conductor, "article": article("run")},
        figure("Conductor carries", carries, "A", "run[0]"),
        {"what": "Grounding conductor, at least", "value": ground, "article": article("egc", last)},
        figure("Disconnect, at least", result.disconnect_min_a, "A", "disconnect"),
        figure("Voltage drop", result.voltage_drop_pct, "%", "drop"),
    ]


def _readings(found: Checked, record: RecordOut) -> list[dict[str, Any]]:
    """The readings by part of the work: those that were taken, drawn as on the screen, and what else is to be read."""
    drawn = draw_readings(found, [
        {"key": point.key, "low": point.low, "high": point.high, "expected": point.expected, "unit": point.unit,
         "basis": point.basis, "value": point.entries[-1].value}
        for point in record.readings
        if point.entries and point.low is not None and point.high is not None and point.unit not in ("Ω", "MΩ")
    ], WIDTH_PX)  # fmt: skip
    parts = []
    for part in record.parts:
        mine = [point for point in record.readings if point.about == part.about]
        taken = [{"text": point.text, "should": point.should, "void": point.void, "entries": point.entries,
                  "svg": drawn.get(point.key, "")} for point in mine if point.entries]  # fmt: skip
        missing = [point for point in mine if not point.entries]
        # What the ohmmeter is asked is many pairs: how many of them are left says it.
        open_ = [point.text for point in missing if point.unit != "Ω"]
        ohms = len(missing) - len(open_)
        if ohms:
            open_.append(f"{ohms} pairs by the ohmmeter")
        parts.append({"id": part.about.partition("/")[2], "name": part.name, "taken": taken, "open": open_})
    return [part for part in parts if part["taken"] or part["open"]]
