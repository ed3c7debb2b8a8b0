"""Printed sheets: made by the worker once for what they say, waited for a little, told how far they are."""

from __future__ import annotations

from typing import Any

import pytest
from documents import sheets
from documents.models import Sheet
from upkeep.tasks import clear_kept

from tests.server.conftest import Api
from tests.server.test_records import SIGN

pytestmark = pytest.mark.django_db
Status = Sheet.Status


def test_a_sheet_is_made_once_for_what_it_says(api: Api, install: str, monkeypatch: pytest.MonkeyPatch) -> None:
    url = f"/api/installs/{install}/record.pdf"
    first = api.get(url)
    assert (first.status_code, first.headers["Content-Type"]) == (200, "application/pdf")
    monkeypatch.setattr(sheets, "carry_out", lambda _: pytest.fail("made again"))
    assert api.get(url).content == first.content
    monkeypatch.undo()
    # A step ticked, a price known, a plan changed: each says something else.
    for number, (path, body) in enumerate([
        ("work", {"key": "permit", "state": "done"}),
        ("open-items", {"text": "A bushing is missing", "owner": "Odo", "due": None}),
        ("patches", {"base_revision": 1, "patch": {"name": "Kiosk by the landing"}}),
    ], start=2):  # fmt: skip
        assert api.post(f"/api/installs/{install}/{path}", body).status_code == 200, path
        assert api.get(url).status_code == 200
        assert Sheet.objects.filter(status=Status.DONE).count() == number, path


def test_it_is_waited_for_and_then_told_how_far_it_is(
    api: Api, install: str, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    settings.SHEETS_BY_WORKER = True
    monkeypatch.setattr(sheets, "WAIT_S", 0.0)
    told = api.get(f"/api/installs/{install}/schedule.pdf")
    assert (told.status_code, told.headers["Refresh"]) == (202, "2")
    second = api.get(f"/api/installs/{install}/directory.pdf").content.decode()
    assert "is being made; 1 comes first" in second
    assert api.get(f"/api/installs/{install}/schedule.pdf").status_code == 202
    assert Sheet.objects.count() == 2, "asked for twice it is made once"
    for sheet in Sheet.objects.all():
        sheets.carry_out(sheet.id)
    done = api.get(f"/api/installs/{install}/schedule.pdf")
    assert (done.status_code, done.content[:5]) == (200, b"%PDF-")


def test_what_is_signed_lies_ready_as_a_package(api: Api, install: str, settings: Any) -> None:
    settings.SHEETS_BY_WORKER = True
    assert api.post(f"/api/installs/{install}/signatures", SIGN).status_code == 200
    (sheet,) = Sheet.objects.all()
    sheets.carry_out(sheet.id)
    package = api.get(f"/api/installs/{install}/package.pdf")
    assert (package.status_code, package.content[:5]) == (200, b"%PDF-")
    assert [row.id for row in Sheet.objects.filter(kind="package")] == [sheet.id], "the very one that was made ahead"


def test_nobody_asks_for_more_than_a_few_at_once(
    api: Api, install: str, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    settings.SHEETS_BY_WORKER = True
    monkeypatch.setattr(sheets, "WAIT_S", 0.0)
    monkeypatch.setattr(sheets, "MOST_AT_ONCE", 2)
    asked = [api.get(f"/api/installs/{install}/{name}.pdf").status_code for name in ("record", "labels", "schedule")]
    assert asked == [202, 202, 429]


def test_what_is_refused_is_told_and_what_broke_off_is_made_anew(
    api: Api, install: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    url = f"/api/installs/{install}/controls.pdf?system=XX-9"
    for _ in range(2):
        refused = api.get(url)
        assert (refused.status_code, refused.json()["code"]) == (404, "not-found")
    assert Sheet.objects.get().status == Status.FAILED
    monkeypatch.setitem(sheets.KINDS, "record", sheets.Kind(lambda *_: 1 // 0, ""))  # type: ignore[arg-type,return-value]
    with pytest.raises(ZeroDivisionError):
        api.get(f"/api/installs/{install}/record.pdf")
    sheets.fail(Sheet.objects.get(kind="record").id)
    monkeypatch.undo()
    assert api.get(f"/api/installs/{install}/record.pdf").status_code == 200


def test_what_has_lain_is_let_go(api: Api, install: str) -> None:
    api.get(f"/api/installs/{install}/record.pdf")
    clear_kept(0)
    assert Sheet.objects.count() == 1
    Sheet.objects.update(at=sheets.timezone.now() - sheets.KEEP)
    clear_kept(0)
    assert Sheet.objects.count() == 0


def test_a_file_is_named_by_what_it_is_of(api: Api, install: str) -> None:
    """Not by the address in its codes, nor by how a part is asked for."""
    for path, name in (("labels.pdf", "ticket-kiosk-labels.pdf"), ("record.pdf", "ticket-kiosk.pdf")):
        answer = api.get(f"/api/installs/{install}/{path}")
        assert answer.headers["Content-Disposition"] == f'inline; filename="{name}"'
