"""What an install takes along, on paper to be ticked while it is packed, and as a list for the supplier."""

from __future__ import annotations

from itertools import groupby
from typing import Any

from accounts.models import User
from catalogue.actions import prices_of
from installs.actions import Checked
from leitung_core.loadout.prices import cost, cost_of
from leitung_core.loadout.rows import LoadOut, Row
from leitung_core.loadout.written import amount, cuts_in_words

from documents.paper import Paper, heading


def loadout_paper(found: Checked, user: User, taken: LoadOut) -> Paper:
    """A load-out, or a part of it, as PDF."""
    prices = prices_of(user.company)
    total = cost(taken.rows, prices)
    cut = cuts_in_words(taken)
    groups = [{"name": name,
               "rows": [_row(row) | {"cut": cut.get(row.item), "cost": cost_of(row, prices)} for row in rows]}
              for name, rows in groupby(taken.rows, lambda row: row.group)]  # fmt: skip
    return Paper("loadout.html", heading(found, user) | {"groups": groups, "unknown": taken.unknown, "total": total})


def _row(row: Row) -> dict[str, Any]:
    names = list(dict.fromkeys(about.split("/")[1] for about in row.for_))
    return {"amount": amount(row), "item": row.item, "for": ", ".join(names)}
