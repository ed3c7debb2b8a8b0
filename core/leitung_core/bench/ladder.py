"""A system drawn as lines between two spines: for each load, the ways from its supply's live side to it and back.

A way is a chain of steps along conductors, contacts, jumpers and fuses, each to the terminal at which it ends. Where a
load's end reaches its supply only through another load, that load is a step as well: so series loads are seen.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import islice

import networkx as nx
from pydantic import BaseModel, ConfigDict

from leitung_core.catalogue.functions import functions
from leitung_core.control.kept import kept
from leitung_core.control.system import System
from leitung_core.elements.signals import signals
from leitung_core.elements.vocabulary import AcSource, Coil, Contact, Element, Fuse, Jumper, Load, Transformer
from leitung_core.solver.network import Conductor, Device, node_names

MOST_LANES = 6
Hop = tuple[str, str]
WEIGHTS = {"conductor": 1, "jumper": 1, "fuse": 1, "contact": 3, "load": 400}


class Drawn(BaseModel):
    """A part of the drawing."""

    model_config = ConfigDict(frozen=True)


class StepOf(Drawn):
    """One step of a way: along what, and to which node."""

    kind: str
    name: str
    says: str
    to: str
    colour: str | None = None
    by: str | None = None


class Lane(Drawn):
    """A way to a load; `sneaks` where it runs over a terminal that is meant for another call."""

    steps: list[StepOf]
    sneaks: bool = False


class Rung(Drawn):
    """A load between its spines: the ways to it, and the way back. `start` and `back` are nodes on the spines."""

    load: str
    words: str
    effect: str | None
    kind: str
    rated_volts: float
    rated_va: float | None
    a: str
    b: str
    start: str
    lanes: list[Lane]
    back: list[StepOf] | None


class Rail(Drawn):
    """A supply: its live spine, its return, and the loads between them."""

    key: str
    title: str
    live: str
    back: str
    live_label: str
    back_label: str
    volts: float
    line: bool
    rungs: list[Rung]


class Ladder(Drawn):
    """A system's drawing."""

    rails: list[Rail]
    loose: list[Rung]


def ladder(system: System) -> Ladder:
    """The lines of a system, supply by supply, control before line voltage."""
    return kept("ladder", system, lambda: _ladder(system))


def _ladder(system: System) -> Ladder:
    graph, rails = _graph(system), _rails(system)
    rungs: dict[str, list[Rung]] = {rail.key: [] for rail in rails}
    loose = []
    for name in _loads(system):
        found = [(_fit(rung), -number, rail.key, rung) for number, rail in enumerate(rails)
                 if (rung := _rung(system, graph, rail, name))]  # fmt: skip
        if found:
            _, _, key, rung = max(found, key=lambda entry: entry[:2])
            rungs[key].append(rung)
        else:
            loose.append(_loose(system, name))
    return Ladder(
        rails=[
            rail.model_copy(update={"rungs": rungs[rail.key]}) for rail in rails if rungs[rail.key] or not rail.line
        ],
        loose=loose,
    )


def _fit(rung: Rung) -> tuple[int, int, int]:
    """How well a load belongs to a supply: closed at both ends, without other loads, its contacts on the live side."""
    steps = [step for lane in rung.lanes for step in lane.steps]
    back = rung.back or []
    through = any(step.kind == "load" for step in back)
    after = sum(step.kind == "contact" for step in back)
    return (2 if rung.back is not None and not through else 1 if rung.back is not None else 0, -after,
            sum(step.kind == "contact" for step in steps))  # fmt: skip


def _elements(system: System) -> Iterator[tuple[Device, Element]]:
    for device in system.network.devices:
        for element in device.inside:
            yield device, element


def _loads(system: System) -> dict[str, tuple[str, str, Coil | Load]]:
    """Every load by name: its two nodes and itself."""
    return {
        f"{device.id}.{part.id}": (f"{device.id}.{part.a}", f"{device.id}.{part.b}", part)
        for device, part in _elements(system) if isinstance(part, Coil | Load)
    }  # fmt: skip


def _graph(system: System) -> nx.MultiGraph:
    graph = nx.MultiGraph()
    for wire in system.network.conductors:
        graph.add_edge(wire.a, wire.b, key=wire.id, kind="conductor", part=wire, weight=WEIGHTS["conductor"])
    for device, part in _elements(system):
        for kind, of in (("contact", Contact), ("jumper", Jumper), ("fuse", Fuse), ("load", Coil | Load)):
            if isinstance(part, of) and not _never_closes(part):
                ends = f"{device.id}.{part.a}", f"{device.id}.{part.b}"
                graph.add_edge(*ends, key=f"{device.id}.{part.id}", kind=kind, part=part, weight=WEIGHTS[kind])
    graph.add_nodes_from(node_names(system.network))
    return graph


