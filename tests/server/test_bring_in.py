"""An install written to a file and brought in again is the same: plan, record, photos, every id, time and sum."""

from __future__ import annotations

import base64
import io
import json
import subprocess
import sys
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from accounts.models import Company, Role, User
from documents.entries import LATER, TABLES
from hypothesis import given, settings
from hypothesis import strategies as st
from installs import actions
from installs.models import Install, PlanRevision
from leitung_demo import kiosk, loft, museum, workshop
from photos.models import Photo
from records.models import Record, Signature
from upkeep.companies import delete

from tests.database import as_owner
from tests.server.conftest import Api, make_person, numbers
from tests.server.test_any_order import DEAD, READ, SIGNED
from tests.server.test_photos import keep, picture

pytestmark = pytest.mark.django_db(transaction=True)
MOVES = ("edit", "undo", "tick", "read", "correct", "note", "close", "photo", "remove", "pack", "visit", "come back",
         "leave", "sign")  # fmt: skip


def files_of(raw: bytes) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(raw)) as packed:
        return {name: packed.read(name) for name in packed.namelist()}


def written(api: Api, install: str) -> bytes:
    answer = api.get(f"/api/installs/{install}/package.zip")
    assert answer.status_code == 200
    return bytes(answer.getvalue())


def brought(api: Api, raw: bytes) -> Any:
    return api.post("/api/packages", {"name": "x.zip", "base64": base64.b64encode(raw).decode()})


def elsewhere() -> tuple[Api, User]:
    """A lead of another company, as on another machine: nobody here is known there."""
    number = next(numbers)
    lead = make_person(Company.objects.create(name=f"Elsewhere {number}"), f"elsewhere-{number}", Role.LEAD)
    return Api(lead), lead


def gone(company: Company) -> None:
    with as_owner():
        delete(company)


def do(api: Api, install: str, move: str, number: int) -> None:
    path = f"/api/installs/{install}"
    found = api.get(path).json()
    revision, record = found["install"]["revision"], api.get(f"{path}/record").json()
    run = {"circuits": {"MS-1": {"run": {"s1": {"length_ft": number}}}}}
    readings = [one for one in record["readings"] if one["key"] == READ["key"]]
    standing = readings[0]["entries"][-1]["id"] if readings and readings[0]["entries"] else None
    open_items = [item["id"] for item in record["open_items"] if not item.get("closed_by")]
    if move == "photo":
        keep(api, install, picture("PNG", (10 + number, 20)), about="steps/MS-1.dead", name="../../x")
    elif move == "remove":
        for row in api.get(f"{path}/photos").json()[:1]:
            api.post(f"{path}/photos/{row['id']}/removal")
    elif move == "close":
        for item in open_items[:1]:
            api.post(f"{path}/open-items/{item}/closing", {"note": "done"})
    else:
        address, body = {
            "edit": ("patches", {"base_revision": revision, "patch": run}), "undo": ("undo", {}),
            "tick": ("steps", DEAD), "read": ("readings", READ | {"value": 200.0 + number}),
            "correct": ("readings", READ | {"value": 210.0 + number, "corrects": standing}),
            "note": ("open-items", {"text": f"Seal {number}", "owner": "Odo", "due": "2026-12-24"}),
            "pack": ("load-out/packing", {"key": "x", "quantity": 1, "where": "truck"}),
            "visit": ("visits", {"why": f"call {number}"}), "leave": ("visits/end", {"note": "done"}),
            "come back": ("visits/readings", {"key": READ["key"], "state": "found", "value": 220.0 + number,
                                              "reason": "again"}),
            "sign": ("signatures", SIGNED | {"revision": revision}),
        }[move]  # fmt: skip
        api.post(f"{path}/{address}", body)


@settings(max_examples=10)
@given(work=st.lists(st.tuples(st.sampled_from(MOVES), st.integers(5, 40)), min_size=4, max_size=14))
def test_brought_in_elsewhere_it_is_the_same_and_written_again_too(
    work: list[tuple[str, int]],
) -> None:
    here, lead = elsewhere()
    install = str(actions.create(lead, kiosk(), "Install begun").install.id)
    for move, number in work:
        do(here, install, move, number)
    raw = written(here, install)
    record = here.get(f"/api/installs/{install}/record").json()
    shown = here.get(f"/api/installs/{install}").json()
    assert brought(here, raw).json()["code"] == "here-already"
    assert brought(elsewhere()[0], raw).json()["code"] == "kept-elsewhere"
    gone(lead.company)
    there, other = elsewhere()
    answer = brought(there, raw)
    assert answer.status_code == 201, answer.content[:600]
    again = written(there, install)
    before, after = files_of(raw), files_of(again)
    assert {name: before[name] for name in before if name.startswith("data/")} == {
        name: after[name] for name in after if name.startswith("data/")
    }
    told = there.get(f"/api/installs/{install}/record").json()
    assert told | {"install": None} == record | {"install": None}
    now = there.get(f"/api/installs/{install}").json()
    assert (now["document"], now["result"]) == (shown["document"], shown["result"])
    assert now["install"]["station"] == shown["install"]["station"]
    assert not now["can_undo"], "what others changed is not for whoever brought it in to take back"
    gone(other.company)


