"""A load-out as it is read and as a list for a supplier."""

from __future__ import annotations

import csv
import io

from leitung_core.loadout.rows import LoadOut, Row
from leitung_core.spreadsheets import harmless

COLUMNS = ("group", "quantity", "unit", "item", "for")


def amount(row: Row) -> str:
    """`58 ft`, `3`."""
    return f"{row.quantity:g} ft" if row.unit == "ft" else f"{row.quantity:g}"


def write_load_out(found: LoadOut) -> str:
    """The rows as CSV; what is not known stands at its end."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for row in found.rows:
        cells = row.group, f"{row.quantity:g}", row.unit, row.item, " ".join(row.for_)
        writer.writerow([harmless(cell) for cell in cells])
    for lacking in found.unknown:
        writer.writerow([harmless(cell) for cell in ("not known", "", "", lacking.says, lacking.about)])
    return out.getvalue()
