"""Everything in one file and back again, rules and all; what is damaged is refused, and nothing changed then."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from accounts.models import User
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from installs import actions
from leitung_demo import kiosk
from psycopg import sql
from records import actions as records
from upkeep.backup import (
    DUMP,
    MANIFEST,
    BackupError,
    back_up,
    clear_old,
    digests,
    fitting,
    one_moment,
    place,
    read_manifest,
    restore,
)

from launch.packages import postgres_bin

pytestmark = pytest.mark.django_db(transaction=True)
PROGRAMS = postgres_bin() or Path()


@pytest.fixture
def elsewhere() -> Iterator[str]:
    """A database of another name, in whose place a backup is put."""
    name = f"{place()['dbname']}_elsewhere"
    with psycopg.connect(**place("postgres"), autocommit=True) as admin:
        admin.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(name)))
        yield name
        rows = admin.execute("SELECT datname FROM pg_database WHERE starts_with(datname, %s)", [name]).fetchall()
        for (one,) in rows:
            admin.execute(sql.SQL("DROP DATABASE {} WITH (FORCE)").format(sql.Identifier(one)))


def test_restored_it_is_the_same_and_what_was_there_is_kept(lead: User, elsewhere: str, tmp_path: Path) -> None:
    install = actions.create(lead, kiosk(), "Install begun").install
    file = tmp_path / "b.zip"
    manifest = back_up(file, PROGRAMS)
    # What is written after its moment is not in it.
    records.open_item(lead, install.id, "Written afterwards", "Odo", None)
    assert manifest.tables["installs_install"].rows == 1
    assert manifest.tables["records_openitem"].rows == 0
    before = restore(file, PROGRAMS, set(manifest.migrations), elsewhere)
    with psycopg.connect(**place(elsewhere)) as there:
        assert digests(there) == manifest.tables
        assert there.execute("SELECT document->>'name' FROM installs_planrevision").fetchone() == ("Ticket kiosk",)
        with pytest.raises(psycopg.errors.RaiseException, match="append-only"):
            there.execute("UPDATE installs_planrevision SET number = 9")
    with psycopg.connect(**place(before)) as kept:
        assert digests(kept) == {}


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.data())
def test_what_is_damaged_is_refused(lead: User, tmp_path: Path, data: st.DataObject) -> None:
    file = tmp_path / "b.zip"
    if not file.exists():
        back_up(file, PROGRAMS)
    whole = file.read_bytes()
    with zipfile.ZipFile(file) as packed:
        begins = packed.getinfo(DUMP).header_offset + 60
        ends = begins + packed.getinfo(DUMP).file_size - 60
    place_ = data.draw(st.integers(begins, ends))
    broken = whole[:place_] if data.draw(st.booleans()) else (
        whole[:place_] + bytes([whole[place_] ^ data.draw(st.integers(1, 255))]) + whole[place_ + 1 :]
    )  # fmt: skip
    other = tmp_path / "broken.zip"
    other.write_bytes(broken)
    with pytest.raises(BackupError, match=r"no whole backup|was damaged"):
        read_manifest(other)
    assert read_manifest(file).tables


def test_a_backup_of_a_newer_release_changes_nothing(lead: User, elsewhere: str, tmp_path: Path) -> None:
    file = tmp_path / "b.zip"
    known = set(back_up(file, PROGRAMS).migrations)
    with pytest.raises(BackupError, match="newer Leitung"):
        restore(file, PROGRAMS, known - {"records.0015_forgotten"} - {max(known)}, elsewhere)
    # A manifest that says other than what is in the dump: restored beside, compared, thrown away.
    with zipfile.ZipFile(file) as packed:
        told, dump = json.loads(packed.read(MANIFEST)), packed.read(DUMP)
    told["tables"]["accounts_user"]["rows"] += 1
    with zipfile.ZipFile(file, "w") as packed:
        packed.writestr(MANIFEST, json.dumps(told))
        packed.writestr(DUMP, dump)
    assert fitting(file, known)
    with pytest.raises(BackupError, match="accounts_user is not what the backup says"):
        restore(file, PROGRAMS, known, elsewhere)
    with psycopg.connect(**place("postgres")) as admin:
        rows = admin.execute("SELECT datname FROM pg_database WHERE starts_with(datname, %s)", [elsewhere]).fetchall()
    assert rows == [(elsewhere,)]


def test_it_is_as_of_one_moment_while_others_write(lead: User) -> None:
    with one_moment(None) as (connection, _):
        digests(connection)
        actions.create(lead, kiosk(), "Install begun")
        assert digests(connection)["installs_install"].rows == 0


def test_the_newest_stay(tmp_path: Path) -> None:
    for day in range(1, 6):
        (tmp_path / f"leitung-2026-11-0{day}.zip").touch()
    (tmp_path / "mine.zip").touch()
    clear_old(tmp_path, 2)
    assert {path.name for path in tmp_path.iterdir()} == {
        "mine.zip",
        "leitung-2026-11-04.zip",
        "leitung-2026-11-05.zip",
    }
