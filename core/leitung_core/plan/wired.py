"""Devices, cables and landings of a plan: who lands what, where, on which terminal.

A cable's conductors are those that its construction brings, by colour; `conductors` holds what is said of each.
An end that is neither landed nor capped is loose.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leitung_core.catalogue.cables import Strands
from leitung_core.catalogue.device import Awg
from leitung_core.circuits.spec import Place
from leitung_core.validation import Celsius, Count, Entered, Id, NotNegative, Text

_PART = r"[A-Za-z0-9][A-Za-z0-9_-]{0,31}"
TerminalRef = Annotated[
    str, Field(pattern=rf"^{_PART}\.{_PART}\.{_PART}$", description="device.strip.terminal", max_length=98)
]
TerminalName = Annotated[str, Field(pattern=rf"^{_PART}\.{_PART}$", description="strip.terminal", max_length=65)]
ConductorId = Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9_/-]{0,31}$")]
Connector = Literal["twist_on", "crimp", "lever", "screw_terminal", "sealed"]
CONNECTOR_WORDS: dict[Connector, str] = {
    "twist_on": "twist-on connector", "crimp": "crimped cap", "lever": "lever connector",
    "screw_terminal": "screw terminal", "sealed": "connector listed for wet places",
}  # fmt: skip
Standing = Literal["new", "existing", "removed"]
Spot = Place
EndName = Literal["a", "b"]


class StripSeen(Entered):
    """A strip as it hangs on this wall."""

    reversed: bool | None = Field(None, description="reads the other way round than the catalogue has it")


class Device(Entered):
    """Anything with terminals. `type` names a device of the catalogue, or one of the plan's own `device_types`."""

    type: Id | None = None
    name: Text | None = None
    place: Text | None = None
    spot: Spot | None = Field(None, description="what sort of place it is: what vibrates, what is wet")
    equipment: Id | None = Field(None, description="the unit of which this is the electrical part")
    source: Id | None = Field(None, description="the panel in which it sits")
    circuit: Id | None = Field(None, description="the line to which it belongs")
    state: Standing | None = Field(None, description="left out: new")
    settings: Annotated[dict[Id, Text], Field(max_length=20)] = {}
    strips: Annotated[dict[Id, StripSeen], Field(max_length=12)] = {}
    capped: Annotated[dict[TerminalName, bool], Field(max_length=60)] = Field(
        {}, description="the device's own leads that are not used and are capped"
    )


class CableEnd(Entered):
    """Where a cable ends: a device, and the strip where there is a choice."""

    device: Id
    strip: Id | None = None


class Joint(Entered):
    """A joint on a cable's way."""

    spot: Spot | None = None
    connector: Connector | None = None
    taped: bool | None = None
    place: Text | None = None


class RouteSegment(Entered):
    """A stretch of a cable's way; `order` counts from end a to end b."""

    order: Annotated[int, Field(strict=True, ge=0, le=100_000)]
    spot: Spot | None = None
    raceway: Literal["EMT", "PVC", "LFNC", "LFMC", "FMC", "none"] | None = None
    raceway_id: Id | None = Field(None, description="cables and segments of lines with the same id lie in one raceway")
    with_power: bool | None = Field(None, description="whether power conductors lie in the same raceway or box")
    strapped_to: Text | None = None
    length_ft: NotNegative | None = None
    ambient_c: Celsius | None = Field(None, description="hottest there, °C; left out: as on the stretch before it")
    name: Text | None = None


class End(Entered):
    """One end of a conductor: landed, capped, or loose where neither is said."""

    terminal: TerminalRef | None = None
    capped: bool | None = None
    reidentified: Text | None = Field(None, description="colour of the tape or marker at this end")
    connector: Connector | None = Field(None, description="how it is joined where the terminal is a lead")
    pigtail: bool | None = Field(None, description="joined with others, and one short conductor on the terminal")


class Was(Entered):
    """What was found at an end before anything was taken off."""

    terminal: TerminalRef | None = None
    capped: bool | None = None


class Conductor(Entered):
    """One conductor of a cable; `colour` where the name is not its colour."""

    colour: Text | None = None
    a: End = End()
    b: End = End()
    was_a: Was | None = None
    was_b: Was | None = None
    note: Text | None = Field(None, description="said on the sheet: why its colour means something else here")


class Cable(Entered):
    """A cable between two devices. On a line's run, `circuit` and `segments` give its gauge and its length."""

    name: Text | None = None
    family: Id | None = Field(None, description="construction: one of catalogue/cables.json")
    colours: Annotated[list[ConductorId], Field(min_length=1, max_length=60)] | None = Field(
        None, description="colours or numbers of a factory harness, in order; left out: as its construction"
    )
    factory_cord: bool | None = Field(None, description="a cord that came with its listed unit (240.5(B)(1))")
    for_test: bool | None = Field(None, description="put in for a test, to be taken out again")
    awg: Awg | None = None
    strands: Strands | None = None
    count: Count | None = Field(None, description="conductors in it, ground included")
    wet: bool | None = Field(None, description="marked for wet places; left out: as its construction")
    sunlight: bool | None = Field(None, description="marked sunlight resistant; left out: as its construction")
    a: CableEnd
    b: CableEnd
    circuit: Id | None = None
    segments: Annotated[list[Id], Field(max_length=20)] | None = None
    system: Literal["heat_cool", "cooling_only", "heat_pump", "heating_only"] | None = Field(
        None, description="which convention; left out: by what the terminals at both ends are for"
    )
    state: Standing | None = Field(None, description="left out: new")
    length_ft: NotNegative | None = None
    route: Annotated[dict[Id, RouteSegment], Field(max_length=30)] = {}
    joints: Annotated[dict[Id, Joint], Field(max_length=20)] = {}
    conductors: Annotated[dict[ConductorId, Conductor], Field(max_length=60)] = {}

    def at(self, end: EndName) -> CableEnd:
        """Where an end of the cable is."""
        return self.a if end == "a" else self.b

    def stretches(self) -> list[tuple[str, RouteSegment]]:
        """The way from a to b."""
        return sorted(self.route.items(), key=lambda item: (item[1].order, item[0]))
