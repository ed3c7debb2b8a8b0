"""The crew's week: wished, planned by the worker, held, agreed; as a calendar out and back; of one company alone."""

from __future__ import annotations

import io
from datetime import date
from typing import Any
from uuid import UUID

import pytest
from accounts.models import User
from django.core.management import call_command
from django.db import connection
from icalendar import Calendar, Event
from installs import actions as installs
from leitung_demo import kiosk
from procrastinate.contrib.django.models import ProcrastinateJob
from pypdf import PdfReader
from records.models import WorkEntry
from weeks import actions
from weeks.models import CrewWeek

from tests.server.conftest import Api

pytestmark = pytest.mark.django_db
WEEK = "/api/weeks/2026-12-07"
MONDAY = date(2026, 12, 7)
ODO = {"id": "odo", "name": "Odo Brisk", "skills": ["licensed", "installer"]}
WYN = {"id": "wyn", "name": "Wyn Lune", "skills": ["installer", "apprentice"]}


@pytest.fixture(autouse=True)
def soon(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(actions, "LIMIT_S", 15.0)


def wishes(install: str, **more: Any) -> dict[str, Any]:
    return {"people": [ODO, WYN], "sites": [{"install": install, "way_min": 30}], **more}


def planned(api: Api, lead: User) -> dict[str, Any]:
    """Asked for, and carried out as the worker does."""
    asked = api.post(f"{WEEK}/plans", {})
    assert (asked.status_code, asked.json()["status"]) == (200, "queued")
    week = CrewWeek.objects.get()
    actions.carry_out(week.id, lead, week.revision)
    found: dict[str, Any] = api.get(WEEK).json()
    assert (found["status"], found["stale"]) == ("done", False)
    return found


def part(week: dict[str, Any], key: str) -> dict[str, Any]:
    return next(row for row in week["parts"] if row["key"] == key)


def test_a_week_from_nothing_to_what_the_crew_goes_by(api: Api, lead: User, install: str) -> None:
    """The kiosk's line with its unit: one visit of each does it, and every task says why it stands where it stands."""
    empty = api.get(WEEK).json()
    assert (empty["revision"], empty["parts"], [one["name"] for one in empty["choices"]]) == (0, [], ["Ticket kiosk"])
    assert api.post(f"{WEEK}/plans", {}).status_code == 422
    assert CrewWeek.objects.count() == 0, "looking at a week keeps nothing"
    wished = api.post(f"{WEEK}/wishes", {"base_revision": 0, "wishes": wishes(install)}).json()
    assert (wished["revision"], wished["waiting"] > 3, wished["choices"]) == (1, True, [])
    week = planned(api, lead)
    assert (week["visits"], week["least_visits"], week["waiting"], week["conflict"]) == (2, 2, 0, [])
    rough, land = part(week, "rough-MS-1"), part(week, "land-MS-1")
    assert (rough["day"], rough["from"], rough["people"]) == ("2026-12-07", "07:30", ["odo", "wyn"])
    assert "Odo Brisk is there no earlier: 07:00 and 30 min on the way." in rough["why"]
    assert land["from"] >= rough["to"]
    # Done is done: it is in the week no more.
    api.post(f"/api/installs/{install}/work", {"key": "rough-MS-1", "state": "done"})
    assert not any(row["key"].startswith("rough") for row in planned(api, lead)["parts"])
    assert api.post(f"{WEEK}/agreements", {}).json()["agreed"] is True
    # Put to Thursday by hand, it stays there, and the rest moves no more than it must.
    held = {"task": part(api.get(WEEK).json(), "leave-site")["id"], "day": "2026-12-10", "from": "09:00"}
    late = api.post(f"{WEEK}/wishes", {"base_revision": 1, "wishes": wishes(install, held=[held])}).json()
    assert (late["stale"], late["agreed"]) == (True, True)
    assert api.post(f"{WEEK}/agreements", {}).status_code == 409
    moved = planned(api, lead)
    left = part(moved, "leave-site")
    assert (left["day"], left["from"], left["held"], left["moved"]) == ("2026-12-10", "09:00", True, True)
    assert moved["agreed_moves"] == 1
    assert left["why"][0].startswith("Somebody put it here")


def test_what_cannot_all_be_had_is_said_in_words(api: Api, lead: User, install: str) -> None:
    task = next(row for row in api.get(f"/api/installs/{install}/work").json()["tasks"] if row["kind"] == "rough")
    held = {"task": f"{UUID(install).hex[:12]}.{task['key']}", "day": "2026-12-07", "from": "07:05"}
    api.post(f"{WEEK}/wishes", {"base_revision": 0, "wishes": wishes(install, held=[held])})
    week = planned(api, lead)
    assert week["parts"] == []
    assert week["conflict"] == [f"Ticket kiosk: {task['text']}", "the hours of the day", "the way there",
                                "what was put somewhere"]  # fmt: skip


def test_a_new_week_begins_with_the_crew_of_the_last(api: Api, install: str) -> None:
    off = [{"day": "2026-12-08", "from": "12:00", "to": "16:00"}]
    people = [ODO | {"off": off}, WYN]
    api.post(f"{WEEK}/wishes", {"base_revision": 0, "wishes": wishes(install, people=people)})
    later = api.get("/api/weeks/2026-12-14").json()
    assert [(one["name"], one["off"]) for one in later["wishes"]["people"]] == [("Odo Brisk", []), ("Wyn Lune", [])]
    assert (later["revision"], [site["name"] for site in later["sites"]]) == (0, ["Ticket kiosk"])


def test_weather_material_and_vehicles_bind_the_week(api: Api, lead: User, install: str) -> None:
    """Material on Tuesday at ten, the day after wet: what is mounted outdoors lies between, whoever drives."""
    material = {"day": "2026-12-08", "at": "10:00"}
    wished = wishes(install, wet=["2026-12-09", "2026-12-10", "2026-12-11"], vehicles=1)
    wished["sites"][0]["material"] = material
    asked = api.post(f"{WEEK}/wishes", {"base_revision": 0, "wishes": wished}).json()
    assert (asked["sites"][0]["material"], asked["sites"][0]["stops"]) == ({"day": "2026-12-08", "at": "10:00:00"}, 0)
    week = planned(api, lead)
    rough = part(week, "rough-MS-1")
    assert (rough["day"], rough["from"], rough["outdoors"]) == ("2026-12-08", "10:00", True)
    wished["wet"] += ["2026-12-08"]
    soaked = api.post(f"{WEEK}/wishes", {"base_revision": 1, "wishes": wished}).json()
    assert rough["id"] in {one["id"] for one in soaked["open"]}
    later = api.get("/api/weeks/2026-12-14").json()["wishes"]
    assert (later["wet"], later["sites"][0].get("material"), later["vehicles"]) == ([], None, 1)


def test_an_install_that_was_deleted_is_in_the_week_no_more(api: Api, install: str, lead: User) -> None:
    api.post(f"{WEEK}/wishes", {"base_revision": 0, "wishes": wishes(install)})
    assert planned(api, lead)["parts"]
    api.post(f"/api/installs/{install}/shelf", {"shelf": "deleted"})
    week = api.get(WEEK).json()
    assert (week["sites"], week["wishes"]["sites"], week["parts"]) == ([], [], [])
    assert api.post(f"{WEEK}/wishes", {"base_revision": 1, "wishes": week["wishes"]}).status_code == 200


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"people": [ODO, ODO]}, "people"), ({"people": [ODO | {"skills": ["welder"]}]}, "people.0.skills.0"),
        ({"people": [ODO | {"off": [{"day": "2026-12-20", "from": "12:00", "to": "16:00"}]}]}, "people.odo.off"),
        ({"wet": ["2026-12-20"]}, "wet"), ({"vehicles": 0}, "vehicles"),
        ({"from": "16:00", "to": "07:00"}, "to"), ({"days": 0}, "days"),
        ({"sites": [{"install": "11111111-1111-4111-8111-111111111111"}]}, "sites"),
        ({"sites": [{"install": "here"}]}, "sites.0.install"), ({"crane": True}, "crane"),
    ],
)  # fmt: skip
def test_what_cannot_be_meant_is_refused_by_its_field(api: Api, install: str, more: dict[str, Any], field: str) -> None:
    answer = api.post(f"{WEEK}/wishes", {"base_revision": 0, "wishes": wishes(install, **more)})
    assert (answer.status_code, [row["field"] for row in answer.json()["errors"]]) == (422, [field])
    assert api.get("/api/weeks/2026-12-08").status_code == 422, "no Monday"


