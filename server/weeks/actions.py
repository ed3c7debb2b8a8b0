"""Named actions on weeks: wish, plan, stop, agree; the week document that the core plans."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, time, timedelta
from typing import Any
from uuid import UUID

from accounts.models import Company, User
from django.db import transaction
from django.utils import timezone
from installs.models import Install, Shelf
from leitung_core.errors import InputError, Problem
from leitung_core.validation import read
from leitung_core.week.document import Week, minutes, read_week
from leitung_core.week.measure import Put
from leitung_core.week.plan import Planned, plan_week
from leitung_core.week.why import why
from leitung_core.worklist.as_week import Bounds, between, parts, week_tasks, without_window
from problems import Refused, not_found
from records.actions import begin
from records.work import WorkOut, history, tasks_of

from weeks.models import CrewWeek
from weeks.wishes import Wishes

Status = CrewWeek.Status
LIMIT_S = 20.0
STALLED = timedelta(seconds=90)  # without a sign from the worker: it has died
GRID_MIN = 5
MOST_CHOICES = 100


def monday_of(day: date) -> date:
    """The Monday of a day's week."""
    return day - timedelta(days=day.weekday())


def find(user: User, monday: date) -> CrewWeek:
    """The week of this person's company; one that nobody has touched yet is not kept."""
    if monday != monday_of(monday):
        raise InputError(Problem("monday", monday.isoformat(), "is no Monday", f"Give {monday_of(monday)}."))
    found = CrewWeek.objects.filter(company_id=user.company_id, monday=monday).first()
    return found or CrewWeek(company_id=user.company_id, monday=monday, wishes=_as_before(user.company, monday))


def _as_before(company: Company, monday: date) -> dict[str, Any]:
    """A new week begins with the crew and the sites of the last one; nobody is away, nothing is held or awaited."""
    last = CrewWeek.objects.filter(company=company, monday__lt=monday).order_by("-monday").first()
    if last is None:
        return {}
    known = read(Wishes, last.wishes)
    people = [hand.model_copy(update={"off": []}) for hand in known.people]
    sites = [site.model_copy(update={"material": None}) for site in known.sites]
    fresh = known.model_copy(update={"people": people, "sites": sites, "held": [], "wet": []})
    return fresh.model_dump(mode="json", by_alias=True)


@transaction.atomic
def wish(user: User, monday: date, base_revision: int, wishes: Wishes) -> CrewWeek:
    """Keep what is wished of a week. Refused where somebody else changed it meanwhile."""
    found = find(user, monday)
    if found._state.adding:
        CrewWeek.objects.bulk_create([found], ignore_conflicts=True)
    found = CrewWeek.objects.select_for_update().get(company_id=user.company_id, monday=monday)
    if found.revision != base_revision:
        raise Refused(
            409, "week-changed", "Somebody else changed this week meanwhile. Look at it, then change it again."
        )
    _known(user, found, wishes)
    found.wishes = wishes.model_dump(mode="json", by_alias=True)
    found.revision += 1
    found.save()
    return found


def _known(user: User, week: CrewWeek, wishes: Wishes) -> None:
    """People once each; installs of this company that are at hand; days of this week."""
    problems = []
    ids = [hand.id for hand in wishes.people]
    problems += [Problem("people", one, "stands twice", "Give each its own.") for one in set(ids) if ids.count(one) > 1]
    mine = set(
        Install.objects.filter(company_id=user.company_id).exclude(shelf=Shelf.DELETED).values_list("id", flat=True)
    )
    problems += [Problem("sites", str(site.install), "is no install here", "Choose one of the board.")
                 for site in wishes.sites if site.install not in mine]  # fmt: skip
    days = set(days_of(week.monday, wishes))
    for hand in wishes.people:
        problems += [Problem(f"people.{hand.id}.off", str(off.day), "is no day of this week", "Name one that is.")
                     for off in hand.off if off.day not in days]  # fmt: skip
    for field, day in (
        *(("wet", day) for day in wishes.wet),
        *((f"sites.{site.install}.material", site.material.day) for site in wishes.sites if site.material),
    ):
        if day not in days:
            problems.append(Problem(field, str(day), "is no day of this week", "Name one that is."))
    if wishes.to <= wishes.from_:
        problems.append(Problem("to", f"{wishes.to:%H:%M}", "is not after the day's start", "Give an end after it."))
    if problems:
        raise InputError(*problems[:20])


def choices(user: User, wishes: Wishes) -> list[Install]:
    """The installs that are at hand and are not in the week yet."""
    there = [site.install for site in wishes.sites]
    rows = Install.objects.filter(company_id=user.company_id, shelf=Shelf.OPEN).exclude(id__in=there)
    return list(rows.order_by("name")[:MOST_CHOICES])


