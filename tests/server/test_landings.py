"""Landings over the API: lists in and out, sheets on paper, devices exchanged, plans of an older format."""

from __future__ import annotations

import subprocess
from pathlib import Path
from typing import Any

import pytest
from accounts.models import User
from django.utils import timezone
from installs import actions
from installs.models import Install, PlanRevision
from leitung_core.catalogue.device import shipped_devices
from leitung_demo import kiosk, museum

from tests.core.wiring.plans import stat
from tests.server.conftest import Api

pytestmark = pytest.mark.django_db


@pytest.fixture
def wired(lead: User) -> str:
    """An install of a board, a thermostat and five conductors between them."""
    return str(actions.create(lead, stat(), "Install begun").install.id)


@pytest.fixture(scope="module")
def museum_plan() -> dict[str, Any]:
    return museum()


def text_of(content: bytes, tmp_path: Path) -> str:
    paper = tmp_path / "sheet.pdf"
    paper.write_bytes(content)
    return subprocess.run(["pdftotext", "-layout", paper, "-"], capture_output=True, text=True, check=True).stdout


def test_a_list_goes_out_is_changed_and_comes_in(api: Api, wired: str) -> None:
    base = f"/api/installs/{wired}"
    sent = api.get(f"{base}/landings.csv")
    assert sent["Content-Disposition"] == 'attachment; filename="two-ends-landings.csv"'
    text = sent.content.decode().replace("T,white,A.ctl.W,B.base.W", "T,white,A.ctl.W,capped")
    done = api.post(f"{base}/landings", {"base_revision": 1, "csv": text}).json()
    assert done["document"]["cables"]["T"]["conductors"]["white"]["b"] == {"capped": True}
    assert api.get(f"{base}/revisions").json()["revisions"][0]["summary"] == "T white at B capped, was base.W"
    assert (
        api.post(f"{base}/undo").json()["document"]["cables"]["T"]["conductors"]["white"]["b"]["terminal"] == "B.base.W"
    )


def test_a_list_with_a_wrong_line_changes_nothing(api: Api, wired: str) -> None:
    text = "cable,conductor,a,b\nT,red,capped,capped\nT,white,A.ctl.W,B.base.Q\n"
    refused = api.post(f"/api/installs/{wired}/landings", {"base_revision": 1, "csv": text})
    assert refused.status_code == 422
    (error,) = refused.json()["errors"]
    assert (error["field"], error["value"]) == ("line 3, b", "B.base.Q")
    assert Install.objects.get().revision == 1


def test_a_list_against_a_changed_conductor_is_a_conflict(api: Api, wired: str, other_lead: User) -> None:
    patch = {"cables": {"T": {"conductors": {"red": {"note": "seen"}}}}}
    Api(other_lead).post(f"/api/installs/{wired}/patches", {"base_revision": 1, "patch": patch})
    text = "cable,conductor,a,b\nT,red,capped,capped\n"
    assert api.post(f"/api/installs/{wired}/landings", {"base_revision": 1, "csv": text}).status_code == 409
    other = "cable,conductor,a,b\nT,blue,capped,capped\n"
    assert api.post(f"/api/installs/{wired}/landings", {"base_revision": 1, "csv": other}).status_code == 200


def test_an_exchange_is_one_change_and_can_be_taken_back(api: Api, wired: str) -> None:
    body = {"device": "B", "new": "TS-2", "type": "stat-basic"}
    done = api.post(f"/api/installs/{wired}/exchanges", body).json()
    moves = {move["colour"]: (move["before"], move["after"]) for move in done["result"]["wiring"]["moves"]}
    assert moves["white"] == ("W at B", "W at TS-2")
    # The new one has no common: its conductor comes off.
    assert moves["blue"] == ("C at B", "loose")
    assert done["result"]["wiring"]["devices"]["B"]["state"] == "removed"
    back = api.post(f"/api/installs/{wired}/undo").json()
    assert "TS-2" not in back["document"]["devices"]
    refused = api.post(f"/api/installs/{wired}/exchanges", body | {"type": "toaster"})
    assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "type")


