"""A figure of a start as it is typed: a number with its unit, or two with "to" between them; `5 to 6`, `1.8 kW`."""

from __future__ import annotations

import re

from leitung_core.entry.numbers import NUMBER, read_number
from leitung_core.errors import InputError, Problem

# What each kind of figure may be followed by, and how many of its own unit that is.
UNITS: dict[str, dict[str, float]] = {
    "a": {"a": 1, "amps": 1, "ka": 1000},
    "v": {"v": 1, "volts": 1},
    "w": {"w": 1, "kw": 1000, "watts": 1, "va": 1, "kva": 1000},
    "wh": {"wh": 1, "kwh": 1000},
    "s": {"s": 1, "ms": 0.001, "min": 60, "sec": 1},
    "ohms": {"ω": 1, "ohm": 1, "ohms": 1, "mω": 0.001, "mohm": 0.001},
    "x": {"x": 1, "×": 1, "times": 1},
    "share": {"%": 0.01},
    "minutes": {"min": 1, "minutes": 1, "h": 60, "hr": 60, "hours": 60},
}
SHARES = ("power_factor", "efficiency", "usable")
EXAMPLES = {"a": "24 A", "v": "12.8 V", "w": "1800 W", "wh": "2.5 kWh", "s": "0.5 s", "ohms": "0.08 ohm", "x": "7",
            "minutes": "90 min or 1.5 h"}  # fmt: skip


def kind_of(name: str) -> str:
    """Which kind of figure a field holds, by its name."""
    if name in SHARES:
        return "share"
    ending = name.rpartition("_")[2]
    return ending if ending in UNITS else "x"


def read_range(name: str, text: str) -> float | list[float]:
    """The figure, or the range of two, in a text. Raises InputError naming the field, the text and the remedy."""
    parts = re.split(r"\s*(?:\bto\b|…|–)\s*", text.strip(), flags=re.IGNORECASE)
    if len(parts) == 2 and (unit := re.search(r"[^\d.,\s]+$", parts[1])) and not re.search(r"[^\d.,\s]$", parts[0]):
        parts[0] += unit[0]  # a unit said at the end is that of both
    found = [_figure(kind_of(name), part) for part in parts]
    known = [figure for figure in found if figure is not None]
    if not 1 <= len(parts) <= 2 or len(known) < len(parts):
        example = EXAMPLES.get(kind_of(name), "0.9 or 90 %")
        remedy = f"Write one, as {example}, or a range of two with “to” between them."
        raise InputError(Problem(name, text, "is no figure", remedy))
    return known if len(known) == 2 else known[0]


def _figure(kind: str, text: str) -> float | None:
    match = re.fullmatch(rf"({NUMBER})\s*(\S*)", text.strip())
    number = read_number(match[1], "us") if match else None
    if match is None or number is None:
        return None
    times = UNITS[kind].get(match[2].lower()) if match[2] else 1
    return None if times is None else round(number.value * times, 9)
