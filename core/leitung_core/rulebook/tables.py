"""Reading the cited tables. Each file names its table, title, edition and range in its first lines."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from functools import cache
from importlib.resources import files


@dataclass(frozen=True)
class Table:
    """A table as data. `uncertain` rows are marked in the file; nothing is invented to fill a gap."""

    table: str
    title: str
    edition: str
    range: str
    rows: tuple[dict[str, str], ...]


@cache
def read_table(name: str, folder: str = "us") -> Table:
    """The table of that file name, read once. Raises FileNotFoundError where the rulebook has no such table."""
    return parse_table(files("leitung_core.rulebook").joinpath(folder, "tables", f"{name}.csv").read_text("utf-8"))


def parse_table(text: str) -> Table:
    """A table from its file: four lines that cite it, then the rows."""
    lines = text.splitlines()
    head = dict(line[2:].split(": ", 1) for line in lines if line.startswith("# ") and ": " in line)
    rows = csv.DictReader(line for line in lines if not line.startswith("#"))
    return Table(head["table"], head["title"], head["edition"], head["range"], tuple(rows))
