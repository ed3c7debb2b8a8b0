"""The open form of a bare network: what `./leitung solve` reads and `./leitung network` writes.

Fields that are not known here are passed over: others may keep notes of their own in such a file.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from leitung_core.catalogue.device import Awg
from leitung_core.elements.conditions import read_expression
from leitung_core.errors import InputError, Problem
from leitung_core.validation import read

Name = Annotated[str, Field(min_length=1, max_length=200)]
Condition = Annotated[str, Field(min_length=1, max_length=20_000)]
Above0 = Annotated[float, Field(gt=0, le=1e9, allow_inf_nan=False)]
From0 = Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False)]
Any0 = Annotated[float, Field(ge=-1e9, le=1e9, allow_inf_nan=False)]
Frac = Annotated[float, Field(gt=0, le=1)]
LARGEST_NODES = 4000


class Form(BaseModel):
    """A part of the open form."""

    model_config = ConfigDict(extra="ignore", frozen=True, populate_by_name=True)


class AcSource(Form):
    """A line source: phasor and its ohms. rms volts; degrees."""

    type: Literal["ac_source"]
    id: Name
    plus: Name
    minus: Name
    volts: From0
    phase_deg: Any0 = 0
    ohms: From0 = 0.05


class DcSource(Form):
    """A DC signal source."""

    type: Literal["dc_source"]
    id: Name
    plus: Name
    minus: Name
    volts: Any0
    ohms: From0 = 0


class Tap(Form):
    terminal: Name
    volts: Above0


class Transformer(Form):
    """An ideal transformer; its regulation is a series resistance on the secondary."""

    type: Literal["transformer"]
    id: Name
    primary_common: Name
    primary_taps: Annotated[list[Tap], Field(min_length=1)]
    secondary_plus: Name
    secondary_minus: Name
    secondary_volts: Above0 = 24
    va: Above0 | None = None
    regulation_pct: From0 | None = None


class TwoEnds(Form):
    id: Name
    a: Name
    b: Name


class Fuse(TwoEnds):
    type: Literal["fuse"]
    amps: Above0
    ohms: From0 = 0.01


class Coil(TwoEnds):
    """A coil: pulls in at or above one fraction of its rating, holds down to another."""

    type: Literal["coil"]
    rated_volts: Above0 | None = 24
    va: Above0 | None = None
    pull_in_frac: Frac = 0.75
    drop_out_frac: Frac = 0.5


class Load(TwoEnds):
    """Anything else that takes power. `data` and `dc_signal` count as energised on DC only."""

    type: Literal["load"]
    rated_volts: Above0 | None = 24
    va: Above0 | None = None
    pull_in_frac: Frac = 0.75
    drop_out_frac: Frac = 0.75
    data: bool = False
    dc_signal: bool = False
    takes: Literal["ac", "data", "dc_signal"] = "ac"

    @property
    def on_dc(self) -> bool:
        return self.data or self.dc_signal or self.takes != "ac"

    @property
    def is_data(self) -> bool:
        return self.data or self.takes == "data"


class Contact(TwoEnds):
    """A contact, moved by a call, a cause, a coil, or nothing."""

    type: Literal["contact"]
    normally: Literal["open", "closed"] = "open"
    operated_by: Name | None = None
    delay_on_s: From0 = 0
    delay_off_s: From0 = 0
    dry: bool = False


class Jumper(TwoEnds):
    type: Literal["jumper"]
    ohms: From0 = 0.001


class Resistor(TwoEnds):
    type: Literal["resistor"]
    ohms: Above0


Element = Annotated[
    AcSource | DcSource | Transformer | Fuse | Coil | Load | Contact | Jumper | Resistor, Field(discriminator="type")
]


class Device(Form):
    id: Name
    kind: str | None = None
    terminals: list[Name] = []
    internal_nodes: list[Name] = []
    inside: list[Element] = []


class Conductor(Form):
    """A wire between two terminals; its ohms, or its gauge and its length."""

    id: Name
    a: Name = Field(alias="from")
    b: Name = Field(alias="to")
    awg: Awg | int | None = None
    length_ft: From0 | None = None
    ohms: From0 | None = None
    colour: str | None = None


class Probe(Form):
    """A meter's two leads."""

    a: Name = Field(alias="from")
    b: Name = Field(alias="to")


class Phase(Form):
    """What was on for some time before."""

    on: list[Name] = []
    for_s: From0 = 0


class State(Form):
    """What is on, after what, and when the answer is asked for."""

    name: str = ""
    on: list[Name] = []
    history: list[Phase] = []
    at_s: From0 = 0
    probes: list[Probe] = []


class Interlock(Form):
    when: Condition
    must_stop: list[Name] = []


class Network(Form):
    """A bare network with the states to be answered."""

    reference: Name | None = None
    devices: list[Device]
    conductors: list[Conductor] = []
    intent: dict[str, Condition] = {}
    interlocks: list[Interlock] = []
    heat_and_cool_when: Condition | None = None
    states: list[State] = []


def read_network(data: Any, root: str = "") -> Network:
    """The network in `data`. Raises InputError naming field, value and remedy, also for names that lead nowhere."""
    network = read(Network, data, root)
    problems = [Problem(_join(root, field), value, says, remedy) for field, value, says, remedy in _wrong(network)]
    if problems:
        raise InputError(*problems[:20])
    return network


def _join(root: str, field: str) -> str:
    return f"{root}.{field}" if root else field


def nodes_of(element: Element) -> list[str]:
    """Every node that an element touches, in the words of its own device."""
    if isinstance(element, Transformer):
        taps = [tap.terminal for tap in element.primary_taps]
        return [element.primary_common, *taps, element.secondary_plus, element.secondary_minus]
    if isinstance(element, AcSource | DcSource):
        return [element.plus, element.minus]
    return [element.a, element.b]


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
    named += [
        (f"devices.{device.id}.inside.{element.id}.operated_by", element.operated_by.removeprefix("coil:"))
        for device in network.devices for element in device.inside
        if isinstance(element, Contact) and (element.operated_by or "").startswith("coil:") and element.operated_by
    ]  # fmt: skip
    found += [
        (field, name, "there is no such coil or load", "Write device.element.")
        for field, name in named if name not in loads
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
