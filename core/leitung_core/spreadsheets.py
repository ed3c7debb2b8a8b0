"""Reading a comma-separated list: every line with its number, or a message that names the line."""

from __future__ import annotations

import csv
import io
import re

from leitung_core.errors import InputError, Problem

LONGEST_CELL = 10_000


def read_rows(text: str, name: str) -> list[tuple[int, list[str]]]:
    """The rows of a CSV text with the line on which each ends, counted from 1; empty ones are left out.

    Any line ending is read, a lone carriage return too. Raises InputError for a quote that is never closed and for a
    cell above 10,000 characters.
    """
    lines = re.sub("\r\n?", "\n", text.lstrip("\ufeff"))
    reader = csv.reader(io.StringIO(lines), strict=True, skipinitialspace=True)
    rows = []
    try:
        for cells in reader:
            if any(len(cell) > LONGEST_CELL for cell in cells):
                raise _too_long(reader.line_num)
            if any(cell.strip() for cell in cells):
                rows.append((reader.line_num, cells))
    except csv.Error as error:
        raise _unreadable(reader.line_num, name, error) from None
    return rows


def _too_long(line: int) -> InputError:
    remedy = f"A cell holds at most {LONGEST_CELL} characters: look for a quote that is not closed."
    return InputError(Problem(f"line {line}", "…", "has a cell that is too long", remedy))


def _unreadable(line: int, name: str, error: csv.Error) -> InputError:
    if "field limit" in str(error):
        return _too_long(line)
    remedy = 'Close the quote, and write a quote inside a cell as "".'
    return InputError(Problem(f"line {line}", name, "has a quote that is not closed, or closed too early", remedy))


FORMULA = re.compile("'*[=+@-]")


def harmless(value: str) -> str:
    """A text that a spreadsheet would take for a formula begins with an apostrophe, one more than it has already."""
    return f"'{value}" if FORMULA.match(value) else value


def as_meant(cell: str) -> str:
    """A cell as it was before it was made harmless."""
    return cell[1:] if cell.startswith("'") and FORMULA.match(cell) else cell