def test_the_sheets_of_both_ends_say_what_lands_where(api: Api, lead: User, tmp_path: Path, museum_plan: Any) -> None:
    shown = actions.create(lead, museum_plan, "begun").install.id
    text = text_of(api.get(f"/api/installs/{shown}/landings.pdf?cable=IC-1").content, tmp_path)
    assert "Black leaves 1 at OU-1 and arrives on 3 at IU-1" in text
    assert "Qualified and licensed persons only" in text
    rows = [line.split() for line in text.splitlines()]
    # The indoor strip as it is seen: ground first, and each terminal with the conductor and where its other end is.
    start = max(index for index, row in enumerate(rows) if row[:1] == ["IU-1"])
    indoor = [row[row.index("IC-1") - 2 : row.index("IC-1")] for row in rows[start:] if "IC-1" in row[2:]]
    assert indoor == [["GND", "green"], ["3", "black"], ["2", "white"], ["1", "red"]]
    one = text_of(api.get(f"/api/installs/{shown}/landings.pdf?device=AH-1").content, tmp_path)
    assert "7 in-lb" in one
    assert "G at AH-1 takes 2 conductors and has 3" in one
    assert "capped" in one
    assert api.get(f"/api/installs/{shown}/landings.pdf?device=XX-9").status_code == 404


def test_labels_on_paper_and_for_a_printer(api: Api, wired: str, tmp_path: Path) -> None:
    text = text_of(api.get(f"/api/installs/{wired}/conductor-labels.pdf").content, tmp_path)
    assert text.count("T red") == 2
    lines = api.get(f"/api/installs/{wired}/conductor-labels.csv").content.decode().splitlines()
    assert lines[0] == "device,line_1,line_2"
    assert len(lines) == 11


def test_the_devices_that_can_be_put_in(api: Api) -> None:
    found = api.get("/api/devices").json()
    assert len(found["devices"]) == len(shipped_devices())
    assert {cable["id"] for cable in found["cables"]} >= {"thermostat", "tray", "nm-b"}


def test_a_plan_kept_in_the_older_format_opens_and_is_kept_in_the_newer_once_changed(api: Api, lead: User) -> None:
    old = kiosk() | {"format_version": 1}
    old["equipment"]["OU-1"]["strips"] = {"power": {"terminals": ["L1", "L2", "GND"]}}
    install = Install.objects.create(company=lead.company, name=old["name"], station="lines", changed_at=timezone.now())
    kept = {"company": lead.company, "install": install, "number": 1, "kind": "create", "patch": {}, "inverse": {}}
    PlanRevision.objects.create(**kept, document=old, summary="begun", author=lead)
    opened = api.get(f"/api/installs/{install.id}").json()
    assert opened["document"]["format_version"] == 2
    assert list(opened["document"]["devices"]) == ["OU-1"]
    patch = {"name": "Ticket kiosk, renamed"}
    assert api.post(f"/api/installs/{install.id}/patches", {"base_revision": 1, "patch": patch}).status_code == 200
    kept = PlanRevision.objects.get(install=install, number=2)
    assert (kept.document["format_version"], kept.patch) == (2, patch)
    back = api.post(f"/api/installs/{install.id}/undo").json()["document"]
    assert (back["name"], back["format_version"]) == ("Ticket kiosk", 2)


def test_a_cable_is_landed_as_the_company_landed_one_before(api: Api, lead: User, stranger: User) -> None:
    """Only what one's own company landed is offered, the newest first; taken over it is one change, undone as one."""
    actions.create(lead, museum() | {"name": "Older plant"}, "Install begun")
    plan = museum() | {"name": "New plant"}
    wires = plan["cables"]["CC-1"]["conductors"]
    plan["cables"]["CC-1"]["conductors"] = {colour: {"a": {}, "b": {}} for colour in wires}
    base = f"/api/installs/{actions.create(lead, plan, 'Install begun').install.id}"
    offered = api.get(f"{base}/cables/CC-1/as-before").json()
    assert offered["name"] == "Older plant"
    after = api.post(f"{base}/patches", {"base_revision": 1, "patch": offered["patch"]}).json()
    white = after["document"]["cables"]["CC-1"]["conductors"]["white"]
    assert (white["a"]["terminal"], white["b"]["terminal"]) == ("JB-1.j.J3", "CP-1.safe.NC")
    assert api.get(f"{base}/cables/CC-1/as-before").json() == {}
    # Landed as there, DC-1 brings a third conductor onto one terminal: what was wrong there is not offered.
    bare = {
        "cables": {"DC-1": {"conductors": {colour: {"a": None, "b": None} for colour in ("red", "green", "white")}}}
    }
    api.post(f"{base}/patches", {"base_revision": 2, "patch": bare})
    assert api.get(f"{base}/cables/DC-1/as-before").json() == {}
    assert api.get(f"{base}/cables/NONE/as-before").status_code == 404
    other = Api(stranger)
    theirs = other.post("/api/imports", plan).json()["install"]["id"]
    assert other.get(f"/api/installs/{theirs}/cables/CC-1/as-before").json() == {}
