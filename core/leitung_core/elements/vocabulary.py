"""What is inside a device, element by element: one vocabulary for device files, the open network form and the solver.

Ends are terminals of the device (`strip.terminal` in a device file), or internal nodes beginning with `_`. What is not
known is left out. rms volts, VA, ohms at 60 Hz, seconds.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from leitung_core.validation import Text

Effect = Literal["fan", "cooling", "heat", "humidifier", "dehumidifier", "lamp", "damper", "alarm"]
Name = Annotated[str, Field(min_length=1, max_length=200)]
Above0 = Annotated[float, Field(strict=True, gt=0, le=1e9, allow_inf_nan=False)]
From0 = Annotated[float, Field(strict=True, ge=0, le=1e9, allow_inf_nan=False)]
Signed = Annotated[float, Field(strict=True, ge=-1e9, le=1e9, allow_inf_nan=False)]
Fraction = Annotated[float, Field(strict=True, gt=0, le=1)]
HERTZ = 60
CONTROL_VOLTS = 60  # what is made for more takes line voltage
INTENT = (
    "when it is to be on, where its terminals do not say it: calls, causes and function:… joined by and, or, not; any: "
    "its device's own affair"
)


class Part(BaseModel):
    """An element, or a part of the open network form."""

    model_config = ConfigDict(extra="ignore", frozen=True, populate_by_name=True)


class AcSource(Part):
    """A line source: phasor and its ohms."""

    type: Literal["ac_source"]
    id: Name
    plus: Name
    minus: Name
    volts: From0
    phase_deg: Signed = 0
    ohms: From0 = 0.05


class DcSource(Part):
    """A DC signal source: a data line, the signal of a mini-split."""

    type: Literal["dc_source"]
    id: Name
    plus: Name
    minus: Name
    volts: Signed
    ohms: From0 = 0


class DcSupply(Part):
    """A DC supply that powers things: a battery, a converter."""

    type: Literal["dc_supply"]
    id: Name
    plus: Name
    minus: Name
    volts: Above0
    ohms: From0 = 0.02


class Tap(Part):
    """One primary tap and the volts that it is made for."""

    terminal: Name
    volts: Above0


class Transformer(Part):
    """An ideal transformer; its regulation is a series resistance on the secondary. The primary is fed between any two
    of its terminals; one tap against the common is the usual way."""

    type: Literal["transformer"]
    id: Name
    primary_common: Name
    primary_taps: Annotated[list[Tap], Field(min_length=1, max_length=12)]
    secondary_plus: Name
    secondary_minus: Name
    secondary_volts: Above0 = 24
    va: Above0 | None = None
    regulation_pct: From0 | None = None


class TwoEnds(Part):
    """What lies between two nodes."""

    id: Name
    a: Name
    b: Name


class Coil(TwoEnds):
    """A relay's or contactor's coil: pulls in at or above one fraction of its rating, holds down to another."""

    type: Literal["coil"]
    name: Text | None = Field(None, description="as it is called: fan relay, blower")
    rated_volts: Above0 | None = 24
    va: Above0 | None = None
    pull_in_frac: Fraction = 0.75
    drop_out_frac: Fraction = 0.5
    takes: Literal["ac", "dc"] = "ac"
    intent: Text | None = Field(None, description=INTENT)

    @property
    def on_dc(self) -> bool:
        return self.takes != "ac"


class Load(TwoEnds):
    """Anything else that takes power: a motor, a lamp, a board's electronics, a valve.

    `data` and `dc_signal` count as energised on DC only; so does what `takes` DC.
    """

    type: Literal["load"]
    name: Text | None = Field(None, description="as it is called: fan relay, blower")
    rated_volts: Above0 | None = 24
    va: Above0 | None = None
    power_factor: Fraction = Field(1, description="below 1: inductive, a motor's winding")
    pull_in_frac: Fraction = 0.75
    drop_out_frac: Fraction = 0.75
    takes: Literal["ac", "dc", "data", "dc_signal"] = "ac"
    data: bool = False
    dc_signal: bool = False
    effect: Effect | None = Field(None, description="what it does, as a cause must stop it")
    intent: Text | None = Field(None, description=INTENT)
    driven: bool = Field(False, description="electronic: takes its watts whatever the volts; solved at its rating")
    start_winding: Name | None = Field(None, description="a motor's: without half its volts there it hums and stands")
    heater: bool = Field(False, description="resistive: it gives the square of its volts, on from 5 % of its power")

    @property
    def on_dc(self) -> bool:
        return self.data or self.dc_signal or self.takes != "ac"

    @property
    def is_data(self) -> bool:
        return self.data or self.takes == "data"

    @property
    def is_polar(self) -> bool:
        """Whether it hears a signal of one polarity: `a` is plus."""
        return self.is_data or self.dc_signal or self.takes == "dc_signal"


class MotorWinding(TwoEnds):
    """A motor's winding by itself, its other parts being elements of their own: ohms and reactance at 60 Hz."""

    type: Literal["winding"]
    ohms: Above0
    reactance_ohms: From0 = 0


class Capacitor(TwoEnds):
    """A capacitor; DC does not pass it."""

    type: Literal["capacitor"]
    microfarads: Above0


class Contact(TwoEnds):
    """A contact, moved by a call, a cause, a coil, a hand, or nothing."""

    type: Literal["contact"]
    normally: Literal["open", "closed"] = "open"
    operated_by: Name | None = Field(None, description="call:…, cause:…, coil:ID of the device's own, or hand")
    operated_by_setting: dict[str, dict[str, Text]] | None = Field(
        None, description="a setting's values and what moves the contact under each; under others nothing does"
    )
    delay_on_setting: Name | None = Field(None, description="a setting whose value is the delay on, s")
    delay_on_s: From0 = 0
    delay_off_s: From0 = 0
    dry: bool = False
    amps: Above0 | None = Field(None, description="what it may carry, A")


class Fuse(TwoEnds):
    """A fuse, or the trip of a breaker."""

    type: Literal["fuse"]
    amps: Above0
    ohms: From0 = 0.01


class Jumper(TwoEnds):
    """A jumper; `setting` and `values` say when it is in, where it can be taken out."""

    type: Literal["jumper"]
    ohms: From0 = 0.001
    setting: Name | None = None
    values: list[Text] = []


class Resistor(TwoEnds):
    """A resistor."""

    type: Literal["resistor"]
    ohms: Above0


Element = Annotated[
    AcSource | DcSource | DcSupply | Transformer | Coil | Load | MotorWinding | Capacitor | Contact | Fuse | Jumper
    | Resistor,
    Field(discriminator="type"),
]  # fmt: skip
Source = AcSource | DcSource | DcSupply
# What only a device file says of an element: the network has it resolved.
OF_DEVICES = frozenset({
    "name", "setting", "values", "effect", "intent", "operated_by_setting", "delay_on_setting", "takes", "amps",
})  # fmt: skip


def nodes_of(element: Element) -> list[str]:
    """Every node that an element touches, in the words of its own device."""
    if isinstance(element, Transformer):
        taps = [tap.terminal for tap in element.primary_taps]
        return [element.primary_common, *taps, element.secondary_plus, element.secondary_minus]
    if isinstance(element, Source):
        return [element.plus, element.minus]
    return [element.a, element.b]
