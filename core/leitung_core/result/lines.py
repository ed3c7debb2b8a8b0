"""Each line as it is drawn: its parts from source to unit, what stands against each, and where a stop cuts it."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from leitung_core.circuits.spec import Segment
from leitung_core.findings import PROPOSED, SEVERITIES, Finding, Severity
from leitung_core.plan.patch import joined
from leitung_core.plant.lines import Line, Stretch
from leitung_core.plant.plant import Plant

PartKind = Literal["source", "ocpd", "segment", "disconnect", "unit"]


@dataclass(frozen=True)
class PartOfLine:
    """A part of a line. `findings` holds keys of what stands against it; `stretch` what is known of a conductor."""

    id: str
    kind: PartKind
    about: str
    name: str
    findings: tuple[str, ...] = ()
    worst: Severity | None = None
    stretch: Segment | None = None
    flexible: bool = False
    cable: str | None = None
    by_hand: bool = False


@dataclass(frozen=True)
class DrawnLine:
    """A line from source to unit. `cut`: the part at which a stop cuts it; what lies beyond is not to be energised.

    `stop`: the key of that stop. `taps`: cables that are tapped off it. `proposal`: one change that fills what is still
    to choose and can be computed, and what it comes to in words.
    """

    circuit: str
    parts: tuple[PartOfLine, ...]
    cut: str | None
    stop: str | None
    worst: Severity | None
    taps: tuple[str, ...]
    proposal: dict[str, Any] | None = None
    proposal_label: str | None = None


def drawn_lines(plant: Plant, findings: Sequence[Finding]) -> dict[str, DrawnLine]:
    """Every line, with the findings that stand on it; `findings` are in order, gravest first."""
    parts = {key: _parts(plant, line) for key, line in plant.lines.items()}
    stands, below = _places(plant, parts)
    at: dict[str, dict[str, list[Finding]]] = {key: {part.id: [] for part in own} for key, own in parts.items()}
    for row in findings:
        told = set[str]()
        for address in upwards(row.about):
            for key, part in stands.get(address, ()):
                if key not in told:
                    told.add(key)
                    at[key][part].append(row)
        # What stops a feeder stops what it feeds; the rest of it stands at the feeder alone.
        if row.severity == "stop":
            fed = {key for address in upwards(row.about) for key in below.get(address, ())}
            for key in sorted(fed - told):
                at[key]["source"].append(row)
    return {key: _drawn(plant.lines[key], own, at[key]) for key, own in parts.items()}


def upwards(about: str) -> Iterator[str]:
    """An address and everything that it lies in, the nearest first."""
    while about:
        yield about
        about = about.rpartition("/")[0]


def _drawn(line: Line, parts: Sequence[PartOfLine], at: Mapping[str, list[Finding]]) -> DrawnLine:
    filled = tuple(_with(part, at[part.id]) for part in parts)
    cut = next((part for part in filled if part.worst == "stop"), None)
    grave = {part.worst for part in filled}
    proposal, label = _proposal([row for part in parts for row in at[part.id]])
    return DrawnLine(
        circuit=line.id,
        parts=filled,
        cut=cut.id if cut else None,
        stop=cut.findings[0] if cut else None,
        worst=next((severity for severity in SEVERITIES if severity in grave), None),
        taps=tuple(tap.cable for tap in line.taps),
        proposal=proposal,
        proposal_label=label,
    )


def _proposal(rows: Sequence[Finding]) -> tuple[dict[str, Any] | None, str | None]:
    """The fixes of what is still to choose on a line, as one change, and its label."""
    ordered = sorted(
        (row for row in rows if row.code in PROPOSED and row.fix), key=lambda row: PROPOSED.index(row.code)
    )
    if not ordered:
        return None, None
    if len(ordered) == 1:
        return ordered[0].fix, ordered[0].fix_label
    change: dict[str, Any] = {}
    for row in ordered:
        change = joined(change, row.fix or {})
    labels = [re.sub(r"^(Make it|Add one of|Use) (an? )?", "", row.fix_label or "") for row in ordered]
    return change, "Take " + ", ".join(dict.fromkeys(label for label in labels if label))


def _with(part: PartOfLine, rows: Sequence[Finding]) -> PartOfLine:
    """A part with what stands against it, gravest first."""
    if not rows:
        return part
    # What is still to enter is drawn dashed, and is no bend of the line.
    worst = next((row.severity for row in rows if row.severity == "stop" or row.enter is None), None)
    return PartOfLine(
        part.id, part.kind, part.about, part.name, tuple(row.key for row in rows), worst,
        part.stretch, part.flexible, part.cable, part.by_hand,
    )  # fmt: skip


def _parts(plant: Plant, line: Line) -> list[PartOfLine]:
    circuit, base = line.circuit, f"circuits/{line.id}"
    plug = bool(line.unit and line.unit.cord_connected)
    segments = [_segment(plant, stretch) for stretch in line.stretches]
    off = PartOfLine(
        id="disconnect", kind="disconnect", about=f"{base}/disconnect",
        name="receptacle and plug" if plug else "disconnect",
    )  # fmt: skip
    end = f"{base}/feeds" if circuit.feeds else f"equipment/{circuit.equipment or ''}"
    unit = PartOfLine(id="unit", kind="unit", about=end, name="panel fed" if circuit.feeds else "unit")
    first = PartOfLine(id="source", kind="source", about=f"sources/{circuit.source or ''}", name="panel")
    device = line.device.type if line.device and line.device.type else "breaker"
    stands = f"sources/{circuit.source}/main_a" if line.shares_device else f"{base}/ocpd"
    breaker = PartOfLine(id="ocpd", kind="ocpd", about=stands, name=device)
    at = _switch_at(plant, line, segments)
    middle = segments if circuit.feeds else [*segments[:at], off, *segments[at:]]
    return [first, breaker, *middle, unit]


def _segment(plant: Plant, stretch: Stretch) -> PartOfLine:
    segment = stretch.segment
    raceway = plant.book.raceways.get(segment.raceway or "")
    return PartOfLine(
        id=f"cable/{stretch.key}" if stretch.by_hand else f"run/{stretch.key}", kind="segment", about=stretch.about,
        name=stretch.name or (segment.place or "place not known").replace("_", " "), stretch=segment,
        flexible=bool(raceway and raceway.flexible), cable=stretch.cable, by_hand=stretch.by_hand,
    )  # fmt: skip


def _switch_at(plant: Plant, line: Line, segments: Sequence[PartOfLine]) -> int:
    """How many stretches lie before the disconnect: as it is drawn, else all but a flexible whip at the end."""
    for device, cable in zip(line.path[1:], line.cables, strict=False):
        if plant.types[device].group == "disconnect":
            before = [number for number, part in enumerate(segments, 1) if part.cable == cable]
            if before:
                return max(before)
    whip = len(segments) > 1 and segments[-1].flexible
    return len(segments) - 1 if whip else len(segments)


def _places(
    plant: Plant, parts: Mapping[str, Sequence[PartOfLine]]
) -> tuple[dict[str, list[tuple[str, str]]], dict[str, list[str]]]:
    """For each address, the lines and parts at which stands what is told there; and the lines that lie below it."""
    stands: dict[str, list[tuple[str, str]]] = {}
    below: dict[str, list[str]] = {}
    for key, own in parts.items():
        line = plant.lines[key]
        devices = _devices(plant, line)
        cables = {part.cable: part.id for part in own if part.cable}
        cables |= {cable: "unit" for cable in line.cables if cable not in cables}
        cables |= _other_cables(plant, line, cables, devices)
        places = {f"devices/{name}": part for name, part in devices.items()}
        places |= {f"cables/{name}": part for name, part in cables.items()}
        places |= _fields(key, own) | {part.about: part.id for part in own if not part.about.endswith("/")}
        for address, part in places.items():
            stands.setdefault(address, []).append((key, part))
        for feeder in plant.index.feeders_above(line.circuit.source):
            for address in _things(plant, feeder):
                below.setdefault(address, []).append(key)
    return stands, below


def _fields(line_id: str, parts: Sequence[PartOfLine]) -> dict[str, str]:
    """What is said of a line as a whole stands where it can be changed."""
    segment = next((part.id for part in parts if part.kind == "segment"), "ocpd")
    switch = "disconnect" if any(part.id == "disconnect" for part in parts) else "unit"
    by_field = {
        "run": segment, "egc": segment, "source": "source", "poles": "ocpd",
        "receptacle_a": switch, "other_outlets": switch,
    }  # fmt: skip
    base = f"circuits/{line_id}"
    return {base: "unit"} | {f"{base}/{name}": place for name, place in by_field.items()}


def _things(plant: Plant, feeder: str) -> Iterator[str]:
    """Everything that a feeder is made of: what stops it stops what it feeds."""
    line = plant.lines[feeder]
    yield f"circuits/{feeder}"
    yield f"equipment/{line.circuit.equipment}"
    yield f"sources/{line.circuit.source}"
    yield from (f"cables/{cable}" for cable in line.cables)
    yield from (f"devices/{device}" for device in line.path)


def _devices(plant: Plant, line: Line) -> dict[str, str]:
    """The devices of a line and of its unit, and the part at which each stands."""
    found: dict[str, str] = {}
    mine = {*plant.index.devices_of_line.get(line.id, ()), *line.path}
    for key in sorted(mine | {*plant.index.devices_of_unit.get(line.circuit.equipment, ())}):
        kind = plant.types.get(key)
        if key in mine and kind is not None and kind.group in ("panel", "disconnect") and kind.id != "feeder-lugs":
            found[key] = "ocpd" if kind.group == "panel" else "disconnect" if not line.circuit.feeds else "unit"
        else:
            found[key] = "unit"
    return found


def _other_cables(plant: Plant, line: Line, known: Mapping[str, str], devices: Mapping[str, str]) -> dict[str, str]:
    """Cables of the line or of its unit that are no stretch of it: control cables, taps, what a breaker's bars take."""
    found: dict[str, str] = {}
    ranks = ("source", "ocpd", "disconnect", "unit")
    near = {key for device in devices for key in plant.index.cables_at.get(device, ())}
    near.update(plant.index.cables_of_line.get(line.id, ()))
    for key in sorted(near - known.keys()):
        cable = plant.plan.cables[key]
        ends = [devices[end] for end in (cable.a.device, cable.b.device) if end in devices]
        found[key] = max(ends, key=ranks.index) if ends else "unit"
    return found
