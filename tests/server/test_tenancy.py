"""Every endpoint of the API's own schema: nothing without signing in, nothing of another company, roles held."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from accounts.models import User
from catalogue.models import OwnModel
from config.api import api as ninja
from installs.models import Install, PlanRevision
from leitung_demo import kiosk
from records import actions as records
from records.models import OpenItem, Reading, Signature, StepEntry

from tests.server.conftest import Api

pytestmark = pytest.mark.django_db

OPEN = {
    ("get", "/api/session"), ("post", "/api/session"), ("get", "/api/plan-schema"),
    ("get", "/api/links/{token}"), ("post", "/api/links/{token}"),
}  # fmt: skip
# A picture of one point.
DOT = "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGP4DwABAQEAsTj2FAAAAABJRU5ErkJggg=="
# A good body for each write: an endpoint that is not listed here fails the tests until it is.
BODIES: dict[str, Any] = {
    "/api/session": None,
    "/api/logs": {"csv": "t_s,a\n0,1\n1,2\n"},
    "/api/starting": {"supply": {"kind": "panel", "volts": 120, "legs": 1}, "loads": [], "calls": []},
    "/api/size": {"equipment": {"kind": "mini_split_outdoor"}},
    "/api/devices/proofs": {
        "id": "x",
        "name": "x",
        "group": "relay",
        "strips": [{"id": "s", "name": "s", "terminals": [{"id": "1"}]}],
    },
    "/api/catalogue": {"maker": "Tarnwick", "model": "ZZ-1", "kind": "unit_heater", "nameplate": {"volts": "240"}},
    "/api/people/links": {"name": "Pia", "role": "crew"},
    "/api/people/links/{link}/withdrawal": {},
    "/api/people/{someone}/reset": {},
    "/api/people/{someone}/role": {"role": "lead"},
    "/api/people/{someone}/leaving": {},
    "/api/people/{someone}/return": {},
    "/api/links/{token}": {"username": "pia", "password": "a-long-one-77"},
    "/api/account/password": {"old": "x", "password": "y"},
    "/api/account/code": {"password": "x"},
    "/api/account/code/confirmation": {"code": "123456"},
    "/api/account/code/removal": {"password": "x"},
    "/api/account/sessions/{session}/end": {},
    "/api/prices/lists": {"csv": "item,price\nx,1\n"},
    "/api/installs/{install_id}/work/lines": {"text": ""},
    "/api/catalogue/lists": {"csv": "maker,model,kind\nTarnwick,ZZ-2,unit_heater\n"},
    "/api/catalogue/{model_id}/removal": {},
    "/api/installs/{install_id}/supplies/{source}/starts": {
        "supply": {"kind": "panel", "volts": 120, "legs": 1},
        "loads": [],
        "calls": [],
    },
    "/api/installs/{install_id}/supplies/{source}/logs": {"csv": "t_s,a\n0,1\n1,2\n"},
    "/api/installs/{install_id}/start-trials": {"key": "GE", "outcome": "started", "note": "tried"},
    "/api/installs/{install_id}/trials": {"patch": {"rulebook": "us-2017"}},
    "/api/installs": {"name": "New"},
    "/api/installs/{install_id}/shelf": {"shelf": "archived"},
    "/api/imports": kiosk(),
    "/api/packages": {"name": "x.zip", "base64": ""},
    "/api/check": kiosk(),
    "/api/installs/{install_id}/patches": {"base_revision": 1, "patch": {"name": "Taken over"}},
    "/api/installs/{install_id}/landings": {"base_revision": 1, "csv": "cable,conductor,a,b\n"},
    "/api/installs/{install_id}/exchanges": {"device": "TS-1", "new": "TS-2", "type": "stat-basic"},
    "/api/installs/{install_id}/analyses": {"system": "TS-1"},
    "/api/installs/{install_id}/analyses/{analysis_id}/cancellation": {},
    "/api/installs/{install_id}/analyses/{analysis_id}/diagnoses": {"readings": []},
    "/api/installs/{install_id}/entry/sentence": {"text": "UH-7 unit heater 5 kW"},
    "/api/installs/{install_id}/entry/schedule": {"name": "s.csv", "base64": "TUFSSyxNQ0EKUlRVLTEsMzAK"},
    "/api/installs/{install_id}/bench/fits": {"pattern": "overflow-r", "near": "TS-1"},
    "/api/installs/{install_id}/bench/placements": {"pattern": "overflow-r", "near": "TS-1", "patch": {"name": "X"}},
    "/api/installs/{install_id}/bench/runs": {"system": "TS-1", "course": [{"on": ["call:cool"]}]},
    "/api/installs/{install_id}/photos": {"about": "equipment/MS-1", "name": "plate.png", "base64": DOT},
    "/api/installs/{install_id}/photos/{photo_id}/removal": {},
    "/api/installs/{install_id}/photos/{photo_id}/takings": {"fields": ["mca_a"]},
    "/api/installs/{install_id}/undo": {},
    "/api/installs/{install_id}/redo": {},
    "/api/installs/{install_id}/revisions/{number}/bringing-back": {"base_revision": 1},
    "/api/installs/{install_id}/tests": {"key": "TS-1/smoke/fan", "outcome": "passed"},
    "/api/installs/{install_id}/settings": {"key": "TS-1/equipment", "done": True},
    "/api/installs/{install_id}/landing-ticks": {"key": "TS-1.sub.R", "done": True, "reason": "tried"},
    "/api/installs/{install_id}/steps": {"key": "MS-1.covers", "done": True},
    "/api/installs/{install_id}/readings": {"key": "MS-1.L1-L2", "value": 240},
    "/api/installs/{install_id}/packings": {"key": "breaker-0", "where": "truck"},
    "/api/installs/{install_id}/forgotten": {"item": "caps"},
    "/api/installs/{install_id}/work": {"key": "rough-MS-1", "state": "begun"},
    "/api/weeks/{monday}/wishes": {"base_revision": 0, "wishes": {}},
    "/api/weeks/{monday}/plans": {},
    "/api/weeks/{monday}/stops": {},
    "/api/weeks/{monday}/agreements": {},
    "/api/weeks/{monday}/calendars": {"base_revision": 0, "ics": "BEGIN:VCALENDAR\nEND:VCALENDAR"},
    "/api/installs/{install_id}/takings": {"key": "MS-1.L1-L2", "meter": "stand-in-meter"},
    "/api/meters": {"name": "clamp meter"},
    "/api/meters/{meter_id}/calibration": {"on": "2025-11-02"},
    "/api/meters/{meter_id}/retirement": {},
    "/api/installs/{install_id}/visits": {"why": "x"},
    "/api/installs/{install_id}/visits/readings": {"key": "MS-1.L1-L2", "state": "found", "value": 240},
    "/api/installs/{install_id}/visits/end": {"note": "x"},
    "/api/installs/{install_id}/open-items": {"text": "x", "owner": "y"},
    "/api/installs/{install_id}/open-items/{item_id}/closing": {"note": "z"},
    "/api/installs/{install_id}/signatures": {"revision": 1, "name": "N"},
    "/api/installs/{install_id}/links": {"scope": "record", "name": "N", "until": "2026-12-24T00:00:00Z"},
    "/api/installs/{install_id}/links/{link_id}/ending": {},
    "/api/practice/rounds/{round_id}/answers": {"answer": {}},
    "/api/practice/sharing": {"on": True},
    "/api/practice/forgetting": {},
}
QUERIES = {
    "/api/installs/{install_id}/bench/patterns": "?near=TS-1",
    "/api/installs/{install_id}/controls.pdf": "?system=TS-1",
}
PLAN = {
    "/api/installs",
    "/api/imports",
    "/api/packages",
    "/api/catalogue",
    "/api/catalogue/lists",
    "/api/prices/lists",
    *(
        f"/api/people/{end}"
        for end in ("links/{link}/withdrawal", "{someone}/role", "{someone}/leaving", "{someone}/return")
    ),
    "/api/catalogue/{model_id}/removal",
    *(
        f"/api/installs/{{install_id}}/{end}"
        for end in ("shelf", "patches", "landings", "exchanges", "bench/placements", "undo", "redo")
    ),
    "/api/installs/{install_id}/revisions/{number}/bringing-back",
    *(f"/api/weeks/{{monday}}/{end}" for end in ("wishes", "plans", "stops", "agreements", "calendars")),
}
LEAD_ONLY = PLAN | {
    "/api/installs/{install_id}/signatures",
    "/api/installs/{install_id}/links",
    "/api/installs/{install_id}/links/{link_id}/ending",
}
# How somebody practises is their own, whatever else they may do.
OF_ONESELF = ("/api/practice/rounds/{round_id}/answers", "/api/practice/sharing", "/api/practice/forgetting")
ENDPOINTS = [(method, path) for path, methods in ninja.get_openapi_schema()["paths"].items() for method in methods]
KEEP_NOTHING = (
    "/api/session",
    "/api/size",
    "/api/starting",
    "/api/logs",
    "/api/check",
    "/api/devices/proofs",
    "/api/installs/{install_id}/trials",
    "/api/installs/{install_id}/takings",
    "/api/installs/{install_id}/supplies/{source}/starts",
    "/api/installs/{install_id}/supplies/{source}/logs",
    "/api/installs/{install_id}/bench/runs",
    "/api/installs/{install_id}/bench/fits",
    "/api/installs/{install_id}/entry/sentence",
    "/api/installs/{install_id}/entry/schedule",
    "/api/installs/{install_id}/photos/{photo_id}/takings",
    "/api/installs/{install_id}/analyses/{analysis_id}/diagnoses",
    "/api/installs/{install_id}/work/lines",
    "/api/links/{token}",
    "/api/people/links",
    "/api/people/{someone}/reset",
    *(
        f"/api/account/{end}"
        for end in ("password", "code", "code/confirmation", "code/removal", "sessions/{session}/end")
    ),
)
WRITES = [(method, path) for method, path in ENDPOINTS if method != "get" and path not in KEEP_NOTHING]
OWNED = [(method, path) for method, path in ENDPOINTS if "{install_id}" in path]
TABLES = (Install, PlanRevision, StepEntry, Reading, OpenItem, Signature)


def address(path: str, **ids: Any) -> str:
    """An endpoint's address; what is not given is the id of nothing."""
    fresh = {
        name: uuid.uuid4()
        for name in (
            "install_id",
            "item_id",
            "model_id",
            "analysis_id",
            "photo_id",
            "meter_id",
            "link",
            "session",
            "link_id",
            "round_id",
        )
    }
    return path.format(
        **fresh
        | {
            "number": 1,
            "source": "GE",
            "line": "MS-1",
            "cable": "C-1",
            "monday": "2026-12-07",
            "someone": 0,
            "token": "x" * 43,
        }
        | ids
    )


