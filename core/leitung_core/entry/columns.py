"""The columns of equipment schedules by their usual headings: headings.csv, in which the first that fits is taken."""

from __future__ import annotations

import csv
import re
from collections.abc import Sequence
from functools import cache, lru_cache
from importlib.resources import files

UNITS = {
    "a", "amp", "amps", "v", "volt", "volts", "w", "watt", "watts", "kw", "cfm", "hz", "ph", "phase", "ft", "in", "lb",
    "lbs", "ton", "tons", "mbh", "btuh", "°f", "f", "db", "wb", "v/ph/hz", "v-ph-hz", "ea", "fla", "rla", "psi", "gpm",
}  # fmt: skip


@cache
def _headings() -> tuple[tuple[str, re.Pattern[str]], ...]:
    text = files("leitung_core.entry").joinpath("headings.csv").read_text("utf-8")
    rows = csv.DictReader(text.splitlines())
    return tuple((row["column"], re.compile(row["pattern"])) for row in rows)


@lru_cache(maxsize=4096)
def column_of(heading: str) -> str | None:
    """What a column holds, by its heading; None where it is none that is known."""
    plain = re.sub(r"[^a-z0-9ø]+", " ", heading.casefold()).strip()
    return next((name for name, pattern in _headings() if plain and pattern.search(plain)), None)


def is_heading_of_units(row: Sequence[str]) -> bool:
    """Whether a row below the headings names their units: `(A)`, `V/PH/HZ`, `kW`."""
    texts = [re.sub(r"[()\[\].#]+", "", cell.casefold()).strip() for cell in row if cell.strip()]
    return bool(texts) and all(text in UNITS or column_of(text) for text in texts)
