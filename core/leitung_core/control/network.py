"""The network of a plan: what hangs on what, with the insides of its devices, its conductors and its supplies."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

import networkx as nx

from leitung_core.catalogue.device import DeviceType
from leitung_core.circuits.wire_ohms import ohm_per_kft
from leitung_core.control import supply
from leitung_core.elements.vocabulary import CONTROL_VOLTS, OF_DEVICES, Coil, Contact, Element, Fuse, Jumper, Load
from leitung_core.plant.plant import Plant, Post, Wire, delay_of, jumper_in, other, setting_of
from leitung_core.solver.network import Network

FEEDS = ("panel", "disconnect")
LINE_LEGS = {"line-1": 0, "line-2": 1, "line-3": 2}
DEFAULT_RUN_OHMS = 0.05
Piece = dict[str, Any]


@dataclass(frozen=True)
class Note:
    """Something taken for granted, or left out, when the network was built: a kind, what it is about, in words."""

    kind: str
    about: str
    says: str


@dataclass
class Built:
    """A plan's network, or that of some of its devices, and what was taken for granted."""

    plant: Plant
    devices: frozenset[str]
    pieces: list[Piece] = field(default_factory=list)
    conductors: list[Piece] = field(default_factory=list)
    notes: list[Note] = field(default_factory=list)
    reference: str | None = None

    def network(self, **more: Any) -> Network:
        """As a network of the open form; `more` are its further fields."""
        return Network.model_validate(
            {"reference": self.reference, "devices": self.pieces, "conductors": self.conductors, **more}
        )


def build(plant: Plant, devices: Iterable[str] | None = None) -> Built:
    """The network of a plan's devices; with none named, of all of them. What is taken out of service is not in it."""
    plan = plant.plan
    chosen = frozenset(devices if devices is not None else plan.devices)
    live = frozenset(key for key in chosen if key in plant.types and plan.devices[key].state != "removed")
    built = Built(plant, live)
    for key in sorted(chosen - live):
        if plan.devices[key].state != "removed":
            built.notes.append(Note("type", f"devices/{key}", f"What {plant.name(key)} is, is not known: left out."))
    _supplies(built)
    for key in sorted(live):
        built.pieces.append(_piece(built, key, plant.types[key]))
    for wire, a, b in plant.joined:
        if a.device_id in live and b.device_id in live:
            _wire(built, wire, a, b)
    _unwired(built)
    return built


def _supplies(built: Built) -> None:
    """The panels in which the breakers sit, and the units' own where no cable is drawn."""
    plan = built.plant.plan
    wanted = {plan.devices[key].source for key in built.devices} | {
        line.circuit.source for key in built.devices if (line := built.plant.fed_by_run.get(key))
    }
    lugs = {plan.devices[key].source for key in built.devices if built.plant.types[key].id == "feeder-lugs"}
    for source_id in sorted(filter(None, wanted)):
        piece = supply.bus(plan, source_id, source_id in lugs)
        if piece is None:
            says = f"The volts of {source_id} are not known: nothing behind it is fed."
            built.notes.append(Note("volts", f"sources/{source_id}", says))
            continue
        built.pieces.append(piece)
        if source_id not in lugs and built.reference is None:
            built.reference = f"{piece['id']}.N"


def _piece(built: Built, key: str, kind: DeviceType) -> Piece:
    device = built.plant.plan.devices[key]
    inside = [piece for element in kind.inside if (piece := _element(key, element, kind, device.settings))]
    terminals = list(kind.terminals())
    if kind.group == "panel":
        inside += _panel(built, key, kind)
    return {"id": key, "kind": kind.id, "terminals": terminals, "internal_nodes": [], "inside": inside}


