"""A device as the catalogue knows it: its strips as they are seen, what each terminal is for, what is inside.

One JSON file in `devices/` for each; `docs/devices.md` says how to write one.
"""

from __future__ import annotations

import re
from functools import cache
from importlib.resources import files
from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from leitung_core.catalogue.functions import Kind, functions
from leitung_core.circuits.spec import Kind as UnitKind
from leitung_core.elements.signals import is_signal
from leitung_core.elements.vocabulary import Coil, Contact, Element, Jumper, Load, MotorWinding, nodes_of
from leitung_core.errors import InputError, Problem
from leitung_core.validation import ID, Count, Entered, Id, Positive, Text, parse_json, read

Hardware = Literal["screw", "clamp", "push_in", "lead", "spade", "lug", "blade", "slot"]
Awg = Literal["24", "22", "20", "18", "16", "14", "12", "10", "8", "6", "4", "3", "2", "1", "1/0", "2/0", "3/0", "4/0",
              "250", "300", "350", "400", "500"]  # fmt: skip
FunctionId = Annotated[str, Field(pattern=r"^[a-z0-9-]{1,32}$")]
Group = Literal[
    "outdoor unit", "indoor unit", "board", "thermostat", "humidity", "relay", "transformer", "safety", "lamp",
    "pump", "starter", "disconnect", "panel", "joint", "unit",
]  # fmt: skip


class Terminal(Entered):
    """One terminal. What is left out here holds for the whole strip, or is not known.

    A terminal without `function` means nothing of its own (a coil's end, a contact): `accepts` lists what a proposal
    may land on it.
    """

    id: Id
    label: Text | None = Field(None, description="as printed on the device, where it is not the id")
    says: Text | None = Field(None, description="what it is for, where the function's own words do not say it")
    function: FunctionId | None = None
    function_by: dict[Id, dict[str, FunctionId]] | None = Field(
        None, description="a setting's values and what the terminal is for under each"
    )
    accepts: list[FunctionId] = []
    kind: Kind | None = Field(None, description="the sort of voltage, where no function tells it")
    required: bool = Field(False, description="the device does not work, or is not safe, without a conductor on it")
    hardware: Hardware | None = None
    takes: Count | None = Field(None, description="conductors that it may hold; left out: one")
    awg_min: Awg | None = Field(None, description="thinnest conductor")
    awg_max: Awg | None = Field(None, description="thickest conductor")
    solid: bool | None = Field(None, description="whether a solid conductor may land here")
    volts: Positive | None = Field(None, description="rated volts")
    lead: Text | None = Field(None, description="colour of the device's own lead, as this maker has it")
    strip_in: Positive | None = Field(None, description="length of insulation to take off, in")
    torque_in_lb: Positive | None = None
    caution: Text | None = None


class StripType(Entered):
    """A strip: its terminals in the order in which the installer sees them, left to right."""

    id: Id
    name: Text
    terminals: Annotated[list[Terminal], Field(min_length=1, max_length=60)]
    hardware: Hardware | None = None
    takes: Count | None = None
    awg_min: Awg | None = None
    awg_max: Awg | None = None
    solid: bool | None = None
    strip_in: Positive | None = None
    torque_in_lb: Positive | None = None

    @model_validator(mode="after")
    def _hand_down(self) -> StripType:
        """What the strip says holds for every terminal that says nothing of its own."""
        shared = ("hardware", "takes", "awg_min", "awg_max", "solid", "strip_in", "torque_in_lb")
        down = {name: getattr(self, name) for name in shared}
        filled = [
            terminal.model_copy(update={name: value for name, value in down.items() if getattr(terminal, name) is None})
            for terminal in self.terminals
        ]
        object.__setattr__(self, "terminals", filled)
        return self


class Span(Entered):
    """What a knob can be turned to: any figure between two."""

    least: Annotated[float, Field(ge=0)]
    most: Positive
    unit: Text


class Setting(Entered):
    """A choice made at the device: its values with what each means, or a knob's span; how it leaves the factory."""

    says: Text
    values: Annotated[dict[str, Text], Field(max_length=20)] = {}
    span: Span | None = None
    factory: Text | None = None

    @model_validator(mode="after")
    def _values_or_span(self) -> Self:
        if bool(self.values) == (self.span is not None):
            raise ValueError("A setting has either values or a span.")
        return self

    def words(self, value: str) -> str:
        """What a value means: `30 s`."""
        return f"{value} {self.span.unit}" if self.span else self.values.get(value, value)

    def allows(self, value: str) -> bool:
        """Whether a device can be set to a value."""
        if self.span is None:
            return value in self.values
        try:
            return self.span.least <= float(value) <= self.span.most
        except ValueError:
            return False

    @property
    def ends(self) -> tuple[str, ...]:
        """The values from which one may slip to another: all there are, or a knob's two ends."""
        return (f"{self.span.least:g}", f"{self.span.most:g}") if self.span else tuple(self.values)


class CableRule(Entered):
    """What the device asks of the cable on some of its strips."""

    strips: Annotated[list[Id], Field(min_length=1)]
    families: list[Id] = Field([], description="constructions that will do; left out: any")
    awg_min: Awg | None = Field(None, description="thinnest conductor")
    stranded: bool = False
    conductors: Count | None = None
    joints: bool = Field(True, description="whether the cable may be joined on its way")
    max_ft: dict[Awg, Positive] = Field({}, description="longest cable by gauge, ft")
    source: Text = Field(description="where it is said: the device's manual, or practice")


class Code(Entered):
    """What a device shows when something is or is not in order: a light, a number; what it means; what to look at."""

    shows: Text
    means: Text
    then: Text


