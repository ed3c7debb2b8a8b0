"""The result of a revision: worked out once, kept, shared; a tick asks for it and works nothing out."""

from __future__ import annotations

import json
import subprocess
from functools import partial
from pathlib import Path
from threading import Event
from typing import Any
from uuid import UUID

import pytest
from accounts.models import User
from django.db import transaction
from hypothesis import HealthCheck, given, settings
from installs import actions, results
from installs.api import without_unchanged
from installs.models import Install, RevisionResult
from leitung_core.plan.model import Plan, read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_plan
from leitung_demo import kiosk, museum

from tests.core.result.plans import plans
from tests.server.conftest import Api
from tests.server.test_changes import change, line
from tests.server.test_records import CLEARED, READ, SIGN

pytestmark = pytest.mark.django_db
STEP = {"key": "MS-1.plate", "done": True}


@pytest.fixture
def nothing_computed(monkeypatch: pytest.MonkeyPatch) -> None:
    """From here on, whoever works a plan out fails."""

    def refuse(*_: Any) -> None:
        raise AssertionError("a result was worked out that is kept")

    monkeypatch.setattr(results, "check_and_brief", refuse)


def test_no_reading_and_no_tick_works_a_result_out(api: Api, install: str, request: pytest.FixtureRequest) -> None:
    base = f"/api/installs/{install}"
    shown = api.get(base).json()["result"]
    results.forget()  # As another process, which has nothing in memory.
    request.getfixturevalue("nothing_computed")
    assert api.post(f"{base}/steps", STEP).status_code == 200
    assert api.post(f"{base}/readings", READ).status_code == 200
    assert api.get(f"{base}/record").status_code == 200
    results.forget()
    assert api.get(base).json()["result"] == shown


def test_a_result_of_an_earlier_engine_is_worked_out_anew(
    api: Api, install: str, monkeypatch: pytest.MonkeyPatch, django_capture_on_commit_callbacks: Any
) -> None:
    monkeypatch.setattr(results, "later", lambda _, job: job())
    RevisionResult.objects.update(engine="an earlier one", body=b"", brief=b"")
    results.forget()
    with django_capture_on_commit_callbacks(execute=True):
        assert api.get(f"/api/installs/{install}").json()["result"]["circuits"]
    assert RevisionResult.objects.get().engine == results.engine()


def test_the_last_few_results_stay_and_the_signed_one(
    api: Api, install: str, monkeypatch: pytest.MonkeyPatch, django_capture_on_commit_callbacks: Any
) -> None:
    monkeypatch.setattr(results, "later", lambda _, job: job())
    api.post(f"/api/installs/{install}/signatures", SIGN)
    for number in range(1, 7):
        with django_capture_on_commit_callbacks(execute=True):
            assert change(api, install, number, line(run={"s1": {"length_ft": 20 + number}})).status_code == 200
    assert [*RevisionResult.objects.order_by("number").values_list("number", flat=True)] == [1, 5, 6, 7]


@pytest.mark.django_db(transaction=True)
def test_a_result_is_kept_behind_the_answer_and_reads_back_as_it_was(lead: User) -> None:
    """Another process, which has nothing in memory, finds what this one worked out, line by line."""
    install = actions.create(lead, museum(), "begun").install
    patch = {"circuits": {"UH-1": {"run": {"s1": {"length_ft": 90}}}}}
    made = actions.change(lead, install.id, 1, patch)
    results.settle()
    results.forget()
    assert set(RevisionResult.objects.values_list("number", flat=True)) == {1, 2}
    found = results.revision_at(made.install, 2)
    assert json.loads(found.result.model_dump_json()) == json.loads(made.result.model_dump_json())
    assert found.brief == made.revision.brief


