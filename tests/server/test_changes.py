"""Changing a plan: by two people at once, taken back, repeated, refused."""

from __future__ import annotations

import threading
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from accounts.models import User
from django.db import connections
from installs.models import Install, PlanRevision
from leitung_demo import museum

from tests.server.conftest import Api

pytestmark = pytest.mark.django_db


def line(**more: Any) -> dict[str, Any]:
    return {"circuits": {"MS-1": more}}


def change(api: Api, install: str, base: int, patch: dict[str, Any], key: str | None = None) -> Any:
    return api.post(f"/api/installs/{install}/patches", {"base_revision": base, "patch": patch}, key)


def circuit(answer: Any) -> dict[str, Any]:
    return answer.json()["document"]["circuits"]["MS-1"]


def test_a_change_answers_with_all_its_consequences(api: Api, install: str) -> None:
    body = change(api, install, 1, line(ocpd={"rating_a": 20})).json()
    assert body["install"]["revision"] == 2
    (stop,) = [f for f in body["result"]["findings"] if f["severity"] == "stop"]
    assert stop["code"] == "ocpd-above-max"
    assert body["install"]["stuck_on"] == stop["message"]
    fixed = change(api, install, 2, stop["fix"]).json()
    assert fixed["document"]["circuits"]["MS-1"]["ocpd"]["rating_a"] == 15
    assert fixed["install"]["stuck_on"] == ""


def test_two_people_on_different_parts_both_succeed(api: Api, other_lead: User, install: str) -> None:
    assert change(api, install, 1, line(ocpd={"rating_a": 20})).status_code == 200
    both = change(Api(other_lead), install, 1, line(run={"s1": {"length_ft": 30}}))
    assert both.status_code == 200
    assert (circuit(both)["ocpd"]["rating_a"], circuit(both)["run"]["s1"]["length_ft"]) == (20, 30)


def test_two_people_on_the_same_part_see_both_versions(api: Api, other_lead: User, install: str) -> None:
    change(api, install, 1, line(ocpd={"rating_a": 20}))
    mine = line(ocpd={"rating_a": 25})
    answer = change(Api(other_lead), install, 1, mine)
    assert answer.status_code == 409
    problem = answer.json()
    assert problem["elements"] == ["circuits/MS-1/ocpd"]
    assert problem["yours"] == mine
    assert problem["theirs"][0]["author"] == "Lead"
    assert problem["choices"] == [{"what": "MS-1 breaker rating", "yours": "25 A", "stands": "20 A"}]
    assert problem["plan"]["document"]["circuits"]["MS-1"]["ocpd"]["rating_a"] == 20
    # Choosing one's own is the same patch on the newest revision.
    assert circuit(change(Api(other_lead), install, 2, mine))["ocpd"]["rating_a"] == 25


def test_the_same_change_by_two_people_is_no_conflict(api: Api, other_lead: User, install: str) -> None:
    change(api, install, 1, line(ocpd={"rating_a": 20}))
    again = change(Api(other_lead), install, 1, line(ocpd={"rating_a": 20}))
    assert (again.status_code, again.json()["install"]["revision"]) == (200, 2)


def test_any_number_of_steps_back_and_forward(api: Api, install: str) -> None:
    start = api.get(f"/api/installs/{install}").json()["document"]
    states = [start]
    for base, patch in enumerate(
        [
            line(ocpd={"rating_a": 20}),
            line(run={"s1": None}),
            line(disconnect=None, egc="10"),
            {"site": {"place": "x"}},
        ],
        1,
    ):
        states.append(change(api, install, base, patch).json()["document"])
    undo = f"/api/installs/{install}/undo"
    redo = f"/api/installs/{install}/redo"
    for expected in reversed(states[:-1]):
        assert api.post(undo).json()["document"] == expected
    assert api.post(undo).json()["code"] == "nothing-left"
    for expected in states[1:3]:
        assert api.post(redo).json()["document"] == expected
    branch = change(api, install, 11, line(gfci=True)).json()
    assert (branch["can_undo"], branch["can_redo"]) == (True, False)
    assert api.post(undo).json()["document"] == states[2]
    kinds = [row["kind"] for row in api.get(f"/api/installs/{install}/revisions").json()["revisions"]]
    assert kinds == ["undo", "edit", "redo", "redo", *["undo"] * 4, *["edit"] * 4, "create"]


