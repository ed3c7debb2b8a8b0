"""How often a cable or raceway is held, and what closes it at its ends; the figures stand in `supports.csv`."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from math import ceil


@dataclass(frozen=True)
class Support:
    """A holder every so many feet and within so many of each end; the fitting at an end. None: it has none."""

    every_ft: float | None
    from_end_ft: float | None
    article: str
    holder: str | None
    fitting: str | None

    def holders(self, length_ft: float) -> int:
        """Holders of a length, both ends counted."""
        if self.every_ft is None or self.from_end_ft is None or length_ft <= 0:
            return 0
        between = max(0.0, length_ft - 2 * self.from_end_ft)
        return 1 if length_ft <= 2 * self.from_end_ft else 1 + ceil(between / self.every_ft)


@cache
def supports() -> dict[str, Support]:
    """By wiring method, raceway or construction of cable."""
    text = files("leitung_core.loadout").joinpath("supports.csv").read_text("utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    return {
        row["of"]: Support(
            float(row["every_ft"]) if row["every_ft"] else None,
            float(row["from_end_ft"]) if row["from_end_ft"] else None,
            row["article"], row["holder"] or None, row["fitting"] or None,
        )
        for row in rows
    }  # fmt: skip
