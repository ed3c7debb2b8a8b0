"""A plan's wiring with every reference followed: terminals with what they are for, conductors with where they land.

Built once for a plan; every rule reads it and none changes it.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property

import networkx as nx

from leitung_core.catalogue.device import DeviceType, StripType, Terminal, function_of, kind_of, shipped_devices
from leitung_core.catalogue.functions import functions
from leitung_core.elements.vocabulary import Contact, Jumper
from leitung_core.plan.model import Plan
from leitung_core.plan.wired import Cable, Conductor, Device, End, EndName
from leitung_core.plant.index import Index
from leitung_core.plant.lines import Line, fed_by_run, lines_of_plant
from leitung_core.plant.make import Make, conductor_ids, make_of
from leitung_core.plant.plate import with_plate
from leitung_core.plant.size_document import amendments_of
from leitung_core.rulebook import Rulebook, choose_schools, rulebook

ENDS: tuple[EndName, EndName] = ("a", "b")


def other(end: EndName) -> EndName:
    return "b" if end == "a" else "a"


@dataclass(frozen=True)
class Post:
    """A terminal of a device in the plan. `through`: a joint, which takes the sort of voltage that is joined there."""

    ref: str
    device_id: str
    strip: StripType
    terminal: Terminal
    function: str | None
    kind: str
    through: bool = False

    @property
    def label(self) -> str:
        return self.terminal.label or self.terminal.id

    @property
    def says(self) -> str:
        words = self.terminal.says or (functions()[self.function].says if self.function else "")
        return f"{words}, {self.terminal.lead} lead" if self.terminal.lead else words

    @property
    def at(self) -> str:
        """`R at AH-1`."""
        return f"{self.label} at {self.device_id}"


@dataclass(frozen=True, eq=False)
class Wire:
    """One conductor of a cable; `posts` are the terminals on which its ends land, where they are known."""

    cable_id: str
    id: str
    cable: Cable
    make: Make
    conductor: Conductor
    posts: tuple[Post | None, Post | None]

    @property
    def colour(self) -> str:
        return self.conductor.colour or self.id

    @cached_property
    def about(self) -> str:
        return f"cables/{self.cable_id}/conductors/{self.id}"

    def end(self, end: EndName) -> End:
        return self.conductor.a if end == "a" else self.conductor.b

    def device(self, end: EndName) -> str:
        """The device at this end of the cable."""
        return self.cable.at(end).device

    def seen(self, end: EndName) -> str:
        """The colour as it is seen at an end: the marking, where there is one."""
        return self.end(end).reidentified or self.colour

    def loose(self, end: EndName) -> bool:
        return self.end(end).terminal is None and not self.end(end).capped


@dataclass(frozen=True, eq=False)
class Net:
    """Terminals that conductors and jumpers join, and what they are for."""

    refs: frozenset[str]
    meanings: frozenset[str]


@dataclass(eq=False)
class Plant:
    """The wiring of one plan."""

    plan: Plan
    types: dict[str, DeviceType] = field(init=False)
    posts: dict[str, Post] = field(init=False)
    makes: dict[str, Make] = field(init=False)
    wires: dict[str, list[Wire]] = field(init=False)
    on: dict[str, list[tuple[Wire, EndName]]] = field(init=False)

    def __post_init__(self) -> None:
        # Sorted: a database that keeps no order must not change which of two things is named first.
        in_order = {
            "devices": dict(sorted(self.plan.devices.items())),
            "cables": dict(sorted(self.plan.cables.items())),
        }
        self.plan = self.plan.model_copy(update=in_order)
        known = {**shipped_devices(), **self.plan.device_types}
        self.types = {
            key: with_plate(known[device.type], self.plan.equipment.get(device.equipment or ""))
            for key, device in self.plan.devices.items()
            if device.type in known
        }
        self.posts = {
            post.ref: post for key, kind in self.types.items() for post in _posts(key, self.plan.devices[key], kind)
        }
        self.makes = {key: make_of(self.plan, cable) for key, cable in self.plan.cables.items()}
        self.wires = {key: self._wires(key, cable) for key, cable in self.plan.cables.items()}
        self.on = defaultdict(list)
        for wire in self.every_wire():
            for end in ENDS:
                ref = wire.end(end).terminal
                if ref is not None:
                    self.on[ref].append((wire, end))

    @cached_property
    def lines(self) -> dict[str, Line]:
        """Every line, from its source to its unit."""
        return lines_of_plant(self)

    @cached_property
    def fed_by_run(self) -> dict[str, Line]:
        """The line of every device that a run feeds and no drawn cable."""
        return fed_by_run(self)

    def school(self, question: str) -> str:
        """The answer in force for a question on which practice differs."""
        return self.book.school(question)

    @cached_property
    def book(self) -> Rulebook:
        """The rulebook of the plan's edition with its local amendments."""
        return rulebook(
            self.plan.rulebook, choose_schools(amendments_of(self.plan) or [], self.plan.site.permit_date).local
        )

    def every_wire(self) -> Iterator[Wire]:
        for wires in self.wires.values():
            yield from wires

    def post(self, wire: Wire, end: EndName) -> Post | None:
        """The terminal on which this end lands, where it is known."""
        return wire.posts[0] if end == "a" else wire.posts[1]

    @cached_property
    def joined(self) -> list[tuple[Wire, Post, Post]]:
        """Every conductor in service that lands at both ends on terminals that are there."""
        found = []
        for wire in self.every_wire():
            a, b = self.post(wire, "a"), self.post(wire, "b")
            if a is not None and b is not None and wire.cable.state != "removed":
                found.append((wire, a, b))
        return found

    def posts_of(self, device_id: str) -> list[Post]:
        """Every terminal of a device, strip by strip."""
        return self._posts_by_device.get(device_id, [])

    @cached_property
    def _posts_by_device(self) -> dict[str, list[Post]]:
        found: dict[str, list[Post]] = defaultdict(list)
        for post in self.posts.values():
            found[post.device_id].append(post)
        return dict(found)

    @cached_property
    def index(self) -> Index:
        """What belongs to what, by name."""
        return Index(self.plan)

    @cached_property
    def unlanded(self) -> dict[str, list[tuple[Wire, EndName]]]:
        """For each device, the ends of cables at it that land nowhere."""
        found: dict[str, list[tuple[Wire, EndName]]] = defaultdict(list)
        for wire in self.every_wire():
            for end in ENDS:
                if wire.end(end).terminal is None:
                    found[wire.device(end)].append((wire, end))
        return dict(found)

    def reachable(self, cable: Cable, end: EndName) -> list[Post]:
        """The terminals that an end of a cable may be meant for: those of its strip and grounds, else all there are."""
        at = cable.at(end)
        posts = self.posts_of(at.device)
        if at.strip is None:
            return posts
        grounds = [post for post in posts if post.strip.id != at.strip and post.function == "ground"]
        return [post for post in posts if post.strip.id == at.strip] + grounds

    def load_on(self, ref: str) -> int:
        """Conductors that a terminal holds; those joined on a pigtail count as one."""
        pigtails = [wire.end(end).pigtail or False for wire, end in self.on.get(ref, ())]
        return pigtails.count(False) + any(pigtails)

    def room(self, post: Post) -> bool:
        """Whether one more conductor may land there."""
        return self.load_on(post.ref) < (post.terminal.takes or 1)

    def name(self, device_id: str) -> str:
        device = self.plan.devices.get(device_id)
        return f"{device_id}, {device.name}" if device and device.name else device_id

    @cached_property
    def nets(self) -> dict[str, Net]:
        """The net of every terminal on which something lands or that a jumper joins."""
        graph = nx.Graph()
        for wire in self.every_wire():
            ends = [wire.end(end).terminal for end in ENDS]
            graph.add_nodes_from(ref for ref in ends if ref is not None)
            if ends[0] is not None and ends[1] is not None:
                graph.add_edge(*ends)
        for device_id, kind in self.types.items():
            graph.add_edges_from(self._jumpers(device_id, kind))
        found: dict[str, Net] = {}
        for refs in nx.connected_components(graph):
            meanings = {post.function for ref in refs if (post := self.posts.get(ref)) and post.function}
            found |= dict.fromkeys(refs, Net(frozenset(refs), frozenset(meanings)))
        return found

    def _jumpers(self, device_id: str, kind: DeviceType) -> Iterator[tuple[str, str]]:
        """Terminals that a jumper inside makes one; where each means something of its own, they stay two."""
        settings = self.plan.devices[device_id].settings
        for element in kind.inside:
            if not isinstance(element, Jumper) or "_" in (element.a[0], element.b[0]):
                continue
            if element.setting and not jumper_in(element, kind, settings):
                continue
            ends = f"{device_id}.{element.a}", f"{device_id}.{element.b}"
            meant = {self.posts[ref].function for ref in ends} - {None}
            if len(meant) <= 1:
                yield ends

    def function(self, wire: Wire) -> str | None:
        """What a conductor means: the one function of everything that it is joined to."""
        return self._functions[wire]

    @cached_property
    def _functions(self) -> dict[Wire, str | None]:
        found: dict[Wire, str | None] = {}
        for wire in self.every_wire():
            refs = [ref for end in ENDS if (ref := wire.end(end).terminal)]
            meanings = set[str]().union(*(self.nets[ref].meanings for ref in refs))
            found[wire] = next(iter(meanings)) if len(meanings) == 1 else None
        return found

    def kind(self, wire: Wire) -> str | None:
        """The gravest sort of voltage among the terminals of a conductor; None where it lands nowhere known."""
        return self._kinds[wire]

    @cached_property
    def _kinds(self) -> dict[Wire, str | None]:
        order = ("line", "signal", "low", "data", "sense", "ground", "dry")
        found: dict[Wire, str | None] = {}
        for wire in self.every_wire():
            kinds = {post.kind for post in wire.posts if post and not post.through}
            function = self.function(wire)
            if function is not None:
                kinds.add(functions()[function].kind)
            found[wire] = next((kind for kind in order if kind in kinds), None)
        return found

    def says(self, wire: Wire) -> str:
        """What a conductor is for, in words."""
        function = self.function(wire)
        if function is not None:
            return functions()[function].says
        words = [post.says for post in wire.posts if post and post.says]
        return " / ".join(dict.fromkeys(words))

    def _wires(self, cable_id: str, cable: Cable) -> list[Wire]:
        make, found = self.makes[cable_id], []
        for name in conductor_ids(cable, make):
            conductor = cable.conductors.get(name, Conductor())
            posts = self.posts.get(conductor.a.terminal or ""), self.posts.get(conductor.b.terminal or "")
            found.append(Wire(cable_id, name, cable, make, conductor, posts))
        return found


def _posts(device_id: str, device: Device, kind: DeviceType) -> Iterator[Post]:
    for strip in kind.strips:
        for terminal in strip.terminals:
            function = function_of(terminal, kind, device.settings)
            ref = f"{device_id}.{strip.id}.{terminal.id}"
            kind_there = kind_of(terminal, function)
            yield Post(ref, device_id, strip, terminal, function, kind_there, through=kind.group == "joint")


def jumper_in(jumper: Jumper, kind: DeviceType, settings: Mapping[str, str]) -> bool:
    """Whether a jumper that a setting puts in or takes out is in."""
    return setting_of(kind, settings, jumper.setting or "") in jumper.values


def delay_of(contact: Contact, kind: DeviceType, settings: Mapping[str, str]) -> float:
    """How long a contact waits before it moves, as it is set, s."""
    name = contact.delay_on_setting
    return float((setting_of(kind, settings, name) if name else None) or contact.delay_on_s)


def setting_of(kind: DeviceType, settings: Mapping[str, str], setting: str) -> str | None:
    """A setting's value at a device: as recorded, else as it leaves the factory."""
    return settings.get(setting) or kind.settings[setting].factory
