"""The lines of a plant: every stretch of power conductor from source to unit, however it was drawn, and what is tapped.

A stretch planned on the line and the cable as which it is landed are one thing seen twice. A power cable drawn by hand
between the line's devices is a further stretch of it; one that leaves the line for something else is a tap.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any

from leitung_core.catalogue.cables import METHOD_OF_FAMILY
from leitung_core.circuits.spec import SIZES_IN_ORDER, Segment
from leitung_core.elements.vocabulary import Fuse
from leitung_core.findings import Path
from leitung_core.plan.model import Circuit, Ocpd, RunSegment, Unit
from leitung_core.plan.sources import Source
from leitung_core.plan.wired import RouteSegment
from leitung_core.plant.colours import GROUNDED_COLOURS, UNGROUNDED

if TYPE_CHECKING:
    from leitung_core.plant.plant import Plant

SUPPLY = ("line-1", "line-2", "line-3", "neutral", "switched-line", "pair-1", "pair-2")
PASSES = ("disconnect", "joint", "panel")


@dataclass(frozen=True)
class Stretch:
    """One stretch of a line; `about` is its address.

    cable: the cable as which it is landed. by_hand: it stands as that cable alone, and not in the line's run; `places`
    says where its fields then stand in the plan.
    """

    key: str
    about: str
    segment: Segment
    name: str | None = None
    raceway_id: str | None = None
    cable: str | None = None
    by_hand: bool = False
    places: Mapping[str, Path] = field(default_factory=dict)

    def place(self, name: str) -> Path | None:
        """Where a field stands in the plan; None where no one value says it."""
        return self.places.get(name) if self.by_hand else (*self.about.split("/"), name)


@dataclass(frozen=True)
class TapCable:
    """A power cable that leaves a line for something else. `ahead`: the device in which it begins."""

    cable: str
    ahead: str
    behind: str
    stretch: Stretch
    fuse_a: float | None


@dataclass(frozen=True)
class Line:
    """A line: its circuit, its source and unit where they are known, its stretches, and how far it is drawn.

    path: the drawn devices from the source to the unit. other: the circuit whose breaker really feeds the unit, where
    the cables say another than the plan.
    """

    id: str
    circuit: Circuit
    source: Source | None
    unit: Unit | None
    stretches: tuple[Stretch, ...]
    path: tuple[str, ...] = ()
    cables: tuple[str, ...] = ()
    taps: tuple[TapCable, ...] = ()
    other: str | None = None

    @property
    def device(self) -> Ocpd | None:
        """The breaker or fuse that protects it."""
        return device_of(self.circuit, self.source)

    @property
    def shares_device(self) -> bool:
        """Whether that is the breaker ahead of its receptacle, which every unit there shares."""
        return self.device is not self.circuit.ocpd


def device_of(circuit: Circuit, source: Source | None) -> Ocpd | None:
    """What protects a line: its own device, or where it has none the breaker of its receptacle's branch, if known."""
    own = circuit.ocpd
    if (own and own.rating_a) or source is None or source.kind != "receptacle" or source.main_a is None:
        return own
    return Ocpd(rating_a=source.main_a, type="breaker", reason=None, spaces=None)


def lines_of_plant(plant: Plant) -> dict[str, Line]:
    """Every line by its id."""
    power = _Power(plant)
    return {key: _line(plant, key, power) for key in plant.plan.circuits}


class _Power:
    """The power cables of a plant with the devices that each joins, and for each device the cables there."""

    def __init__(self, plant: Plant) -> None:
        self.joins = _power_cables(plant)
        self.near: dict[str, list[tuple[str, str]]] = {}
        for cable, (a, b) in sorted(self.joins.items()):
            self.near.setdefault(a, []).append((cable, b))
            self.near.setdefault(b, []).append((cable, a))


def _power_cables(plant: Plant) -> dict[str, tuple[str, str]]:
    """The cables that carry power from device to device; between the units of a mini-split the maker rules."""
    found = {}
    for key, cable in plant.plan.cables.items():
        wires, ends = plant.wires[key], (cable.a.device, cable.b.device)
        family = plant.makes[key].family
        if cable.state == "removed" or not set(ends) <= plant.types.keys() or (family and family.class_2):
            continue
        kinds = {plant.kind(wire) for wire in wires}
        if "signal" in kinds:
            continue
        landed = any(wire.end(end).terminal for wire in wires for end in ("a", "b"))
        if "line" in kinds or (not landed and all(_takes_line(plant, end) for end in ends)):
            devices = _landed_at(plant, key) if landed else ends
            if devices is not None:
                found[key] = devices
    return found


