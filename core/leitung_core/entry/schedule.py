"""An engineer's equipment schedule, CSV or XLSX, as units: columns by their usual names, errors by row and column."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any

from leitung_core.entry.columns import column_of, is_heading_of_units
from leitung_core.entry.grid import Grid, read_grids
from leitung_core.entry.kinds import KINDS_BY_PREFIX, KINDS_BY_WORDS
from leitung_core.entry.numbers import Units
from leitung_core.entry.quantity import read_quantity
from leitung_core.errors import InputError, Problem

EMPTY = re.compile(r"(?:[-–—.*/ ]*|n ?/? ?a\.?|none|nil|tbd)", re.I)
TAG = r"[A-Za-z]{1,6}(?:[- ]?\d{1,4}[A-Za-z]?|-[A-Za-z0-9]{1,4})"
LINK = r",|&|/|and|-|–|to|thru|through|\.\.\.?"
TAG_LIST = re.compile(rf"({TAG})((?: ?(?:{LINK}) ?(?:{TAG}|\d{{1,4}}[A-Za-z]?))*)", re.I)
KNOWN_COLUMNS = 2
MOST_OF_A_LIST = 200
AMPERES = ("mca_a", "max_ocpd_a", "min_ocpd_a", "rla_a", "lra_a", "fan_fla_a", "amps")
ELECTRICAL = {*AMPERES, "volts", "heat_w", "watts"}


@dataclass(frozen=True)
class CellError:
    """A cell that could not be read: where it stands in the file, and why."""

    row: int
    column: str
    value: str
    says: str


@dataclass(frozen=True)
class UnitRow:
    """One unit of the schedule, in the fields of the size document."""

    id: str | None
    kind: str | None
    quantity: int
    nameplate: dict[str, Any]
    row: int
    maker: str | None = None
    model: str | None = None
    place: str | None = None
    name: str | None = None


@dataclass
class Schedule:
    """What a schedule came to. `columns` maps each heading that was understood to what it is."""

    sheet: str
    header_row: int
    columns: dict[str, str] = field(default_factory=dict)
    units: list[UnitRow] = field(default_factory=list)
    errors: list[CellError] = field(default_factory=list)
    ignored: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class _Head:
    """The header: its first row, how many rows it has, the heading of each column."""

    row: int
    rows: int
    headings: list[str]

    def columns(self) -> list[str | None]:
        found: list[str | None] = []
        for heading in self.headings:
            name = column_of(heading)
            found.append(name if name not in found else None)
        return found


def read_schedule(raw: bytes, name: str, units: Units = "us") -> Schedule:
    """The schedule in a file. Raises InputError where it is no table, or has no row of headings."""
    best: tuple[int, Grid, _Head] | None = None
    for grid in read_grids(raw, name):
        head = _header(grid)
        if head is not None:
            score = sum(column is not None for column in head.columns())
            if best is None or score > best[0]:
                best = (score, grid, head)
    if best is None:
        remedy = "It needs a row with headings such as MARK, VOLTS, MCA and MOCP above the units."
        raise InputError(Problem("file", name, "has no row of headings that is understood", remedy))
    return _Reading(best[1], best[2], units).read()


def _header(grid: Grid) -> _Head | None:
    """The first row whose headings are understood, with the one below or above where they belong together."""
    for index in range(len(grid.rows)):
        row = grid.rows[index]
        if _score(row) < KNOWN_COLUMNS:
            continue
        above = grid.rows[index - 1] if index else []
        below = grid.rows[index + 1] if index + 1 < len(grid.rows) else []
        if _is_group_row(above, row):
            return _Head(index, 2, _joined(above, row))
        if is_heading_of_units(below) and not any(_tags(cell) for cell in below):
            return _Head(index + 1, 2, _joined(row, below))
        return _Head(index + 1, 1, [cell.strip() for cell in row])
    return None


def _score(row: Sequence[str]) -> int:
    names = {name for cell in row if (name := column_of(cell))}
    return len(names) if names & ELECTRICAL and not any(_tags(cell) and column_of(cell) is None for cell in row) else 0


def _is_group_row(above: Sequence[str], row: Sequence[str]) -> bool:
    """Whether a row above the headings groups them: two texts or more, each over a heading; a title is one."""
    texts = [cell.strip() for cell in above if cell.strip()]
    over = [cell for cell, under in zip(above, row, strict=False) if cell.strip() and under.strip()]
    return len(set(texts)) >= KNOWN_COLUMNS and len(over) >= len(texts) // 2 and not any(_tags(text) for text in texts)


def _joined(one: Sequence[str], two: Sequence[str]) -> list[str]:
    width = max(len(one), len(two))
    pairs = ((row[i].strip() if i < len(row) else "" for row in (one, two)) for i in range(width))
    return [" ".join(dict.fromkeys(part for part in pair if part)) for pair in pairs]


def _tags(text: str) -> list[str]:
    """The tags in a cell, one for each unit: `RTU-1 THRU 4` gives four."""
    match = TAG_LIST.fullmatch(re.sub(r"\s+", " ", text.strip()))
    if match is None or not re.search(r"\d|-", match[1]):
        return []
    found, stem = [match[1]], re.match(r"[A-Za-z]+[- ]?", match[1])
    for link, tag in re.findall(
        rf"(,|&|/|and|-|–|to|thru|through|\.\.\.?) ?({TAG}|\d{{1,4}}[A-Za-z]?)", match[2], re.I
    ):
        full = tag if not tag[0].isdigit() else f"{stem[0] if stem else ''}{tag}"
        if link.casefold() in (",", "&", "/", "and"):
            found.append(full)
        else:
            found += _between(found[-1], full)
    return [re.sub(r" (?=\d)", "-", tag.upper()) for tag in found[:MOST_OF_A_LIST]]


def _between(first: str, last: str) -> list[str]:
    one, two = (re.fullmatch(r"(.*?)(\d+)([A-Za-z]?)", tag) for tag in (first, last))
    if not one or not two or int(two[2]) <= int(one[2]) or int(two[2]) - int(one[2]) > MOST_OF_A_LIST:
        return [last]
    return [f"{one[1]}{number}" for number in range(int(one[2]) + 1, int(two[2]) + 1)]


class _Reading:
    def __init__(self, grid: Grid, head: _Head, units: Units) -> None:
        self.grid, self.head, self.units = grid, head, units
        self.found = Schedule(grid.name, head.row)
        self.columns = head.columns()
        titles = (cell for row in grid.rows[: head.row - 1] for cell in row if cell.strip())
        self.titled = next((kind for title in titles if (kind := kind_in(title))), None)
        self.under: str | None = None

    def read(self) -> Schedule:
        for heading, column in zip(self.head.headings, self.columns, strict=True):
            if column is not None:
                self.found.columns[heading] = column
            elif heading:
                self.found.ignored.append(heading)
        first = self.head.row + self.head.rows
        for number, row in enumerate(self.grid.rows[first - 1 :], first):
            self._row(number, row)
        return self.found

    def _cells(self, row: Sequence[str]) -> dict[str, tuple[str, str]]:
        """What stands in each column that is understood: its heading and its text; empty cells are left out."""
        found = {}
        for index, (heading, column) in enumerate(zip(self.head.headings, self.columns, strict=True)):
            text = row[index].strip() if index < len(row) else ""
            if column is not None and text and not EMPTY.fullmatch(text):
                found[column] = (heading, text)
        return found

    def _row(self, number: int, row: Sequence[str]) -> None:
        cells = self._cells(row)
        tags = _tags(cells["id"][1]) if "id" in cells else []
        if not tags or not set(cells) - {"id"}:
            texts = {cell.strip() for cell in row if cell.strip()}
            if len(texts) == 1:
                self.under = kind_in(next(iter(texts))) or self.under
            return
        plate = dict(self._plate(number, cells))
        quantity = self._quantity(number, cells)
        many = len(tags) > 1
        for tag in tags:
            self.found.units.append(
                UnitRow(
                    id=tag, kind=self._kind(tag, cells), quantity=1 if many else quantity, nameplate=plate, row=number,
                    **{name: cells[name][1] for name in ("maker", "model", "place", "name") if name in cells},
                )
            )  # fmt: skip

    def _kind(self, tag: str, cells: dict[str, tuple[str, str]]) -> str | None:
        said = (kind_in(cells[name][1]) for name in ("kind", "name") if name in cells)
        letters = re.match(r"[A-Z]+", tag)
        by_tag = KINDS_BY_PREFIX.get(letters[0]) if letters else None
        return next((kind for kind in said if kind), None) or by_tag or self.under or self.titled

    def _quantity(self, number: int, cells: dict[str, tuple[str, str]]) -> int:
        if "quantity" not in cells:
            return 1
        heading, text = cells["quantity"]
        match = re.fullmatch(r"\(?(\d{1,3})\)?(?: ?(?:ea\.?|each|units?))?", text, re.I)
        if match is None or int(match[1]) < 1:
            self._error(number, heading, text, "is no number of units")
            return 1
        return int(match[1])

    def _error(self, number: int, heading: str, text: str, says: str) -> None:
        self.found.errors.append(CellError(number, heading, text, says))

    def _measure(self, number: int, cells: dict[str, tuple[str, str]], column: str, sort: str) -> Any:
        """The value of a cell as the plan keeps it; None, with an error, where it cannot be read or is implausible."""
        if column not in cells:
            return None
        heading, text = cells[column]
        bare = re.fullmatch(r"[\d.,]+", text)
        if sort == "heat" and bare:
            text = f"{text} {'kW' if re.search(r'kw', heading, re.I) else 'W'}"
        elif sort == "watts" and bare and re.search(r"kw", heading, re.I):
            text = f"{text} kW"
        try:
            found = read_quantity(sort, text, self.units)
        except InputError as error:
            self._error(number, heading, cells[column][1], error.problems[0].message)
            return None
        if found.asked_back is not None:
            self._error(number, heading, cells[column][1], found.asked_back.says)
            return None
        return found.value

    def _plate(self, number: int, cells: dict[str, tuple[str, str]]) -> Iterator[tuple[str, Any]]:
        volts = self._measure(number, cells, "volts", "plate_volts")
        if volts is not None:
            yield "volts", volts["volts"]
        phase = self._phase(number, cells)
        if phase or (volts and volts["phase"]):
            yield "phase", phase or volts["phase"]
        read = {name: self._measure(number, cells, name, "amps") for name in AMPERES if name in cells}
        for name in ("mca_a", "max_ocpd_a", "min_ocpd_a", "amps"):
            if read.get(name) is not None:
                yield name, read[name]
        kind = _device_kind(cells["max_ocpd_a"][0]) if read.get("max_ocpd_a") is not None else None
        if kind:
            yield "max_ocpd_type", kind
        compressor = {name: read[name] for name in ("rla_a", "lra_a") if read.get(name) is not None}
        if compressor:
            yield "compressors", [compressor]
        if read.get("fan_fla_a") is not None:
            yield "motors", [{"fla_a": read["fan_fla_a"], "use": "condenser_fan"}]
        heat = self._measure(number, cells, "heat_w", "heat")
        if heat is not None:
            yield "heat", {"watts": heat}
        for name, sort in (("watts", "watts"), ("supply_cfm", "airflow"), ("return_cfm", "airflow")):
            value = self._measure(number, cells, name, sort)
            if value is not None:
                yield name, value

    def _phase(self, number: int, cells: dict[str, tuple[str, str]]) -> int | None:
        if "phase" not in cells:
            return None
        heading, text = cells["phase"]
        match = re.fullmatch(r"([13])(?:\.0)? ?-?(?:ph(?:ase)?|[øØφΦ~])?", text, re.I)
        words = {"single": 1, "three": 3}.get(text.casefold().split(" ")[0].split("-")[0])
        if match is None and words is None:
            self._error(number, heading, text, "is no number of phases: 1 or 3")
            return None
        return words or int(match[1]) if match else words


def kind_in(text: str) -> str | None:
    """The kind of unit that a text names."""
    plain = re.sub(r"\s+", " ", text.casefold())
    return next((kind for words, kind in KINDS_BY_WORDS if re.search(rf"(?<![\w-])(?:{words})(?![\w-])", plain)), None)


def _device_kind(heading: str) -> str | None:
    fuse = re.search(r"fuse|\bmfs\b|\bmofs\b", heading, re.I)
    breaker = re.search(r"breaker|bkr|brkr|\bcb\b", heading, re.I)
    return "fuse_or_breaker" if fuse and breaker else "fuse" if fuse else "breaker" if breaker else None