def _never_closes(part: Element) -> bool:
    return isinstance(part, Contact) and part.operated_by is None and part.normally == "open"


def _rails(system: System) -> list[Rail]:
    """Every supply: transformers' secondaries first, the richest first, then the line legs."""
    control, line = [], []
    for device, part in _elements(system):
        name = f"{device.id}.{part.id}"
        if isinstance(part, Transformer):
            plus, minus = f"{device.id}.{part.secondary_plus}", f"{device.id}.{part.secondary_minus}"
            va = f", {part.va:g} VA" if part.va else ""
            title = f"{part.secondary_volts:g} V of {device.id}{va}"
            control.append((name, title, plus, minus, part.secondary_volts, False))
        elif isinstance(part, AcSource):
            line.append((name, device.id, f"{device.id}.{part.plus}", f"{device.id}.{part.minus}", part.volts, True))
    legs = [
        (f"{one[0]}+{two[0]}", f"{one[1]}, {one[2].rpartition('.')[2]} to {two[2].rpartition('.')[2]}", one[2], two[2],
         0.0, True)
        for one in line for two in line if one[1] == two[1] and one is not two
    ]  # fmt: skip
    plain = [(n, f"{t}, {p.rpartition('.')[2]} to N", p, m, v, line_) for n, t, p, m, v, line_ in line]
    return [
        Rail(key=key, title=title, live=plus, back=minus, live_label=_label(plus, "live"),
             back_label=_label(minus, "return"),
             volts=volts, line=is_line, rungs=[])
        for key, title, plus, minus, volts, is_line in (*control, *legs, *plain)
    ]  # fmt: skip


def _label(node: str, inside: str) -> str:
    """A spine's terminal as printed; `inside` for one that is no terminal."""
    name = node.rpartition(".")[2]
    return inside if name.startswith("_") else name


def _rung(system: System, graph: nx.MultiGraph, rail: Rail, name: str) -> Rung | None:
    """The load as a line of this supply; None where it is not one of its."""
    a, b, part = _loads(system)[name]
    part_of = _parts(graph)
    if part_of[rail.live] not in (part_of.get(a), part_of.get(b)):
        return None
    for first, second in ((a, b), (b, a)):
        if part_of[first] != part_of[rail.live] or part_of[second] != part_of[rail.back]:
            continue
        lanes = _lanes(graph, rail.live, first, {rail.back}, name, loads=False)
        back = _way(graph, second, rail.back, {rail.live}, name, loads=False)
        if lanes and back is not None:
            return _drawn(system, name, part, first, second, rail.live, lanes, back)
    if rail.line:
        return None
    # Through another load, where there is no other way: the two lie in series.
    for first, second in ((a, b), (b, a)):
        lanes = _lanes(graph, rail.live, first, {rail.back}, name, loads=False)
        back = _way(graph, second, rail.back, {rail.live}, name, loads=True)
        if lanes and back is not None:
            return _drawn(system, name, part, first, second, rail.live, lanes, back)
    # A live feed and no way back.
    for first, second in ((a, b), (b, a)):
        lanes = _lanes(graph, rail.live, first, {rail.back}, name, loads=False)
        if lanes:
            return _drawn(system, name, part, first, second, rail.live, lanes, None)
    return None


def _parts(graph: nx.MultiGraph) -> dict[str, int]:
    """The part of the network of each node, loads left out: a load's end must lie in the part of its spine."""
    if "parts" not in graph.graph:
        bare = nx.Graph((a, b) for a, b, data in graph.edges(data=True) if data["kind"] != "load")
        bare.add_nodes_from(graph)
        graph.graph["parts"] = {node: i for i, part in enumerate(nx.connected_components(bare)) for node in part}
    found: dict[str, int] = graph.graph["parts"]
    return found


def _drawn(
    system: System, name: str, part: Coil | Load, first: str, second: str, start: str, lanes: list[list[Hop]],
    back: list[Hop] | None,
) -> Rung:  # fmt: skip
    own = system.part(name)
    return Rung(
        load=name,
        words=system.words(name).removeprefix("the "),
        effect=getattr(own, "effect", None),
        kind="coil" if isinstance(part, Coil) else "load",
        rated_volts=part.rated_volts or 24,
        rated_va=part.va,
        a=first,
        b=second,
        start=start,
        lanes=[
            Lane(steps=[_step(system, *hop) for hop in lane], sneaks=_sneaks(system, lane, first)) for lane in lanes
        ],
        back=[_step(system, *hop) for hop in back] if back is not None else None,
    )


def _sneaks(system: System, lane: list[Hop], end: str) -> bool:
    """Whether a way passes a terminal of a call that is not its load's own."""
    own = _calls(system, end, lane)
    passed = {call for _, to in lane for call in _call_at(system, to)}
    return bool(passed - own)