def _landed_at(plant: Plant, key: str) -> tuple[str, str] | None:
    """The devices on which a cable's line conductors really land, its ends apart; the first that lands at both."""
    for wire in plant.wires[key]:
        a, b = plant.post(wire, "a"), plant.post(wire, "b")
        if a is not None and b is not None and plant.kind(wire) == "line" and a.device_id != b.device_id:
            return a.device_id, b.device_id
    cable = plant.plan.cables[key]
    return cable.a.device, cable.b.device


def _takes_line(plant: Plant, device: str) -> bool:
    return any(post.kind == "line" for post in plant.posts_of(device))


def _line(plant: Plant, key: str, power: _Power) -> Line:
    plan, circuit = plant.plan, plant.plan.circuits[key]
    source, unit = plan.sources.get(circuit.source or ""), plan.equipment.get(circuit.equipment or "")
    path, cables = _path(plant, key, circuit, power)
    run = [_planned(key, name, segment) for name, segment in circuit.segments()]
    stretches = _joined(plant, key, run, cables, bool(path) and is_origin(plant, path[0]))
    other = None
    if path and is_origin(plant, path[0]) and cables:
        fed_by = plan.devices[path[0]].circuit
        other = fed_by if fed_by not in (None, key) else None
    taps = tuple(_taps(plant, circuit, path, cables, power)) if other is None else ()
    return Line(key, circuit, source, unit, tuple(stretches), path, cables, taps, other)


def is_origin(plant: Plant, device: str) -> bool:
    """Whether a line begins at a device: its breaker."""
    return plant.types[device].group == "panel" and plant.types[device].id != "feeder-lugs"


def breaker_of(plant: Plant, line: str) -> str | None:
    """The device that is the breaker of a line, where it is drawn."""
    drawn = plant.index.devices_of_line.get(line, ())
    return next((key for key in drawn if key in plant.types and is_origin(plant, key)), None)


def units_devices(plant: Plant, circuit: Circuit) -> list[str]:
    """The devices that are the electrical part of a line's unit, or the lugs of the panel that it feeds."""
    index, unit_id = plant.index, circuit.equipment
    among = index.devices_in_panel.get(circuit.feeds) if circuit.feeds else index.devices_of_unit.get(unit_id)
    found = []
    for key in among or ():
        kind = plant.types.get(key)
        if kind is None or plant.plan.devices[key].state == "removed":
            continue
        if circuit.feeds is not None:
            if kind.id == "feeder-lugs":
                found.append(key)
        elif unit_id is not None and (plant.plan.equipment[unit_id].kind in kind.kinds or key == unit_id):
            found += [key] if _takes_line(plant, key) else []
    return found


def _path(plant: Plant, key: str, circuit: Circuit, power: _Power) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The drawn way from the line's breaker, else from its furthest switch, to its unit: devices and cables."""
    ends = units_devices(plant, circuit)
    path, cables = _back_from(plant, key, ends, power)
    if cables or not power.joins:
        return path, cables
    # Nothing is drawn to the unit yet: as far as its switch, where that is drawn.
    switches = [
        device for device in plant.index.devices_of_line.get(key, ())
        if device in plant.types and plant.types[device].group == "disconnect"
    ]  # fmt: skip
    to_switch, drawn = _back_from(plant, key, switches, power)
    return (to_switch, drawn) if drawn else (path, ())


def _back_from(plant: Plant, key: str, ends: list[str], power: _Power) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The drawn way to some devices: from the line's own breaker where it is reached, else from the furthest switch."""
    came: dict[str, tuple[str, str] | None] = dict.fromkeys(ends)
    queue, reached = deque(ends), list(ends)
    while queue:
        here = queue.popleft()
        if is_origin(plant, here):
            break
        for cable, there in power.near.get(here, ()):
            if there in came or plant.types[there].group not in PASSES or not _upstream(plant, cable, there):
                continue
            came[there] = (cable, here)
            reached.append(there)
            queue.append(there)
    origins = [device for device in reached if is_origin(plant, device)]
    mine = [device for device in origins if plant.plan.devices[device].circuit == key] or origins
    first = mine[0] if mine else reached[-1] if len(reached) > len(ends) else None
    if first is None:
        return tuple(ends[:1]), ()
    devices, cables = [first], []
    step = came[first]
    while step is not None:
        cables.append(step[0])
        devices.append(step[1])
        step = came[step[1]]
    return tuple(devices), tuple(cables)