def test_weeks_are_those_of_the_own_company(api: Api, install: str, lead: User, stranger: User, crew: User) -> None:
    api.post(f"{WEEK}/wishes", {"base_revision": 0, "wishes": wishes(install)})
    other = Api(stranger)
    assert other.get(WEEK).json()["wishes"]["people"] == []
    assert other.post(f"{WEEK}/wishes", {"base_revision": 0, "wishes": wishes(install)}).status_code == 422
    for end in ("stops", "agreements"):
        assert other.post(f"{WEEK}/{end}", {}).status_code == 404
    # Two who change it at once: the second is told, and nothing is lost.
    stale = api.post(f"{WEEK}/wishes", {"base_revision": 0, "wishes": wishes(install, people=[])})
    assert (stale.status_code, stale.json()["code"]) == (409, "week-changed")
    assert len(api.get(WEEK).json()["wishes"]["people"]) == 2
    # The crew sees its week, and does not plan it.
    assert Api(crew).get(WEEK).status_code == 200
    assert Api(crew).post(f"{WEEK}/plans", {}).status_code == 403


def test_a_calendar_goes_out_and_comes_back(api: Api, lead: User, install: str) -> None:
    api.post(f"{WEEK}/wishes", {"base_revision": 0, "wishes": wishes(install)})
    week = planned(api, lead)
    mine = Calendar.from_ical(api.get(f"{WEEK}/calendar.ics?hand=wyn").content)
    events = {str(event["UID"]): event for event in mine.walk("VEVENT")}
    assert len(events) == sum("wyn" in row["people"] for row in week["parts"])
    assert api.get(f"{WEEK}/calendar.ics?hand=nobody").status_code == 422
    # Unchanged it brings nothing.
    whole = api.get(f"{WEEK}/calendar.ics").content.decode()
    same = api.post(f"{WEEK}/calendars", {"base_revision": 1, "ics": whole}).json()
    assert (same["held"], same["off"], same["unread"]) == (0, 0, [])
    # Elsewhere an event was moved by an hour, and a course was put in.
    land = part(week, "land-MS-1")
    event = next(one for uid, one in events_of(whole) if land["id"] in uid)
    event["DTSTART"].dt = event["DTSTART"].dt.replace(day=9, hour=10, minute=0)
    event["DTEND"].dt = event["DTEND"].dt.replace(day=9, hour=11, minute=0)
    course = Event()
    course.add("uid", "x")
    course.add("summary", "Odo: course")
    course.add("dtstart", event["DTSTART"].dt.replace(day=10, hour=8))
    course.add("dtend", event["DTSTART"].dt.replace(day=10, hour=12))
    back = Calendar()
    for one in (event, course):
        back.add_component(one)
    body = {"base_revision": 2, "ics": back.to_ical().decode()}
    brought = api.post(f"{WEEK}/calendars", body).json()
    assert (brought["held"], brought["off"], brought["unread"]) == (1, 1, [])
    after = planned(api, lead)
    assert (part(after, "land-MS-1")["day"], part(after, "land-MS-1")["from"]) == ("2026-12-09", "10:00")
    for text in ("no calendar", "BEGIN:VCALENDAR\nBEGIN:VEVENT\nDTSTART:x\nEND:VEVENT", "\r", "BEGIN:VEVENT"):
        assert api.post(f"{WEEK}/calendars", {"base_revision": 3, "ics": text}).status_code in (200, 422)