def _panel(built: Built, key: str, kind: DeviceType) -> list[Piece]:
    """A breaker, or the lugs of a feeder, joined to the bars of its panel."""
    plan, device = built.plant.plan, built.plant.plan.devices[key]
    source = plan.sources.get(device.source or "")
    there = {piece["id"]: piece for piece in built.pieces}
    bars = there.get(supply.bus_of(plan, device.source or ""))
    if source is None or bars is None:
        built.notes.append(
            Note("panel", f"devices/{key}", f"In which panel {built.plant.name(key)} sits is not known.")
        )
        return []
    terminals = kind.terminals()
    if kind.id == "feeder-lugs":
        pairs = [(name, name.partition(".")[2]) for name in terminals]
        built.conductors += [
            _bar(f"{key}:{bar}", f"{key}.{name}", f"{bars['id']}.{bar}")
            for name, bar in pairs
            if bar in bars["terminals"]
        ]
        return []
    circuit = plan.circuits.get(device.circuit or "")
    poles = sum(1 for name in terminals if name.startswith("load."))
    legs = supply.pole_legs(circuit, source, poles) if circuit else [number + 1 for number in range(poles)]
    built.conductors += [
        _bar(f"{key}:{pole}", f"{bars['id']}.L{leg}", f"{key}._bus{pole}")
        for pole, leg in enumerate(legs, 1) if f"L{leg}" in bars["terminals"]
    ]  # fmt: skip
    built.conductors += [_bar(f"{key}:{bar}", f"{bars['id']}.{bar}", f"{key}.bar.{bar}") for bar in ("N", "G")]
    line = built.plant.lines.get(device.circuit or "")
    return supply.breaker(key, poles, line.device.rating_a if line and line.device else None)


def _bar(name: str, a: str, b: str) -> Piece:
    return {"id": name, "from": a, "to": b, "ohms": 0.001}


def _element(key: str, element: Element, kind: DeviceType, settings: Mapping[str, str]) -> Piece | None:
    """An element as the open form has it; None for a jumper that is out."""
    if isinstance(element, Jumper) and element.setting and not jumper_in(element, kind, settings):
        return None
    of_device = OF_DEVICES - {"amps"} if isinstance(element, Fuse) else OF_DEVICES
    piece = element.model_dump(mode="json", exclude_none=True, exclude=set(of_device))
    if isinstance(element, Contact):
        by = operator_of(element, kind, settings)
        piece["operated_by"] = _qualified(by, key) if by else None
        if element.delay_on_setting:
            piece["delay_on_s"] = delay_of(element, kind, settings)
    if isinstance(element, Load) and element.takes in ("data", "dc_signal"):
        piece[element.takes] = True
    elif isinstance(element, Coil | Load) and element.on_dc:
        piece["takes"] = "dc"
    if isinstance(element, Load) and element.start_winding:
        piece["start_winding"] = f"{key}.{element.start_winding}"
    if isinstance(element, Load) and element.effect == "heat" and (element.rated_volts or 24) > CONTROL_VOLTS:
        piece["heater"] = True
    return piece


def operator_of(contact: Contact, kind: DeviceType, settings: Mapping[str, str]) -> str | None:
    """What moves a contact under the device's settings."""
    for setting, by_value in (contact.operated_by_setting or {}).items():
        return by_value.get(setting_of(kind, settings, setting) or "")
    return contact.operated_by


def _qualified(by: str, key: str) -> str:
    if by == "hand":
        return f"hand:{key}"
    return f"coil:{key}.{by.removeprefix('coil:')}" if by.startswith("coil:") else by


def _wire(built: Built, wire: Wire, a: Post, b: Post) -> None:
    """A conductor from terminal to terminal."""
    make = wire.make
    per_kft = ohm_per_kft(make.awg, make.strands) if make.awg else None
    if per_kft is None or make.length_ft is None:
        says = f"The gauge or the length of {wire.cable_id} is not known: its conductors take no volts."
        note = Note("length", f"cables/{wire.cable_id}", says)
        if note not in built.notes:
            built.notes.append(note)
    ohms = float(per_kft) * make.length_ft / 1000 if per_kft is not None and make.length_ft is not None else 0.0
    built.conductors.append(
        {"id": f"{wire.cable_id}/{wire.id}", "from": a.ref, "to": b.ref, "awg": make.awg,
         "length_ft": make.length_ft, "ohms": ohms, "colour": wire.colour}
    )  # fmt: skip


