"""A logged current as a CSV file: its time, and each of its current columns. A cell that will not do is named."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from numpy.typing import NDArray

from leitung_core.errors import InputError, Problem
from leitung_core.spreadsheets import read_rows

Numbers = NDArray[np.float64]
TIME_NAMES = ("t_s", "time", "timestamp", "date", "datetime")


@dataclass(frozen=True)
class Log:
    """Seconds from the first row, and the A of each current column."""

    seconds: Numbers
    columns: dict[str, Numbers]


def read_log(raw: bytes, name: str = "log") -> Log:
    """A log from a CSV file's bytes. Raises InputError naming the row (line of the file) and the column."""
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise InputError(Problem(name, None, "is no text", "Save the log as CSV in UTF-8.")) from None
    first = text.partition("\n")[0].rstrip("\r")
    quick = _all_numbers(text)
    rows = read_rows(text if quick is None else first, name)
    if not rows:
        raise InputError(Problem(name, None, "is empty", "Name the file that the logger wrote."))
    header = [cell.strip().lower() for cell in rows[0][1]]
    timed = next((at for at, cell in enumerate(header) if cell in TIME_NAMES), None)
    currents = [at for at, cell in enumerate(header) if cell == "a" or cell.endswith("_a")]
    problems = []
    if timed is None:
        remedy = f"Call the column of seconds t_s, or that of timestamps one of: {', '.join(TIME_NAMES[1:])}."
        problems.append(Problem("header", ", ".join(header)[:60], "has no column of time", remedy))
    if not currents:
        remedy = "Call a column of amperes a, or end its name in _a."
        problems.append(Problem("header", ", ".join(header)[:60], "has no column of current", remedy))
    if timed is None or problems:
        raise InputError(*problems)
    if quick is not None and quick.shape[1] == len(header) and len(quick) > 1 and _goes_on(quick[:, timed]):
        return Log(quick[:, timed] - quick[0, timed], {header[at]: quick[:, at] for at in currents})
    body = rows[1:] if quick is None else read_rows(text, name)[1:]
    if len(body) < 2:
        raise InputError(Problem(name, len(body), "has too few rows", "A log needs two rows of figures at the least."))
    _complete(body, header)
    lines = [line for line, _ in body]
    seconds = _time([row[timed] for _, row in body], lines, header[timed])
    columns = {header[at]: _numbers([row[at] for _, row in body], lines, header[at]) for at in currents}
    return Log(seconds, columns)


def _all_numbers(text: str) -> Numbers | None:
    """Every figure below the header, where all are finite numbers: a long log is read at once."""
    try:
        with warnings.catch_warnings(action="ignore"):
            found: Numbers = np.loadtxt(io.StringIO(text), delimiter=",", skiprows=1, ndmin=2, comments=None)
    except ValueError:
        return None
    return found if found.size and bool(np.isfinite(found).all()) else None


def _goes_on(seconds: Numbers) -> bool:
    return bool((np.diff(seconds) > 0).all())


def _complete(body: list[tuple[int, list[str]]], header: list[str]) -> None:
    for line, row in body:
        if len(row) < len(header):
            missing = header[len(row)]
            message = f"has {len(row)} cells of {len(header)}"
            raise InputError(Problem(f"row {line}, {missing}", None, message, "Complete the row, or take it out."))


def _numbers(cells: list[str], lines: list[int], name: str) -> Numbers:
    try:
        found: Numbers = np.array(cells, dtype=np.float64)
    except ValueError:
        at = next(at for at, cell in enumerate(cells) if not _is_number(cell))
        raise _wrong(lines[at], name, cells[at], "is no number") from None
    wrong = np.flatnonzero(~np.isfinite(found))
    if wrong.size:
        raise _wrong(lines[wrong[0]], name, cells[wrong[0]], "is no finite number")
    return found


def _is_number(cell: str) -> bool:
    try:
        float(cell)
    except ValueError:
        return False
    return True


def _wrong(line: int, name: str, cell: str, message: str) -> InputError:
    return InputError(Problem(f"row {line}, {name}", cell[:60], message, "Correct the cell, or take the row out."))


def _time(cells: list[str], lines: list[int], name: str) -> Numbers:
    """Seconds from the first row, from seconds or from ISO timestamps."""
    if _is_number(cells[0]):
        found = _numbers(cells, lines, name)
    else:
        found = np.array([_moment(cell, line, name) for cell, line in zip(cells, lines, strict=True)])
    back = np.flatnonzero(np.diff(found) <= 0)
    if back.size:
        at = int(back[0]) + 1
        raise _wrong(lines[at], name, cells[at], "does not go on from the row before")
    started: Numbers = found - found[0]
    return started


def _moment(cell: str, line: int, name: str) -> float:
    try:
        return datetime.fromisoformat(cell.strip()).timestamp()
    except ValueError:
        raise _wrong(line, name, cell, "is neither seconds nor a timestamp like 2026-07-14T09:30:00") from None
