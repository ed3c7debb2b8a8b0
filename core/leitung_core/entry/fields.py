"""The fields that a quantity is read for: their dimension, their unit in the plan, and what is plausible for them."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from leitung_core.entry.numbers import Units

Dimension = Literal["volts", "amps", "power", "length", "temperature", "airflow"]
FOOT_M = 0.3048
BTU_H_W = 0.29307107
CFM_M3_H = 1.69901082


@dataclass(frozen=True)
class Field:
    """unit: as the plan keeps it. shown: as each system of units shows it, and takes a bare number."""

    name: str
    words: str
    dimension: Dimension
    unit: str
    shown: dict[Units, str]
    least: float
    most: float


def _same(unit: str) -> dict[Units, str]:
    return {"us": unit, "metric": unit}


FIELDS = {
    field.name: field
    for field in (
        Field("volts", "volts", "volts", "V", _same("V"), 5, 600),
        Field("amps", "amperes", "amps", "A", _same("A"), 0.1, 1200),
        Field("watts", "power", "power", "W", _same("W"), 0.1, 1_000_000),
        Field("heat", "heat", "power", "W", _same("W"), 250, 150_000),
        Field("length", "length", "length", "ft", {"us": "ft", "metric": "m"}, 0.5, 2000),
        Field("ambient", "ambient", "temperature", "C", {"us": "°F", "metric": "°C"}, -40, 60),
        Field("temperature", "temperature", "temperature", "F", {"us": "°F", "metric": "°C"}, -40, 150),
        Field("airflow", "airflow", "airflow", "cfm", {"us": "cfm", "metric": "m³/h"}, 20, 50_000),
    )
}

# What each unit is in the dimension's own base: V, A, W, ft, cfm; temperatures are converted by themselves.
SCALES: dict[str, tuple[Dimension, float]] = {
    "V": ("volts", 1), "kV": ("volts", 1000), "A": ("amps", 1), "mA": ("amps", 0.001), "W": ("power", 1),
    "kW": ("power", 1000), "Btu/h": ("power", BTU_H_W), "MBH": ("power", 1000 * BTU_H_W), "ft": ("length", 1),
    "in": ("length", 1 / 12), "yd": ("length", 3), "m": ("length", 1 / FOOT_M), "cm": ("length", 0.01 / FOOT_M),
    "mm": ("length", 0.001 / FOOT_M), "cfm": ("airflow", 1), "m³/h": ("airflow", 1 / CFM_M3_H),
    "L/s": ("airflow", 3.6 / CFM_M3_H), "°C": ("temperature", 1), "°F": ("temperature", 1),
}  # fmt: skip
SPELLINGS = {
    "V": "v volt volts vac vdc v.a.c. vac. v.", "kV": "kv", "A": "a amp amps ampere amperes amp. amps. a.",
    "mA": "ma milliamp milliamps", "W": "w watt watts w.", "kW": "kw kilowatt kilowatts kw.",
    "Btu/h": "btu/h btuh btu/hr btus/h btu/hour btu", "MBH": "mbh mbtu/h mbtuh kbtu/h kbtuh",
    "ft": "ft ft. feet foot ' ′ ’", "in": 'in in. inch inches " ″ ”', "yd": "yd yards yard",
    "m": "m m. meter meters metre metres mtr", "cm": "cm", "mm": "mm",
    "cfm": "cfm ft3/min ft³/min scfm", "m³/h": "m3/h m³/h cmh m3/hr m³/hr", "L/s": "l/s lps",
    "°C": "c celsius centigrade", "°F": "f fahrenheit",
}  # fmt: skip


def unit_named(text: str) -> str | None:
    """The unit that a spelling stands for; None where it is none."""
    spelled = re.sub(r"^(?:degrees?|deg\.?|[°º])\s*(?=[cf])", "", text.casefold().strip())
    return next((unit for unit, spellings in SPELLINGS.items() if spelled in spellings.split(" ")), None)


def converted(value: float, unit: str, to: str) -> float:
    """A value in another unit of its dimension."""
    if SCALES[unit][0] == "temperature":
        celsius = value if unit == "°C" else (value - 32) / 1.8
        return celsius if to == "°C" else celsius * 1.8 + 32
    return value * SCALES[unit][1] / SCALES[to][1]
