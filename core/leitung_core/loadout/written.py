"""A load-out as it is read and as a list for a supplier."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping
from decimal import Decimal
from itertools import groupby

from leitung_core.loadout.cuts import Cut, cuts
from leitung_core.loadout.prices import item_key
from leitung_core.loadout.rows import LoadOut, Row
from leitung_core.spreadsheets import harmless

COLUMNS = ("group", "quantity", "unit", "item", "for", "cut", "price")


def amount(row: Row) -> str:
    """`58 ft`, `3`."""
    return f"{row.quantity:g} ft" if row.unit == "ft" else f"{row.quantity:g}"


def write_load_out(found: LoadOut, prices: Mapping[str, Decimal] | None = None) -> str:
    """The rows as CSV, each with its price where one is known; what is not known stands at its end."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    cut = cuts_in_words(found)
    for row in found.rows:
        price = (prices or {}).get(item_key(row.item))
        cells = (row.group, f"{row.quantity:g}", row.unit, row.item, " ".join(row.for_), cut.get(row.item, ""),
                 "" if price is None else f"{price.normalize():f}")  # fmt: skip
        writer.writerow([harmless(cell) for cell in cells])
    for lacking in found.unknown:
        writer.writerow([harmless(cell) for cell in ("not known", "", "", lacking.says, lacking.about, "", "")])
    return out.getvalue()


def cuts_in_words(found: LoadOut) -> dict[str, str]:
    """From which rolls each item is cut, by the item."""
    return {one.item: say_cut(one) for one in cuts(found)}


def say_cut(cut: Cut) -> str:
    """`1 roll of 100 ft: 50, 39`; `28, 40 ft from the reel`."""
    said = []
    for length, rolls in groupby(cut.rolls, lambda roll: roll.length_ft):
        mine = list(rolls)
        name = f"{len(mine)} {'roll' if len(mine) == 1 else 'rolls'} of {length:g} ft"
        said.append(f"{name}: {' | '.join(', '.join(f'{piece:g}' for piece in roll.pieces_ft) for roll in mine)}")
    if cut.by_the_foot:
        said.append(f"{', '.join(f'{piece:g}' for piece in cut.by_the_foot)} ft from the reel")
    return "; ".join(said)
