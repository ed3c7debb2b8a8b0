"""A week as a calendar file (RFC 5545), out and back: moved elsewhere, a task is held where it was put.

Times are those of the place, without a zone: seven in the morning is seven wherever the site is.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time
from typing import Any

from icalendar import Calendar, Event
from leitung_core.errors import InputError, Problem
from leitung_core.validation import read
from leitung_core.week.document import DaySpan

from weeks.out import WeekOut, WeekPart
from weeks.wishes import HeldTask, Wishes

MOST_BYTES = 500_000
MOST_EVENTS = 2000
OURS = "@leitung"
PERSON = "X-LEITUNG-PERSON"


def calendar(week: WeekOut, hand: str | None) -> bytes:
    """Every part of the plan as an event for each of its people, or for one of them."""
    found = Calendar()
    found.add("prodid", "-//Leitung//week//EN")
    found.add("version", "2.0")
    names = {one.id: one.name for one in week.wishes.people}
    sites = {site.id: site.name for site in week.sites}
    stamp = datetime.combine(week.monday, time(0), UTC)
    for part in week.parts:
        for person in part.people:
            if hand in (None, person):
                found.add_component(_event(week, part, person, names, sites, stamp))
    return bytes(found.to_ical())


def _event(
    week: WeekOut, part: WeekPart, person: str, names: dict[str, str], sites: dict[str, str], stamp: datetime
) -> Event:
    event = Event()
    event.add("uid", f"{week.monday.isoformat()}/{part.id}/{person}{OURS}")
    event.add("dtstamp", stamp)
    event.add("sequence", week.revision)
    event.add("dtstart", _at(part.day, part.from_))
    event.add("dtend", _at(part.day, part.to))
    event.add("summary", part.text)
    event.add("location", sites.get(part.site, ""))
    event.add(PERSON, person)
    others = [names.get(one, one) for one in part.people if one != person]
    event.add("description", f"With {', '.join(others)}." if others else "Alone.")
    return event


def _at(day: str, clock: str) -> datetime:
    return datetime.fromisoformat(f"{day}T{clock}:00")


@dataclass
class Back:
    """Wishes with what a calendar brought, and how much that was."""

    wishes: Wishes
    held: int = 0
    off: int = 0
    unread: list[str] = field(default_factory=list)


def brought_back(text: str, week: WeekOut) -> Back:
    """What a calendar says otherwise than the plan. Raises InputError where it is no calendar."""
    try:
        events = list(Calendar.from_ical(text).walk("VEVENT"))
    except (ValueError, IndexError, KeyError, TypeError) as error:
        raise InputError(
            Problem("ics", text[:40], "is no calendar that can be read", "Give a file in iCalendar format.")
        ) from error
    if len(events) > MOST_EVENTS:
        raise InputError(Problem("ics", str(len(events)), f"has more than {MOST_EVENTS} events", "Give one week's."))
    found = Back(week.wishes)
    parts = {part.id: part for part in week.parts}
    held = {one.task: one for one in week.wishes.held}
    away: dict[str, list[DaySpan]] = {one.id: list(one.off) for one in week.wishes.people}
    days = set(week.days)
    for event in events:
        _take(event, week.monday, parts, held, away, days, found)
    people = [one.model_copy(update={"off": away[one.id][:40]}) for one in week.wishes.people]
    changed = week.wishes.model_copy(update={"held": list(held.values()), "people": people})
    found.wishes = read(Wishes, changed.model_dump(mode="json", by_alias=True))
    return found


def _take(
    event: Any, monday: date, parts: dict[str, WeekPart], held: dict[str, HeldTask], away: dict[str, list[DaySpan]],
    days: set[date], found: Back,
) -> None:  # fmt: skip
    title = str(event.get("SUMMARY", "an event"))[:60]
    try:
        begin, end = event.decoded("DTSTART"), event.decoded("DTEND")
    except (KeyError, ValueError):
        found.unread.append(f"{title}: no begin or no end")
        return
    if not isinstance(begin, datetime) or not isinstance(end, datetime) or begin.date() != end.date():
        found.unread.append(f"{title}: not within a day")
        return
    if begin.date() not in days or end <= begin:
        found.unread.append(f"{title}: not in this week")
        return
    uid = str(event.get("UID", ""))
    if uid.endswith(OURS):
        week, _, rest = uid.removesuffix(OURS).partition("/")
        part = parts.get(rest.rpartition("/")[0])
        if week != monday.isoformat() or part is None:
            found.unread.append(f"{title}: no task of this plan")
        elif (begin.date().isoformat(), f"{begin:%H:%M}") != (part.day, part.from_):
            found.held += part.id not in held or (held[part.id].day, held[part.id].from_) != (
                begin.date(),
                begin.time(),
            )
            held[part.id] = HeldTask.model_validate({"task": part.id, "day": begin.date(), "from": f"{begin:%H:%M}"})
        return
    person = str(event.get(PERSON, "")) or _attendee(event, away)
    if person not in away:
        found.unread.append(f"{title}: of nobody in this crew")
        return
    span = DaySpan.model_validate({"day": begin.date(), "from": f"{begin:%H:%M}", "to": f"{end:%H:%M}"})
    if span not in away[person]:
        away[person].append(span)
        found.off += 1


def _attendee(event: Any, people: dict[str, list[DaySpan]]) -> str:
    """Whose event it is, where only one of the crew is named in its title, as `odo: dentist`."""
    who = str(event.get("SUMMARY", "")).partition(":")[0].strip().casefold()
    return next((one for one in people if one.casefold() == who), "")