@pytest.mark.parametrize("plan", [loft, workshop, museum])
def test_every_install_of_the_demo_comes_back(plan: Callable[[], Any]) -> None:
    here, lead = elsewhere()
    install = str(actions.create(lead, plan(), "Install begun").install.id)
    raw = written(here, install)
    gone(lead.company)
    there, _ = elsewhere()
    assert brought(there, raw).status_code == 201
    assert files_of(written(there, install))["data/entries.json"] == files_of(raw)["data/entries.json"]


def test_every_entry_of_an_install_goes_along() -> None:
    """A table that is added later goes into the file too."""
    assert set(TABLES.values()) == {*Record.__subclasses__(), PlanRevision, Photo}


def rebagged(raw: bytes, folder: Path, change: Callable[[dict[str, Any]], Any], name: str = "entries.json") -> bytes:
    """The file with one of its files changed, and sums that say so."""
    with zipfile.ZipFile(io.BytesIO(raw)) as packed:
        for one in packed.namelist():
            if one.startswith("data/"):
                (folder / one[5:]).parent.mkdir(parents=True, exist_ok=True)
                (folder / one[5:]).write_bytes(packed.read(one))
    document = json.loads((folder / name).read_bytes())
    change(document)
    (folder / name).write_text(json.dumps(document))
    subprocess.run([sys.executable, "-m", "bagit", "--quiet", "--sha256", str(folder)], check=True, capture_output=True)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for file in folder.rglob("*"):
            if file.is_file():
                packed.write(file, file.relative_to(folder))
    return out.getvalue()


def test_a_file_from_before_there_were_visits_is_brought_in(tmp_path: Path) -> None:
    here, lead = elsewhere()
    install = str(actions.create(lead, kiosk(), "Install begun").install.id)
    raw = rebagged(written(here, install), tmp_path, lambda rows: [rows.pop(one) for one in LATER])
    gone(lead.company)
    assert brought(elsewhere()[0], raw).status_code == 201


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda rows: rows["readings"][0].update(value=1.0), "do not cover"),
        (lambda rows: rows["revisions"][0]["document"].update(name="Other"), "do not cover"),
        (lambda rows: rows["signatures"][0].update(revision=9), "a revision that there is not"),
        (lambda rows: rows["readings"][0].update(revision=0), "a revision that there is not"),
        (lambda rows: rows["readings"][0].update(by="somebody.else"), "do not cover"),
        (lambda rows: rows["readings"][0].update(value="a lot"), "cannot be kept"),
        (lambda rows: rows["readings"][0].update(corrects_id="00000000-0000-4000-8000-000000000000"), "fit together"),
        (lambda rows: rows["readings"][0].pop("at"), "is missing"),
        (lambda rows: rows["steps"][0].update(done="perhaps"), "cannot be kept"),
        (lambda rows: rows["photos"][0].update(sha256="0" * 64), "is missing in the file"),
        (lambda rows: rows["photos"][0].update(kind="text/html"), "as Leitung keeps"),
        (lambda rows: rows["revisions"].pop(), "go on from"),
        (lambda rows: rows["revisions"][1]["patch"].update(sources=7), "sources"),
        (lambda rows: rows.pop("work"), "not of this release"),
        (lambda rows: rows["open_items"][0].update(text="\u0000"), "cannot be kept"),
    ],
)  # fmt: skip
def test_what_was_changed_is_refused_and_nothing_is_kept(
    change: Callable[[dict[str, Any]], Any], says: str, tmp_path: Path
) -> None:
    here, lead = elsewhere()
    install = str(actions.create(lead, kiosk(), "Install begun").install.id)
    for move in ("tick", "read", "note", "photo", "edit", "sign"):
        do(here, install, move, 33)
    raw = written(here, install)
    gone(lead.company)
    there, _ = elsewhere()
    answer = brought(there, rebagged(raw, tmp_path, change))
    assert answer.status_code == 422
    assert says in json.dumps(answer.json()["errors"], ensure_ascii=False)
    assert (Install.objects.count(), Signature.objects.count(), Photo.objects.count()) == (0, 0, 0)


def test_a_file_that_is_none_or_leads_out_of_itself_is_refused(api: Api, install: str, tmp_path: Path) -> None:
    raw = written(api, install)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        packed.writestr("../../outside.txt", "x")
    half = rebagged(raw, tmp_path, lambda told: told.update(id="x"), "install.json")
    for sent in (b"", b"PK\x03\x04", raw[: len(raw) // 2], out.getvalue(), half, raw[:3000] + b"?" + raw[3001:]):
        answer = brought(api, sent)
        assert answer.status_code == 422, answer.content[:300]
        assert answer.json()["errors"][0]["remedy"]
    assert not (tmp_path.parent / "outside.txt").exists()


def test_who_may_not_plan_may_not_bring_in(crew: User) -> None:
    assert brought(Api(crew), b"").status_code == 403