def events_of(text: str) -> list[tuple[str, Any]]:
    return [(str(event["UID"]), event) for event in Calendar.from_ical(text).walk("VEVENT")]


def test_day_sheets_say_who_does_what(api: Api, lead: User, install: str) -> None:
    api.post(f"{WEEK}/wishes", {"base_revision": 0, "wishes": wishes(install)})
    week = planned(api, lead)
    pages = PdfReader(io.BytesIO(api.get(f"{WEEK}/sheets.pdf").content)).pages
    days = {(person, row["day"]) for row in week["parts"] for person in row["people"]}
    assert len(pages) == len(days)
    first = pages[0].extract_text()
    assert "Odo Brisk" in first
    assert "with Wyn Lune" in first
    assert "local authority decide" in first.replace("\n", " ")


def test_ticks_of_a_crew_move_its_next_estimates(api: Api, lead: User, install: str, crew: User) -> None:
    base = f"/api/installs/{install}/work"

    def rough() -> dict[str, Any]:
        tasks = api.get(base).json()["tasks"]
        return next(row for row in tasks if row["key"] == "rough-MS-1")  # type: ignore[no-any-return]

    shipped = rough()
    assert shipped["sure"] == "the shipped range: none was done yet"
    # Twice the shipped figure at another install of this company, of such a place: ln 2 x 5/9, so 1.47 times.
    other = installs.create(lead, kiosk(), "Install begun").install
    took = {"key": "rough-MS-1", "state": "done", "minutes": 2 * shipped["minutes"]["likely"]}
    assert Api(crew).post(f"/api/installs/{other.id}/work", took).status_code == 200
    assert rough()["minutes"]["likely"] == pytest.approx(2 ** (5 / 9) * shipped["minutes"]["likely"], abs=1)
    assert rough()["sure"] == "1.47 times the shipped figure, by 1 done, few yet"
    # Taken back it counts no more; from begin to end within a minute says nothing either.
    Api(crew).post(f"/api/installs/{other.id}/work", {"key": "rough-MS-1", "state": "taken_back"})
    for state in ("begun", "done"):
        api.post(f"/api/installs/{other.id}/work", {"key": "rough-MS-1", "state": state})
    assert rough()["minutes"] == shipped["minutes"]
    noted = {"begun": "2026-11-02T08:00:00Z", "done": "2026-11-02T09:30:00Z"}
    for state, at in noted.items():
        api.post(base, {"key": "land-MS-1", "state": state, "noted_at": at})
    land = next(row for row in api.get(base).json()["tasks"] if row["key"] == "land-MS-1")
    assert (land["state"], land["took_min"]) == ("done", 90)
    assert api.post(base, {"key": "nothing", "state": "done"}).status_code == 422
    assert WorkEntry.objects.count() == 6