def call(api: Api, method: str, path: str, **ids: Any) -> Any:
    url = address(path, **ids) + QUERIES.get(path, "")
    return api.get(url) if method == "get" else api.post(url, BODIES[path], method=method)


def test_the_schema_lists_what_these_tests_think_it_does() -> None:
    assert len(OWNED) >= 12
    assert {path for method, path in WRITES} <= set(BODIES)


@pytest.mark.parametrize(("method", "path"), [entry for entry in ENDPOINTS if entry not in OPEN])
def test_nothing_without_signing_in(db: None, method: str, path: str) -> None:
    answer = call(Api(None), method, path)
    assert answer.status_code == 401
    assert answer.json()["code"] == "sign-in"


@pytest.mark.parametrize(("method", "path"), OWNED)
def test_nothing_of_another_company(lead: User, install: str, stranger: User, method: str, path: str) -> None:
    records.open_item(lead, uuid.UUID(install), "left to do", "Odo", None)
    item = OpenItem.objects.get().id
    before = [list(table.objects.values()) for table in TABLES]
    answer = call(Api(stranger), method, path, install_id=install, item_id=item)
    nowhere = call(Api(stranger), method, path)
    # The very same answer as for what does not exist: not even its existence can be guessed.
    assert (answer.status_code, answer.json()) == (404, nowhere.json())
    assert [list(table.objects.values()) for table in TABLES] == before


