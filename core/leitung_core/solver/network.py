"""The open form of a bare network: what `./leitung solve` reads and `./leitung network` writes.

Fields that are not known here are passed over: others may keep notes of their own in such a file.
"""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from leitung_core.catalogue.device import Awg
from leitung_core.elements.conditions import read_expression
from leitung_core.elements.vocabulary import Coil, Contact, Element, From0, Load, MotorWinding, Name, Part, nodes_of
from leitung_core.errors import InputError, Problem
from leitung_core.validation import read, shorten

Condition = Annotated[str, Field(min_length=1, max_length=20_000)]
LARGEST_NODES = 4000


class Device(Part):
    id: Name
    kind: str | None = None
    terminals: list[Name] = []
    internal_nodes: list[Name] = []
    inside: list[Element] = []


class Conductor(Part):
    """A wire between two terminals; its ohms, or its gauge and its length."""

    id: Name
    a: Name = Field(alias="from")
    b: Name = Field(alias="to")
    awg: Awg | int | None = None
    length_ft: From0 | None = None
    ohms: From0 | None = None
    colour: str | None = None


class Probe(Part):
    """A meter's two leads."""

    a: Name = Field(alias="from")
    b: Name = Field(alias="to")


class Phase(Part):
    """What was on for some time before."""

    on: list[Name] = []
    for_s: From0 = 0


class State(Part):
    """What is on, after what, and when the answer is asked for."""

    name: str = ""
    on: list[Name] = []
    history: list[Phase] = []
    at_s: From0 = 0
    probes: list[Probe] = []


class Interlock(Part):
    """What a cause must stop, and what it may: that is judged neither way while the cause is there.

    proved_by: the device that does it; it counts only while it is powered itself.
    """

    when: Condition
    must_stop: list[Name] = []
    may_stop: list[Name] = []
    proved_by: Name | None = None


class NeedsAir(Part):
    """A heater or compressor that must not run longer than that without the fan that moves its air, s."""

    load: Name
    source: Name = Field(alias="from")
    within_s: From0 = 30


class Network(Part):
    """A bare network with the states to be answered."""

    reference: Name | None = None
    devices: list[Device]
    conductors: list[Conductor] = []
    intent: dict[str, Condition] = {}
    interlocks: list[Interlock] = []
    needs_air: list[NeedsAir] = []
    heat_and_cool_when: Condition | None = None
    planned_delays: bool = Field(False, description="a load that waits for a delayed contact is judged neither way")
    states: list[State] = []


def read_network(data: Any, root: str = "") -> Network:
    """The network in `data`. Raises InputError naming field, value and remedy, also for names that lead nowhere."""
    network = read(Network, data, root, unknown="ignored")
    problems = [
        Problem(_join(root, shorten(field)), shorten(value), says, remedy)
        for field, value, says, remedy in _wrong(network)
    ]
    if problems:
        raise InputError(*problems[:20])
    return network


def _join(root: str, field: str) -> str:
    return f"{root}.{field}" if root else field


def node_names(network: Network) -> list[str]:
    """Every node of the network as `device.terminal`, each once, in the order of the file."""
    names: dict[str, None] = {}
    for device in network.devices:
        inner = [node for element in device.inside for node in nodes_of(element)]
        names |= dict.fromkeys(f"{device.id}.{node}" for node in (*device.terminals, *device.internal_nodes, *inner))
    return list(names)


def _wrong(network: Network) -> list[tuple[str, Any, str, str]]:
    """Names that stand twice or lead nowhere."""
    found: list[tuple[str, Any, str, str]] = []
    nodes = set(node_names(network))
    if len(nodes) > LARGEST_NODES:
        found.append(("devices", len(nodes), f"more than {LARGEST_NODES} nodes", "Solve a smaller part."))
    found += _twice("devices", [device.id for device in network.devices])
    found += _twice("conductors", [conductor.id for conductor in network.conductors])
    elements: dict[str, Element] = {}
    for device in network.devices:
        found += _twice(f"devices.{device.id}.inside", [element.id for element in device.inside])
        inner = {*device.internal_nodes, *device.terminals}
        elements |= {f"{device.id}.{element.id}": element for element in device.inside}
        for element in device.inside:
            for node in nodes_of(element):
                if node not in inner and not node.startswith("_"):
                    field = f"devices.{device.id}.inside.{element.id}"
                    found.append((field, node, "is no terminal of this device", "List it under terminals."))
    ends = [
        (f"conductors.{c.id}.{side}", end) for c in network.conductors for side, end in (("from", c.a), ("to", c.b))
    ]
    ends += [
        (f"states.{state.name}.probes", end) for state in network.states for p in state.probes for end in (p.a, p.b)
    ]
    ends += [("reference", network.reference)] if network.reference else []
    found += [
        (field, end, "there is no such terminal", "Write device.terminal as in devices.")
        for field, end in ends if end not in nodes
    ]  # fmt: skip
    loads = {name for name, element in elements.items() if isinstance(element, Coil | Load)}
    named = [("intent", name) for name in network.intent]
    named += [("interlocks.must_stop", name) for interlock in network.interlocks for name in interlock.must_stop]
    named += [("interlocks.may_stop", name) for interlock in network.interlocks for name in interlock.may_stop]
    named += [("needs_air", name) for entry in network.needs_air for name in (entry.load, entry.source)]
    named += [
        (f"devices.{device.id}.inside.{element.id}.operated_by", element.operated_by.removeprefix("coil:"))
        for device in network.devices for element in device.inside
        if isinstance(element, Contact) and (element.operated_by or "").startswith("coil:") and element.operated_by
    ]  # fmt: skip
    found += [
        (field, name, "there is no such coil or load", "Write device.element.")
        for field, name in named if name not in loads
    ]  # fmt: skip
    windings = {name for name, element in elements.items() if isinstance(element, MotorWinding)}
    found += [
        (f"{name}.start_winding", part.start_winding, "there is no such winding", "Write device.element.")
        for name, part in elements.items() if isinstance(part, Load) and part.start_winding
        and part.start_winding not in windings
    ]  # fmt: skip
    devices = {device.id for device in network.devices}
    found += [
        ("interlocks.proved_by", interlock.proved_by, "there is no such device", "Write a device's id.")
        for interlock in network.interlocks if interlock.proved_by is not None and interlock.proved_by not in devices
    ]  # fmt: skip
    for field, text in _expressions(network):
        try:
            unknown = sorted(read_expression(text).loads - loads)
        except InputError as error:
            found += [(field, text, problem.message, problem.remedy) for problem in error.problems]
        else:
            found += [(field, name, "there is no such coil or load", "Write device.element.") for name in unknown]
    return found


def _expressions(network: Network) -> list[tuple[str, str]]:
    found = [(f"intent.{name}", text) for name, text in network.intent.items()]
    found += [(f"interlocks.{i}.when", interlock.when) for i, interlock in enumerate(network.interlocks)]
    return found + ([("heat_and_cool_when", network.heat_and_cool_when)] if network.heat_and_cool_when else [])


def _twice(field: str, names: list[str]) -> list[tuple[str, Any, str, str]]:
    return [
        (field, name, "stands twice", "Give each an id of its own.")
        for name in sorted({name for name in names if names.count(name) > 1})
    ]