def test_a_change_that_another_came_before_is_worked_out_again(
    lead: User, other_lead: User, install: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Between the working out of a change and its writing another one is written: both stand, in a row."""
    compute, turns = results.compute, iter([True])

    def slow(plan: Plan, document: dict[str, Any]) -> results.Revision:
        found = compute(plan, document)
        if next(turns, False):
            with transaction.atomic():
                actions.change(other_lead, UUID(install), 1, line(run={"s1": {"length_ft": 31}}))
        return found

    monkeypatch.setattr(actions, "compute", slow)
    made = actions.change(lead, UUID(install), 1, line(ocpd={"rating_a": 20}))
    circuit = made.document["circuits"]["MS-1"]
    assert (made.install.revision, circuit["ocpd"]["rating_a"], circuit["run"]["s1"]["length_ft"]) == (3, 20, 31)


def test_a_board_that_never_comes_to_rest_says_busy_and_changes_nothing(
    lead: User, other_lead: User, install: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    compute, state = results.compute, {"n": 0, "inside": False}

    def overtaken(plan: Plan, document: dict[str, Any]) -> results.Revision:
        found = compute(plan, document)
        if not state["inside"]:
            state.update(n=state["n"] + 1, inside=True)
            newest = Install.objects.get(id=install).revision
            actions.change(other_lead, UUID(install), newest, line(run={"s1": {"length_ft": 30 + state["n"]}}))
            state["inside"] = False
        return found

    monkeypatch.setattr(actions, "compute", overtaken)
    with pytest.raises(actions.Refused) as refused:
        actions.change(lead, UUID(install), 1, line(ocpd={"rating_a": 20}))
    assert (refused.value.status, refused.value.code) == (503, "busy")
    monkeypatch.undo()
    kept = actions.checked(Install.objects.get(id=install)).document["circuits"]["MS-1"]
    assert kept["ocpd"]["rating_a"] == 15


def test_a_line_that_becomes_whole_brings_its_cables_and_one_undo_takes_both_back(api: Api, install: str) -> None:
    unit = {
        "sources": {"P2": {"kind": "panel", "volts": 240, "phase": 1, "volts_to_ground": 120, "spaces": 12}},
        "equipment": {"UH-1": {"kind": "unit_heater", "nameplate": {
            "volts": "240", "phase": 1, "heat": {"watts": 3000, "rated_volts": 240}}}},
        "circuits": {"UH-1": {"source": "P2", "equipment": "UH-1", "run": {
            "s1": {"order": 10, "method": "NM-B", "length_ft": 20, "place": "interior"}}}},
    }  # fmt: skip
    drawn = change(api, install, 1, unit).json()
    assert {"P-UH-1", "W-UH-1"} <= set(drawn["document"]["cables"])
    assert drawn["install"]["revision"] == 2
    back = api.post(f"/api/installs/{install}/undo", {}).json()["document"]
    assert "UH-1" not in back["circuits"]
    assert not {"P-UH-1", "W-UH-1"} & set(back.get("cables", {}))


def printed(api: Api, plan: dict[str, Any], sheet: str, tmp_path: Path) -> str:
    install = api.post("/api/imports", plan).json()["install"]["id"]
    paper = tmp_path / "sheet.pdf"
    paper.write_bytes(api.get(f"/api/installs/{install}/{sheet}.pdf").content)
    return subprocess.run(["pdftotext", "-layout", paper, "-"], capture_output=True, text=True, check=True).stdout


def test_the_record_cites_the_edition_that_it_was_judged_by(api: Api, tmp_path: Path) -> None:
    """The ampacity table had another number in 2017: Table 310.15(B)(16)."""
    now = printed(api, kiosk(), "record", tmp_path)
    then = printed(api, kiosk() | {"rulebook": "us-2017"}, "record", tmp_path)
    assert "Table 310.16" in now
    assert "Table 310.15(B)(16)" in then
    assert "310.16" not in then
    assert "2017" in then.splitlines()[1] + then.splitlines()[0] + then.splitlines()[2]


def test_paper_cuts_the_lines_that_the_screen_cuts(lead: User) -> None:
    """An overloaded pedestal stops what it feeds, on the drawing as in the result."""
    from documents.drawings import draw_lines

    found = actions.create(lead, merge(museum(), {"name": "Printed"}), "Begun")
    drawings = draw_lines(found, 1000)
    cut = {key for key, drawn in found.result.drawn.items() if drawn.cut}
    assert {key for key, svg in drawings.items() if "data-cut" in svg} == cut
    assert {"RU-1", "RU-2"} <= cut
    assert "UH-1" not in cut


def test_the_control_sheet_holds_what_was_tried_and_set(api: Api, lead: User, tmp_path: Path) -> None:
    install = actions.create(lead, merge(museum(), CLEARED), "Begun").install.id
    base = f"/api/installs/{install}"
    api.post(f"{base}/tests", {"key": "AH-1/door-open/lamp", "outcome": "passed", "reason": "tried by itself"})
    row = next(row for row in api.get(f"{base}/record").json()["set_up"] if row["system"] == "AH-1")
    api.post(f"{base}/settings", {"key": row["key"], "done": True})
    paper = tmp_path / "controls.pdf"
    paper.write_bytes(api.get(f"{base}/controls.pdf?system=AH-1").content)
    text = subprocess.run(["pdftotext", "-layout", paper, "-"], capture_output=True, text=True, check=True).stdout
    assert "passed" in text
    assert "set" in text.split("Set-up", 1)[1]
    record = tmp_path / "record.pdf"
    record.write_bytes(api.get(f"{base}/record.pdf").content)
    text = subprocess.run(["pdftotext", "-layout", record, "-"], capture_output=True, text=True, check=True).stdout
    assert "1 of " in text.split("Set-up", 1)[1].splitlines()[0]
    assert "not tried" in text


def test_a_newer_result_takes_the_place_of_one_that_still_waits(caplog: pytest.LogCaptureFixture) -> None:
    """While one is written, three more come: the last is written; what fails is told and holds nobody up."""
    begun, go_on, done = Event(), Event(), list[str]()
    one, other, third = (Install(id=UUID(int=number), company_id=1) for number in (1, 2, 3))

    def slow() -> None:
        begun.set()
        go_on.wait(30)
        done.append("first")

    def fails() -> None:
        raise OSError("no room left")

    results.later(one, slow)
    assert begun.wait(30)
    for name in ("second", "third", "fourth"):
        results.later(one, partial(done.append, name))
    results.later(other, fails)
    results.later(third, partial(done.append, "another install"))
    go_on.set()
    results.settle()
    assert done == ["first", "fourth", "another install"]
    assert "worked out again when it is asked for" in caplog.text


@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(plans(), plans())
def test_what_is_left_out_of_an_answer_is_what_the_sender_has(one: dict[str, Any], two: dict[str, Any]) -> None:
    """Whatever two plans there are: what came and what was left out, taken from before, is the whole."""
    before, whole = (check_plan(read_plan(plan)) for plan in (one, two))
    answer, unchanged = without_unchanged(whole, before)
    left = [entry.split("/", 1) for entry in unchanged]
    groups = {
        "circuits": (answer.circuits, before.circuits, whole.circuits),
        "drawn": (answer.drawn, before.drawn, whole.drawn),
        "devices": (answer.wiring.devices, before.wiring.devices, whole.wiring.devices),
        "cables": (answer.wiring.cables, before.wiring.cables, whole.wiring.cables),
    }  # fmt: skip
    for group, (came, old, all_of_it) in groups.items():
        kept = {key: old[key] for name, key in left if name == group}
        assert came | kept == all_of_it
        assert not came.keys() & kept.keys()
    assert (answer.findings, answer.stands) == (whole.findings, whole.stands)
