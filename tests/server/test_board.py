"""The board: whose and what comes first, shelves, copies and templates, and what goes for good after thirty days."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from accounts.models import User
from django.db import ProgrammingError, connection, transaction
from django.utils import timezone
from installs.models import Install, PlanRevision, Shelf
from leitung_demo import kiosk, museum
from records import actions as records
from records.models import Signature, StepEntry
from upkeep.tasks import clear_out, fill_found_by, take_away

from tests.server.conftest import Api

pytestmark = pytest.mark.django_db


def names(api: Api, query: str = "") -> list[str]:
    return [row["name"] for row in api.get(f"/api/installs?{query}").json()["installs"]]


def begin(api: Api, name: str, **more: Any) -> str:
    answer = api.post("/api/installs", {"name": name, **more})
    assert answer.status_code == 201, answer.content
    return str(answer.json()["install"]["id"])


def to_shelf(api: Api, install: str, shelf: str) -> Any:
    return api.post(f"/api/installs/{install}/shelf", {"shelf": shelf})


def test_ones_own_come_first_then_the_newest_and_the_pages_meet(api: Api, lead: User, other_lead: User) -> None:
    """33 of one person's between 33 of another's, by time: two groups in order, each install once over three pages."""
    now = timezone.now()
    Install.objects.bulk_create(
        Install(company=lead.company, name=f"{who.username} {n}", station="lines", next="x", changed_by=who,
                changed_at=now - timedelta(minutes=2 * n + (who == lead)))
        for n in range(33) for who in (lead, other_lead)
    )  # fmt: skip
    seen, cursor = list[str](), ""
    while cursor is not None:
        page = api.get(f"/api/installs?cursor={cursor}" if cursor else "/api/installs").json()
        seen += [row["name"] for row in page["installs"]]
        cursor = page.get("cursor")
    assert seen == [f"lead {n}" for n in range(33)] + [f"second {n}" for n in range(33)]


def test_who_changed_an_install_last_finds_it_first(api: Api, lead: User, other_lead: User, crew: User) -> None:
    mine = api.post("/api/imports", kiosk() | {"name": "Mine"}).json()["install"]["id"]
    theirs = begin(Api(other_lead), "Theirs")
    assert names(api) == ["Mine", "Theirs"]
    patch = {"base_revision": 1, "patch": {"site": {"name": "Fen lane"}}}
    assert api.post(f"/api/installs/{theirs}/patches", patch).status_code == 200
    assert names(api) == ["Theirs", "Mine"]
    records.tick(crew, Install.objects.get(id=mine).id, "MS-1.plate", True, "")
    assert names(Api(crew)) == ["Mine", "Theirs"]


def test_an_install_is_found_by_its_address_and_by_what_a_plate_or_a_label_says(api: Api, stranger: User) -> None:
    plan = kiosk()
    unit = next(iter(plan["equipment"]))
    plan["site"]["address"] = "4 Fen lane, Quillmoor"
    plan["equipment"][unit] |= {"serial": "7TK-00419", "model": "TW-09S"}
    api.post("/api/imports", plan)
    begin(api, "Empty")
    for query in ("fen lane", "7tk-004", "TW-09", unit, plan["name"]):
        assert names(api, f"search={query}") == [plan["name"]], query
    assert names(api, "search=7TK-00420") == []
    assert names(Api(stranger), "search=7TK-00419") == []


def test_installs_of_an_earlier_release_are_found_by_the_same(api: Api) -> None:
    api.post("/api/imports", kiosk())
    Install.objects.update(found_by="")
    assert names(api, "search=MS-1") == []
    fill_found_by()
    assert names(api, "search=MS-1") == [kiosk()["name"]]


def test_what_is_stuck_or_at_a_station_is_found(api: Api) -> None:
    api.post("/api/imports", museum())
    begin(api, "Empty")
    assert names(api, "only=stuck") == [museum()["name"]]
    assert names(api, "only=lines&search=emp") == ["Empty"]
    assert names(api, "only=signed") == []


def test_from_shelf_to_shelf(api: Api, crew: User) -> None:
    there = begin(api, "Loft")
    assert to_shelf(Api(crew), there, "archived").status_code == 403
    for shelf in ("archived", "deleted", "open"):
        assert to_shelf(api, there, shelf).json()["shelf"] == shelf
        assert {name: names(api, f"shelf={name}") for name in Shelf.values} == {
            name: ["Loft"] if name == shelf else [] for name in Shelf.values
        }
    assert to_shelf(api, there, "attic").status_code == 422


def test_what_is_deleted_opens_nowhere_and_comes_back_whole(api: Api) -> None:
    there = begin(api, "Loft")
    to_shelf(api, there, "deleted")
    answer = api.get(f"/api/installs/{there}")
    assert (answer.status_code, answer.json()["code"]) == (404, "deleted")
    assert api.post(f"/api/installs/{there}/patches", {"base_revision": 1, "patch": {"name": "X"}}).status_code == 404
    to_shelf(api, there, "open")
    assert api.get(f"/api/installs/{there}").json()["document"]["name"] == "Loft"


def test_a_signed_install_is_archived_never_deleted(api: Api) -> None:
    there = begin(api, "Kiosk")
    Install.objects.filter(id=there).update(signed_revision=1)
    answer = to_shelf(api, there, "deleted")
    assert (answer.status_code, answer.json()["code"]) == (409, "signed")
    assert to_shelf(api, there, "archived").status_code == 200


def test_a_copy_has_the_plan_and_nothing_that_was_found_or_measured_there(api: Api, stranger: User) -> None:
    plan = museum()
    plan["sources"]["MP"] |= {"measured_peak_a": 88, "measured_days": 365}
    first = api.post("/api/imports", plan).json()["install"]["id"]
    copy = api.get(f"/api/installs/{begin(api, 'Second house', like=first)}").json()
    document, was = copy["document"], api.get(f"/api/installs/{first}").json()["document"]
    assert document["circuits"] == was["circuits"]
    assert (document["name"], document["site"]) == ("Second house", {})
    assert "measured_peak_a" not in document["sources"]["MP"]
    conductors = [row for cable in document["cables"].values() for row in cable["conductors"].values()]
    assert not [row for row in conductors if "was_a" in row or "was_b" in row]
    assert "TS-0" in was["devices"]
    assert "TS-0" not in document["devices"]
    assert copy["can_undo"] is False
    assert Api(stranger).post("/api/installs", {"name": "Taken", "like": first}).status_code == 404


def test_a_template_stands_apart_and_installs_begin_with_it(api: Api) -> None:
    house = api.post("/api/imports", museum()).json()["install"]["id"]
    template = begin(api, "House with a vault", like=house, template=True)
    assert names(api, "shelf=template") == ["House with a vault"]
    assert "House with a vault" not in names(api)
    begun = begin(api, "Third house", like=template, site="Fen lane 3")
    assert api.get(f"/api/installs/{begun}").json()["document"]["site"] == {"name": "Fen lane 3"}
    assert names(api)[0] == "Third house"


def laid_away(install: str, days: float) -> Install:
    Install.objects.filter(id=install).update(shelf=Shelf.DELETED, shelved_at=timezone.now() - timedelta(days=days))
    return Install.objects.get(id=install)


def test_after_thirty_days_it_goes_for_good_and_not_before(api: Api, lead: User) -> None:
    old, young, kept = (begin(api, name) for name in ("Old", "Young", "Kept"))
    patch = {"equipment": {"MS-1": {"kind": "mini_split_outdoor"}}, "circuits": {"MS-1": {"serves": "MS-1"}}}
    api.post(f"/api/installs/{old}/patches", {"base_revision": 1, "patch": patch})
    records.open_item(lead, Install.objects.get(id=old).id, "Bushing is missing", "Odo", None)
    laid_away(old, 30.5)
    laid_away(young, 29.5)
    assert names(api, "shelf=deleted") == ["Young"]
    assert to_shelf(api, old, "open").status_code == 404
    clear_out(0)
    assert set(Install.objects.values_list("name", flat=True)) == {"Young", "Kept"}
    assert not PlanRevision.objects.filter(install=old).exists()
    assert to_shelf(api, young, "open").status_code == 200
    assert kept in [row["id"] for row in api.get("/api/installs").json()["installs"]]


@pytest.mark.parametrize(("shelf", "days"), [("deleted", 29), ("archived", 400), ("open", 400)])
def test_the_database_itself_holds_what_has_not_lain_its_time(api: Api, shelf: str, days: int) -> None:
    install = laid_away(begin(api, "Held"), days)
    Install.objects.filter(id=install.id).update(shelf=shelf)
    with pytest.raises(ProgrammingError, match="append-only"), transaction.atomic():
        take_away(install)
    assert PlanRevision.objects.filter(install=install).exists()


def test_everything_that_hangs_on_an_install_goes_with_it() -> None:
    """By the database's own word: what refers to an install is named in what is taken away."""
    from upkeep.tasks import PARTS

    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT DISTINCT conrelid::regclass::text FROM pg_constraint "
            "WHERE contype = 'f' AND confrelid = 'installs_install'::regclass"
        )
        refer = {name for (name,) in cursor.fetchall()}
    assert refer == {table._meta.db_table for table in PARTS}
    assert {StepEntry, Signature} <= set(PARTS)
