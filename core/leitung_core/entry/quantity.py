"""One quantity as people say it: `7.5 kW`, `15A`, `80 ft`, `95F`, `14-3`, `1-1/4"`, `208/230-1-60`, `Nov 25`.

Nothing is guessed: what cannot be read is refused, and what is read but implausible for its field is asked back with
what was likely meant.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from leitung_core.entry.dates import read_date
from leitung_core.entry.fields import FIELDS, SCALES, Field, converted, unit_named
from leitung_core.entry.numbers import NUMBER, Units, read_number, tidied
from leitung_core.entry.wire import read_cable, read_plate_volts, read_size, read_trade_size
from leitung_core.errors import InputError, Problem
from leitung_core.units import say

DIGITS = 4  # kept behind the point of what was converted


@dataclass(frozen=True)
class AskedBack:
    """What was likely meant, and the question that asks for it."""

    value: Any
    says: str


@dataclass(frozen=True)
class Quantity:
    """A quantity that was read: its value in the plan's unit, and as people of that system of units write it."""

    field: str
    value: Any
    unit: str | None
    shown: str
    asked_back: AskedBack | None = None


Other = Callable[[str, Units], tuple[Any, str | None, str, AskedBack | None]]


def read_quantity(field: str, text: str, units: Units = "us") -> Quantity:
    """The quantity in a text. Raises InputError naming the field, the text and the remedy where it cannot be read."""
    other = _OTHERS.get(field)
    if other is not None:
        try:
            value, unit, shown, asked = other(tidied(text), units)
        except ValueError as error:
            raise _refused(field, text, *error.args) from None
        return Quantity(field, value, unit, shown, asked)
    known = FIELDS.get(field)
    if known is None:
        names = ", ".join([*FIELDS, *_OTHERS])
        raise InputError(Problem("field", field, "is no field that a quantity is read for", f"Use one of: {names}."))
    return _measure(known, text, units)


def _refused(field: str, text: str, says: str, remedy: str) -> InputError:
    return InputError(Problem(field, text, says, remedy))


def _measure(field: Field, text: str, units: Units) -> Quantity:
    found = _feet_and_inches(tidied(text)) if field.dimension == "length" else None
    if found is not None:
        return _judged(field, found, units, None)
    match = re.fullmatch(rf"({NUMBER})\s*(.*)", tidied(text))
    number = read_number(match[1], units) if match else None
    example = _example(field, units)
    if match is None or number is None:
        several = len(re.findall(r"\d+(?:[.,]\d+)?", text)) > 1
        says = "is more than one value" if several else "is no number with a unit"
        raise _refused(field.name, text, says, f"Write one value, as {example}.")
    bare = not match[2] or (field.dimension == "temperature" and re.fullmatch(r"[°º]|deg(rees?)?", match[2], re.I))
    unit = field.shown[units] if bare else unit_named(match[2])
    if unit is None:
        says = (
            "is more than one value" if re.search(r"\d", match[2]) else f"has a unit that is not known: {match[2][:20]}"
        )
        raise _refused(field.name, text, says, f"Write it as {example}.")
    if SCALES[unit][0] != field.dimension:
        raise _refused(field.name, text, f"is in {unit}, and {field.words} is asked for", f"Write it as {example}.")
    to = {"C": "°C", "F": "°F"}.get(field.unit, field.unit)
    value = _tidy(converted(number.value, unit, to))
    meant = _tidy(converted(number.other, unit, to)) if number.other is not None else None
    return _judged(field, value, units, meant, number.value)


def _tidy(value: float) -> float:
    return round(value, DIGITS)


def _example(field: Field, units: Units) -> str:
    figure = {"volts": "240", "amps": "15", "power": "7500", "length": "80", "temperature": "95", "airflow": "1200"}
    metric = {"length": "24", "temperature": "35", "airflow": "2000"}
    shown = metric.get(field.dimension, figure[field.dimension]) if units == "metric" else figure[field.dimension]
    return f"{shown} {field.shown[units]}"


def _feet_and_inches(text: str) -> float | None:
    """`5'6"`, `5 ft 6 in`: feet; None where it is written otherwise."""
    match = re.fullmatch(r"(\d+)\s*(?:'|′|’|ft\.?|feet)\s*(\d+(?:\.\d+)?)\s*(?:\"|″|”|in\.?|inch(?:es)?)?", text, re.I)
    return _tidy(int(match[1]) + float(match[2]) / 12) if match and float(match[2]) < 12 else None


def _judged(field: Field, value: float, units: Units, meant: float | None, typed: float | None = None) -> Quantity:
    shown = say_quantity(field, value, units)
    asked = None
    if meant is not None:
        asked = AskedBack(meant, f"{shown}, or {say_quantity(field, meant, units)}?")
    elif not field.least <= value <= field.most:
        likely = _likely(field, value, typed)
        if likely is None:
            low, high = (say_quantity(field, bound, units) for bound in (field.least, field.most))
            asked = AskedBack(None, f"{shown} of {field.words}? {low} to {high} is usual.")
        else:
            asked = AskedBack(likely, f"{shown} of {field.words}? {say_quantity(field, likely, units)} is usual.")
    return Quantity(field.name, value, field.unit, shown, asked)


def _likely(field: Field, value: float, typed: float | None) -> float | None:
    """What an implausible figure was likely meant to be: kilowatts, or the other scale of temperature."""
    tries = []
    if field.dimension == "power":
        tries = [value * 1000, value / 1000]
    elif field.dimension == "temperature" and typed is not None:
        # The same figure on the other scale.
        tries = [(typed - 32) / 1.8, typed] if field.unit == "C" else [typed, typed * 1.8 + 32]
    return next((_tidy(found) for found in tries if field.least <= found <= field.most and found != value), None)


def say_quantity(field: Field, value: float, units: Units) -> str:
    """A value as that system of units writes it; it reads back as the same value."""
    kept = {"C": "°C", "F": "°F"}.get(field.unit, field.unit)
    to = field.shown[units]
    if field.dimension == "power" and abs(value) >= 1000:
        to = "kW"
    figure = round(converted(value, kept, to), DIGITS)
    return f"{say(figure, DIGITS)} {to}"


_OTHERS: dict[str, Other] = {
    "size": lambda text, units: (*read_size(text), None),
    "cable": lambda text, units: (*read_cable(text), None),
    "trade_size": lambda text, units: (*read_trade_size(text), None),
    "plate_volts": lambda text, units: (*read_plate_volts(text), None),
    "date": lambda text, units: _date(text, units),
}


def _date(text: str, units: Units) -> tuple[Any, str | None, str, AskedBack | None]:
    found = read_date(text, units)
    meant = found.meant.isoformat() if found.meant is not None else None
    asked = AskedBack(meant, found.asks) if found.asks else None
    return found.day.isoformat(), None, found.day.isoformat(), asked