def wishes_of(found: CrewWeek) -> Wishes:
    """What is wished of a week; an install that has been deleted since is in it no more."""
    wishes = read(Wishes, found.wishes)
    at_hand = Install.objects.filter(company_id=found.company_id).exclude(shelf=Shelf.DELETED)
    there = set(at_hand.filter(id__in=[site.install for site in wishes.sites]).values_list("id", flat=True))
    return wishes.model_copy(update={"sites": [site for site in wishes.sites if site.install in there]})


def days_of(monday: date, wishes: Wishes) -> list[date]:
    """The days on which is worked."""
    return [monday + timedelta(days=number) for number in range(wishes.days)]


def site_key(install: UUID) -> str:
    """A site of the week document, by its install."""
    return install.hex[:12]


@dataclass(frozen=True)
class Laid:
    """A week as it is planned: its document, None where nothing is to be done; names; what cannot be done in it."""

    week: Week | None
    named: dict[str, str]
    tasks: dict[str, WorkOut]
    sites: dict[str, Install]
    outside: list[str]
    stops: dict[str, int]


def laid(user: User, found: CrewWeek) -> Laid:
    """The week document of what is wished, by the installs as they stand now."""
    wishes = wishes_of(found)
    days = days_of(found.monday, wishes)
    installs = {site_key(site.install): begin(user, site.install, lock=False) for site in wishes.sites}
    known = history(found.company)
    tasks = {site: tasks_of(recording, known) for site, recording in installs.items()}
    done = {site: [task.key for task in mine if task.state == "done"] for site, mine in tasks.items()}
    rows = list(week_tasks(tasks, done, _bounds(wishes, days)))
    outside = without_window(rows)
    rows = _without(rows, outside)
    named = {hand.id: hand.name for hand in wishes.people}
    named |= {site: recording.install.name for site, recording in installs.items()}
    by_part: dict[str, WorkOut] = {}
    for site, mine in tasks.items():
        for task in mine:
            pieces = parts(task)
            for number, (key, _) in enumerate(pieces):
                by_part[f"{site}.{key}"] = task
                count = f", part {number + 1} of {len(pieces)}" if len(pieces) > 1 else ""
                named[f"{site}.{key}"] = f"{task.text}{count}"
    stops = {site: len(recording.brief.stops) for site, recording in installs.items()}
    sites = {site: recording.install for site, recording in installs.items()}
    if not rows or not wishes.people:
        return Laid(None, named, by_part, sites, outside, stops)
    there = {row["id"] for row in rows}
    document = {
        "days": [day.isoformat() for day in days], "from": f"{wishes.from_:%H:%M}", "to": f"{wishes.to:%H:%M}",
        "people": [hand.model_dump(mode="json", by_alias=True, exclude={"name"}) for hand in wishes.people],
        "travel_min": between({site_key(site.install): site.way_min for site in wishes.sites}),
        **({"vehicles": wishes.vehicles} if wishes.vehicles else {}),
        "tasks": rows,
        "held": [
            one.model_dump(mode="json", by_alias=True, exclude_none=True) for one in wishes.held if one.task in there
        ],
        **_standing(found, days, there, {hand.id for hand in wishes.people}),
    }  # fmt: skip
    return Laid(read_week(document), named, by_part, sites, outside, stops)


def _bounds(wishes: Wishes, days: list[date]) -> Bounds:
    material = {site_key(site.install): (site.material.day.isoformat(), f"{site.material.at:%H:%M}")
                for site in wishes.sites if site.material}  # fmt: skip
    return Bounds(days=[day.isoformat() for day in days], from_=f"{wishes.from_:%H:%M}", to=f"{wishes.to:%H:%M}",
                  wet=[day.isoformat() for day in wishes.wet], material=material)  # fmt: skip


def _without(rows: list[dict[str, Any]], outside: list[str]) -> list[dict[str, Any]]:
    """What cannot be done in a week, and what comes after it, is not in it."""
    out = set(outside)
    while True:
        more = {row["id"] for row in rows if row["id"] not in out and any(one["task"] in out for one in row["after"])}
        if not more:
            outside[:] = [row["id"] for row in rows if row["id"] in out]
            return [row for row in rows if row["id"] not in out]
        out |= more


