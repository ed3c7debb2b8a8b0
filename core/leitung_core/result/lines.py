"""Each line as it is drawn: its parts from source to unit, what stands against each, and where a stop cuts it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from pydantic import BaseModel, ConfigDict

from leitung_core.circuits.result import CircuitResult
from leitung_core.circuits.spec import Segment
from leitung_core.findings import Finding, Severity, worst
from leitung_core.plant.lines import Line, Stretch
from leitung_core.plant.plant import Plant

PartKind = Literal["source", "ocpd", "segment", "disconnect", "unit"]


class PartOfLine(BaseModel):
    """A part of a line. `findings` holds keys of what stands against it; `stretch` what is known of a conductor."""

    model_config = ConfigDict(frozen=True)

    id: str
    kind: PartKind
    about: str
    name: str
    findings: list[str]
    worst: Severity | None = None
    stretch: Segment | None = None
    flexible: bool = False
    cable: str | None = None
    by_hand: bool = False


class DrawnLine(BaseModel):
    """A line from source to unit. `cut`: the part at which a stop cuts it; what lies beyond is not to be energised.

    `stop`: the key of that stop. `taps`: cables that are tapped off it.
    """

    model_config = ConfigDict(frozen=True)

    circuit: str
    parts: list[PartOfLine]
    cut: str | None
    stop: str | None
    worst: Severity | None
    taps: list[str]


def drawn_lines(
    plant: Plant, results: Mapping[str, CircuitResult], findings: Sequence[Finding]
) -> dict[str, DrawnLine]:
    """Every line, with the findings that stand on it."""
    lines = {key: _Where(plant, line, _parts(plant, line)) for key, line in plant.lines.items()}
    named: dict[str, list[_Where]] = {}
    for where in lines.values():
        for name in where.names():
            named.setdefault(name, []).append(where)
    for row in findings:
        for where in named.get(_thing(row.about), ()):
            where.take(row)
    return {key: _drawn(plant.lines[key], where.parts, where.at) for key, where in lines.items()}


def _thing(about: str) -> str:
    """The thing that an address lies in: its first two parts."""
    group, _, rest = about.partition("/")
    return f"{group}/{rest.partition('/')[0]}"


def _drawn(line: Line, parts: Sequence[PartOfLine], at: Mapping[str, list[Finding]]) -> DrawnLine:
    filled = [
        part.model_copy(update={"findings": [row.key for row in at[part.id]], "worst": worst(at[part.id])})
        if at[part.id] else part
        for part in parts
    ]  # fmt: skip
    cut = next((part.id for part in filled if part.worst == "stop"), None)
    stop = next((row.key for row in at[cut] if row.severity == "stop"), None) if cut else None
    every = [row for rows in at.values() for row in rows]
    return DrawnLine(
        circuit=line.id, parts=filled, cut=cut, stop=stop, worst=worst(every), taps=[tap.cable for tap in line.taps]
    )


def _parts(plant: Plant, line: Line) -> list[PartOfLine]:
    circuit, base = line.circuit, f"circuits/{line.id}"
    plug = bool(line.unit and line.unit.cord_connected)
    segments = [_segment(plant, stretch) for stretch in line.stretches]
    off = PartOfLine(
        id="disconnect", kind="disconnect", about=f"{base}/disconnect", findings=[],
        name="receptacle and plug" if plug else "disconnect",
    )  # fmt: skip
    end = f"{base}/feeds" if circuit.feeds else f"equipment/{circuit.equipment or ''}"
    unit = PartOfLine(id="unit", kind="unit", about=end, name="panel fed" if circuit.feeds else "unit", findings=[])
    first = PartOfLine(id="source", kind="source", about=f"sources/{circuit.source or ''}", name="panel", findings=[])
    device = circuit.ocpd.type if circuit.ocpd and circuit.ocpd.type else "breaker"
    breaker = PartOfLine(id="ocpd", kind="ocpd", about=f"{base}/ocpd", name=device, findings=[])
    at = _switch_at(plant, line, segments)
    middle = segments if circuit.feeds else [*segments[:at], off, *segments[at:]]
    return [first, breaker, *middle, unit]


def _segment(plant: Plant, stretch: Stretch) -> PartOfLine:
    segment = stretch.segment
    raceway = plant.book.raceways.get(segment.raceway or "")
    return PartOfLine(
        id=f"cable/{stretch.key}" if stretch.by_hand else f"run/{stretch.key}", kind="segment", about=stretch.about,
        name=stretch.name or (segment.place or "place not known").replace("_", " "), findings=[], stretch=segment,
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


class _Where:
    """At which part of a line a finding stands; None where it is none of this line's."""

    def __init__(self, plant: Plant, line: Line, parts: Sequence[PartOfLine]) -> None:
        plan = plant.plan
        self._line, self._base = line, f"circuits/{line.id}"
        self.parts = parts
        self.at: dict[str, list[Finding]] = {part.id: [] for part in parts}
        self._exact = {part.about: part.id for part in parts if not part.about.endswith("/")}
        above = list(plant.index.feeders_above(line.circuit.source))
        self._above = [f"circuits/{feeder}" for feeder in above]
        self._above += [f"equipment/{plan.circuits[f].equipment}" for f in above]
        self._above += [f"sources/{source}" for f in above if (source := plan.circuits[f].source)]
        self._above += [f"cables/{cable}" for f in above for cable in plant.lines[f].cables]
        self._above += [f"devices/{device}" for f in above for device in plant.lines[f].path]
        self._cables: dict[str, str] = {part.cable: part.id for part in parts if part.cable}
        self._cables |= {cable: "unit" for cable in line.cables if cable not in self._cables}
        self._devices = _devices(plant, line)
        self._cables |= _other_cables(plant, line, self._cables, self._devices)

    def names(self) -> set[str]:
        """Everything of which something may stand on this line."""
        things = {self._base, *self._above, *map(_thing, self._exact)}
        return things | {f"cables/{key}" for key in self._cables} | {f"devices/{key}" for key in self._devices}

    def take(self, row: Finding) -> None:
        place = self.of(row)
        if place is not None:
            self.at[place].append(row)

    def of(self, row: Finding) -> str | None:
        about = row.about
        at = about
        while at:
            if at in self._exact:
                return self._exact[at]
            at = at.rpartition("/")[0]
        if _under(about, self._base):
            return self._own(about)
        group, name, *_ = [*about.split("/"), ""]
        if group == "cables" and name in self._cables:
            return self._cables[name]
        if group == "devices" and name in self._devices:
            return self._devices[name]
        # What stops a feeder stops what it feeds; the rest of it stands at the feeder alone.
        if row.severity == "stop" and any(_under(about, at) for at in self._above):
            return "source"
        return None

    def _own(self, about: str) -> str:
        """What is said of the line as a whole stands where it can be changed."""
        first = about[len(self._base) + 1 :].partition("/")[0]
        segment = next((part.id for part in self.parts if part.kind == "segment"), "ocpd")
        by_field = {
            "run": segment, "egc": segment, "source": "source", "poles": "ocpd",
            "receptacle_a": "disconnect", "other_outlets": "disconnect",
        }  # fmt: skip
        place = by_field.get(first, "unit")
        return place if place in self.at else "unit"


def _under(about: str, at: str) -> bool:
    return about == at or about.startswith(f"{at}/")


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
