"""What is taken for a figure that is not known: a range, and the figure between that a single answer uses.

The ranges are practice, from plates of like devices; nothing here is a maker's figure. Every answer that hangs on one
says so and is worked out at both ends.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from leitung_core.elements.vocabulary import Coil, Load, Transformer

Side = Literal["low", "between", "high"]
SIDES: tuple[Side, ...] = ("low", "between", "high")
SIGNAL_VOLTS = 60.0


@dataclass(frozen=True)
class Range:
    """A range, of VA or for the regulation of per cent; `between` is its geometric mean."""

    low: float
    high: float

    def at(self, side: Side) -> float:
        return self.low if side == "low" else self.high if side == "high" else math.sqrt(self.low * self.high)


COIL = Range(2, 20)
CONTROL_LOAD = Range(1, 20)
SIGNAL_LOAD = Range(0.05, 1)
LINE_LOAD = Range(20, 10_000)
TRANSFORMER = Range(20, 100)
REGULATION = Range(3, 10)


def range_of(element: Coil | Load) -> Range:
    """The range for a load whose VA is not known, by what it is and what it is rated."""
    if isinstance(element, Load) and element.on_dc:
        return SIGNAL_LOAD
    if (element.rated_volts or 24) > SIGNAL_VOLTS:
        return LINE_LOAD
    return COIL if isinstance(element, Coil) else CONTROL_LOAD


def va_of(element: Coil | Load | Transformer, side: Side) -> float:
    """VA: as given, else as assumed."""
    if element.va is not None:
        return element.va
    return (TRANSFORMER if isinstance(element, Transformer) else range_of(element)).at(side)


def regulation_of(element: Transformer, side: Side) -> float:
    """Regulation, per cent: as given, else as assumed."""
    return element.regulation_pct if element.regulation_pct is not None else REGULATION.at(side)
