"""How long a piece of work takes until a crew's own ticks say better; the figures stand in `ranges.csv`."""

from __future__ import annotations

import csv
from functools import cache
from importlib.resources import files

from pydantic import BaseModel, ConfigDict


class Range(BaseModel):
    """Minutes of work: seldom less than low, seldom more than high."""

    model_config = ConfigDict(frozen=True)

    low: float
    likely: float
    high: float

    def __add__(self, other: Range) -> Range:
        return Range(low=self.low + other.low, likely=self.likely + other.likely, high=self.high + other.high)

    def times(self, low: float, likely: float | None = None, high: float | None = None) -> Range:
        """Scaled, by one figure or by one for each of its three."""
        likely = low if likely is None else likely
        return Range(
            low=self.low * low, likely=self.likely * likely, high=self.high * (likely if high is None else high)
        )

    def rounded(self) -> Range:
        """To whole minutes."""
        return Range(low=round(self.low), likely=round(self.likely), high=round(self.high))


NOTHING = Range(low=0, likely=0, high=0)


@cache
def shipped() -> dict[str, Range]:
    """Minutes for one of each."""
    text = files("leitung_core.worklist").joinpath("ranges.csv").read_text("utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    return {
        row["of"]: Range(low=float(row["low"]), likely=float(row["likely"]), high=float(row["high"])) for row in rows
    }


def takes(of: str, count: float = 1) -> Range:
    """So many of one thing."""
    return shipped()[of].times(count)
