"""Reading the cited tables. Each file names its table, title, edition and range in its first lines."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from leitung_core.rulebook.editions import Edition


@dataclass(frozen=True)
class Table:
    """A table as data. `uncertain` rows are marked in the file; nothing is invented to fill a gap.

    key: the columns by which a row of an edition takes the place of one here; none: a file replaces the whole table.
    """

    table: str
    title: str
    edition: str
    range: str
    rows: tuple[dict[str, str], ...]
    key: tuple[str, ...] = ()


@cache
def read_table(name: str, folder: str = "us") -> Table:
    """The table of that file name, read once. Raises FileNotFoundError where the rulebook has no such table."""
    return parse_table(files("leitung_core.rulebook").joinpath(folder, "tables", f"{name}.csv").read_text("utf-8"))


@cache
def table_of(edition: Edition, name: str) -> Table:
    """A table as an edition has it: the shared rows, with those of the edition's own file in their place."""
    shared, file = read_table(name), edition.folder / f"{name}.csv"
    if not file.is_file():
        return shared
    own = parse_table(file.read_text("utf-8"))
    if not own.key:
        return own
    rows = {tuple(row[column] for column in own.key): row for row in (*shared.rows, *own.rows)}
    return Table(own.table, own.title, own.edition, own.range, tuple(rows.values()), own.key)


def parse_table(text: str) -> Table:
    """A table from its file: four lines that cite it, then the rows."""
    lines = text.splitlines()
    head = dict(line[2:].split(": ", 1) for line in lines if line.startswith("# ") and ": " in line)
    rows = csv.DictReader(line for line in lines if not line.startswith("#"))
    key = tuple(part.strip() for part in head.get("key", "").split(",") if part.strip())
    return Table(head["table"], head["title"], head["edition"], head["range"], tuple(rows), key)
