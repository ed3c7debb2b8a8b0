"""A trial on paper over the API: the core's answer with its picture, refusals by field, nothing kept."""

from __future__ import annotations

import io
from typing import Any

import pytest
from django.db import DatabaseError, transaction
from installs.models import Install
from leitung_core.plan.patch import merge
from leitung_core.result.signed import digest_of
from leitung_core.starting.open_form import starting
from leitung_demo import museum
from leitung_demo.logs import trailer_log
from pypdf import PdfReader
from records.digest import content
from records.models import TrialEntry

from tests.core.starting.trials import steady, trial, unit
from tests.server.conftest import Api

pytestmark = pytest.mark.django_db


def test_the_answer_is_the_cores_and_the_picture_shows_it(api: Api) -> None:
    document = trial(unit(), steady("oven", 12), source_ohms=0.6)
    found = api.post("/api/starting", document).json()
    told, _ = starting(document)
    assert (found["verdict"], found["ways_out"], found["why"]) == (told["verdict"], told["ways_out"], told["why"])
    (leg,) = found["picture"]["legs"]
    assert [[step["t_s"], round(step["a"], 4)] for step in leg["steps"]] == [
        [row["t_s"], row["leg_a"][0]] for row in told["trace"]
    ]
    assert (leg["rating_a"], leg["may_a"], leg["must_a"]) == (30, 150, 300)
    heat = [at["quick"] for at in leg["heat"]]
    assert (heat[0], max(heat) <= 1, leg["heat"][-1]["t_s"]) == (0, True, found["picture"]["until_s"])


def test_nonsense_names_its_field(api: Api) -> None:
    answer = api.post("/api/starting", trial(steady("oven", 12, 2)))
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == "loads.0.leg"


def test_a_log_is_read_and_drawn_small(api: Api) -> None:
    text = "t_s,a\n" + "".join(f"{at / 10},{0 if at < 3000 else 11}\n" for at in range(9000))
    (column,) = api.post("/api/logs", {"csv": text, "rating_a": 30}).json()["columns"]
    assert [(event["kind"], event["at_s"]) for event in column["events"]] == [("step_up", 300)]
    assert len(column["course"]) == 600
    assert (column["course"][0]["most_a"], column["course"][-1]["least_a"]) == (0, 11)
    refused = api.post("/api/logs", {"csv": "t_s,a\n0,1\n1,x\n"})
    assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "row 3, a")


def put(api: Api, plan: dict[str, Any]) -> str:
    return str(api.post("/api/imports", plan).json()["install"]["id"])


@pytest.fixture
def trailer(api: Api) -> str:
    """The museum's trailer on a pedestal that carries what is asked of it; its microwave is off."""
    return put(api, merge(museum(), {"sources": {"TP": {"bus_a": 50, "calls": {"microwave": {"off": True}}}}}))


def test_a_start_of_an_install_says_what_of_its_plan_would_change(api: Api) -> None:
    install = put(api, museum())
    plan = api.get(f"/api/installs/{install}").json()
    document = plan["result"]["supplies"]["TP"]["document"]
    url = f"/api/installs/{install}/supplies/TP/starts"
    as_planned = api.post(url, document).json()
    assert as_planned["verdict"] == "trips"
    assert as_planned["headline"] == plan["result"]["supplies"]["TP"]["says"]
    assert "keep" not in as_planned
    index = next(i for i, way in enumerate(as_planned["ways_out"]) if way["says"] == "Leave microwave off.")
    assert as_planned["keeps"][index] == {"sources": {"TP": {"calls": {"microwave": {"off": True, "at_s": None}}}}}
    taken = api.post(f"/api/installs/{install}/patches", {"base_revision": 1, "patch": as_planned["keeps"][index]})
    assert taken.json()["result"]["supplies"]["TP"]["verdict"] == "starts"
    assert api.post(f"/api/installs/{install}/supplies/MP/starts", document).status_code == 404
    assert api.post(url, {"supply": {}}).status_code == 422


