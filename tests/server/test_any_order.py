"""Any request after any other: what one answer names the next one asks for, sheets as PDF too.

Nothing breaks the server, and the install stays whole: its history has as many revisions as it says, it opens, its
record reads, and what one took back can be brought back.
"""

from __future__ import annotations

import json
from typing import Any
from urllib.parse import urlencode

import pytest
import schemathesis
from accounts.models import User
from config.wsgi import application
from hypothesis import given, settings
from hypothesis import strategies as st
from installs import actions
from leitung_demo import kiosk

from tests.server.conftest import Api, numbers

schema = schemathesis.openapi.from_wsgi("/api/openapi.json", application)
OPERATIONS = [found.ok() for found in schema.exclude(path_regex="session|/people|/account").get_all_operations()]
TOLD = {"line": "MS-1", "cable": "W1", "source": "PA", "monday": "2026-12-07", "number": 1, "token": "x" * 40}
READ = {"key": "MS-1.L1-L2", "value": 241.0, "reason": "tried by itself"}
DEAD = {"key": "MS-1.dead", "done": True, "value": 0.2, "reason": "tried by itself"}
SIGNED = {"name": "Ines Tarn", "reasons": {"sources/PA": "seen", "circuits/MS-1": "comes next week"}}


class Walk:
    """Somebody who goes from one answer to the next request."""

    def __init__(self, api: Api, install: str) -> None:
        self.api, self.install, self.path = api, install, f"/api/installs/{install}"
        self.ids: list[str] = []

    def sensible(self, name: str, length: float) -> Any:
        """A request that a person would make now."""
        revision = self.revision()
        run = {"circuits": {"MS-1": {"run": {"s1": {"length_ft": length}}}}}
        address, body = {
            "edit": ("patches", {"base_revision": revision, "patch": run}), "undo": ("undo", {}), "redo": ("redo", {}),
            "tick": ("steps", DEAD), "take back": ("steps", DEAD | {"done": False}), "read": ("readings", READ),
            "note": ("open-items", {"text": "Seal", "owner": "Odo"}),
            "sign": ("signatures", SIGNED | {"revision": revision}),
        }[name]  # fmt: skip
        return self.api.post(f"{self.path}/{address}", body)

    def generated(self, case: schemathesis.Case, chosen: int) -> Any:
        """A request of the schema, about what has been named before where there is any."""
        for name in case.path_parameters:
            known = TOLD.get(name) or (self.ids[chosen % len(self.ids)] if self.ids else self.install)
            case.path_parameters[name] = self.install if name == "install_id" else 1 if name == "someone" else known
        if isinstance(case.body, dict):
            case.body |= {name: self.revision() for name in ("base_revision", "revision") if name in case.body}
        url = f"{case.formatted_path}?{urlencode(case.query, doseq=True)}"
        if case.method == "GET":
            return self.api.get(url)
        body = json.dumps(case.body, default=str).encode()
        headers = {"X-CSRFToken": self.api.token, "Idempotency-Key": f"any-order-{next(numbers)}"}
        return self.api.client.generic(case.method, url, body, content_type="application/json", headers=headers)

    def revision(self) -> int:
        found = self.api.get(self.path)
        # Deleted, it is asked for as before and said to be gone.
        return int(found.json()["install"]["revision"]) if found.status_code == 200 else 1

    def took(self, answer: Any) -> None:
        assert answer.status_code < 500, answer.content[:2000]
        if answer.headers.get("Content-Type", "").startswith("application/json"):
            self.ids = [*self.ids, *_ids(answer.json())][-60:]


def _ids(value: Any) -> list[str]:
    if isinstance(value, dict):
        own = [value["id"]] if isinstance(value.get("id"), str) and len(value["id"]) == 36 else []
        return own + [one for below in value.values() for one in _ids(below)]
    return [one for below in value for one in _ids(below)] if isinstance(value, list) else []


@pytest.mark.django_db
@settings(max_examples=25)
@given(data=st.data())
def test_any_request_after_any_other(data: st.DataObject, lead: User) -> None:
    walk = Walk(Api(lead), str(actions.create(lead, kiosk(), "Install begun").install.id))
    moves = ("edit", "undo", "redo", "tick", "take back", "read", "note", "sign")
    for _ in range(data.draw(st.integers(5, 14))):
        if data.draw(st.booleans()):
            walk.took(walk.sensible(data.draw(st.sampled_from(moves)), data.draw(st.integers(5, 90))))
        else:
            operation = data.draw(st.sampled_from(OPERATIONS))
            walk.took(walk.generated(data.draw(operation.as_strategy()), data.draw(st.integers(0, 999))))
    shown = walk.api.get(walk.path)
    if shown.status_code == 200:
        history = walk.api.get(f"{walk.path}/revisions").json()
        assert max(row["number"] for row in history["revisions"]) == shown.json()["install"]["revision"]
        walk.took(walk.api.get(f"{walk.path}/record"))
        if shown.json()["can_undo"]:
            before = shown.json()["document"]
            assert walk.sensible("undo", 0).status_code == 200
            assert walk.sensible("redo", 0).json()["document"] == before


@pytest.mark.django_db
def test_every_sheet_is_made_after_work_was_done(api: Api, install: str) -> None:
    walk = Walk(api, install)
    for move in ("edit", "tick", "read", "note", "sign"):
        walk.took(walk.sensible(move, 31))
    sheets = [path for path in schema.raw_schema["paths"] if path.endswith(".pdf")]
    made = 0
    for sheet in sheets:
        answer = api.get(sheet.format(install_id=install, monday="2026-12-07"))
        assert answer.status_code in (200, 404, 409, 422), (sheet, answer.content[:300])
        if answer.status_code == 200:
            assert answer.content.startswith(b"%PDF-"), sheet
            made += 1
    assert made >= 8