def _standing(found: CrewWeek, days: list[date], there: set[str], people: set[str]) -> dict[str, Any]:
    """The plan that the crew goes by, and how far the week has come."""
    rows = [row for row in found.agreed or [] if row["task"] in there and people.issuperset(row["people"])]
    if not rows:
        return {}
    kept = [{"task": row["task"], "day": row["day"], "from": row["from"], "people": row["people"]} for row in rows]
    now = timezone.localtime()
    if not days[0] <= now.date() <= days[-1]:
        return {"standing": kept}
    minute = (now.hour * 60 + now.minute) // GRID_MIN * GRID_MIN
    return {"standing": kept, "now": {"day": now.date().isoformat(), "at": f"{minute // 60:02d}:{minute % 60:02d}"}}


@transaction.atomic
def ask(user: User, monday: date) -> CrewWeek:
    """Plan a week: the worker takes it up. Refused where there is nothing to plan."""
    from weeks.tasks import carry_out as task

    found = CrewWeek.objects.select_for_update().filter(company_id=user.company_id, monday=monday).first()
    if found is None or laid(user, found).week is None:
        raise Refused(422, "nothing-to-plan", "Nothing can be planned yet: name the people and the installs first.")
    busy = found.status in (Status.QUEUED, Status.RUNNING) and not stalled(found)
    if busy and found.found_for == found.revision:
        return found
    found.status, found.share, found.stop, found.why = Status.QUEUED, 0, False, ""
    found.save()
    task.defer(week=str(found.id), person=str(user.id), revision=found.revision)
    return found


def stalled(found: CrewWeek) -> bool:
    """Whether nothing has been heard of its search for too long."""
    return timezone.now() - found.touched > STALLED


def stop(user: User, monday: date) -> CrewWeek:
    """End a search; the best plan so far is kept."""
    found = CrewWeek.objects.filter(company_id=user.company_id, monday=monday).first()
    if found is None:
        raise not_found()
    CrewWeek.objects.filter(id=found.id, status__in=(Status.QUEUED, Status.RUNNING)).update(stop=True)
    if found.status == Status.QUEUED or stalled(found):
        CrewWeek.objects.filter(id=found.id).update(status=Status.DONE if found.found else Status.NONE)
    found.refresh_from_db()
    return found


def carry_out(week_id: UUID, user: User, revision: int) -> None:
    """Look for the best plan of a week; each better one is kept at once. Wishes changed meanwhile end it."""
    mine = CrewWeek.objects.filter(id=week_id, revision=revision)
    if not mine.filter(status=Status.QUEUED).update(status=Status.RUNNING, touched=timezone.now()):
        return
    found = CrewWeek.objects.get(id=week_id)
    week = laid(user, found).week
    if week is None:
        mine.update(status=Status.DONE, found=None)
        return

    def better(planned: Planned, share: float) -> None:
        mine.update(found=kept(planned), found_for=revision, share=share, touched=timezone.now())

    def told_to_stop() -> bool:
        # A sign of life too: the search itself may find nothing better for long.
        return not mine.filter(status=Status.RUNNING, stop=False).update(touched=timezone.now())

    planned = plan_week(week, LIMIT_S, better, told_to_stop)
    mine.filter(status=Status.RUNNING).update(
        status=Status.DONE, share=1, found=kept(planned), found_for=revision, touched=timezone.now()
    )


def kept(planned: Planned) -> dict[str, Any]:
    """A plan as it is kept."""
    return planned.model_dump(mode="json", by_alias=True)


def fail(week_id: UUID, says: str) -> None:
    """Mark a search that broke off, and keep why."""
    CrewWeek.objects.filter(id=week_id).update(status=Status.FAILED, why=says[:300], touched=timezone.now())


@transaction.atomic
def agree(user: User, monday: date) -> CrewWeek:
    """The crew goes by the plan that was found. Refused where it is not one of the wishes as they stand."""
    found = CrewWeek.objects.select_for_update().filter(company_id=user.company_id, monday=monday).first()
    if found is None:
        raise not_found()
    if not found.found or found.found_for != found.revision or not found.found["assignments"]:
        raise Refused(409, "no-plan", "There is no plan of these wishes yet. Plan the week first.")
    found.agreed, found.agreed_at = found.found["assignments"], timezone.now()
    found.save()
    return found


def puts_of(rows: list[dict[str, Any]]) -> list[Put]:
    """Assignments as they are kept."""
    return [Put(row["task"], tuple(row["people"]), date.fromisoformat(row["day"]), _minute(row["from"]),
                _minute(row["to"])) for row in rows]  # fmt: skip


def _minute(clock: str) -> int:
    return minutes(time.fromisoformat(clock))


def reasons(given: Laid, rows: list[dict[str, Any]]) -> dict[str, list[str]]:
    """Why each task stands where it stands."""
    if given.week is None:
        return {}
    known = {task.id for task in given.week.tasks}
    return why(given.week, [put for put in puts_of(rows) if put.task in known], lambda one: given.named.get(one, one))
