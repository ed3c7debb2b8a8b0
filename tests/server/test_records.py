"""Records: added, corrected, signed, never changed."""

from __future__ import annotations

from typing import Any

import pytest
from accounts.models import User
from django.db import DatabaseError, connection, transaction
from installs.models import Install

from tests.server.conftest import Api
from tests.server.test_changes import change, line

pytestmark = pytest.mark.django_db
READ = {"key": "MS-1.L1-L2", "value": 246.5}


def point(answer: Any, key: str = "MS-1.L1-L2") -> dict[str, Any]:
    return next(entry for entry in answer.json()["readings"] if entry["key"] == key)


def test_a_reading_is_judged_and_corrected_by_a_new_entry(api: Api, install: str) -> None:
    path = f"/api/installs/{install}/readings"
    (first,) = point(api.post(path, READ))["entries"]
    assert (first["verdict"], first["said"]) == ("within", "Within 187.2 to 253 V (the plate's voltage ± 10 %).")
    again = api.post(path, READ | {"value": 264})
    assert (again.status_code, again.json()["standing"]) == (409, first["id"])
    correction = READ | {"value": 264, "corrects": first["id"]}
    assert api.post(path, correction).json()["errors"][0]["field"] == "reason"
    both = point(api.post(path, correction | {"reason": "meter was on the wrong range"}))["entries"]
    assert [(entry["value"], entry["verdict"]) for entry in both] == [(246.5, "within"), (264, "outside")]
    assert Install.objects.get(id=install).stuck_on == "L1 to L2 at the disconnect reads outside what it should"
    # The corrected one cannot be corrected a second time.
    assert api.post(path, correction | {"reason": "again"}).status_code == 409


def test_a_step_taken_back_needs_a_reason(api: Api, install: str) -> None:
    path = f"/api/installs/{install}/steps"
    step = {"key": "MS-1.dead", "done": True}
    api.post(path, step)
    assert api.post(path, step | {"done": False}).status_code == 422
    back = api.post(path, step | {"done": False, "reason": "another meter"}).json()
    (found,) = [entry for entry in back["steps"] if entry["key"] == "MS-1.dead"]
    assert (found["done"], [entry["done"] for entry in found["entries"]]) == (False, [True, False])


def test_nothing_is_energised_measured_or_signed_against_a_stop(api: Api, install: str) -> None:
    change(api, install, 1, line(ocpd={"rating_a": 20}))
    base = f"/api/installs/{install}"
    assert api.post(f"{base}/steps", {"key": "MS-1.breaker-on", "done": True}).json()["code"] == "stop"
    assert api.post(f"{base}/readings", READ).json()["code"] == "stop"
    assert api.post(f"{base}/signatures", {"revision": 2, "name": "Ines Tarn"}).json()["code"] == "stop"
    assert api.post(f"{base}/steps", {"key": "MS-1.dead", "done": True}).status_code == 200


def test_a_signature_covers_one_revision(api: Api, install: str) -> None:
    path = f"/api/installs/{install}/signatures"
    assert api.post(path, {"revision": 7, "name": "Ines Tarn"}).json()["code"] == "moved-on"
    signed = api.post(path, {"revision": 1, "name": "Ines Tarn"}).json()
    assert (signed["install"]["station"], signed["signatures"][0]["revision"]) == ("signed", 1)
    assert api.post(path, {"revision": 1, "name": "Ines Tarn"}).json()["code"] == "signed"
    changed = change(api, install, 1, line(run={"s1": {"length_ft": 25}})).json()
    assert changed["install"]["station"] == "start-up"
    assert api.get(f"/api/installs/{install}/record").json()["signatures"] == signed["signatures"]


def test_open_items_are_closed_once(api: Api, install: str, crew: User) -> None:
    base = f"/api/installs/{install}/open-items"
    item = Api(crew).post(base, {"text": "bushing", "owner": "Odo", "due": "2026-12-01"}).json()["open_items"][0]
    closed = api.post(f"{base}/{item['id']}/closing", {"note": "fitted"}).json()["open_items"][0]
    assert (closed["closed_by"], closed["note"]) == ("Lead", "fitted")
    assert api.post(f"{base}/{item['id']}/closing", {"note": "again"}).json()["code"] == "closed"


@pytest.mark.parametrize(
    ("end", "body"),
    [
        ("readings", READ | {"value": "high"}), ("readings", READ | {"value": None}),
        ("readings", READ | {"value": -1}),
        ("readings", READ | {"key": "elsewhere"}), ("readings", READ | {"corrects": "x"}),
        ("steps", {"key": "nowhere", "done": True}), ("steps", {"key": "MS-1.dead"}),
        ("open-items", {"text": "", "owner": "Odo"}), ("open-items", {"text": "x", "owner": "y", "due": "soon"}),
        ("open-items", {"text": "\x00", "owner": "y"}), ("signatures", {"revision": 1, "name": " "}),
    ],
)  # fmt: skip
def test_nonsense_is_a_message(api: Api, install: str, end: str, body: dict[str, Any]) -> None:
    answer = api.post(f"/api/installs/{install}/{end}", body)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["message"]


def test_the_database_itself_refuses_to_change_a_record(api: Api, install: str) -> None:
    base = f"/api/installs/{install}"
    api.post(f"{base}/steps", {"key": "MS-1.dead", "done": True})
    api.post(f"{base}/readings", READ)
    item = api.post(f"{base}/open-items", {"text": "x", "owner": "y"}).json()["open_items"][0]
    api.post(f"{base}/open-items/{item['id']}/closing", {"note": "z"})
    api.post(f"{base}/signatures", {"revision": 1, "name": "Ines Tarn"})
    tables = ["installs_planrevision", "records_stepentry", "records_reading", "records_openitem"]
    for table in [*tables, "records_openitemclosing", "records_signature"]:
        for statement in (f"UPDATE {table} SET at = now()", f"DELETE FROM {table}"):
            with pytest.raises(DatabaseError, match="append-only"), transaction.atomic(), connection.cursor() as cursor:
                cursor.execute(statement)