def _upstream(plant: Plant, cable: str, device: str) -> bool:
    """Whether a cable leaves a switch on its load side: else what it leads to is not behind that switch."""
    poles = plant.types[device].poles
    if not poles:
        return True
    line_side = {f"{device}.{line}" for line, _ in poles}
    landed = {wire.end(end).terminal for wire in plant.wires[cable] for end in ("a", "b")} - {None}
    return not landed & line_side


def fed_by_run(plant: Plant) -> dict[str, Line]:
    """The devices that a line feeds by its run alone: no cable is drawn from a breaker as far as there."""
    found: dict[str, Line] = {}
    for line in plant.lines.values():
        if line.source is None or (line.path and is_origin(plant, line.path[0])):
            continue
        for device in line.path[:1] or units_devices(plant, line.circuit):
            found.setdefault(device, line)
    return found


def _planned(circuit_id: str, name: str, segment: RunSegment) -> Stretch:
    """A stretch as the line's run has it."""
    return Stretch(name, f"circuits/{circuit_id}/run/{name}", segment, segment.name, segment.raceway_id)


def _joined(plant: Plant, key: str, run: list[Stretch], cables: tuple[str, ...], from_panel: bool) -> list[Stretch]:
    """The run with its cables: what they are landed as, and the stretches that only a cable drawn by hand makes."""
    covered: dict[str, str] = {}
    loose: list[str] = []
    for cable_id in cables:
        cable = plant.plan.cables[cable_id]
        names = [name for name in cable.segments or [] if cable.circuit == key]
        mine = [stretch.key for stretch in run if stretch.key in names]
        covered |= dict.fromkeys(mine, cable_id)
        if not mine and not (cable.circuit == key and cable.segments == []):
            loose.append(cable_id)
    for cable_id in plant.index.cables_of_line.get(key, ()):
        cable = plant.plan.cables[cable_id]
        # A cable of the run counts as such however far it is landed.
        if cable.state != "removed":
            covered |= {name: cable_id for name in cable.segments or [] if name not in covered}
    if loose and not covered and from_panel and run:
        # Drawn twice: on the line, and by hand from the panel. One to one where they are as many, else the first is it.
        first = loose[: len(run)] if len(loose) == len(run) else loose[:1]
        for number, stretch in enumerate(run):
            covered[stretch.key] = first[min(number, len(first) - 1)]
        loose = loose[len(first) :]
    found = [_landed(plant, stretch, covered.get(stretch.key)) for stretch in run]
    for cable_id in loose:
        at = _place_of(cables, cable_id, found)
        found[at:at] = drawn_by_hand(plant, cable_id, found[at - 1] if at else None)
    return found


def _place_of(cables: tuple[str, ...], cable_id: str, found: list[Stretch]) -> int:
    """Behind which stretches a cable drawn by hand lies: those of the cables before it, else all that are planned."""
    before = set(cables[: cables.index(cable_id)])
    after = set(cables[cables.index(cable_id) + 1 :])
    behind = [number for number, stretch in enumerate(found, 1) if stretch.cable in before]
    if behind:
        return max(behind)
    ahead = [number for number, stretch in enumerate(found) if stretch.cable in after]
    return min(ahead, default=len(found))


def _landed(plant: Plant, stretch: Stretch, cable_id: str | None) -> Stretch:
    """A planned stretch with what its cable tells: its gauge where none is planned, and how its white is used."""
    if cable_id is None:
        return stretch
    cable, segment = plant.plan.cables[cable_id], stretch.segment
    told: dict[str, Any] = dict(_white(plant, cable_id))
    if cable.awg in SIZES_IN_ORDER and (segment.conductor is None or _thinner(cable.awg, segment.conductor)):
        told["conductor"] = cable.awg
    if segment.construction is None and cable.strands is not None:
        told["construction"] = cable.strands
    if segment.method is None and cable.family is not None:
        told["method"] = METHOD_OF_FAMILY.get(cable.family)
    return replace(stretch, cable=cable_id, segment=segment.model_copy(update=told))


def _thinner(one: str, other: str) -> bool:
    return SIZES_IN_ORDER.index(one) < SIZES_IN_ORDER.index(other)


def _white(plant: Plant, cable_id: str) -> Iterator[tuple[str, bool]]:
    """Whether a landed cable's white is ungrounded, and whether it is marked wherever it lands."""
    wires = [wire for wire in plant.wires[cable_id] if any(wire.end(end).terminal for end in ("a", "b"))]
    if not any(plant.kind(wire) == "line" for wire in wires):
        return
    white = [wire for wire in wires if wire.colour in GROUNDED_COLOURS and plant.function(wire) in UNGROUNDED]
    yield "white_as_ungrounded", bool(white)
    if white:
        ends = [wire.end(end) for wire in white for end in ("a", "b") if wire.end(end).terminal]
        yield "white_reidentified", all(end.reidentified for end in ends)


