"""The figures by which starts are judged, each with its source: `figures.csv`."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from functools import cache
from importlib.resources import files


@dataclass(frozen=True)
class Figure:
    """One figure: its value in its unit, where it comes from, what it says."""

    value: float
    unit: str
    source: str
    says: str


@cache
def figures() -> dict[str, Figure]:
    """Every figure by its key."""
    text = files("leitung_core.starting").joinpath("figures.csv").read_text("utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    return {row["key"]: Figure(float(row["value"]), row["unit"], row["source"], row["says"]) for row in rows}


@cache
def figure(key: str) -> float:
    """The value of a figure."""
    return figures()[key].value
