"""What the server gives the browser besides data: the page, the size answer, the history, the board's words."""

from __future__ import annotations

import json
from datetime import timedelta
from typing import Any

import pytest
from accounts.models import User, Write
from django.core.management import call_command
from django.test import Client
from django.utils import timezone
from installs.models import Install
from leitung_core.circuits import size_document
from leitung_core.plan.model import read_plan
from leitung_demo import kiosk, loft, museum, workshop
from records.models import StepEntry
from upkeep.demo import load_demo

from tests.core.documents import as_plan, document
from tests.core.test_families import CASES as FAMILIES
from tests.core.test_families import of_case
from tests.database import as_owner
from tests.server.conftest import Api
from tests.server.test_changes import change, line

pytestmark = pytest.mark.django_db


@pytest.mark.parametrize("path", ["/", "/installs/x/lines", "/anything/else"])
def test_the_page_is_served_for_every_address_of_the_application(path: str) -> None:
    answer = Client().get(path)
    assert answer.status_code == 200
    assert b'<div id="root">' in answer.content
    assert "no-store" in answer["Cache-Control"]
    assert Client().post(path).status_code == 405


def test_an_unknown_address_of_the_api_is_no_page(api: Api) -> None:
    assert api.get("/api/nothing").status_code == 404
    assert api.get("/api/nothing").json()["detail"] == "There is no such address."
    other = api.post("/api/installs", method="put")
    assert (other.status_code, other["Content-Type"], other.json()["title"]) == (
        405, "application/problem+json", "Not in this way",
    )  # fmt: skip
    assert api.get("/assets/nothing.js").status_code == 404


def test_the_size_answer_is_that_of_the_core(api: Api) -> None:
    for doc in (document(), document(proposed={"ocpd_a": 20}), document(plate={"mca_a": None})):
        assert api.post("/api/size", doc).json() == json.loads(size_document(doc).model_dump_json())


@pytest.mark.parametrize("doc", [{}, {"equipment": 5}, document(kind="toaster"), document(supply={"volts": 0})])
def test_a_size_document_that_does_not_fit_is_told_in_words(api: Api, doc: dict[str, Any]) -> None:
    answer = api.post("/api/size", doc)
    assert answer.status_code == 422
    assert all(error["field"] and error["remedy"] for error in answer.json()["errors"])


def test_the_history_pages_back_to_the_beginning(api: Api, install: str) -> None:
    for base in range(1, 36):
        change(api, install, base, line(run={"s1": {"length_ft": base + 30}}))
    first = api.get(f"/api/installs/{install}/revisions").json()
    second = api.get(f"/api/installs/{install}/revisions?before={first['before']}").json()
    numbers = [row["number"] for row in first["revisions"] + second["revisions"]]
    assert numbers == list(range(36, 0, -1))
    assert "before" not in second
    assert first["revisions"][0]["summary"] == "MS-1 interior length 65 ft, was 64 ft"


def test_the_board_follows_every_change_and_record(api: Api, install: str) -> None:
    def row() -> dict[str, Any]:
        return next(entry for entry in api.get("/api/installs").json()["installs"] if entry["id"] == install)

    assert (row()["station"], row()["next"]) == (
        "start-up",
        "Hold the unit’s plate against the plan: 208/230 V, MCA 9.2 A, at most 15 A.",
    )
    api.post(f"/api/installs/{install}/steps", {"key": "MS-1.plate", "done": True})
    assert row()["next"].startswith("What lies behind wall and roof")
    change(api, install, 1, line(ocpd={"rating_a": 20}))
    assert (row()["station"], row()["stuck_on"]) == ("lines", "20 A is above the 15 A that the plate allows.")
    change(api, install, 2, {"equipment": {"OU-1": {"nameplate": None}}})
    assert row()["next"].startswith("The plate's minimum circuit ampacity (MCA) is not known")
    change(api, install, 3, {"name": "Kiosk by the quay"})
    assert row()["name"] == "Kiosk by the quay"


def test_search_finds_by_name_and_site(api: Api, install: str) -> None:
    for query, count in (("KIOSK", 1), ("quillmoor", 1), ("nowhere", 0), ("%25", 0)):
        assert len(api.get(f"/api/installs?search={query}").json()["installs"]) == count, query


def test_the_demo_loads_and_holds_what_the_readme_says() -> None:
    load_demo()
    people = {user.username: user.role for user in User.objects.all()}
    assert people == {"i.tarn": "lead", "o.brisk": "crew", "w.lune": "reader", "p.ember": "lead"}
    stuck = set(Install.objects.exclude(stuck_on="").values_list("name", flat=True))
    assert stuck == {"Bindery workshop", "Museum plant"}
    assert Install.objects.count() == 4
    assert StepEntry.objects.filter(key__contains="dead").get().value == 0.2
    for plan in (workshop(), kiosk(), loft(), museum()):
        read_plan(plan)


def test_a_change_that_changes_nothing_makes_no_revision(api: Api, install: str) -> None:
    for patch in ({}, line(ocpd={"rating_a": 15}), line(egc=None)):
        assert change(api, install, 1, patch).json()["install"]["revision"] == 1


def test_a_kept_answer_is_cleared_after_two_months_and_not_before(api: Api, install: str) -> None:
    for key in ("an-old-answer", "a-fresh-answer"):
        change(api, install, 1, {}, key)
    Write.objects.filter(key="an-old-answer").update(at=timezone.now() - timedelta(days=61))
    with as_owner():
        call_command("prepare")
    assert list(Write.objects.values_list("key", flat=True)) == ["a-fresh-answer"]
    assert Install.objects.count() == 1


@pytest.mark.parametrize("case", FAMILIES, ids=[case["name"] for case in FAMILIES])
def test_every_family_has_the_same_numbers_over_the_api_and_in_a_checked_plan(api: Api, case: dict[str, Any]) -> None:
    doc = of_case(case)
    alone = size_document(doc).model_dump(mode="json")
    assert api.post("/api/size", doc).json() == alone
    if case["kind"] == "feeder":
        return  # In a plan a feeder's load is what it feeds: tests/core/test_panels.py.
    within = api.post("/api/check", as_plan(doc)).json()
    found = within["result"]["circuits"]["C"]
    assert {name: found.get(name) for name in case["expect"]} == {name: alone[name] for name in case["expect"]}
    # The size document that the screen offers says the same again.
    again = size_document(within["sizes"]["C"]).model_dump(mode="json")
    assert {name: again[name] for name in case["expect"]} == {name: alone[name] for name in case["expect"]}
