"""A crew's own prices, by the item as a load-out names it: brought as CSV, reckoned over a load-out.

The supplier's list of a load-out has a column for the price: filled in, it comes back as it is.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from decimal import Decimal, InvalidOperation

from pydantic import BaseModel, ConfigDict

from leitung_core.errors import InputError, Problem
from leitung_core.loadout.rows import Row
from leitung_core.spreadsheets import as_meant, read_rows
from leitung_core.validation import shorten

NEEDED = ("item", "price")
MOST_ROWS, MOST_PRICE, PLACES, LONGEST_ITEM = 5000, Decimal(1_000_000), 4, 200
# What the crew brings and takes home again is no material of an install.
NOT_MATERIAL = ("tool",)


class Price(BaseModel):
    """What one foot, or one piece, of an item costs; in the money of whoever entered it."""

    model_config = ConfigDict(frozen=True)

    item: str
    price: Decimal

    @property
    def key(self) -> str:
        return item_key(self.item)


class Cost(BaseModel):
    """What the material of a load-out comes to: its total, how many of its rows have a price, of how many."""

    model_config = ConfigDict(frozen=True)

    total: Decimal
    priced: int
    of: int


def item_key(item: str) -> str:
    """An item, however it is spaced and written large or small."""
    return " ".join(item.split()).casefold()


def cost_of(row: Row, prices: Mapping[str, Decimal]) -> Decimal | None:
    """What a row comes to, to the hundredth; None where its price is not known."""
    price = prices.get(item_key(row.item))
    return None if price is None else (price * Decimal(str(row.quantity))).quantize(Decimal("0.01"))


def cost(rows: Iterable[Row], prices: Mapping[str, Decimal]) -> Cost:
    """What the material among some rows comes to."""
    found = [cost_of(row, prices) for row in rows if row.group not in NOT_MATERIAL]
    known = [one for one in found if one is not None]
    return Cost(total=sum(known, Decimal(0)), priced=len(known), of=len(found))


def read_prices(text: str) -> list[Price]:
    """The prices of a CSV list; rows without one, and columns beside item and price, are passed over.

    Raises InputError with every wrong line named; nothing is half taken.
    """
    rows = read_rows(text, "list")
    names = [name.strip().casefold() for name in rows[0][1]] if rows else []
    missing = [name for name in NEEDED if name not in names]
    if missing:
        raise InputError(*(
            Problem("line 1", shorten(", ".join(names)), f"the column {name!r} is missing",
                    "Name the columns in the first line: item,price.") for name in missing
        ))  # fmt: skip
    if len(rows) > MOST_ROWS:
        raise InputError(Problem("list", len(rows), "is too long", f"Bring at most {MOST_ROWS} lines at a time."))
    found: dict[str, Price] = {}
    problems: list[Problem] = []
    for line, values in rows[1:]:
        cells = dict(zip(names, (as_meant(value.strip()) for value in values), strict=False))
        item, typed = cells.get("item", ""), cells.get("price", "")
        if not typed:
            continue
        price = _money(typed)
        if not item or len(item) > LONGEST_ITEM:
            remedy = f"Give it as the load-out names it, {LONGEST_ITEM} characters at most."
            problems.append(Problem(f"line {line}, item", shorten(item), "is no item's name", remedy))
        elif price is None:
            problems.append(Problem(f"line {line}, price", shorten(typed), "is no price", "Give a figure, as 1.28."))
        elif item_key(item) in found and found[item_key(item)].price != price:
            problems.append(Problem(f"line {line}, item", shorten(item), "stands twice with different prices",
                                    "Take one of the two lines out."))  # fmt: skip
        else:
            found[item_key(item)] = Price(item=" ".join(item.split()), price=price)
    if problems:
        raise InputError(*problems[:20])
    if not found:
        raise InputError(Problem("list", "", "holds no price", "Fill in the price column of the supplier's list."))
    return list(found.values())


def _money(typed: str) -> Decimal | None:
    try:
        found = Decimal(typed)
    except InvalidOperation:
        return None
    if not found.is_finite() or not 0 <= found < MOST_PRICE:
        return None
    return found if found == round(found, PLACES) else None
