"""Records: added, corrected, signed, never changed."""

from __future__ import annotations

import subprocess
import sys
from importlib import import_module
from pathlib import Path
from typing import Any

import pytest
from accounts.models import User
from django.conf import settings
from django.db import DatabaseError, connection, transaction
from installs import actions
from installs.models import Install
from leitung_core.plan.patch import merge
from leitung_demo import museum
from pypdf import PdfReader
from records import models as kept

from tests.core.vault import CLEARED
from tests.server.conftest import Api
from tests.server.test_changes import change, line

pytestmark = pytest.mark.django_db
READ = {"key": "MS-1.L1-L2", "value": 246.5, "reason": "tried by itself"}
DEAD = {"key": "MS-1.dead", "done": True, "value": 0.3, "reason": "tried by itself"}
SIGN = {"revision": 1, "name": "Ines Tarn",
        "reasons": {"sources/PA": "seen by the inspector", "circuits/MS-1": "comes next week"}}  # fmt: skip


def point(answer: Any, key: str = "MS-1.L1-L2") -> dict[str, Any]:
    return next(entry for entry in answer.json()["readings"] if entry["key"] == key)


def test_a_reading_is_judged_and_corrected_by_a_new_entry(api: Api, install: str) -> None:
    path = f"/api/installs/{install}/readings"
    (first,) = point(api.post(path, READ))["entries"]
    assert (first["verdict"], first["said"]) == ("within", "Within 187.2 to 253 V (the plate's voltage ± 10 %).")
    again = api.post(path, READ | {"value": 264})
    assert (again.status_code, again.json()["standing"]) == (409, first["id"])
    correction = READ | {"value": 264, "corrects": first["id"], "reason": None}
    assert api.post(path, correction).json()["errors"][0]["field"] == "reason"
    both = point(api.post(path, correction | {"reason": "meter was on the wrong range"}))["entries"]
    assert [(entry["value"], entry["verdict"]) for entry in both] == [(246.5, "within"), (264, "outside")]
    assert Install.objects.get(id=install).stuck_on == "L1 to L2 at the disconnect reads outside what it should"
    # The corrected one cannot be corrected a second time.
    assert api.post(path, correction | {"reason": "again"}).status_code == 409


def test_a_step_taken_back_needs_a_reason(api: Api, install: str) -> None:
    path = f"/api/installs/{install}/steps"
    api.post(path, DEAD)
    assert api.post(path, DEAD | {"done": False, "reason": None}).status_code == 422
    back = api.post(path, DEAD | {"done": False, "reason": "another meter"}).json()
    (found,) = [entry for entry in back["steps"] if entry["key"] == "MS-1.dead"]
    assert (found["done"], [entry["done"] for entry in found["entries"]]) == (False, [True, False])


def test_nothing_is_energised_measured_or_signed_against_a_stop(api: Api, install: str) -> None:
    change(api, install, 1, line(ocpd={"rating_a": 20}))
    base = f"/api/installs/{install}"
    assert api.post(f"{base}/steps", {"key": "MS-1.breaker-on", "done": True}).json()["code"] == "stop"
    assert api.post(f"{base}/readings", READ).json()["code"] == "stop"
    assert api.post(f"{base}/signatures", SIGN | {"revision": 2}).json()["code"] == "stop"
    assert api.post(f"{base}/steps", DEAD).status_code == 200


def test_a_signature_covers_one_revision(api: Api, install: str) -> None:
    path = f"/api/installs/{install}/signatures"
    assert api.post(path, SIGN | {"revision": 7}).json()["code"] == "moved-on"
    signed = api.post(path, SIGN).json()
    assert (signed["install"]["station"], signed["signatures"][0]["revision"]) == ("signed", 1)
    assert api.post(path, SIGN).json()["code"] == "signed"
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
    api.post(f"{base}/steps", DEAD)
    api.post(f"{base}/readings", READ)
    item = api.post(f"{base}/open-items", {"text": "x", "owner": "y"}).json()["open_items"][0]
    api.post(f"{base}/open-items/{item['id']}/closing", {"note": "z"})
    api.post(f"{base}/signatures", SIGN)
    found = Install.objects.get()
    mine = {"company": found.company, "install": found, "revision": 1, "author": User.objects.get(username="lead")}
    kept.TestEntry.objects.create(**mine, key="a/b/c", outcome="passed")
    tables = ["installs_planrevision", "records_stepentry", "records_reading", "records_openitem"]
    for table in [*tables, "records_openitemclosing", "records_signature", "records_testentry"]:
        for statement in (f"UPDATE {table} SET at = now()", f"DELETE FROM {table}"):
            with pytest.raises(DatabaseError, match="append-only"), transaction.atomic(), connection.cursor() as cursor:
                cursor.execute(statement)


