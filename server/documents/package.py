"""The circuit schedule, the panel directories, and the labels for every disconnect."""

from __future__ import annotations

from typing import Any

import segno
from accounts.models import User
from installs.actions import Checked
from leitung_core.circuits.result import CircuitResult
from leitung_core.plan.model import Circuit, Unit
from leitung_core.plan.sources import Source
from leitung_core.plant.fed import fed_from
from leitung_core.plant.lines import device_of
from leitung_core.plant.order import sources_in_order
from leitung_core.plant.poles import supply_of
from leitung_core.units import say, say_size
from links.links import labels_link, path_of
from problems import Refused

from documents.drawings import draw_lines
from documents.paper import WIDTH_PX, Paper, heading

# What stands against a panel or against landings has its place on other sheets.
ELSEWHERE = ("sources/", "devices/", "cables/")


def schedule_paper(found: Checked, user: User, drawn: bool = True) -> Paper:
    """Every circuit of the install: its drawing, unless another sheet beside has it, and its figures, by source."""
    drawings = draw_lines(found, WIDTH_PX) if drawn else {}
    groups = []
    for group in found.result.lines:
        if group.source is None:
            continue
        source_id, source = group.source, found.plan.sources[group.source]
        rows = [
            _row(found, key, found.plan.circuits[key], source) | {"svg": drawings.get(key, "")}
            for key in group.circuits
        ]
        groups.append({"id": source_id, "name": source.name or source_id, "supply": _supply(source), "rows": rows})
    loose = next((group.circuits for group in found.result.lines if group.source is None), [])
    return Paper("schedule.html", heading(found, user) | {"groups": groups, "loose": loose}, "landscape.css")


def line_paper(found: Checked, user: User, key: str) -> Paper:
    """One line: its drawing and its figures. Raises Refused where the plan has it no more."""
    circuit = found.plan.circuits.get(key)
    source = found.plan.sources.get(circuit.source or "") if circuit else None
    if circuit is None or source is None:
        raise Refused(404, "line", f"The plan has no line {key} with a source any more.")
    row = _row(found, key, circuit, source) | {"svg": draw_lines(found, WIDTH_PX, [key]).get(key, "")}
    group = {"id": circuit.source, "name": source.name or circuit.source, "supply": _supply(source), "rows": [row]}
    return Paper("schedule.html", heading(found, user) | {"groups": [group], "loose": []}, "landscape.css")


def directory_paper(found: Checked, user: User) -> Paper:
    """A page for every panel: what is on each space (408.4)."""
    panels = [
        {
            "name": source.name or source_id,
            "place": source.place,
            "supply": _supply(source),
            "bus": source.bus_a,
            "main": source.main_a,
            "rows": _pairs(found, source_id, source),
        }
        for source_id in sources_in_order(found.plan)
        if (source := found.plan.sources[source_id]).spaces
    ]
    return Paper("directory.html", heading(found, user) | {"panels": panels}, "directory.css")


def labels_paper(found: Checked, user: User, what: str) -> Paper:
    """A label for every disconnect with a code that opens the sheet of its line.

    what: where Leitung is, and the link under which the codes open without an account; without one they ask to sign in.
    """
    origin, _, link_id = what.partition(" ")
    link = labels_link(found.install) if link_id else None
    labels = []
    for key in (key for group in found.result.lines for key in group.circuits):
        circuit = found.plan.circuits[key]
        unit = found.plan.equipment.get(circuit.equipment or "")
        source = found.plan.sources.get(circuit.source or "")
        if unit is None:
            continue
        device = device_of(circuit, source)
        inside = f"/installs/{found.install.id}/start-up?line={key}"
        path = f"{path_of(link, key)}?r={found.install.revision}" if link else inside
        code = segno.make(f"{origin.rstrip('/')}{path}", error="m")
        result: CircuitResult | None = found.result.circuits.get(key)
        labels.append(
            {
                "id": key,
                "unit": circuit.name or unit.name or circuit.equipment,
                "place": unit.place,
                "volts": _volts(circuit, source, unit),
                "fed": fed_from(found.plan, circuit) or "source not known",
                "wire": _wires(result),
                "most": say(result.max_ocpd_a) if result and result.max_ocpd_a else None,
                "rating": say(device.rating_a) if device and device.rating_a else None,
                "device": (device and device.type) or "device",
                "qr": code.svg_inline(scale=2, border=0, dark="#1b2126"),
            }
        )
    return Paper("labels.html", heading(found, user) | {"labels": labels}, "labels.css")


def _supply(source: Source) -> str:
    parts = [f"{say(source.volts)} V" if source.volts else "volts not known"]
    parts += [f"{source.phase} phase"] if source.phase else []
    parts += [f"{say(source.volts_to_ground)} V to ground"] if source.volts_to_ground else []
    return ", ".join(parts)


def _volts(circuit: Circuit, source: Source | None, unit: Unit | None) -> str:
    supply = supply_of(circuit, source, unit)
    if not supply.volts:
        return "volts not known"
    return f"{say(supply.volts)} V, {supply.phase} phase" if supply.phase else f"{say(supply.volts)} V"


def _row(found: Checked, key: str, circuit: Circuit, source: Source) -> dict[str, Any]:
    result: CircuitResult | None = found.result.circuits.get(key)
    # A stop is printed wherever it cuts.
    own = [row for row in found.result.on_line(key) if row.severity == "stop" or not row.about.startswith(ELSEWHERE)]

    def figure(value: float | None, unit: str) -> str:
        return "not known" if value is None else f"{say(value, 1)} {unit}"

    unit = found.plan.equipment.get(circuit.equipment or "")
    device = device_of(circuit, source)
    return {
        "id": key,
        "name": circuit.name or (unit and unit.name) or "",
        "volts": _volts(circuit, source, unit),
        "spaces": ", ".join(str(space) for space in (circuit.ocpd and circuit.ocpd.spaces) or []) or "none yet",
        "carry": figure(result.min_ampacity_a if result else None, "A"),
        "device": figure(device.rating_a if device else None, "A"),
        "most": figure(result.max_ocpd_a if result else None, "A"),
        "wire": _wires(result),
        "ground": say_size(result.proposed_egc) if result and result.proposed_egc else "not known",
        "disconnect": figure(circuit.disconnect.rating_a, "A") if circuit.disconnect else "none planned",
        "drop": figure(result.voltage_drop_pct if result else None, "%"),
        "findings": [finding for finding in own if finding.severity != "note"],
    }


def _wires(result: CircuitResult | None) -> str:
    wires = [segment.conductor for segment in result.segments] if result else []
    return ", ".join(dict.fromkeys(say_size(wire) if wire else "not known" for wire in wires)) or "not known"


def _pairs(found: Checked, source_id: str, source: Source) -> list[dict[str, Any]]:
    """The rows of the directory as the panel has them: odd spaces left, even ones right."""
    text: dict[int, tuple[str, str]] = {}
    panel = found.result.panels[source_id]
    for row in panel.directory:
        rating = f"{say(row.rating_a)} A" if row.rating_a else ""
        for index, space in enumerate(row.spaces):
            text[space] = (row.text if index == 0 else "″", rating if index == 0 else "")
    legs = {row.space: row.leg or "" for row in panel.spaces}
    spare = ("", "")
    return [
        {"left": odd, "left_text": text.get(odd, spare), "leg": legs.get(odd, ""), "right": odd + 1,
         "right_text": text.get(odd + 1, spare)}
        for odd in range(1, (source.spaces or 0) + 1, 2)
    ]  # fmt: skip
