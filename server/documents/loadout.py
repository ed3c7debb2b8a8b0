"""What an install takes along, on paper to be ticked while it is packed, and as a list for the supplier."""

from __future__ import annotations

from itertools import groupby
from typing import Any

from accounts.models import User
from installs.actions import Checked
from leitung_core.loadout.rows import Row
from leitung_core.loadout.written import amount, cuts_in_words
from records.packing import taken_along

from documents.paper import heading, pdf


def loadout_pdf(found: Checked, user: User) -> bytes:
    """The load-out as PDF."""
    taken = taken_along(found.revision)
    cut = cuts_in_words(taken)
    groups = [{"name": name, "rows": [_row(row) | {"cut": cut.get(row.item)} for row in rows]}
              for name, rows in groupby(taken.rows, lambda row: row.group)]  # fmt: skip
    return pdf("loadout.html", heading(found, user) | {"groups": groups, "unknown": taken.unknown})


def _row(row: Row) -> dict[str, Any]:
    names = list(dict.fromkeys(about.split("/")[1] for about in row.for_))
    return {"amount": amount(row), "item": row.item, "for": ", ".join(names)}