class DeviceType(Entered):
    """One device of the catalogue."""

    id: Id
    name: Text
    maker: Text | None = None
    model: Text | None = None
    group: Group
    about: Text | None = None
    kinds: list[UnitKind] = Field([], description="units of which this is the electrical part")
    moves: bool = Field(False, description="stands where it vibrates: a roof, a vehicle, a compressor")
    strips: Annotated[list[StripType], Field(min_length=1, max_length=12)]
    inside: Annotated[list[Element], Field(max_length=80)] = []
    settings: Annotated[dict[Id, Setting], Field(max_length=20)] = {}
    cables: list[CableRule] = []
    codes: Annotated[list[Code], Field(max_length=60)] = Field([], description="what its lights and numbers mean")
    poles: list[Annotated[list[str], Field(min_length=2, max_length=2)]] = Field(
        [], description="line side and load side of each pole, `strip.terminal`"
    )

    def terminals(self) -> dict[str, Terminal]:
        """Every terminal by `strip.terminal`, as seen."""
        return {f"{strip.id}.{terminal.id}": terminal for strip in self.strips for terminal in strip.terminals}


def function_of(terminal: Terminal, kind: DeviceType, settings: dict[str, str]) -> str | None:
    """What a terminal is for under the device's settings; the factory's where none is recorded."""
    for setting, by_value in (terminal.function_by or {}).items():
        value = settings.get(setting) or kind.settings[setting].factory
        if value in by_value:
            return by_value[value]
    return terminal.function


def kind_of(terminal: Terminal, function: str | None) -> str:
    """The sort of voltage at a terminal."""
    return functions()[function].kind if function else terminal.kind or "dry"


def read_device_type(data: Any, name: str = "device") -> DeviceType:
    """A device from its data. Raises InputError naming field, value and remedy."""
    kind = read(DeviceType, data, name)
    problems = [Problem(f"{name}.{field}", value, message, remedy) for field, value, message, remedy in _wrong(kind)]
    if problems:
        raise InputError(*problems[:20])
    return kind


def _wrong(kind: DeviceType) -> list[tuple[str, str, str, str]]:
    """References inside a device that lead nowhere."""
    names = [f"{strip.id}.{terminal.id}" for strip in kind.strips for terminal in strip.terminals]
    known = set(names)
    found = [
        ("strips", name, "stands twice", "Give each terminal of a strip an id of its own.")
        for name in sorted({name for name in names if names.count(name) > 1})
    ]
    for name, terminal in kind.terminals().items():
        meant = [terminal.function, *terminal.accepts]
        for setting, by_value in (terminal.function_by or {}).items():
            meant += by_value.values()
            if setting not in kind.settings:
                found.append((f"strips.{name}", setting, "is no setting of this device", "Add it to settings."))
        found += [
            (f"strips.{name}", function, "is no known function", "Use one of functions.json.")
            for function in meant
            if function is not None and function not in functions()
        ]
    for element in kind.inside:
        if not re.fullmatch(ID, element.id):
            found.append(("inside", element.id, "is no id", "Use letters, digits, - and _, at most 32."))
        for node in nodes_of(element):
            if not node.startswith("_") and node not in known:
                found.append((f"inside.{element.id}", node, "is no terminal of this device", "Name strip.terminal."))
        found += [
            (f"inside.{element.id}", setting, "is no setting of this device", "Add it to settings.")
            for setting in _settings_of(element)
            if setting not in kind.settings
        ]
        found += [(f"inside.{element.id}", name, *why) for name, why in _operators(element, kind)]
        winding = element.start_winding if isinstance(element, Load) else None
        if winding is not None and winding not in {part.id for part in kind.inside if isinstance(part, MotorWinding)}:
            found.append((f"inside.{element.id}", winding, "is no winding of this device", "Name a winding's id."))
    for pole in kind.poles:
        found += [
            ("poles", end, "is no terminal of this device", "Name strip.terminal.") for end in pole if end not in known
        ]
    strips = {strip.id for strip in kind.strips}
    for rule in kind.cables:
        found += [
            ("cables", strip, "is no strip of this device", "Name a strip.")
            for strip in rule.strips
            if strip not in strips
        ]
    return found


def _settings_of(element: Element) -> list[str]:
    """The settings that an element hangs on."""
    if isinstance(element, Jumper):
        return [element.setting] if element.setting is not None else []
    if isinstance(element, Contact):
        return [*(element.operated_by_setting or {}), *filter(None, [element.delay_on_setting])]
    return []


def _operators(element: Element, kind: DeviceType) -> list[tuple[str, tuple[str, str]]]:
    """What moves a contact and is not known."""
    if not isinstance(element, Contact):
        return []
    named = [
        element.operated_by,
        *(by for values in (element.operated_by_setting or {}).values() for by in values.values()),
    ]
    coils = {f"coil:{part.id}" for part in kind.inside if isinstance(part, Coil | Load)}
    known = "Use hand, coil: with a coil of this device, or one of signals.json."
    return [
        (by, ("is nothing that moves a contact", known))
        for by in named if by is not None and (by not in coils if by.startswith("coil:") else not is_signal(by))
    ]  # fmt: skip


@cache
def shipped_devices() -> dict[str, DeviceType]:
    """Every device that comes with Leitung, by its id, which is the name of its file."""
    found = {}
    for entry in sorted(files("leitung_core.catalogue").joinpath("devices").iterdir(), key=lambda item: item.name):
        if entry.name.endswith(".json"):
            name = entry.name.removesuffix(".json")
            kind = read_device_type(parse_json(entry.read_bytes(), entry.name), name)
            if kind.id != name:
                raise InputError(Problem(f"{name}.id", kind.id, "is not the name of its file", f'Write "{name}".'))
            found[name] = kind
    return found
