"""What a reader sees: the record, the sheet of one line or device, the customer's page. Nothing beside it."""

from __future__ import annotations

from datetime import date, timedelta
from functools import lru_cache
from typing import Any
from uuid import UUID

from documents.drawings import draw_lines
from documents.record import figures
from icalendar import Calendar, Event
from installs import actions
from installs.actions import Checked
from installs.models import Install
from leitung_core.cautions import QUALIFIED
from leitung_core.commissioning.lockout import lock_out_of_line
from leitung_core.control.system import systems_of
from leitung_core.handed.customer import Interval, Sign, installed, intervals, signs
from leitung_core.plant.fed import fed_from
from leitung_core.plant.lines import device_of
from leitung_core.plant.plant import Plant
from leitung_core.units import in_a_row, say
from links.models import ReaderLink
from records.actions import Recording
from records.models import Signature
from records.out import RecordOut, record_out

WIDTH_PX = 900
Scope = ReaderLink.Scope


def page(link: ReaderLink, about: str, printed: int | None) -> tuple[str, dict[str, Any]]:
    """The template of a link's page, and what stands in it. printed: the revision on the label that led here."""
    found = actions.checked(link.install)
    head = {
        "install": link.install, "company": link.company.name, "qualified": QUALIFIED, "about": about,
        "printed": printed if printed is not None and printed != link.install.revision else None,
    }  # fmt: skip
    if link.scope == Scope.CUSTOMER:
        return "readers/customer.html", head | customer(link, found)
    if link.scope == Scope.RECORD:
        return "readers/record.html", head | _record(found)
    if link.scope == Scope.DEVICE:
        return "readers/device.html", head | _device(found, about)
    return "readers/line.html", head | _line(found, about)


def sheet_of_link(link: ReaderLink, about: str) -> tuple[str, str] | None:
    """The kind of the printed sheet behind a link, and of what."""
    return {
        Scope.RECORD: ("record", ""), Scope.DEVICE: ("landings", f"device:{about}"),
        Scope.LINE: ("line", about), Scope.LABELS: ("line", about),
    }.get(Scope(link.scope))  # fmt: skip


def _record_of(found: Checked) -> RecordOut:
    return record_out(Recording(found.install, found.revision.brief))


def _record(found: Checked) -> dict[str, Any]:
    record = _record_of(found)
    read = [point for point in record.readings if point.entries]
    return {
        "site": found.plan.site,
        "edition": found.result.edition,
        "done": sum(step.done for step in record.steps),
        "steps": len(record.steps),
        "read": len(read),
        "points": len(record.readings),
        "outside": [point for point in read if point.entries[-1].verdict == "outside"],
        "passed": sum(test.outcome == "passed" for test in record.tests),
        "tests": len(record.tests),
        "stops": record.stops,
        "items": [item for item in record.open_items if item.closed_at is None],
        "signatures": record.signatures,
    }


def _line(found: Checked, key: str) -> dict[str, Any]:
    circuit = found.plan.circuits.get(key)
    if circuit is None:
        return {"gone": True}
    plant = Plant(found.plan)
    source, unit = found.plan.sources.get(circuit.source or ""), found.plan.equipment.get(circuit.equipment or "")
    device = device_of(circuit, source)
    record = _record_of(found)
    mine = [point for point in record.readings if point.about == f"circuits/{key}" and point.entries]
    return {
        "name": circuit.name or (unit and unit.name) or "",
        "place": unit.place if unit else "",
        "fed": fed_from(found.plan, circuit) or "not known",
        "device": f"{say(device.rating_a)} A {device.type or 'device'}" if device and device.rating_a else "not known",
        "svg": _drawings(found.install.id, found.install.revision).get(key, ""),
        "figures": figures(found.result.circuits.get(key)),
        "findings": [row for row in found.result.on_line(key) if row.severity != "note"],
        "lock_out": lock_out_of_line(plant, key),
        "readings": [(point, point.entries[-1]) for point in mine],
    }  # fmt: skip


@lru_cache(maxsize=32)
def _drawings(install_id: UUID, revision: int) -> dict[str, str]:
    """The lines of a revision, drawn once for all who look."""
    found = actions.earlier(Install.objects.get(id=install_id), revision)
    return draw_lines(found, WIDTH_PX)


def _device(found: Checked, key: str) -> dict[str, Any]:
    device = found.plan.devices.get(key)
    view = found.result.wiring.devices.get(key)
    if device is None or view is None:
        return {"gone": True}
    return {"name": device.name or key, "place": device.place or "", "view": view}


@lru_cache(maxsize=32)
def _signs(install_id: UUID, revision: int) -> list[Sign]:
    found = actions.earlier(Install.objects.get(id=install_id), revision)
    return list(signs(systems_of(Plant(found.plan))))


def customer(link: ReaderLink, found: Checked) -> dict[str, Any]:
    """What the customer's page says."""
    since = _handed_over(found.install)
    rows = intervals(found.plan, Plant(found.plan))
    return {
        "units": installed(found.plan),
        "signs": _by_system(_signs(found.install.id, found.install.revision)),
        "dates": [{"interval": row, "first": _later(since, row.months)} for row in rows],
        "since": since,
        "warranty": link.warranty_until,
        "site": found.plan.site,
    }


def _by_system(rows: list[Sign]) -> list[tuple[str, list[Sign]]]:
    found: dict[str, list[Sign]] = {}
    for row in rows:
        found.setdefault(row.of, []).append(row)
    return list(found.items())


def _handed_over(install: Install) -> date | None:
    """The day on which it was first signed: from it dates are counted."""
    first = Signature.objects.filter(install=install).order_by("at").first()
    return first.at.date() if first else None


def _later(since: date | None, months: int) -> date | None:
    if since is None:
        return None
    year, month = divmod(since.month - 1 + months, 12)
    last = (date(since.year + year + (month == 11), (month + 1) % 12 + 1, 1) - timedelta(days=1)).day
    return date(since.year + year, month + 1, min(since.day, last))


def dates(link: ReaderLink) -> bytes:
    """The customer's dates as a calendar file; what is not counted yet is not in it."""
    found = actions.checked(link.install)
    told = customer(link, found)
    calendar = Calendar()
    calendar.add("prodid", "-//Leitung//customer//EN")
    calendar.add("version", "2.0")
    for number, row in enumerate(told["dates"]):
        if row["first"]:
            interval: Interval = row["interval"]
            event = _event(link, f"{number}", row["first"], f"{interval.what}: {in_a_row(interval.of)}")
            event.add("rrule", {"freq": "monthly", "interval": interval.months})
            calendar.add_component(event)
    if link.warranty_until:
        calendar.add_component(_event(link, "warranty", link.warranty_until, "The warranty ends"))
    return bytes(calendar.to_ical())


def _event(link: ReaderLink, name: str, day: date, says: str) -> Event:
    event = Event()
    event.add("uid", f"{link.id}/{name}@leitung")
    event.add("dtstamp", link.at)
    event.add("dtstart", day)
    event.add("summary", says)
    event.add("location", link.install.site)
    return event
