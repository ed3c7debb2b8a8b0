"""Plates as a CSV list: one unit a line, one column a mark. Errors name line, column, value and remedy.

Several compressors or motors stand in one cell, separated by a semicolon: `18.6; 14.2`.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from itertools import zip_longest
from math import isfinite
from typing import Any

from leitung_core.catalogue.models import Model
from leitung_core.errors import InputError, Problem
from leitung_core.spreadsheets import as_meant, harmless, read_rows
from leitung_core.validation import read, shorten

TEXTS = ("maker", "model", "kind", "name", "volts", "max_ocpd_type")
NUMBERS = ("volts_min", "volts_max", "mca_a", "max_ocpd_a", "min_ocpd_a", "amps", "watts", "supply_cfm", "return_cfm")
LISTS = ("rla_a", "bcsc_a", "lra_a")
MOTORS = {"condenser_fan_fla_a": "condenser_fan", "blower_fla_a": "blower", "pump_fla_a": "pump"}
HEAT = {"heat_watts": "watts", "heat_volts": "rated_volts", "heat_phase": "phase"}
FLAGS = ("continuous", "cord_connected", "heat_with_cooling")
COLUMNS = (*TEXTS[:5], "phase", *NUMBERS[:5], TEXTS[5], *LISTS, *MOTORS, *HEAT, *NUMBERS[5:], *FLAGS)
NEEDED = ("maker", "model", "kind")
LARGEST_ROWS = 2000
_YES, _NO = ("yes", "true", "1"), ("no", "false", "0")


class _Cell(Exception):  # noqa: N818
    def __init__(self, column: str, value: str, message: str, remedy: str) -> None:
        self.column, self.value, self.message, self.remedy = column, value, message, remedy


def read_plates(text: str) -> list[Model]:
    """The models of a CSV list. Raises InputError with every wrong line named; nothing is half taken."""
    rows = read_rows(text, "list")
    names = [name.strip() for name in rows[0][1]] if rows else []
    _heading(names)
    models: list[Model] = []
    problems: list[Problem] = []
    seen: dict[tuple[str, str], int] = {}
    for line, values in rows[1:]:
        try:
            model = _model(names, values, line)
        except InputError as error:
            problems += error.problems
            continue
        key = (model.maker.lower(), model.model.lower())
        if key in seen:
            remedy = "Take one of the two lines out."
            problems.append(Problem(f"line {line}, model", model.model, f"stands on line {seen[key]} already", remedy))
        seen.setdefault(key, line)
        models.append(model)
        if len(models) > LARGEST_ROWS:
            raise InputError(
                Problem("list", len(models), "is too long", f"Bring at most {LARGEST_ROWS} lines at a time.")
            )
    if problems:
        raise InputError(*problems[:20])
    if not models:
        raise InputError(
            Problem("list", "", "holds no unit", f"Give a heading and a line for each: {','.join(COLUMNS)}")
        )
    return models


def _heading(given: list[str]) -> None:
    problems = [
        Problem("line 1", shorten(name), "no such column here", f"Use: {', '.join(COLUMNS)}.")
        for name in given
        if name not in COLUMNS
    ]
    problems += [
        Problem("line 1", ", ".join(given)[:60], f"the column {name!r} is missing", "Add it to the heading.")
        for name in NEEDED
        if name not in given
    ]
    if problems:
        raise InputError(*problems[:20])


def _model(names: list[str], values: list[str], line: int) -> Model:
    surplus = values[len(names) :]
    if surplus:
        found = shorten(", ".join(surplus))
        raise InputError(Problem(f"line {line}", found, "has more cells than the heading", "Quote a comma in a cell."))
    cells = {name: as_meant(value.strip()) for name, value in zip_longest(names, values, fillvalue="")}
    try:
        data = _document(cells)
    except _Cell as cell:
        field = f"line {line}, {cell.column}"
        raise InputError(Problem(field, shorten(cell.value), cell.message, cell.remedy)) from None
    try:
        return read(Model, data)
    except InputError as error:
        raise InputError(
            *(Problem(f"line {line}, {p.field.removeprefix('nameplate.')}", p.value, p.message, p.remedy)
              for p in error.problems)
        ) from None  # fmt: skip


def _document(cells: dict[str, str]) -> dict[str, Any]:
    plate: dict[str, Any] = {name: cells[name] for name in ("volts", "max_ocpd_type") if cells.get(name)}
    plate |= {name: _number(name, cells[name]) for name in NUMBERS if cells.get(name)}
    if cells.get("phase"):
        plate["phase"] = _whole("phase", cells["phase"])
    marks = {name: [_number(name, part) for part in cells[name].split(";")] for name in LISTS if cells.get(name)}
    if marks:
        count = max(len(values) for values in marks.values())
        plate["compressors"] = [
            {name: values[index] for name, values in marks.items() if index < len(values)} for index in range(count)
        ]
    motors = [
        {"fla_a": _number(name, part), "use": use}
        for name, use in MOTORS.items()
        if cells.get(name)
        for part in cells[name].split(";")
    ]
    if motors:
        plate["motors"] = motors
    heat = {field: _number(name, cells[name]) for name, field in HEAT.items() if cells.get(name)}
    if heat:
        plate["heat"] = heat | ({"phase": _whole("heat_phase", cells["heat_phase"])} if cells.get("heat_phase") else {})
    if cells.get("continuous"):
        plate["continuous"] = _flag("continuous", cells["continuous"])
    document: dict[str, Any] = {name: cells[name] for name in ("maker", "model", "kind", "name") if cells.get(name)}
    document |= {name: _flag(name, cells[name]) for name in FLAGS[1:] if cells.get(name)}
    return document | {"nameplate": plate}


def _number(column: str, text: str) -> float:
    try:
        return float(text.strip())
    except ValueError:
        raise _Cell(
            column, text, "must be a number", "Type a number without its unit, or leave the cell empty."
        ) from None


def _whole(column: str, text: str) -> int:
    number = _number(column, text)
    if not isfinite(number) or number != int(number):
        raise _Cell(column, text, "must be a whole number", "Type 1 or 3, or leave the cell empty.")
    return int(number)


def _flag(column: str, text: str) -> bool:
    word = text.lower()
    if word not in (*_YES, *_NO):
        raise _Cell(column, text, "must be yes or no", "Type yes or no, or leave the cell empty.")
    return word in _YES


def write_plates(models: Iterable[Model]) -> str:
    """The models as a CSV list that `read_plates` reads."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    writer.writeheader()
    for model in models:
        writer.writerow({name: harmless(cell) for name, cell in _cells(model).items()})
    return out.getvalue()


def _cells(model: Model) -> dict[str, str]:
    plate = model.nameplate
    cells: dict[str, Any] = {name: getattr(model, name) for name in ("maker", "model", "kind", "name", *FLAGS[1:])}
    cells |= {name: getattr(plate, name) for name in ("volts", "phase", "max_ocpd_type", "continuous", *NUMBERS)}
    for name in LISTS:
        cells[name] = "; ".join(_say(getattr(c, name)) for c in plate.compressors or [] if getattr(c, name) is not None)
    for name, use in MOTORS.items():
        cells[name] = "; ".join(_say(motor.fla_a) for motor in plate.motors or [] if motor.use == use)
    for name, field in HEAT.items():
        cells[name] = getattr(plate.heat, field) if plate.heat else None
    return {name: _say(value) for name, value in cells.items()}


def _say(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g}" if isinstance(value, float) else str(value)
