"""A database that an earlier release made and worked in is brought up: nothing is gone, and all of it can be worked on.

The dumps were made by those releases themselves: their demo, and in each install a length that somebody changed and an
open item. A release that has been worked with adds its own here.
"""

from __future__ import annotations

import lzma
import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import psycopg
import pytest
from django.conf import settings
from psycopg import sql
from upkeep.backup import digests, place

from launch.common import environment
from launch.packages import postgres_bin
from launch.server import server_command
from tests.server.machine import Person, free_port, patiently

EARLIER = sorted((settings.ROOT / "tests/earlier").glob("*.sql.xz"))
# What is worked out anew, cleared, or of this release alone.
NOT_KEPT = {"installs_revisionresult", "documents_sheet", "django_migrations", "django_session", "django_content_type",
            "auth_permission", "accounts_write"}  # fmt: skip


@contextmanager
def brought_up(dump: Path) -> Iterator[tuple[dict[str, int], dict[str, int], str]]:
    """Rows before and after, and the address of this release's server on that database."""
    name = f"{place()['dbname']}_earlier"
    env = {key: value for key, value in environment().items() if key != "DJANGO_SETTINGS_MODULE"}
    env["LEITUNG_DATABASE"] = name
    with psycopg.connect(**place("postgres"), autocommit=True) as admin:
        admin.execute(sql.SQL("DROP DATABASE IF EXISTS {} WITH (FORCE)").format(sql.Identifier(name)))
        admin.execute(sql.SQL("CREATE DATABASE {} TEMPLATE template0").format(sql.Identifier(name)))
    at = place(name)
    psql = [str((postgres_bin() or Path()) / "psql"), "-qX", "-v", "ON_ERROR_STOP=1", "-h", str(at["host"]),
            "-p", str(at["port"]), "-U", at["user"], name]  # fmt: skip
    subprocess.run(psql, input=lzma.decompress(dump.read_bytes()), env={**os.environ, "PGPASSWORD": at["password"]},
                   stdout=subprocess.DEVNULL, check=True)  # fmt: skip
    before = rows(name)
    subprocess.run([sys.executable, str(settings.ROOT / "server/manage.py"), "prepare"], env=env, check=True)
    port = free_port()
    running = subprocess.Popen(server_command(port), env=env, stderr=subprocess.DEVNULL, start_new_session=True)
    try:
        yield before, rows(name), f"http://127.0.0.1:{port}"
    finally:
        running.terminate()
        running.wait()
        with psycopg.connect(**place("postgres"), autocommit=True) as admin:
            admin.execute(sql.SQL("DROP DATABASE {} WITH (FORCE)").format(sql.Identifier(name)))


def rows(name: str) -> dict[str, int]:
    with psycopg.connect(**place(name)) as connection:
        found = digests(connection)
    return {table: held.rows for table, held in found.items()
            if table not in NOT_KEPT and not table.startswith(("procrastinate_", "axes_"))}  # fmt: skip


def lengths(found: dict[str, Any]) -> dict[tuple[str, str], float]:
    return {(tag, segment): part["length_ft"] for tag, line in found["document"]["circuits"].items()
            for segment, part in (line.get("run") or {}).items()}  # fmt: skip


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("dump", EARLIER, ids=lambda dump: dump.name.partition(".")[0])
def test_a_database_of_an_earlier_release_is_brought_up_whole(dump: Path) -> None:
    with brought_up(dump) as (before, after, address):
        assert before == {table: after[table] for table in before}
        person = patiently(lambda: Person(None, address))
        installs = person.call("GET", "/installs")["installs"]
        assert len(installs) == before["installs_install"]
        for number, install in enumerate(installs):
            path = f"/installs/{install['id']}"
            earlier = person.call("GET", path)
            undone = person.call("POST", f"{path}/undo", {}, f"undo-of-earlier-{number}")
            changed = [(was, now) for was, now in zip(lengths(earlier).values(), lengths(undone).values(), strict=True)
                       if was != now]  # fmt: skip
            assert [was - now for was, now in changed] == [3]
            record = person.call("GET", f"{path}/record")
            assert "Earlier work" in [item["text"] for item in record["open_items"]]
            person.call("POST", f"{path}/open-items", {"text": "Now", "owner": "Odo", "due": None}, f"now-{number}-now")