def _calls(system: System, end: str, lane: list[Hop]) -> set[str]:
    """The calls meant on the last conductors before a load: from its end back to the nearest contact."""
    found = set(_call_at(system, end))
    for name, to in reversed(lane):
        found |= _call_at(system, to)
        if isinstance(system.by_name[name], Contact):
            break
    return found


def _call_at(system: System, node: str) -> set[str]:
    post = system.plant.posts.get(node)
    return {post.function} if post and post.function and functions()[post.function].call else set()


def _loose(system: System, name: str) -> Rung:
    """A load that no supply reaches."""
    a, b, part = _loads(system)[name]
    return _drawn(system, name, part, a, b, a, [], None)


def _view(graph: nx.MultiGraph, barred: set[str], without: str, loads: bool) -> nx.MultiGraph:
    def kept(a: str, b: str, key: str) -> bool:
        return key != without and (loads or graph.edges[a, b, key]["kind"] != "load")

    return nx.subgraph_view(graph, filter_node=lambda node: node not in barred, filter_edge=kept)


def _lanes(graph: nx.MultiGraph, start: str, end: str, barred: set[str], without: str, loads: bool) -> list[list[Hop]]:
    """The ways from start to end that differ in their contacts, the shortest first."""
    if start == end:
        return [[]]
    view = _view(graph, barred - {end}, without, loads)
    if start not in view or end not in view or not nx.has_path(view, start, end):
        return []
    found: dict[tuple[str, ...], list[Hop]] = {}
    simple = nx.Graph()
    parallel: dict[tuple[str, str], list[str]] = {}
    for a, b, key, data in view.edges(keys=True, data=True):
        if data["kind"] == "contact":
            # A contact is a node of its own here, so that contacts side by side are ways of their own.
            simple.add_edge(a, ("k", key), weight=1)
            simple.add_edge(("k", key), b, weight=2)
        else:
            simple.add_edge(a, b, weight=data["weight"])
            parallel.setdefault(_pair(a, b), []).append(key)
    for path in islice(nx.shortest_simple_paths(simple, start, end, weight="weight"), 40):
        contacts = tuple(sorted(node[1] for node in path if isinstance(node, tuple)))
        found.setdefault(contacts, list(_hops(path, parallel)))
        if len(found) >= MOST_LANES:
            break
    plain = sorted(found.items(), key=lambda item: len(item[1]))
    return [hops for contacts, hops in plain if not any(set(other) < set(contacts) for other in found)]


def _pair(a: str, b: str) -> tuple[str, str]:
    return (a, b) if a <= b else (b, a)


def _hops(path: list[str | tuple[str, str]], parallel: dict[tuple[str, str], list[str]]) -> Iterator[Hop]:
    """A path of nodes and contacts as steps: along what, to where."""
    at = 0
    while at < len(path) - 1:
        here, following = path[at], path[at + 1]
        if isinstance(following, tuple):
            yield following[1], str(path[at + 2])
            at += 2
        else:
            yield parallel[_pair(str(here), following)][0], following
            at += 1


def _way(
    graph: nx.MultiGraph, start: str, end: str, barred: Iterable[str], without: str, loads: bool
) -> list[Hop] | None:
    lanes = _lanes(graph, start, end, set(barred), without, loads)
    return lanes[0] if lanes else None


def _step(system: System, name: str, to: str) -> StepOf:
    part = system.by_name[name]
    if isinstance(part, Conductor):
        cable = name.partition("/")[0]
        says = f"{part.colour}, {cable}" if part.colour else cable
        return StepOf(kind="conductor", name=name, says=says, to=to, colour=part.colour)
    kind = {Contact: "contact", Fuse: "fuse", Jumper: "jumper"}.get(type(part), "load")
    by = part.operated_by if isinstance(part, Contact) else None
    return StepOf(kind=kind, name=name, says=says_of(system, name, part), to=to, by=by)


def says_of(system: System, name: str, part: Element | Conductor) -> str:
    """A contact by what moves it, a fuse by its rating, a load by its name."""
    device = name.rpartition(".")[0]
    if isinstance(part, Contact):
        return f"{moved_by(system, part)}, {device}"
    if isinstance(part, Fuse):
        return f"{part.amps:g} A, {device}"
    return system.words(name).removeprefix("the ") if isinstance(part, Coil | Load) else f"jumper, {device}"


def moved_by(system: System, contact: Contact) -> str:
    """What moves a contact, in few words."""
    by = contact.operated_by
    if by is None:
        return "fixed"
    if by.startswith("hand:"):
        return "switch"
    if by.startswith("coil:"):
        part = system.part(by.removeprefix("coil:"))
        return getattr(part, "name", None) or by.rpartition(".")[2]
    known = signals().get(by)
    return known.short if known else by.partition(":")[2]