VAULT = "AH-1"
LAMP = {"key": f"{VAULT}/door-open/lamp", "outcome": "passed", "reason": "tried by itself"}


@pytest.fixture
def plant(lead: User) -> str:
    """The museum, the stop in its vault cleared; the path of its install."""
    return f"/api/installs/{actions.create(lead, merge(museum(), CLEARED), 'Install begun').install.id}"


def laid_over(before: dict[str, Any], news: dict[str, Any]) -> dict[str, Any]:
    """A record with what an entry answered: rows that came in the place of theirs."""
    after = before | {name: value for name, value in news.items() if not isinstance(value, list)}
    for name in ("steps", "readings", "tests", "set_up", "landings", "trials"):
        by = "device" if name == "landings" else "key"
        came = {row[by]: row for row in news[name]}
        after[name] = [came.get(row[by], row) for row in before[name]]
    kept = {name: news[name] for name in ("not_proved", "open_items", "signatures") if name in news}
    return after | kept


def test_what_an_entry_answers_laid_over_what_stood_is_what_stands(api: Api, plant: str) -> None:
    """Whichever rows an answer leaves out have not changed: those that need a step, those judged with a reading."""
    stood = api.get(f"{plant}/record").json()
    why = {"reason": "tried by itself"}
    open_to = {key for step in stood["steps"] if not step.get("stop") for key in (*step["reads"], *step["tests"])}
    points = [point for point in stood["readings"] if point["key"] in open_to][:6]
    reads = [{"key": point["key"], "value": point.get("expected", 1), **why} for point in points]
    tests = [test["key"] for test in stood["tests"] if test["key"] in open_to][:2]
    locks = [step["key"] for step in stood["steps"] if step["phase"] == "lock_out" and not step.get("asks")][:4]
    energised = next(
        step["key"] for step in stood["steps"] if step["key"].endswith(".breaker-on") and not step.get("stop")
    )
    entries = [
        *(("steps", {"key": key, "done": True, **why}) for key in [*locks, energised]),
        ("steps", {"key": energised, "done": False, **why}),
        *(("readings", read) for read in reads),
        *(("tests", {"key": key, "outcome": "failed", **why}) for key in tests),
        *(("settings", {"key": item["key"], "done": True}) for item in stood["set_up"][:2]),
        ("open-items", {"text": "seal the wall", "owner": "Odo"}),
    ]
    for path, body in entries:
        answer = api.post(f"{plant}/{path}", body)
        assert answer.status_code == 200, answer.json()
        stood = laid_over(stood, answer.json())
        assert stood == api.get(f"{plant}/record").json(), (path, body)


def entry(answer: Any, kind: str, key: str) -> dict[str, Any]:
    return next(row for row in answer.json()[kind] if row["key"] == key)


def test_a_functional_test_passes_fails_and_is_taken_back(api: Api, plant: str, crew: User) -> None:
    path = f"{plant}/tests"
    passed = entry(Api(crew).post(path, LAMP), "tests", LAMP["key"])
    assert (passed["outcome"], passed["entries"][0]["author"], passed["shown"]) == ("passed", "Crew", "stops")
    assert api.post(path, LAMP | {"outcome": "taken_back", "reason": None}).json()["errors"][0]["field"] == "reason"
    api.post(path, LAMP | {"outcome": "taken_back", "reason": "wrong door"})
    failed = entry(api.post(path, LAMP | {"outcome": "failed"}), "tests", LAMP["key"])
    assert [row["outcome"] for row in failed["entries"]] == ["passed", "taken_back", "failed"]
    # What goes on at the bench has not been proved on the unit, whatever was seen there.
    drying = {"key": f"{VAULT}/pump-fault/dehumidifier", "outcome": "passed"}
    assert api.post(path, drying).json()["code"] == "stop"
    assert api.post(path, LAMP | {"key": f"{VAULT}/door-open/fan"}).json()["errors"][0]["field"] == "key"


def test_a_setting_stands_as_long_as_the_plan_asks_for_that_value(api: Api, plant: str) -> None:
    row = api.get(f"{plant}/record").json()["set_up"][0]
    done = entry(api.post(f"{plant}/settings", {"key": row["key"], "done": True}), "set_up", row["key"])
    assert (done["done"], done["entries"][0]["author"]) == (True, "Lead")
    kept.SettingEntry.objects.create(
        company=Install.objects.get().company, install=Install.objects.get(), revision=1, author=User.objects.first(),
        key=row["key"], value="another value", done=True,
    )  # fmt: skip
    assert not entry(api.get(f"{plant}/record"), "set_up", row["key"])["done"]
    refused = api.post(f"{plant}/settings", {"key": row["key"], "done": False})
    assert refused.json()["errors"][0]["field"] == "reason"