def test_an_earlier_revision_is_looked_at_whole_and_brought_back(api: Api, other_lead: User, install: str) -> None:
    base = f"/api/installs/{install}"
    start = api.get(base).json()
    change(api, install, 1, line(ocpd={"rating_a": 20}))
    change(Api(other_lead), install, 2, line(run={"s1": {"length_ft": 30}}))
    then = api.get(f"{base}/revisions/1").json()
    assert (then["document"], then["result"]) == (start["document"], start["result"])
    assert (then["install"]["revision"], then["can_undo"]) == (3, False)
    behind = api.post(f"{base}/revisions/1/bringing-back", {"base_revision": 2})
    assert (behind.status_code, behind.json()["code"]) == (409, "moved-on")
    back = api.post(f"{base}/revisions/1/bringing-back", {"base_revision": 3}).json()
    assert (back["document"], back["install"]["revision"]) == (start["document"], 4)
    newest = api.get(f"{base}/revisions").json()["revisions"][0]
    assert (newest["kind"], newest["of"]) == ("edit", 1)
    undone = api.post(f"{base}/undo").json()["document"]["circuits"]["MS-1"]
    assert (undone["ocpd"]["rating_a"], undone["run"]["s1"]["length_ft"]) == (20, 30)
    assert "no revision 9" in api.get(f"{base}/revisions/9").json()["detail"]


def test_each_takes_back_their_own_and_never_over_another(api: Api, other_lead: User, install: str) -> None:
    second = Api(other_lead)
    change(api, install, 1, line(ocpd={"rating_a": 20}))
    change(second, install, 2, line(run={"s1": {"length_ft": 30}}))
    mine_back = api.post(f"/api/installs/{install}/undo")
    assert (circuit(mine_back)["ocpd"]["rating_a"], circuit(mine_back)["run"]["s1"]["length_ft"]) == (15, 30)
    change(second, install, 4, line(ocpd={"rating_a": 25}))
    assert api.post(f"/api/installs/{install}/redo").json()["code"] == "conflict"


def test_a_repeated_request_changes_nothing_twice(api: Api, install: str) -> None:
    first = change(api, install, 1, line(ocpd={"rating_a": 20}), "the-same-key")
    again = change(api, install, 1, line(ocpd={"rating_a": 20}), "the-same-key")
    assert again.json() == first.json()
    assert again["Idempotent-Replay"] == "true"
    assert PlanRevision.objects.filter(install=install).count() == 2
    other = change(api, install, 1, line(ocpd={"rating_a": 25}), "the-same-key")
    assert (other.status_code, other.json()["code"]) == (422, "idempotency-key")


def test_a_refused_request_leaves_no_trace_and_its_key_free(api: Api, install: str) -> None:
    bad = change(api, install, 1, line(ocpd={"rating_a": -1}), "the-same-key")
    assert bad.status_code == 422
    assert bad.json()["errors"][0] == {
        "field": "circuits.MS-1.ocpd.rating_a",
        "value": -1,
        "message": "must be above 0.0",
        "remedy": "Type a figure above 0.0. Leave it out if it is not known.",
    }
    good = change(api, install, 1, line(ocpd={"rating_a": -1}), "the-same-key")
    assert good.status_code == 422
    assert Install.objects.get(id=install).revision == 1