def test_another_companys_model_can_be_neither_seen_nor_taken_out(lead: User, stranger: User) -> None:
    Api(lead).post("/api/catalogue", BODIES["/api/catalogue"])
    own = OwnModel.objects.get()
    assert "ZZ-1" in Api(lead).get("/api/catalogue").content.decode()
    assert "ZZ-1" not in Api(stranger).get("/api/catalogue").content.decode()
    assert "ZZ-1" not in Api(stranger).get("/api/catalogue.csv").content.decode()
    refused = Api(stranger).post(f"/api/catalogue/{own.id}/removal", {})
    nowhere = Api(stranger).post(f"/api/catalogue/{uuid.uuid4()}/removal", {})
    assert (refused.status_code, refused.json()) == (404, nowhere.json())
    assert OwnModel.objects.count() == 1


def test_lists_hold_only_the_own_company(install: str, stranger: User) -> None:
    assert Api(stranger).get("/api/installs").json() == {"installs": []}
    assert Api(stranger).get("/api/installs?search=kiosk").json() == {"installs": []}


@pytest.mark.parametrize(("method", "path"), WRITES)
def test_roles(install: str, crew: User, reader: User, method: str, path: str) -> None:
    assert (call(Api(reader), method, path, install_id=install).status_code == 403) == (path not in OF_ONESELF)
    by_crew = call(Api(crew), method, path, install_id=install)
    assert (by_crew.status_code == 403) == (path in LEAD_ONLY), by_crew.json()


@pytest.mark.parametrize(("method", "path"), WRITES)
def test_every_write_asks_for_its_key(api: Api, install: str, method: str, path: str) -> None:
    for key in ("", "short", "with space", "x" * 65):
        url = address(path, install_id=install)
        answer = api.client.post(
            url, BODIES[path], "application/json", headers={"X-CSRFToken": api.token, "Idempotency-Key": key}
        )
        assert (answer.status_code, answer.json()["code"]) == (400, "idempotency-key")