def test_a_terminal_is_ticked_and_the_tick_taken_off(api: Api, plant: str) -> None:
    first = api.get(f"{plant}/record").json()["landings"][0]
    strips = api.get(plant).json()["result"]["wiring"]["devices"][first["device"]]["strips"]
    key = next(row["ref"] for strip in strips for row in strip["terminals"] if row["landed"])
    assert first["ticked"] == []
    held = api.post(f"{plant}/landing-ticks", {"key": key, "done": True})
    assert (held.status_code, held.json()["code"]) == (409, "order"), "nothing is locked out yet"
    tick = {"key": key, "done": True, "reason": "its line is not there yet"}
    ticked = api.post(f"{plant}/landing-ticks", tick).json()["landings"][0]
    assert kept.LandingEntry.objects.get().passed == held.json()["missing"]
    assert ticked["ticked"] == [key]
    assert api.post(f"{plant}/landing-ticks", {"key": key, "done": False}).json()["landings"][0]["ticked"] == []
    assert api.post(f"{plant}/landing-ticks", {"key": "NO-1.x.y", "done": True}).status_code == 422


def test_start_up_is_left_open_until_tests_and_settings_are_recorded(api: Api, install: str, plant: str) -> None:
    whole = api.get(f"{plant}/record").json()
    ticked = [step for step in whole["steps"] if step["landings"] or step["trials"] or not step["by_records"]]
    asked = [*ticked, *whole["readings"], *whole["tests"], *whole["set_up"]]
    assert whole["left"] == len(asked)
    one = api.post(f"{plant}/settings", {"key": whole["set_up"][0]["key"], "done": True}).json()
    assert one["left"] == len(asked) - 1


def test_what_was_tried_before_tests_had_a_place_of_their_own_is_brought_along(lead: User, plant: str) -> None:
    install = Install.objects.get()
    old = {"company": install.company, "install": install, "revision": 1, "author": lead, "reason": ""}
    kept.StepEntry.objects.create(**old, key=f"interlock.{VAULT}.door-open.lamp", done=True)
    kept.StepEntry.objects.create(**old, key="MS-1.dead", done=True)
    migration = import_module("records.migrations.0003_tests_settings_landings")
    with connection.cursor() as cursor:
        cursor.execute(migration.COPY)
    (brought,) = kept.TestEntry.objects.all()
    assert (brought.key, brought.outcome, brought.author) == (LAMP["key"], "passed", lead)


def verified(file: Path, *more: str) -> tuple[int, str]:
    done = subprocess.run(
        [sys.executable, "-m", "leitung_cli.main", "verify", str(file), *more], capture_output=True, text=True,
        cwd=settings.ROOT / "core",
    )  # fmt: skip
    return done.returncode, done.stdout + done.stderr


def test_a_printed_record_can_be_verified_by_anyone(api: Api, install: str, tmp_path: Path) -> None:
    base = f"/api/installs/{install}"
    api.post(f"{base}/steps", DEAD)
    digest = api.post(f"{base}/signatures", SIGN).json()["signatures"][0]["digest"]
    # What comes after a signature is not covered by it, and does not break it.
    api.post(f"{base}/steps", {"key": "MS-1.covers", "done": True, "reason": "tried by itself"})
    paper = tmp_path / "record.pdf"
    paper.write_bytes(api.get(f"{base}/record.pdf").content)
    code, said = verified(paper, "--digest", digest)
    assert (code, digest in said) == (0, True), said
    assert verified(paper, "--digest", "0" * 64)[0] == 1
    attached = PdfReader(paper).attachments["leitung-record.json"][0]
    changed = tmp_path / "changed.json"
    changed.write_bytes(attached.replace(b'"MS-1.dead"', b'"MS-1.torque"'))
    code, said = verified(changed)
    assert (code, "does not match" in said) == (1, True), said
    (tmp_path / "other.pdf").write_bytes(b"%PDF-1.7 nothing")
    assert verified(tmp_path / "other.pdf")[0] == 2


def test_the_lock_out_of_a_line_is_worked_out_from_the_whole_network(api: Api, plant: str) -> None:
    found = api.get(f"{plant}/lines/AH-1/lock-out").json()["found"]
    assert [(row["device"], row["kind"]) for row in found["open"]] == [("B-FD1", "breaker")]
    assert found["proved"]
    assert api.get(f"{plant}/lines/XX/lock-out").status_code == 422


