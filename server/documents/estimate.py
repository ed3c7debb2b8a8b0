"""What an install is likely to take, for whoever orders it: hours by trade as ranges, material, what it rests on."""

from __future__ import annotations

from itertools import groupby
from typing import Any

from accounts.models import User
from catalogue.actions import prices_of
from installs.actions import Checked
from leitung_core.loadout.prices import NOT_MATERIAL, cost
from leitung_core.loadout.written import amount
from leitung_core.worklist.ranges import Range
from leitung_core.worklist.total import by_trade, hands
from records.actions import Recording
from records.packing import taken_along
from records.work import history, rests_on, tasks_of

from documents.paper import Paper, heading


def estimate_paper(found: Checked, user: User) -> Paper:
    """The estimate as PDF."""
    tasks = tasks_of(Recording(found.install, found.revision.brief), history(user.company))
    taken = taken_along(found.revision)
    material = [row for row in taken.rows if row.group not in NOT_MATERIAL]
    lacks = [f"{task.text}: {lack}" for task in tasks for lack in task.lacks]
    lacks += [f"{row.about.partition('/')[2]}: {row.says}" for row in taken.unknown]
    context = {
        "hours": _hours(hands(tasks)), "trades": {skill: _hours(one) for skill, one in by_trade(tasks).items()},
        "groups": [{"name": name, "rows": [{"amount": amount(row), "item": row.item} for row in rows]}
                   for name, rows in groupby(material, lambda row: row.group)],
        "windows": [window for task in tasks if task.needs_off for window in task.windows or ()],
        "rests_on": rests_on(tasks), "lacks": lacks, "total": cost(taken.rows, prices_of(user.company)),
        "stops": len(found.revision.brief.stops),
    }  # fmt: skip
    return Paper("estimate.html", heading(found, user) | context)


def _hours(found: Range) -> dict[str, Any]:
    return {"low": max(1, round(found.low)), "high": max(1, round(found.high))}