@pytest.mark.parametrize(
    "body",
    [
        b"", b"{", b"null", b"[]", b'"x"', b"\xff", b"[" * 90_000, b'{"base_revision": 1, "patch": ' + b'{"a":' * 300,
        b'{"base_revision": 1}', b'{"base_revision": 1, "patch": []}', b'{"base_revision": "x", "patch": {}}',
        b'{"base_revision": 0, "patch": {}}', b'{"base_revision": 99, "patch": {}}',
        b'{"base_revision": 1, "patch": {"format_version": 3}}', b'{"base_revision": 1, "patch": {"name": null}}',
        b'{"base_revision": 1, "patch": {"name": "\\u0000"}}', b'{"base_revision": 1, "patch": {"\\ud800": 1}}',
        b'{"base_revision": 1, "patch": {"sources": {"PA": null}}}',
        b'{"base_revision": 1, "patch": {"equipment": {"OU-1": {"kind": "toaster"}}}}',
        b'{"base_revision": 1, "patch": {"circuits": {"MS-1": {"run": {"s1": {"length_ft": 1e308}}}}}}',
        b'{"base_revision": 123456789012345678901234567890, "patch": {}}',
    ],
)  # fmt: skip
def test_nonsense_is_a_message_and_changes_nothing(api: Api, install: str, body: bytes) -> None:
    answer = api.post(f"/api/installs/{install}/patches", body)
    assert answer.status_code == 422, answer.content
    assert answer["Content-Type"] == "application/problem+json"
    assert all(error["field"] and error["message"] and error["remedy"] for error in answer.json()["errors"])
    assert Install.objects.get(id=install).revision == 1


@pytest.mark.parametrize("query", ["cursor=zzz", "cursor=MXx4fHk=", "search=%00", "search=" + "a" * 300])
def test_nonsense_in_a_query_is_a_message(api: Api, query: str) -> None:
    assert api.get(f"/api/installs?{query}").status_code == 422


@pytest.mark.django_db(transaction=True)
def test_writes_at_the_same_moment_are_put_in_a_row(lead: User, install: str) -> None:
    """Eight people's worth of changes to eight parts, and one change sent eight times at once."""
    gate = threading.Barrier(8, timeout=120)

    def one(number: int) -> int:
        try:
            api = Api(lead)
            gate.wait()
            mine = change(api, install, 1, line(run={f"t{number}": {"order": number}})).status_code
            gate.wait()
            same = change(api, install, 9, line(gfci=True), "sent-eight-times").json()["install"]["revision"]
            return mine * 1000 + same
        finally:
            connections.close_all()

    with ThreadPoolExecutor(8) as pool:
        found = list(pool.map(one, range(8)))
    assert found == [200_010] * 8
    assert list(PlanRevision.objects.filter(install=install).values_list("number", flat=True)) == list(range(1, 11))


def test_what_did_not_change_may_be_left_out_of_the_answer(api: Api) -> None:
    begun = api.post("/api/imports", museum()).json()
    path = f"/api/installs/{begun['install']['id']}"
    patch = {"circuits": {"UH-1": {"run": {"s1": {"length_ft": 90}}}}}
    answer = api.post(f"{path}/patches", {"base_revision": 1, "patch": patch, "only_changed": True}).json()
    assert list(answer["result"]["circuits"]) == ["UH-1"]
    whole = api.get(path).json()

    def kept(group: str, before: dict[str, Any]) -> dict[str, Any]:
        left = [entry.split("/")[1] for entry in answer["unchanged"] if entry.startswith(f"{group}/")]
        return {key: before[key] for key in left}

    assert kept("circuits", begun["result"]["circuits"]).keys() == begun["result"]["circuits"].keys() - {"UH-1"}
    for group in ("circuits", "drawn"):
        assert answer["result"][group] | kept(group, begun["result"][group]) == whole["result"][group]
    assert answer["result"]["findings"] == whole["result"]["findings"]
    # The wiring too: one conductor landed elsewhere changes its cable and the devices at it, and no other.
    landed = {"cables": {"TC-3": {"conductors": {"white": {"b": {"terminal": "TS-3.base.R"}}}}}}
    answer = api.post(f"{path}/patches", {"base_revision": 2, "patch": landed, "only_changed": True}).json()
    wiring = answer["result"]["wiring"]
    assert (list(wiring["cables"]), sorted(wiring["devices"])) == (["TC-3"], ["TS-3", "UH-1"])
    whole = api.get(path).json()["result"]["wiring"]
    for group in ("cables", "devices"):
        assert wiring[group] | kept(group, whole[group]) == whole[group]
    # Against an older base nothing is left out: the sender does not have it.
    late = {"base_revision": 1, "patch": {"name": "Plant"}, "only_changed": True}
    assert "UH-1" in api.post(f"{path}/patches", late).json()["result"]["circuits"]
