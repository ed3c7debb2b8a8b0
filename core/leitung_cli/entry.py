"""`leitung read`, `unit`, `plate` and `schedule`. Exit codes: 0 read, 1 something is asked back, 2 unreadable."""

from __future__ import annotations

import sys
from dataclasses import asdict
from pathlib import Path
from typing import Annotated, Any, Literal

import typer
from leitung_core.entry.plate.picture import LARGEST_BYTES
from leitung_core.entry.plate.read import SURE, read_plate
from leitung_core.entry.quantity import Quantity, read_quantity
from leitung_core.entry.schedule import Schedule, read_schedule
from leitung_core.entry.sentence import UnitSaid, read_unit
from leitung_core.errors import InputError, Problem

from leitung_cli.files import JsonOption, load, read_bytes
from leitung_cli.networks import print_json

UnitsOption = Annotated[Literal["us", "metric"], typer.Option("--units", help="what a bare number is in")]
READ, ASKED, UNREADABLE = 0, 1, 2


def read(
    field: Annotated[str, typer.Argument(help="what is read, or - for a JSON list of fields and texts")],
    text: Annotated[str | None, typer.Argument(help="the text, or - for a JSON list of texts")] = None,
    units: UnitsOption = "us",
    as_json: JsonOption = False,
) -> None:
    """Read a quantity as people write it: `leitung read heat "7.5 kW"`."""
    if field == "-" or text == "-":
        rows = [_item(entry, None if field == "-" else field, units) for entry in _list("-")]
        print_json([row for row, _ in rows])
        raise SystemExit(max((code for _, code in rows), default=READ))
    if text is None:
        raise InputError(Problem("text", None, "is missing", 'Write what is to be read, as: read heat "7.5 kW".'))
    found = read_quantity(field, text, units)
    if as_json:
        print_json(_shown(found))
    else:
        print(found.shown + (f"  ({found.asked_back.says})" if found.asked_back else ""))
    raise SystemExit(ASKED if found.asked_back else READ)


def _list(file: str) -> list[Any]:
    data = load(file)
    if not isinstance(data, list):
        raise InputError(Problem("list", type(data).__name__, "is no list", "Give a JSON list."))
    return data


def _shown(found: Quantity) -> dict[str, Any]:
    return asdict(found)


def _item(entry: Any, field: str | None, units: Literal["us", "metric"]) -> tuple[dict[str, Any], int]:
    """One item of a list; one that cannot be read stands in its place with what is wrong."""
    told = entry if isinstance(entry, dict) else {"text": entry}
    name, text = told.get("field", field), told.get("text")
    own = told.get("units", units)
    try:
        if not isinstance(name, str) or not isinstance(text, str) or own not in ("us", "metric"):
            message = "is no field with a text"
            raise InputError(Problem("item", str(entry)[:80], message, 'Write {"field": …, "text": …, "units": "us"}.'))
        found = read_quantity(name, text, own)
    except InputError as error:
        problem = error.problems[0]
        says = {"says": f"{problem.message}", "remedy": problem.remedy}
        return {"field": name, "text": text, "value": None, "error": says}, UNREADABLE
    return _shown(found), ASKED if found.asked_back else READ


def unit(
    text: Annotated[str, typer.Argument(help="a unit in one sentence, or - for a JSON list of them")],
    units: UnitsOption = "us",
    as_json: JsonOption = False,
) -> None:
    """Read a unit in one sentence: `leitung unit "MS-1 mini-split 208/230 1ph MCA 22 max 35"`."""
    if text == "-":
        rows = [_unit_item(entry, units) for entry in _list("-")]
        print_json([row for row, _ in rows])
        raise SystemExit(max((code for _, code in rows), default=READ))
    found = read_unit(text, units)
    if as_json:
        print_json(_said(found))
    else:
        _print_unit(found)
    raise SystemExit(ASKED if found.left else READ)


def _said(found: UnitSaid) -> dict[str, Any]:
    told = asdict(found)
    del told["understood"]
    return told


def _unit_item(entry: Any, units: Literal["us", "metric"]) -> tuple[dict[str, Any], int]:
    text = entry.get("text") if isinstance(entry, dict) else entry
    try:
        if not isinstance(text, str):
            raise InputError(Problem("item", str(entry)[:80], "is no text", "Give a list of sentences."))
        found = read_unit(text, units)
    except InputError as error:
        problem = error.problems[0]
        return {"text": text, "value": None, "error": {"says": problem.message, "remedy": problem.remedy}}, UNREADABLE
    return _said(found), ASKED if found.left else READ


def _print_unit(found: UnitSaid) -> None:
    print(" ".join(part for part in (found.id, found.kind, f"x {found.quantity}" if found.quantity else "") if part))
    for name, value in found.nameplate.items():
        print(f"  {name}: {value}")
    if found.source:
        print(f"  from {found.source}")
    for segment in found.run:
        print("  run: " + ", ".join(f"{name} {value}" for name, value in segment.items()))
    if found.left:
        print("left: " + "; ".join(found.left), file=sys.stderr)


def schedule(
    file: Annotated[str, typer.Argument(help="an equipment schedule, CSV or XLSX")],
    units: UnitsOption = "us",
    as_json: JsonOption = False,
) -> None:
    """Read an engineer's equipment schedule."""
    found = read_schedule(read_bytes(file), Path(file).name, units)
    if as_json:
        print_json(_schedule(found))
    else:
        for row in found.units:
            plate = ", ".join(f"{name} {value}" for name, value in row.nameplate.items())
            print(f"{row.id}  {row.kind or 'kind not known'}, row {row.row}: {plate}")
        for error in found.errors:
            print(f"row {error.row}, {error.column}: {error.value!r} {error.says}", file=sys.stderr)
    raise SystemExit(ASKED if found.errors else READ)


def plate(
    file: Annotated[str, typer.Argument(help="a photo of a unit's plate: PNG, JPEG or HEIC")],
    as_json: JsonOption = False,
) -> None:
    """Read a unit's plate from a photo; what is below 0.9 sure is to be asked."""
    found = read_plate(read_bytes(file, LARGEST_BYTES), Path(file).name)
    if as_json:
        print_json({
            "fields": {
                name: {"value": entry.value, "sure": entry.sure, "box": entry.box, **entry.more}
                for name, entry in found.fields.items()
            },
            "text": found.text,
            "contradictions": [asdict(entry) for entry in found.contradictions],
        })  # fmt: skip
    else:
        for name, entry in found.fields.items():
            print(f"{name}: {entry.value}" + ("" if entry.sure >= SURE else "  (not sure: look at the plate)"))
        for told in found.contradictions:
            print(f"contradiction: {told.says}", file=sys.stderr)
    asked = found.contradictions or any(entry.sure < SURE for entry in found.fields.values())
    raise SystemExit(ASKED if asked or not found.fields else READ)


def _schedule(found: Schedule) -> dict[str, Any]:
    told = asdict(found)
    for row in told["units"]:
        for name in ("maker", "model", "place", "name"):
            if row[name] is None:
                del row[name]
    return told
