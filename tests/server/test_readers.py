"""Reading without an account: what a link opens and nothing beside it, guessing, its end, taking it back."""

from __future__ import annotations

import re
from datetime import timedelta
from io import BytesIO
from typing import Any
from uuid import uuid4

import pytest
from accounts.models import TrailEntry, User
from accounts.spent import Spent
from django.test import Client
from django.utils import timezone
from icalendar import Calendar
from installs import actions
from leitung_demo import museum
from links.links import code_of, path_of
from links.models import ReaderLink, ReaderLook
from pypdf import PdfReader
from readers import views

from tests.server.conftest import Api
from tests.server.test_records import SIGN

pytestmark = pytest.mark.django_db
PAGES = ("", "/paper.pdf", "/dates.ics", "/MS-1", "/MS-1/paper.pdf")


@pytest.fixture(autouse=True)
def _nothing_spent(monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("misses", "reads", "took"):
        monkeypatch.setattr(views, name, Spent())


@pytest.fixture
def plant(lead: User) -> str:
    """The museum's plant, in which everything that a link may open is there."""
    return str(actions.create(lead, museum(), "Install begun").install.id)


def _make(api: Api, install: str, scope: str, about: str = "", **more: Any) -> ReaderLink:
    until = (timezone.now() + timedelta(days=30)).isoformat()
    body = {"scope": scope, "about": about, "name": "Odo Fenn", "until": until, **more}
    answer = api.post(f"/api/installs/{install}/links", body)
    assert answer.status_code == 200, answer.json()
    return ReaderLink.objects.get(id=answer.json()[0]["id"])


def _read(path: str) -> Any:
    return Client().get(path)


def test_each_link_opens_its_own_and_nothing_beside_it(api: Api, plant: str) -> None:
    every = {
        "record": _make(api, plant, "record"), "line": _make(api, plant, "line", "RT-1"),
        "device": _make(api, plant, "device", "TS-1"), "customer": _make(api, plant, "customer"),
    }  # fmt: skip
    says = {"record": "Steps of start-up done", "line": "Before a hand goes in", "device": "R</b>",
            "customer": "When it stops"}  # fmt: skip
    for scope, link in every.items():
        page = _read(path_of(link))
        assert page.status_code == 200
        assert says[scope] in page.content.decode()
        assert page["Referrer-Policy"] == "no-referrer"
        # With a code of this link, or of another, nothing else opens: no other line, no dates, no label.
        for other in every.values():
            for end in PAGES:
                opened = _read(f"/read/{other.id}/{code_of(link, link.about)}{end}").status_code == 200
                own = end in {"record": ("", "/paper.pdf"), "line": ("", "/paper.pdf"), "device": ("", "/paper.pdf"),
                              "customer": ("", "/dates.ics")}[scope]  # fmt: skip
                assert opened == (other is link and own), (scope, other.scope, end)
                views.misses, views.reads = Spent(), Spent()
    assert "MS-1" not in _read(path_of(every["line"])).content.decode()
    assert "RT-1" not in _read(path_of(every["device"])).content.decode()
    # Nobody is signed in by a link.
    for path in (f"/api/installs/{plant}", f"/api/installs/{plant}/record.pdf", "/api/installs", "/api/practice"):
        client = Client()
        client.get(path_of(every["record"]))
        assert client.get(path).status_code == 401


def test_what_is_wrong_with_an_address_is_told_alike_and_nothing_can_be_tried_for_long(api: Api, plant: str) -> None:
    link = _make(api, plant, "line", "RT-1")
    good = path_of(link)
    code = good.rpartition("/")[2]
    over = ReaderLink.objects.get(id=_make(api, plant, "record").id)
    ReaderLink.objects.filter(id=over.id).update(until=timezone.now())
    back = _make(api, plant, "customer")
    assert api.post(f"/api/installs/{plant}/links/{back.id}/ending", {}).status_code == 200
    wrong = [
        f"/read/{uuid4()}/{code}", f"/read/{link.id}/{code[:-1]}", f"/read/{link.id}/{'x' * 22}",
        f"/read/{link.id}/{code_of(link, 'MS-1')}", path_of(over), path_of(back),
        f"/read/{link.id}/{code}/RT-1",
    ]  # fmt: skip
    told = {(answer.status_code, answer.content) for answer in map(_read, wrong)}
    assert len(told) == 1
    assert next(iter(told))[0] == 404
    for _ in range(views.MOST_MISSES):
        last = _read(f"/read/{link.id}/{'y' * 22}")
    assert (last.status_code, last["Retry-After"]) == (429, "60")
    assert _read(good).status_code == 429
    assert Client(REMOTE_ADDR="192.0.2.7").get(good).status_code == 200


def test_a_link_ends_with_its_install_and_each_look_is_logged(api: Api, plant: str, lead: User) -> None:
    link = _make(api, plant, "line", "RT-1")
    Client(HTTP_USER_AGENT="a phone").get(path_of(link))
    look = ReaderLook.objects.get()
    assert (look.what, look.agent, str(look.install_id)) == ("page RT-1", "a phone", plant)
    (row,) = api.get(f"/api/installs/{plant}/links").json()
    assert (row["looks"], row["serves"], row["address"].endswith(path_of(link))) == (1, True, True)
    assert TrailEntry.objects.filter(user=lead, did="made a link: line", words="Odo Fenn").exists()
    api.post(f"/api/installs/{plant}/shelf", {"shelf": "deleted"})
    assert _read(path_of(link)).status_code == 404


def test_the_code_on_a_label_opens_that_very_line_and_says_which_revision(api: Api, plant: str) -> None:
    assert "/installs/" in _codes(api, plant)[0]
    link = _make(api, plant, "labels")
    codes = _codes(api, plant)
    rt = next(code for code in codes if "/RT-1?" in code)
    assert _read(rt).status_code == 200
    # With the code of one label no other line opens.
    assert _read(f"/read/{link.id}/{code_of(link, 'RT-1')}/UH-1").status_code == 404
    assert "The label is of revision" not in _read(rt).content.decode()
    api.post(f"/api/installs/{plant}/patches", {"base_revision": 1, "patch": {"name": "Changed since"}})
    assert "The label is of revision 1; the plan stands at revision 2." in _read(rt).content.decode()
    paper = _read(f"{path_of(link, 'UH-1')}/paper.pdf")
    text = "".join(page.extract_text() for page in PdfReader(BytesIO(paper.content)).pages)
    assert "UH-1" in text
    assert "UH-2" not in text


def test_the_label_of_a_line_that_is_gone_says_so(api: Api, install: str) -> None:
    code = path_of(_make(api, install, "labels"), "MS-1")
    gone = api.post(f"/api/installs/{install}/patches", {"base_revision": 1, "patch": {"circuits": {"MS-1": None}}})
    assert gone.status_code == 200
    assert "The plan has no line MS-1 any more" in _read(code).content.decode()
    assert _read(f"{code}/paper.pdf").status_code == 404


def _codes(api: Api, install: str) -> list[str]:
    """The addresses in the codes of the printed labels, as they were put in."""
    found: list[str] = []
    from documents import package

    make = package.segno.make

    def noted(content: str, **options: Any) -> Any:
        found.append(content)
        return make(content, **options)

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(package.segno, "make", noted)
        answer = api.get(f"/api/installs/{install}/labels.pdf")
    assert answer.status_code == 200
    return [re.sub(r"^http://testserver", "", code) for code in found]


def test_the_customers_dates_are_counted_from_the_handover(api: Api, install: str) -> None:
    link = _make(api, install, "customer", warranty_until="2031-06-30")
    path = f"{path_of(link)}/dates.ics"
    assert [str(event["summary"]) for event in Calendar.from_ical(_read(path).content).walk("vevent")] == [
        "The warranty ends"
    ]
    assert api.post(f"/api/installs/{install}/signatures", SIGN).status_code == 200
    first, *_ = Calendar.from_ical(_read(path).content).walk("vevent")
    day = first["dtstart"].dt
    assert first["rrule"]["interval"] == [3]
    months = (day.year - timezone.now().year) * 12 + day.month - timezone.now().month
    assert (months, day.day <= 31) == (3, True)


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"scope": "line", "about": "ZZ-9"}, "about"),
        ({"scope": "record", "about": "MS-1"}, "about"),
        ({"scope": "record", "until": "2020-01-01T00:00:00Z"}, "until"),
        ({"scope": "record", "until": "2099-01-01T00:00:00Z"}, "until"),
    ],
)
def test_a_link_that_makes_no_sense_is_told_with_its_remedy(api: Api, install: str, body: Any, field: str) -> None:
    until = (timezone.now() + timedelta(days=3)).isoformat()
    answer = api.post(f"/api/installs/{install}/links", {"about": "", "name": "Odo", "until": until, **body})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field
    assert answer.json()["errors"][0]["remedy"]
