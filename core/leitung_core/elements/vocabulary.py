"""What is inside a device, element by element: the vocabulary of the open network format.

Ends are `strip.terminal` of the device, or an internal node beginning with `_`. What is not known is left out.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leitung_core.validation import Entered, Id, NotNegative, Positive, Text

Effect = Literal["fan", "cooling", "heat", "humidifier", "dehumidifier", "lamp", "damper", "alarm"]
Node = Annotated[str, Field(pattern=r"^(_[A-Za-z0-9_]{1,31}|[A-Za-z0-9][A-Za-z0-9_-]*\.[A-Za-z0-9][A-Za-z0-9_-]*)$")]
Fraction = Annotated[float, Field(gt=0, le=1)]


INTENT = (
    "when it is to be on, where its terminals do not say it: calls, causes and function:… joined by and, or, not; any: "
    "its device's own affair"
)


class Tap(Entered):
    """One primary tap and the volts that it is made for."""

    terminal: Node
    volts: Positive


class Transformer(Entered):
    """A transformer; its primary is between the common and one tap."""

    type: Literal["transformer"]
    id: Id
    primary_common: Node
    primary_taps: Annotated[list[Tap], Field(min_length=1, max_length=6)]
    secondary_plus: Node
    secondary_minus: Node
    secondary_volts: Positive = 24
    va: Positive | None = None
    regulation_pct: NotNegative | None = None


class TwoEnds(Entered):
    """What lies between two nodes."""

    id: Id
    a: Node
    b: Node


class Coil(TwoEnds):
    """A relay's or contactor's coil."""

    type: Literal["coil"]
    name: Text | None = Field(None, description="as it is called: fan relay, blower")
    rated_volts: Positive | None = 24
    va: Positive | None = None
    pull_in_frac: Fraction = 0.75
    drop_out_frac: Fraction = 0.5
    intent: Text | None = Field(None, description=INTENT)


class Load(TwoEnds):
    """Anything that takes power: a motor, a lamp, a board's electronics, a valve."""

    type: Literal["load"]
    name: Text | None = Field(None, description="as it is called: fan relay, blower")
    rated_volts: Positive | None = 24
    va: Positive | None = None
    pull_in_frac: Fraction = 0.75
    drop_out_frac: Fraction = 0.75
    takes: Literal["ac", "data", "dc_signal"] = "ac"
    effect: Effect | None = Field(None, description="what it does, as a cause must stop it")
    intent: Text | None = Field(None, description=INTENT)


class Contact(TwoEnds):
    """A contact, moved by a call, a cause, a coil, a hand, or nothing."""

    type: Literal["contact"]
    normally: Literal["open", "closed"] = "open"
    operated_by: Text | None = Field(None, description="call:…, cause:…, coil:ID of the device's own, or hand")
    operated_by_setting: dict[Id, dict[str, Text]] | None = Field(
        None, description="a setting's values and what moves the contact under each; under others nothing does"
    )
    delay_on_setting: Id | None = Field(None, description="a setting whose value is the delay on, s")
    delay_on_s: NotNegative = 0
    delay_off_s: NotNegative = 0
    dry: bool = False
    amps: Positive | None = Field(None, description="what it may carry, A")


class Fuse(TwoEnds):
    """A fuse."""

    type: Literal["fuse"]
    amps: Positive
    ohms: NotNegative = 0.01


class Jumper(TwoEnds):
    """A jumper; `setting` and `values` say when it is in, where it can be taken out."""

    type: Literal["jumper"]
    ohms: NotNegative = 0.001
    setting: Id | None = None
    values: list[Text] = []


class Resistor(TwoEnds):
    """A resistor."""

    type: Literal["resistor"]
    ohms: Positive


class DcSource(Entered):
    """A DC signal source."""

    type: Literal["dc_source"]
    id: Id
    plus: Node
    minus: Node
    volts: Positive
    ohms: NotNegative


Element = Annotated[
    Transformer | Coil | Load | Contact | Fuse | Jumper | Resistor | DcSource, Field(discriminator="type")
]


def nodes_of(element: Element) -> list[str]:
    """Every node that an element touches."""
    if isinstance(element, Transformer):
        taps = [tap.terminal for tap in element.primary_taps]
        return [element.primary_common, *taps, element.secondary_plus, element.secondary_minus]
    if isinstance(element, DcSource):
        return [element.plus, element.minus]
    return [element.a, element.b]
