"""The ways by which a terminal can be live: through everything that is no means of isolation, in every position.

A relay, a contactor, a thermostat is never isolation: its contact counts as closed. A coil or a load passes the volts
of its other side. A transformer is live on both sides where it is on one. What is joined to ground by wire is dead.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

import networkx as nx

from leitung_core.commissioning.dead import OFF
from leitung_core.control.network import Built, build
from leitung_core.control.supply import bus_of
from leitung_core.elements.vocabulary import AcSource, Contact, DcSource, DcSupply, Fuse, Jumper, nodes_of
from leitung_core.plant.plant import Plant
from leitung_core.solver.network import Network
from leitung_core.supply.feeds import standing_in

Kind = Literal["breaker", "disconnect", "plug", "source"]
HOT = "hot"  # where every supply begins
LINE = "line-"
OWN_MAIN = ("pedestal", "receptacle")


@dataclass(frozen=True)
class Isolator:
    """What can be opened and locked: a device, a unit's plug by its unit, a source by its own main or start."""

    name: str
    kind: Kind


@dataclass
class Ways:
    """Which terminals hang together, and what can be opened between them.

    near: nodes joined whatever is opened. through: for each isolator the nodes that it joins while it is closed.
    parts: the branches of the network that opening it takes away. shorted: a hot conductor is joined to neutral or
    ground, so that volts prove nothing.
    """

    plant: Plant
    near: dict[str, set[str]] = field(default_factory=dict)
    through: dict[Isolator, set[str]] = field(default_factory=dict)
    parts: dict[Isolator, set[str]] = field(default_factory=dict)
    grounded: set[str] = field(default_factory=set)
    shorted: bool = False

    def __post_init__(self) -> None:
        plan = self.plant.plan
        self.buses = {bus_of(plan, key): key for key in plan.sources}
        self.grounded = self._grounded()
        for device in self.network.devices:
            for part in device.inside:
                self._element(device.id, part)
        for wire in self.network.conductors:
            isolator = self._opened_with(wire.id, wire.a, wire.b)
            if isolator is None:
                self._join([wire.a, wire.b])
            else:
                self._through(isolator, wire.id, [wire.a, wire.b])
        self._stand_ins()

    @cached_property
    def built(self) -> Built:
        """The whole plan, feeders and all, with what was taken for granted or left out."""
        return build(self.plant)

    @cached_property
    def network(self) -> Network:
        return self.built.network()

    def _join(self, nodes: Iterable[str]) -> None:
        alive = [node for node in nodes if node not in self.grounded]
        for node in alive:
            self.near.setdefault(node, set()).update(other for other in alive if other != node)

    def _through(self, isolator: Isolator, part: str, nodes: Iterable[str]) -> None:
        self.through.setdefault(isolator, set()).update(node for node in nodes if node not in self.grounded)
        self.parts.setdefault(isolator, set()).add(part)

    def _element(self, device: str, part: Any) -> None:
        nodes = [f"{device}.{node}" for node in nodes_of(part)]
        name = f"{device}.{part.id}"
        if isinstance(part, AcSource) and device in self.buses:
            self._supply(self.buses[device], name, nodes)
        elif isinstance(part, AcSource | DcSupply):
            self._join([HOT, *nodes])
        elif isinstance(part, DcSource):
            # A signal output is alive while its unit has power; one whose power is not known is taken as alive.
            power = [post.ref for post in self.plant.posts_of(device) if (post.function or "").startswith(LINE)]
            self._join([*nodes, *(power or [HOT])])
        elif isinstance(part, Contact) and part.operated_by == f"hand:{device}" and self._isolates(device):
            kind: Kind = "breaker" if self.plant.types[device].group == "panel" else "disconnect"
            self._through(Isolator(device, kind), name, nodes)
        else:
            self._join(nodes)

    def _supply(self, source_id: str, name: str, nodes: list[str]) -> None:
        """A source feeds its bars by its own main, where it has one, or by its start."""
        source = self.plant.plan.sources[source_id]
        if source.main_a is not None or source.kind in (*OFF, *OWN_MAIN):
            self._through(self._of_source(source_id), name, [HOT, *nodes])
        else:
            self._join([HOT, *nodes])

    def _of_source(self, source_id: str) -> Isolator:
        """What opens a source: its start, where it makes its own power, else its main."""
        own = self.plant.plan.sources[source_id].kind in OFF
        return Isolator(source_id, "source" if own else "breaker")

    def _isolates(self, device: str) -> bool:
        return device in self.plant.types and self.plant.types[device].group in ("panel", "disconnect")

    def _opened_with(self, wire: str, a: str, b: str) -> Isolator | None:
        """What opens a conductor: the plug of a cord, the breaker or plug of a line that is not drawn that far."""
        plan = self.plant.plan
        cable = plan.cables.get(wire.partition("/")[0])
        if cable is not None:
            for here, there in ((a, b), (b, a)):
                device, strip, *_ = [*here.split("."), ""]
                kind = self.plant.types.get(device)
                far = plan.devices.get(there.partition(".")[0])
                if kind is not None and kind.id.startswith("receptacle") and strip == "slot" and far is not None:
                    return Isolator(far.equipment or there.partition(".")[0], "plug")
            return None
        line_id = wire.partition(":")[0]
        line = self.plant.lines.get(line_id) if a.partition(".")[0] in self.buses else None
        if line is None or line_id in plan.devices:
            return None
        plugged = line.unit is not None and line.unit.cord_connected
        return Isolator(line.circuit.equipment or line_id, "plug") if plugged else Isolator(line_id, "breaker")

    def _stand_ins(self) -> None:
        """What can feed a source's lines in its place feeds its bars too."""
        for bus, source_id in self.buses.items():
            bars = [node for node in self.near if node.startswith(f"{bus}.L")]
            bars += [node for nodes in self.through.values() for node in nodes if node.startswith(f"{bus}.L")]
            for feed in standing_in(self.plant.plan, source_id) if bars else ():
                self._through(self._of_source(feed), "", [HOT, *bars])

    def _grounded(self) -> set[str]:
        """The bars of neutral and ground, and what wires and jumpers join to them; a hot bar joined so is a short."""
        graph = nx.Graph()
        graph.add_edges_from((wire.a, wire.b) for wire in self.network.conductors)
        for device in self.network.devices:
            for part in device.inside:
                if isinstance(part, Jumper):
                    graph.add_edge(f"{device.id}.{part.a}", f"{device.id}.{part.b}")
        bars = [f"{bus}.{name}" for bus in self.buses for name in ("N", "G")]
        hot = set(self._hot())
        found: set[str] = set()
        for bar in bars:
            if bar in graph:
                found |= nx.node_connected_component(graph, bar)
        self.shorted = bool(found & hot)
        return found if not self.shorted else {bar for bar in bars if bar in graph}

    def _hot(self) -> Iterator[str]:
        """What must never be joined to neutral or ground: a supply's plus, a breaker's poles, a line terminal."""
        yield from (post.ref for post in self.plant.posts.values() if (post.function or "").startswith(LINE))
        for device in self.network.devices:
            breaker = device.id in self.plant.types and self.plant.types[device.id].group == "panel"
            for part in device.inside:
                if isinstance(part, AcSource | DcSupply):
                    yield f"{device.id}.{part.plus}"
                elif breaker and isinstance(part, Contact | Fuse):
                    yield from (f"{device.id}.{node}" for node in nodes_of(part))

    def live(self, opened: Iterable[Isolator]) -> set[str]:
        """Every node that can be live with those open."""
        gone = set(opened)
        closed = {key: nodes for key, nodes in self.through.items() if key not in gone}
        at: dict[str, list[Isolator]] = {}
        for key, nodes in closed.items():
            for node in nodes:
                at.setdefault(node, []).append(key)
        seen, queue = {HOT}, [HOT]
        while queue:
            here = queue.pop()
            for there in (*self.near.get(here, ()), *(node for key in at.get(here, ()) for node in closed[key])):
                if there not in seen:
                    seen.add(there)
                    queue.append(there)
        return seen - {HOT}

    def least(self, touched: Iterable[str], cost: dict[Isolator, int]) -> list[Isolator] | None:
        """The cheapest isolators that part the touched terminals from every supply; None where nothing does."""
        graph = nx.DiGraph()
        end = object()
        for node, others in self.near.items():
            graph.add_edges_from((node, other) for other in others)
        for key, nodes in self.through.items():
            graph.add_edge((key, "in"), (key, "out"), capacity=cost[key])
            for node in nodes:
                graph.add_edge(node, (key, "in"))
                graph.add_edge((key, "out"), node)
        graph.add_edges_from((node, end) for node in touched if node in graph)
        if HOT not in graph or end not in graph:
            return []
        try:
            _, (near, _) = nx.minimum_cut(graph, HOT, end)
        except nx.NetworkXUnbounded:
            return None
        return [key for key in self.through if (key, "in") in near and (key, "out") not in near]