def _unwired(built: Built) -> None:
    """Feed by its line what no cable feeds: planned on Lines, the line is the cable as far as something is drawn."""
    plant, plan = built.plant, built.plant.plan
    there = {piece["id"]: piece for piece in built.pieces}
    for key in sorted(built.devices):
        line = plant.fed_by_run.get(key)
        ends = _supply_side(plant, key)
        bars = there.get(supply.bus_of(plan, line.circuit.source)) if line and line.circuit.source else None
        if line is None or bars is None or line.source is None:
            _not_fed(built, key, ends, line is not None)
            continue
        poles = sum(1 for name in ends if name in LINE_LEGS)
        legs = supply.pole_legs(line.circuit, line.source, poles)
        ohms = supply.run_ohms(line)
        for name, post in ends.items():
            bar = "N" if name == "neutral" else f"L{legs[min(LINE_LEGS[name], poles - 1)]}"
            if bar in bars["terminals"]:
                piece = {"id": f"{line.id}:{bar}", "from": f"{bars['id']}.{bar}", "to": post.ref}
                built.conductors.append(piece | {"ohms": DEFAULT_RUN_OHMS if ohms is None else ohms})
        says = f"No power cable is landed on {plant.name(key)}: it is taken as fed by its line {line.id}."
        built.notes.append(Note("by-line", f"devices/{key}", says))


def _supply_side(plant: Plant, key: str) -> dict[str, Post]:
    """The terminals by which a device takes its line voltage, by what they are for: of a switch, its line side."""
    load_side = {f"{key}.{load}" for _, load in plant.types[key].poles}
    return {
        post.function: post for post in reversed(plant.posts_of(key))
        if post.function in (*LINE_LEGS, "neutral") and post.ref not in load_side
    }  # fmt: skip


def _not_fed(built: Built, key: str, ends: Mapping[str, Post], by_line: bool) -> None:
    """Say of a unit that needs line voltage that nothing brings it."""
    plant = built.plant
    if plant.types[key].group in FEEDS or not any(post.terminal.required for post in ends.values()):
        return
    if not by_line and not any(_fed_by_cable(plant, post) for post in ends.values()):
        says = f"No line and no power cable leads to {plant.name(key)}: it is not fed."
        built.notes.append(Note("unfed", f"devices/{key}", says))


def _fed_by_cable(plant: Plant, post: Post) -> bool:
    """Whether a conductor from another device's line terminals lands there."""
    for wire, end in plant.on.get(post.ref, ()):
        far = plant.post(wire, other(end))
        if far is not None and far.kind == "line":
            return True
    return False


def systems(plant: Plant) -> list[frozenset[str]]:
    """The plan's control systems: devices joined by control conductors or belonging to one unit; each with the
    switches and breakers that feed it. The largest comes first."""
    plan = plant.plan
    graph = nx.Graph()
    live = [key for key in plant.types if plan.devices[key].state != "removed"]
    own = {key for key in live if plant.types[key].group not in FEEDS and not _is_outlet(plant, key)}
    graph.add_nodes_from(sorted(own))
    for wire, a, b in plant.joined:
        ends = (a.device_id, b.device_id)
        if own.issuperset(ends) and plant.kind(wire) not in ("line", "ground"):
            graph.add_edge(*ends)
    first: dict[str, str] = {}
    for key in sorted(own):
        unit = plan.devices[key].equipment
        if unit:
            graph.add_edge(first.setdefault(unit, key), key)
    feeding = _feeding(plant, set(live) - own)
    found = []
    for part in nx.connected_components(graph):
        with_supply = set(part) | {switch for switch, fed in feeding.items() if fed & set(part)}
        found.append(frozenset(with_supply))
    return sorted(found, key=lambda part: (-len(part), sorted(part)))


def _is_outlet(plant: Plant, key: str) -> bool:
    return plant.types[key].id == "receptacle"


def _feeding(plant: Plant, switches: set[str]) -> dict[str, set[str]]:
    """For each switch, breaker and outlet, the devices behind it: it feeds what it reaches through line conductors."""
    plan = plant.plan
    graph = nx.Graph()
    graph.add_edges_from((a.device_id, b.device_id) for _, a, b in plant.joined)
    found: dict[str, set[str]] = {}
    for switch in switches:
        if switch not in graph or plant.types[switch].id == "feeder-lugs":
            continue
        feeder = bool((line := plan.circuits.get(plan.devices[switch].circuit or "")) and line.feeds)
        if feeder:
            continue
        among = graph.subgraph(switches | {switch})
        near = nx.node_connected_component(among, switch)
        found[switch] = {other for node in near for other in graph[node] if other not in switches}
    return found
