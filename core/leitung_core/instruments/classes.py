"""How far a meter may be off, whether two of them can both be right, and whether one was calibrated of late."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Annotated, Literal

from pydantic import Field

from leitung_core.units import say
from leitung_core.validation import Entered

CALIBRATED_FOR = timedelta(days=365)  # practice: instruments of the trade are sent in once a year
Unit = Literal["V", "A", "Ω", "MΩ", "kW"]  # what meters are kept for; a thermometer has no class here


class MeterClass(Entered):
    """A meter is off by at most a share of what it reads and some digits, in the unit that it reads."""

    share: Annotated[float, Field(ge=0, le=0.2)]
    digits: Annotated[float, Field(ge=0, le=10)]

    def off(self, value: float) -> float:
        """By how much a reading of that value may be off."""
        return self.share * abs(value) + self.digits


def both_right(one: float, of_one: MeterClass, other: float, of_other: MeterClass) -> bool:
    """Whether two readings of one thing can be those of two meters within their classes."""
    return abs(one - other) <= of_one.off(one) + of_other.off(other)


def say_class(found: MeterClass, unit: str) -> str:
    """`± 1 % and 0.3 V`."""
    return f"± {say(found.share * 100)} % and {say(found.digits)} {unit}"


def say_calibration(on: date | None) -> str:
    """`calibrated 2025-11-02`."""
    return f"calibrated {on.isoformat()}" if on else "calibration not known"


def out_of_date(on: date | None, read_on: date) -> str | None:
    """What is to be said of a meter that was calibrated too long before it read; None where it was not."""
    return "calibrated more than a year before" if on is not None and read_on - on > CALIBRATED_FOR else None
