"""What a reading says against an earlier one of the same place: of start-up, of the last visit, before the work."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from pydantic import BaseModel

from leitung_core.commissioning.judge import METERS_AGREE, OPEN_OHMS, say_read
from leitung_core.instruments.classes import MeterClass, both_right
from leitung_core.units import exact, say

# Of a meter that nobody named: meters of the trade agree within this; thermometers within 2 °F.
ANY_METER = MeterClass(share=float(METERS_AGREE), digits=0)
ANY_THERMOMETER = MeterClass(share=0, digits=2)
# Practice: insulation that has lost half of what it had is looked into, also above its least value.
MUCH_LESS = Decimal("0.5")


@dataclass(frozen=True)
class Taken:
    """A value in its unit, and the class of what it was read with; None where nobody named that."""

    value: float
    unit: str
    meter: MeterClass | None = None

    @property
    def read_by(self) -> MeterClass:
        """The class that it is taken to be read with."""
        return self.meter or (ANY_THERMOMETER if self.unit == "°F" else ANY_METER)


class Change(BaseModel):
    """How a reading stands to an earlier one, in words; grave: something is to be found out."""

    says: str
    grave: bool = False


def against(now: Taken, before: Taken, when: str) -> Change:
    """A reading against an earlier one; `when` names that one: `at start-up`.

    A difference that the two meters can have between them is none.
    """
    was = f"{say_read(before.value, before.unit)} {when}"
    if now.unit == "Ω" and max(now.value, before.value) >= OPEN_OHMS:
        same = min(now.value, before.value) >= OPEN_OHMS
        return Change(says=f"as {when}" if same else f"{was}, now {say_read(now.value, now.unit)}", grave=not same)
    if both_right(now.value, now.read_by, before.value, before.read_by):
        return Change(says=f"as the {was}, as far as the meters can tell")
    if now.unit == "MΩ" and now.value < before.value:
        share = exact(now.value) / exact(before.value)
        grave = share < MUCH_LESS
        return Change(says=f"{say(share * 100)} % of the {was}{': find out why' if grave else ''}", grave=grave)
    way = "above" if now.value > before.value else "below"
    apart = abs(exact(now.value) - exact(before.value))
    # A share of a temperature, or of nothing, says nothing.
    if now.unit == "°F" or not before.value:
        return Change(says=f"{say(apart)} {now.unit} {way} the {was}")
    return Change(says=f"{say(apart / exact(abs(before.value)) * 100)} % {way} the {was}")
