"""A table file as rows of text, as the file has them: CSV with any usual separator, or every sheet of a workbook."""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import openpyxl

from leitung_core.errors import InputError, Problem

LARGEST_BYTES = 10_000_000
LARGEST_UNPACKED = 60_000_000
MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 5000, 120, 2000
SEPARATORS = ",;\t|"


@dataclass(frozen=True)
class Grid:
    """A sheet: its name and its rows, blank ones included."""

    name: str
    rows: list[list[str]]


def read_grids(raw: bytes, name: str) -> Iterator[Grid]:
    """Every sheet of the file. Raises InputError where it is none, or too large."""
    if len(raw) > LARGEST_BYTES:
        raise InputError(Problem("file", name, "is larger than 10 MB", "Save the schedule's sheet by itself."))
    if raw[:4] == b"PK\x03\x04":
        yield from _workbook(raw, name)
    else:
        yield Grid(name, _separated(_decoded(raw, name), name))


def _decoded(raw: bytes, name: str) -> str:
    if b"\x00" in raw[:4000] and not raw.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise InputError(Problem("file", name, "is no table", "Save the schedule as CSV or XLSX."))
    if raw.startswith((b"\xff\xfe", b"\xfe\xff")):
        return raw.decode("utf-16", errors="replace")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        return raw.decode("cp1252", errors="replace")


def _separated(text: str, name: str) -> list[list[str]]:
    plain = text.replace("\r\n", "\n").replace("\r", "\n")
    rows: list[list[str]] = []
    csv.field_size_limit(LARGEST_BYTES)
    try:
        for row in csv.reader(io.StringIO(plain), delimiter=_separator(plain), skipinitialspace=True):
            rows.append([" ".join(cell.split())[:LONGEST_CELL] for cell in row[:MOST_COLUMNS]])
            if len(rows) > MOST_ROWS:
                raise _too_long(name)
    except csv.Error as error:
        message = f"cannot be read as a table: {error}"
        raise InputError(Problem("file", name, message, "Save it as CSV again, or as XLSX.")) from None
    return rows


def _separator(text: str) -> str:
    """The separator that most lines have in the same number, commas inside of quotes left out."""
    lines = [line for line in text.split("\n")[:60] if line.strip()]

    def steady(separator: str) -> int:
        counts = [len(next(csv.reader([line], delimiter=separator), [])) for line in lines]
        many = [count for count in counts if count > 1]
        return max((many.count(count) * min(count, 12) for count in set(many)), default=0)

    return max(SEPARATORS, key=lambda separator: (steady(separator), -SEPARATORS.index(separator)))


def _too_long(name: str) -> InputError:
    return InputError(Problem("file", name, f"has more than {MOST_ROWS} rows", "Save the schedule by itself."))


def _workbook(raw: bytes, name: str) -> Iterator[Grid]:
    remedy = "Save the schedule as XLSX or CSV again."
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as packed:
            if sum(entry.file_size for entry in packed.infolist()) > LARGEST_UNPACKED:
                raise InputError(Problem("file", name, "is too large once unpacked", remedy))
        book = openpyxl.load_workbook(io.BytesIO(raw), data_only=True)
    except InputError:
        raise
    except Exception as error:
        # The library tells a damaged workbook by whatever it stumbles over.
        raise InputError(Problem("file", name, "is no workbook that can be read", remedy)) from error
    for sheet in book.worksheets:
        if (sheet.max_row or 0) > MOST_ROWS:
            raise _too_long(name)
        yield Grid(sheet.title, _sheet(sheet))


def _sheet(sheet: Any) -> list[list[str]]:
    """A sheet's cells as text; what is merged holds for every cell of it."""
    width = min(sheet.max_column or 0, MOST_COLUMNS)
    rows = [
        [_text(value) for value in row]
        for row in sheet.iter_rows(min_row=1, max_row=sheet.max_row, max_col=width, values_only=True)
    ]
    for merged in sheet.merged_cells.ranges:
        value = _text(sheet.cell(merged.min_row, merged.min_col).value)
        for row in range(merged.min_row, min(merged.max_row, len(rows)) + 1):
            for column in range(merged.min_col, min(merged.max_col, width) + 1):
                rows[row - 1][column - 1] = value
    return rows


def _text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, float):
        value = int(value) if value.is_integer() else round(value, 6)
    return " ".join(str(value).split())[:LONGEST_CELL]
