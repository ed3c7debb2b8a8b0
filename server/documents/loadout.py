"""What an install takes along, on paper to be ticked while it is packed, and as a list for the supplier."""

from __future__ import annotations

from itertools import groupby
from typing import Any

from accounts.models import User
from installs.actions import Checked
from leitung_core.loadout.cuts import cuts
from leitung_core.loadout.rows import LoadOut, Row
from leitung_core.loadout.take_off import load_out
from leitung_core.loadout.written import amount, say_cut
from leitung_core.plant.plant import Plant

from documents.paper import heading, pdf


def taken_along(found: Checked) -> LoadOut:
    """The load-out of a revision."""
    return load_out(Plant(found.plan), found.result.circuits)


def loadout_pdf(found: Checked, user: User) -> bytes:
    """The load-out as PDF."""
    taken = taken_along(found)
    cut = {one.item: say_cut(one) for one in cuts(taken)}
    groups = [{"name": name, "rows": [_row(row) | {"cut": cut.get(row.item)} for row in rows]}
              for name, rows in groupby(taken.rows, lambda row: row.group)]  # fmt: skip
    return pdf("loadout.html", heading(found, user) | {"groups": groups, "unknown": taken.unknown})


def _row(row: Row) -> dict[str, Any]:
    names = list(dict.fromkeys(about.split("/")[1] for about in row.for_))
    return {"amount": amount(row), "item": row.item, "for": ", ".join(names)}
