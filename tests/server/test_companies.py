"""A company taken out whole, and deleted whole; nobody else's rows are touched."""

from __future__ import annotations

import json
import zipfile
from pathlib import Path

import pytest
from accounts.models import Company, User
from django.db import DatabaseError, connection, transaction
from django.db.models import Model
from installs.models import Install
from upkeep.companies import delete, take_out
from upkeep.guard import guarded

from tests.database import as_owner
from tests.server.conftest import Api

pytestmark = pytest.mark.django_db(transaction=True)
ITEM = {"text": "Seal the lugs", "owner": "Odo", "due": None}


def rows_of(company: int) -> dict[str, int]:
    tables: list[type[Model]] = [User, *guarded()]
    return {one._meta.db_table: one._default_manager.filter(company=company).count() for one in tables}


def test_taken_out_it_has_every_row_and_no_secret(lead: User, stranger: User, install: str, tmp_path: Path) -> None:
    Api(lead).post(f"/api/installs/{install}/open-items", ITEM)
    counted = take_out(lead.company, tmp_path / "all.zip")
    there = rows_of(lead.company_id)
    assert counted == {name: there[name] for name in counted}
    assert counted["records_openitem"] == 1
    with zipfile.ZipFile(tmp_path / "all.zip") as packed:
        text = {name: packed.read(name).decode() for name in packed.namelist() if name.startswith("tables/")}
        assert f"installs/{install}.zip" in packed.namelist()
    people = [json.loads(line) for line in text["tables/accounts_user.jsonl"].splitlines()]
    assert lead.username in [row["username"] for row in people]
    everything = "".join(text.values())
    assert stranger.username not in everything
    assert "pbkdf2" not in everything


def test_deleted_nothing_of_it_is_left_and_the_rest_is_as_it_was(lead: User, stranger: User, install: str) -> None:
    api, other = Api(lead), Api(stranger)
    api.post(f"/api/installs/{install}/open-items", ITEM)
    other.post("/api/installs", {"name": "Theirs"})
    theirs, gone = rows_of(stranger.company_id), lead.company_id
    with as_owner():
        delete(lead.company)
    assert not any(rows_of(gone).values())
    assert not Company.objects.filter(id=gone).exists()
    assert rows_of(stranger.company_id) == theirs
    assert api.get("/api/installs").status_code == 401
    # What keeps records as they are holds again.
    entry = other.post(f"/api/installs/{Install.objects.get().id}/open-items", ITEM)
    assert entry.status_code == 200
    with as_owner(), pytest.raises(DatabaseError, match="append-only"), transaction.atomic():
        connection.cursor().execute("DELETE FROM records_openitem")