def test_what_is_put_in_for_a_while_is_demanded_back_before_it_is_signed(api: Api, install: str) -> None:
    base = f"/api/installs/{install}"
    bridge = {"text": "Bridge R to Y1", "owner": "Odo Brisk", "temporary": True}
    (told,) = api.post(f"{base}/open-items", bridge).json()["errors"]
    assert told["field"] == "about"
    elsewhere = api.post(f"{base}/open-items", bridge | {"about": "circuits/NO-1"})
    assert elsewhere.json()["errors"][0]["message"] == "is no part of this start-up"
    made = api.post(f"{base}/open-items", bridge | {"about": "circuits/MS-1"}).json()
    (item,) = made["open_items"]
    still = f"temporary.{item['id']}"
    assert [row["says"] for row in made["not_proved"] if row["key"] == still] == ["Still there: Bridge R to Y1"]
    reasons = {row["key"]: "tried" for row in made["not_proved"] if row["key"] != still}
    held = api.post(f"{base}/signatures", SIGN | {"reasons": reasons})
    assert (held.status_code, held.json()["missing"]) == (409, [still])
    out = api.post(f"{base}/open-items/{item['id']}/closing", {"note": "out again"}).json()
    assert still not in {row["key"] for row in out["not_proved"]}
    assert api.post(f"{base}/signatures", SIGN | {"reasons": reasons}).status_code == 200


def test_a_test_is_void_once_its_system_is_wired_otherwise(api: Api, plant: str) -> None:
    """A longer cable changes nothing that was proved; a terminal does, and being as it was it holds again."""
    before = entry(api.post(f"{plant}/tests", LAMP), "tests", LAMP["key"])
    assert (before["outcome"], before["void"]) == ("passed", False)

    def after(revision: int, patch: dict[str, Any]) -> tuple[Any, bool, bool]:
        changed = api.post(f"{plant}/patches", {"base_revision": revision, "patch": patch})
        assert changed.json()["install"]["revision"] == revision + 1, changed.json()
        record = api.get(f"{plant}/record")
        proof = next(step for step in record.json()["steps"] if LAMP["key"] in step["tests"])
        test = entry(record, "tests", LAMP["key"])
        return test.get("outcome"), test["void"], proof["done"]

    def black(terminal: str) -> dict[str, Any]:
        return {"cables": {"LC-2": {"conductors": {"black": {"b": {"terminal": terminal}}}}}}

    record = api.get(f"{plant}/record").json()
    control = next(row for row in record["readings"] if row["about"] == f"devices/{VAULT}" and row["unit"] == "V")
    read = {"key": control["key"], "value": round(control["expected"], 1), "reason": "before its turn"}
    assert entry(api.post(f"{plant}/readings", read), "readings", control["key"])["entries"]

    def is_void() -> bool:
        return bool(entry(api.get(f"{plant}/record"), "readings", control["key"])["void"])

    assert after(1, {"cables": {"LC-1": {"route": {"r1": {"length_ft": 12}}}}}) == ("passed", False, True)
    assert not is_void()
    assert after(2, black("LU-1.pri.P240")) == (None, True, False)
    assert is_void()
    assert after(3, black("LU-1.pri.P208")) == ("passed", False, True)
    assert not is_void()


def test_each_role_signs_once_the_customer_last_and_by_finger(api: Api, install: str) -> None:
    path = f"/api/installs/{install}/signatures"
    customer = {"revision": 1, "name": "Odo Fenn", "role": "customer", "drawn": [[10, 20, 30, 40], [500, 150]]}
    assert api.post(path, customer).json()["code"] == "customer-first"
    assert api.post(path, SIGN).status_code == 200
    assert api.post(path, SIGN).json()["code"] == "signed"
    assert api.post(path, SIGN | {"role": "licensed", "reasons": {}}).status_code == 200
    rows = api.post(path, customer).json()["signatures"]
    assert [row.get("role") for row in rows] == ["installer", "licensed", "customer"]
    assert rows[2]["drawn"] == "M10 20L30 40M500 150L501 150"
    # What the first wrote as reasons stands under every signature.
    assert rows[2]["reasons"] == rows[0]["reasons"]
    for drawn in ([[1]], [[1, 2000]], [["1", 2]], [[1, 2]] * 61):
        assert api.post(path, customer | {"drawn": drawn}).status_code == 422


def test_what_was_changed_since_the_signature_is_told(api: Api, install: str) -> None:
    base = f"/api/installs/{install}"
    assert api.get(f"{base}/revisions/1/since").json()["edits"] == []
    first = next(iter(api.get(base).json()["document"]["circuits"]["MS-1"]["run"]))
    longer = {"circuits": {"MS-1": {"run": {first: {"length_ft": 400}}}}}
    assert api.post(f"{base}/patches", {"base_revision": 1, "patch": longer}).status_code == 200
    told = api.get(f"{base}/revisions/1/since").json()
    assert [edit["number"] for edit in told["edits"]] == [2]
    assert any(row["circuit"] == "MS-1" and row["what"] == "drop" for row in told["comparison"]["figures"])
    assert api.get(f"{base}/revisions/9/since").status_code == 404