def drawn_by_hand(plant: Plant, cable_id: str, before: Stretch | None) -> list[Stretch]:
    """The stretches that a power cable makes: one for each part of its way.

    What nobody says of it is taken from the stretch before where both lie in the same sort of place: the ambient, and
    how its terminations are marked.
    """
    cable = plant.plan.cables[cable_id]
    parts: list[tuple[str, RouteSegment | None]] = [*cable.stretches()] or [("", None)]
    found = []
    for name, part in parts:
        stretch = _by_hand(plant, cable_id, name, part, before, single=len(parts) == 1)
        found.append(stretch)
        before = stretch
    return found


def _by_hand(
    plant: Plant,
    cable_id: str,
    name: str,
    part: RouteSegment | None,
    before: Stretch | None,
    single: bool,
) -> Stretch:
    cable, make = plant.plan.cables[cable_id], plant.makes[cable_id]
    at: Path = ("cables", cable_id)
    way: Path = (*at, "route", name) if name else at
    spot = part.spot if part else None
    length = part.length_ft if part and part.length_ft is not None else make.length_ft if single else None
    like = before.segment if before and (spot is None or before.segment.place in (None, spot)) else None
    phase_conductors = max((make.count or 3) - 1, 2)
    fields = {
        "method": METHOD_OF_FAMILY.get(make.family_id or ""),
        "raceway": None if part is None or part.raceway in (None, "none") else part.raceway,
        "conductor": make.awg if make.awg in SIZES_IN_ORDER else None,
        "material": "Cu",
        "construction": make.strands,
        "terminations_c": before.segment.terminations_c if before else None,
        "ambient_c": part.ambient_c if part and part.ambient_c is not None else like.ambient_c if like else None,
        "current_carrying": phase_conductors,
        "length_ft": length,
        "place": spot,
        "sunlit": like.sunlit if like else None,
        "above_roof_in": like.above_roof_in if like else None,
        "factory_cord": cable.factory_cord,
        "existing": True if cable.state == "existing" else None,
        **dict(_white(plant, cable_id)),
    }
    places: dict[str, Path] = {
        "method": (*at, "family"), "conductor": (*at, "awg"), "construction": (*at, "strands"),
        "factory_cord": (*at, "factory_cord"),
        "raceway": (*way, "raceway"), "length_ft": (*way, "length_ft"), "place": (*way, "spot"),
        "ambient_c": (*way, "ambient_c"),
    }  # fmt: skip
    return Stretch(
        f"{cable_id}.{name}" if name else cable_id, "/".join(map(str, way)), Segment(**fields),
        (part.name if part else None) or cable.name, part.raceway_id if part else None, cable_id, by_hand=True,
        places=places,
    )  # fmt: skip


def _taps(
    plant: Plant, circuit: Circuit, path: tuple[str, ...], cables: tuple[str, ...], power: _Power
) -> Iterator[TapCable]:
    """The power cables that leave the line at one of its devices, each with the fuse ahead of it, A."""
    on_path, told = set(path), set(cables)
    start = [device for device in path if not is_origin(plant, device) and plant.types[device].id != "feeder-lugs"]
    queue: deque[tuple[str, float | None]] = deque((device, None) for device in start)
    seen = set(start)
    while queue:
        here, fuse = queue.popleft()
        for cable_id, there in power.near.get(here, ()):
            if cable_id in told or there in on_path or is_origin(plant, there) or not _from_line(plant, cable_id, here):
                continue
            told.add(cable_id)
            before = None
            (first, *_) = drawn_by_hand(plant, cable_id, before)
            yield TapCable(cable_id, here, there, first, fuse)
            if there not in seen:
                seen.add(there)
                queue.append((there, _fuse_in(plant, there) or fuse))


def _from_line(plant: Plant, cable_id: str, device: str) -> bool:
    """Whether a cable takes its power from a device's line terminals: a motor's own leads are no tap."""
    ends = [wire.end(end).terminal for wire in plant.wires[cable_id] for end in ("a", "b")]
    here = [post for ref in ends if ref and (post := plant.posts.get(ref)) and post.device_id == device]
    return not here or any(post.function in SUPPLY or post.function is None for post in here if post.kind == "line")


def _fuse_in(plant: Plant, device: str) -> float | None:
    """The rating of a device's own fuses, A; None where it has none, or they are not known."""
    rated = [part.amps for part in plant.types[device].inside if isinstance(part, Fuse)]
    return max(rated, default=None)
