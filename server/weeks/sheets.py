"""Day sheets: for each person and day what is done where, from when to when, with whom."""

from __future__ import annotations

from datetime import date
from typing import Any

from accounts.models import User
from django.utils import timezone
from documents.paper import Paper

from weeks.out import WeekOut, WeekPart


def sheets_pdf(week: WeekOut, user: User) -> bytes:
    """The day sheets of a week as PDF, one page for each person and day."""
    names = {one.id: one.name for one in week.wishes.people}
    sites = {site.id: site.name for site in week.sites}
    sheets = [
        {"name": one.name, "day": day, "rows": rows, "away": [off for off in one.off if off.day == day]}
        for one in week.wishes.people for day in week.days
        if (rows := [_row(part, one.id, names, sites) for part in _of(week, one.id, day)])
    ]  # fmt: skip
    context = {"sheets": sheets, "company": user.company.name, "printed": timezone.now(), "stale": week.stale,
               "monday": week.monday}  # fmt: skip
    return Paper("week.html", context, "week.css").pdf()


def _of(week: WeekOut, person: str, day: date) -> list[WeekPart]:
    mine = [part for part in week.parts if person in part.people and part.day == day.isoformat()]
    return sorted(mine, key=lambda part: part.from_)


def _row(part: WeekPart, person: str, names: dict[str, str], sites: dict[str, str]) -> dict[str, Any]:
    return {
        "from": part.from_, "to": part.to, "site": sites.get(part.site, ""), "text": part.text,
        "with": [names.get(one, one) for one in part.people if one != person],
        "notes": [*part.access, *(["outdoors"] if part.outdoors else [])],
        "wait": part.wait_min,
    }  # fmt: skip
