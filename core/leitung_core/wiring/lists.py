"""A landing list as CSV, out and in, and the labels of conductors. Nothing is half brought in."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from typing import Any

from pydantic import BaseModel, ConfigDict

from leitung_core.errors import InputError, Problem
from leitung_core.plan.wired import EndName
from leitung_core.plant.plant import ENDS, Plant, Wire, other
from leitung_core.spreadsheets import as_meant, harmless, read_rows
from leitung_core.validation import shorten
from leitung_core.wiring.view import where

COLUMNS = ("cable", "conductor", "a", "b", "a_marked", "b_marked", "note")
MOST_ROWS = 20_000
CAPPED = "capped"


def write_list(plant: Plant) -> str:
    """Every conductor of every cable, one row each: where it lands at both ends."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for wire in plant.every_wire():
        ends = [wire.end(end).terminal or (CAPPED if wire.end(end).capped else "") for end in ENDS]
        marks = [wire.end(end).reidentified or "" for end in ENDS]
        row = [wire.cable_id, wire.id, *ends, *marks, wire.conductor.note or ""]
        writer.writerow([harmless(value) for value in row])
    return out.getvalue()


def read_list(plant: Plant, text: str) -> dict[str, Any]:
    """The merge patch that lands what a list says. Conductors that it does not name stay as they are.

    Raises InputError with a problem for each line that does not fit; then nothing is brought in at all.
    """
    rows = read_rows(text, "list")
    names = [name.strip().lower() for name in rows[0][1]] if rows else []
    if names[:4] != list(COLUMNS[:4]):
        shown = ", ".join(rows[0][1]) if rows else "nothing"
        remedy = f"Begin with: {','.join(COLUMNS)}. The last three may be left out."
        raise InputError(Problem("line 1", shorten(shown), "these are not the columns of a landing list", remedy))
    if len(rows) > MOST_ROWS:
        raise InputError(Problem("list", len(rows), "has too many lines", f"Bring in at most {MOST_ROWS} at a time."))
    problems: list[Problem] = []
    cables: dict[str, Any] = {}
    seen: dict[tuple[str, str], int] = {}
    for number, row in rows[1:]:
        entry = {name: as_meant(cell.strip()) for name, cell in zip(names, row, strict=False)}
        found = list(_wrong(plant, entry, seen, number))
        problems += found
        if not found:
            wires = cables.setdefault(entry["cable"], {"conductors": {}})["conductors"]
            wires[entry["conductor"]] = _change(entry)
    if problems:
        raise InputError(*problems[:20])
    return {"cables": cables} if cables else {}


def _wrong(plant: Plant, entry: dict[str, str], seen: dict[tuple[str, str], int], number: int) -> Iterator[Problem]:
    key, name = entry.get("cable", ""), entry.get("conductor", "")
    if key not in plant.wires:
        known = ", ".join(list(plant.wires)[:5]) or "none yet"
        yield Problem(f"line {number}, cable", shorten(key), "there is no such cable in this plan", f"Known: {known}.")
        return
    if name not in {wire.id for wire in plant.wires[key]}:
        known = ", ".join(wire.id for wire in plant.wires[key]) or "none: say first what it is built of"
        yield Problem(f"line {number}, conductor", shorten(name), f"{key} has no such conductor", f"It has: {known}.")
        return
    if (key, name) in seen:
        remedy = "Take one of the two lines out."
        yield Problem(f"line {number}", f"{key} {name}", f"stands already on line {seen[key, name]}", remedy)
    seen.setdefault((key, name), number)
    for end in ENDS:
        yield from _wrong_end(plant, entry.get(end, ""), f"line {number}, {end}")


def _wrong_end(plant: Plant, value: str, field: str) -> Iterator[Problem]:
    if value in ("", CAPPED) or value in plant.posts:
        return
    device = value.split(".")[0]
    if value.count(".") != 2 or device not in plant.plan.devices:
        remedy = "Write device.strip.terminal, or capped, or leave it empty."
        yield Problem(field, shorten(value), "is no terminal of this plan", remedy)
    elif device not in plant.types:
        yield Problem(field, shorten(value), f"what {device} is has not been said", "Say first which device it is.")
    else:
        known = ", ".join(post.ref.split(".", 1)[1] for post in plant.posts_of(device)[:8])
        yield Problem(field, shorten(value), f"{device} has no such terminal", f"It has: {known}.")


def _change(entry: dict[str, str]) -> dict[str, Any]:
    change: dict[str, Any] = {}
    for end in ENDS:
        value = entry.get(end, "")
        change[end] = {"terminal": value if value not in ("", CAPPED) else None, "capped": value == CAPPED or None}
        if f"{end}_marked" in entry:
            change[end]["reidentified"] = entry[f"{end}_marked"] or None
    if "note" in entry:
        change["note"] = entry["note"] or None
    return change


class Label(BaseModel):
    """The label of one end of a conductor: what is printed on it, and where it goes."""

    model_config = ConfigDict(frozen=True)

    device: str
    cable: str
    conductor: str
    here: str
    there: str


def labels(plant: Plant) -> list[Label]:
    """A label for every landed or capped end, device by device."""
    found = [_label(plant, wire, end) for wire in plant.every_wire() for end in ENDS if not wire.loose(end)]
    return sorted(found, key=lambda label: (label.device, label.cable))


def _label(plant: Plant, wire: Wire, end: EndName) -> Label:
    device = (wire.end(end).terminal or wire.device(end)).split(".")[0]
    return Label(
        device=device, cable=wire.cable_id, conductor=wire.colour,
        here=where(plant, wire, end), there=where(plant, wire, other(end)),
    )  # fmt: skip


def write_labels(plant: Plant) -> str:
    """The labels as CSV for a label printer: two lines of text for each."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(("device", "line_1", "line_2"))
    for label in labels(plant):
        cells = label.device, f"{label.cable} {label.conductor}", f"{label.here} / {label.there}"
        writer.writerow([harmless(cell) for cell in cells])
    return out.getvalue()
