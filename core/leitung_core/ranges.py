"""Figures that may be ranges: a number, or `[low, high]` where it is not known better."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Annotated, Any, NamedTuple, TypeAlias

from pydantic import Field, PlainSerializer, PlainValidator, WithJsonSchema


class Range(NamedTuple):
    """A figure, or what it lies between: low and high are the same where it is known."""

    low: float
    high: float

    @property
    def wide(self) -> bool:
        return self.low < self.high


def _figure(least: float, most: float, *, above: bool = False) -> Any:
    """A number or a range of numbers within bounds; `above`: the lower bound itself is none."""

    def number(value: Any) -> float:
        if isinstance(value, bool) or not isinstance(value, (int, float)):
            raise ValueError("must be a number, or a range [low, high] of two")
        if not math.isfinite(value):
            raise ValueError("must be a finite number")
        if value < least or (above and value == least):
            raise ValueError(f"must be above {least:g}" if above else f"must not be below {least:g}")
        if value > most:
            raise ValueError(f"must not be above {most:g}")
        return float(value)

    def figure(value: Any) -> Range:
        if not isinstance(value, list):
            return Range(number(value), number(value))
        if len(value) != 2:
            raise ValueError("a range has two numbers, [low, high]")
        found = Range(number(value[0]), number(value[1]))
        if found.low > found.high:
            raise ValueError("the range is upside down: write the lower number first")
        return found

    bounds = {"type": "number", "exclusiveMinimum" if above else "minimum": least, "maximum": most}
    pair = {"type": "array", "items": bounds, "minItems": 2, "maxItems": 2}
    said = PlainSerializer(lambda found: list(found) if found.wide else found.low)
    return Annotated[Range, PlainValidator(figure), said, WithJsonSchema({"anyOf": [bounds, pair]})]


if TYPE_CHECKING:
    Volts: TypeAlias = Range
    Amps: TypeAlias = Range
    Rating: TypeAlias = Range
    Ohms: TypeAlias = Range
    Watts: TypeAlias = Range
    Seconds: TypeAlias = Range
    Share: TypeAlias = Range
    Times: TypeAlias = Range
else:
    Volts = _figure(1, 1000)
    Amps = _figure(0, 10_000)
    Rating = _figure(0, 10_000, above=True)
    Ohms = _figure(0, 100)
    Watts = _figure(0, 1_000_000)
    Seconds = _figure(0, 600)
    Share = _figure(0, 1, above=True)
    Times = _figure(1, 100)
Moment = Annotated[float, Field(strict=True, ge=0, le=10_000_000, allow_inf_nan=False)]
