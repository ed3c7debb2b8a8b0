"""A day as people write it. Slashed dates are month first in US units, day first in metric ones."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date

from leitung_core.entry.numbers import Units

MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
NEAR_YEARS = 20
REMEDY = "Write it as 2026-11-25 or Nov 25, 2026."


@dataclass(frozen=True)
class Day:
    """A day; `meant` where another is more likely, with the question that asks for it."""

    day: date
    meant: date | None = None
    asks: str = ""


def read_date(text: str, units: Units, today: date | None = None) -> Day:
    """The day that the whole text is. Raises ValueError(message, remedy) where it is none."""
    now = today or date.today()
    plain = re.sub(r"(?<=\d)(st|nd|rd|th)\b", "", text.casefold()).replace(",", " ")
    plain = re.sub(r"\s+", " ", plain).strip()
    if plain == "today":
        return Day(now)
    found = _iso(plain) or _named(plain, now) or _figures(plain, units)
    if found is None:
        raise ValueError("is no date", REMEDY)
    if found.meant is None and abs(found.day.year - now.year) > NEAR_YEARS:
        likely = _made(found.day.year % 100, found.day.month, found.day.day)
        near = likely if likely is not None and abs(likely.year - now.year) <= NEAR_YEARS else None
        return Day(found.day, near, f"{found.day.isoformat()}? That is more than {NEAR_YEARS} years from now.")
    return found


def _made(year: int, month: int, day: int) -> date | None:
    try:
        return date(year + 2000 if year < 100 else year, month, day)
    except ValueError:
        return None


def _iso(text: str) -> Day | None:
    match = re.fullmatch(r"(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})", text)
    found = _made(*map(int, match.groups())) if match else None
    return Day(found) if found else None


def _named(text: str, now: date) -> Day | None:
    names = "|".join(MONTHS)
    first = re.fullmatch(rf"({names})[a-z]*\.? (\d{{1,2}})(?: (\d{{4}}|\d{{2}}))?", text)
    last = re.fullmatch(rf"(\d{{1,2}})\.? ({names})[a-z]*\.?(?: (\d{{4}}|\d{{2}}))?", text)
    if not first and not last:
        return None
    month, day, year = (first[1], first[2], first[3]) if first else (last[2], last[1], last[3])  # type: ignore[index]
    found = _made(int(year) if year else now.year, MONTHS.index(month) + 1, int(day))
    return Day(found) if found else None


def _figures(text: str, units: Units) -> Day | None:
    match = re.fullmatch(r"(\d{1,2})([-/.])(\d{1,2})\2(\d{4}|\d{2})", text)
    if not match:
        return None
    one, two, year = int(match[1]), int(match[3]), int(match[4])
    # A dotted date is day first wherever it is written.
    month_first = units == "us" and match[2] != "."
    month, day = (one, two) if month_first else (two, one)
    found = _made(year, month, day)
    if found is not None:
        return Day(found)
    other = _made(year, day, month)
    return Day(other, other, f"{other.isoformat()}? Here it would be read the other way round.") if other else None