def test_trials_are_recorded_in_their_order_and_stand_against_what_was_expected(api: Api, trailer: str) -> None:
    url = f"/api/installs/{trailer}/start-trials"
    early = api.post(url, {"key": "GE", "outcome": "started"})
    assert (early.status_code, early.json()["code"]) == (409, "trial-too-early")
    assert "Trailer pedestal comes first" in early.json()["detail"]
    wrong = api.post(url, {"key": "TP", "outcome": "started", "measured": {"peak_a": 20, "settled_a": 28}})
    assert wrong.json()["errors"][0]["field"] == "peak_a"
    # Nothing of the trailer has power yet: the trial says what comes first, and is made before it with a reason only.
    whole = {"key": "TP", "outcome": "started", "measured": {"peak_a": 51, "settled_a": 28.1}}
    held = api.post(url, whole)
    assert (held.status_code, held.json()["code"]) == (409, "order")
    assert "RU-1.disconnect-on" in held.json()["missing"]
    (first,) = [row["first"] for row in api.get(url.replace("start-trials", "record")).json()["trials"]
                if row["key"] == "TP"]  # fmt: skip
    assert held.json()["detail"] == f"{first} Or say why it is passed over."
    made = api.post(url, whole | {"note": "units proved last week"}).json()
    assert TrialEntry.objects.get().passed == held.json()["missing"]
    steps = {step["key"]: step["done"] for step in made["steps"]}
    assert steps == {"sources/TP.trial": True, "sources/GE.trial": False}
    by_key = {trial["key"]: trial for trial in made["trials"]}
    (entry,) = by_key["TP"]["entries"]
    assert entry["against"] == ["peak 51 A, 48 A expected", "settled 28.1 A, 28.8 A expected"]
    assert "not_yet" not in by_key["GE"]
    assert "Generator comes first" in by_key["IV"]["not_yet"]
    # Taken back with its reason: the generator's has to wait again, and what was recorded stays.
    assert api.post(url, {"key": "TP", "outcome": "taken_back"}).json()["errors"][0]["field"] == "reason"
    back = api.post(url, {"key": "TP", "outcome": "taken_back", "note": "wrong clamp"}).json()["trials"]
    assert len(next(trial for trial in back if trial["key"] == "TP")["entries"]) == 2
    assert "not tried yet" in next(trial for trial in back if trial["key"] == "GE")["not_yet"]
    assert api.post(url, {"key": "TP", "outcome": "taken_back", "note": "again"}).status_code == 409
    with pytest.raises(DatabaseError, match="append-only"), transaction.atomic():
        TrialEntry.objects.update(outcome="started")


def test_what_fails_on_paper_is_not_tried_and_the_sheet_says_so(api: Api) -> None:
    install = put(api, museum())
    refused = api.post(f"/api/installs/{install}/start-trials", {"key": "TP", "outcome": "started"})
    assert refused.status_code == 409
    assert "does not start" in refused.json()["detail"]
    sheet = PdfReader(io.BytesIO(api.get(f"/api/installs/{install}/trials.pdf").content))
    text = " ".join(page.extract_text() for page in sheet.pages)
    for words in ("Trailer pedestal", "Generator", "Inverter and battery", "Grid first", "Qualified and licensed"):
        assert words in text
    assert len(sheet.pages) <= 4


def test_a_signature_of_an_earlier_release_still_covers_what_it_covered(api: Api, trailer: str) -> None:
    made = {"key": "TP", "outcome": "started", "note": "units proved last week"}
    assert api.post(f"/api/installs/{trailer}/start-trials", made).status_code == 200
    install = Install.objects.get(id=trailer)
    assert "trials" not in content(install, 1, version=1)["records"]
    assert "passed" not in content(install, 1, version=3)["records"]["trials"][0]
    assert content(install, 1)["records"]["trials"][0]["passed"]
    assert digest_of(content(install, 1, version=1)) != digest_of(content(install, 1))


def test_a_log_of_a_source_names_its_loads_and_what_an_aid_took(api: Api, trailer: str) -> None:
    url = f"/api/installs/{trailer}/supplies/TP/logs"
    logs = {"csv": trailer_log(softened=True), "before_csv": trailer_log(softened=False)}
    found = api.post(url, logs).json()
    (column,) = found["columns"]
    compressor = next(event for event in column["events"] if event["at_s"] == 45)
    assert {"load": "RU-1", "part": "compressor"}.items() <= compressor["likely"][0].items()
    assert [event["kind"] for event in column["events"]].count("stop") == 2
    rise = next(rise for rise in column["rises"] if rise["at_s"] == 45)
    assert max(part["most_a"] for part in rise["course"] if part["t_s"] < 60) == pytest.approx(24, abs=0.5)
    assert (rise["course"][0]["t_s"], len(rise["course"])) == (43, 400)
    assert [row["says"] for row in found["taken"] if row["after_at_s"] == 45] == [
        "22 A above what ran, 58 A before: 62 % less"
    ]
    # A log of a day is read; anything else of that size is refused.
    large = "t_s,a\n" + "".join(f"{at},{at % 7}.123456789012345\n" for at in range(300_000))
    assert len(large) > 5_000_000
    assert api.post("/api/logs", {"csv": large}).status_code == 200
    assert api.post("/api/check", {"name": "x" * 6_000_000}).status_code == 413


def test_figures_of_a_start_are_read_as_they_are_typed(api: Api, trailer: str) -> None:
    url = f"/api/installs/{trailer}/patches"
    typed = {"sources": {"GE": {"ohms": "60 mΩ", "generator": {"running_w": "2 to 2.4 kW"}}}}
    document = api.post(url, {"base_revision": 1, "patch": typed}).json()["document"]
    assert document["sources"]["GE"]["ohms"] == 0.06
    assert document["sources"]["GE"]["generator"]["running_w"] == [2000, 2400]
    refused = api.post(url, {"base_revision": 2, "patch": {"sources": {"GE": {"ohms": "few"}}}})
    assert refused.json()["errors"][0]["field"] == "sources.GE.ohms"