def test_the_estimate_says_what_it_rests_on(api: Api, install: str) -> None:
    base = f"/api/installs/{install}"
    hours = api.get(f"{base}/work").json()["hours"]
    text = "\n".join(
        page.extract_text() for page in PdfReader(io.BytesIO(api.get(f"{base}/estimate.pdf").content)).pages
    )
    assert f"{round(hours[0])} to {round(hours[1])} hours of hands" in text
    assert "shipped ranges, nothing was ticked yet" in text
    assert "12-2 NM-B with ground" in text
    assert "torque" not in text.lower(), "what the crew takes home again is no material"


def test_what_a_dead_worker_had_begun_is_taken_up_again(api: Api, lead: User, install: str) -> None:
    api.post(f"{WEEK}/wishes", {"base_revision": 0, "wishes": wishes(install)})
    api.post(f"{WEEK}/plans", {})
    CrewWeek.objects.update(status="running", share=0.4)
    with connection.cursor() as cursor:
        cursor.execute("UPDATE procrastinate_jobs SET status = 'doing', attempts = 1")
    call_command("takeup")
    assert CrewWeek.objects.get().status == "queued"
    assert [job.status for job in ProcrastinateJob.objects.all()] == ["todo"]
    actions.carry_out(CrewWeek.objects.get().id, lead, 1)
    assert api.get(WEEK).json()["status"] == "done"
