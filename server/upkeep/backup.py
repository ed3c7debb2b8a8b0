"""Everything in one file, checked, and back again: rows, photos and all, as of one moment, while work goes on.

The file is a ZIP of PostgreSQL's own dump and a manifest that says, table by table, how many rows it holds and what
they come to. Restored is only what comes to the same; what was there before is kept beside it.
"""

from __future__ import annotations

import hashlib
import json
import os
import subprocess
import tempfile
import zipfile
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import psycopg
from django.conf import settings
from photos import store
from problems import Refused
from psycopg import sql
from pydantic import BaseModel, ValidationError

FORMAT, DUMP, MANIFEST, FILES = 1, "leitung.dump", "manifest.json", "files/"
CHUNK = 1 << 20


class BackupError(Exception):
    """Why a backup cannot be made or restored, and what to do."""


class Table(BaseModel):
    """What a table holds: its rows, and a digest over all of them in any order."""

    rows: int
    sha256: str


class Manifest(BaseModel):
    """What a backup holds. migrations: those that its tables have been through."""

    format: int
    made_at: datetime
    database: str
    dump_sha256: str
    migrations: list[str]
    tables: dict[str, Table]


def place(name: str | None = None) -> dict[str, Any]:
    """How the owner reaches a database of this machine; left out: the application's."""
    db = settings.DATABASES["default"]
    return {"host": db["HOST"], "port": db["PORT"], "user": db["USER"], "password": db["PASSWORD"],
            "dbname": name or db["NAME"]}  # fmt: skip


def back_up(file: Path, programs: Path, name: str | None = None) -> Manifest:
    """Write a backup of a database to a file, whole or not at all. Raises BackupError.

    programs: the folder of PostgreSQL's own programs.
    """
    part = file.with_name(file.name + ".part")
    try:
        with tempfile.TemporaryDirectory(dir=file.parent) as folder, one_moment(name) as (connection, snapshot):
            dump = Path(folder) / DUMP
            _program(programs / "pg_dump", name, "--format=custom", f"--snapshot={snapshot}", "--no-owner",
                     "--no-privileges", f"--file={dump}")  # fmt: skip
            manifest = Manifest(
                format=FORMAT, made_at=datetime.now(UTC), database=place(name)["dbname"], dump_sha256=_sum(dump),
                migrations=_migrations(connection), tables=digests(connection),
            )  # fmt: skip
            with zipfile.ZipFile(part, "w", zipfile.ZIP_STORED) as packed:
                packed.write(dump, DUMP)
                _pack_files(packed, connection)
                packed.writestr(MANIFEST, manifest.model_dump_json(indent=1))
        part.chmod(0o600)
        read_manifest(part)
        part.replace(file)
    except OSError as error:
        raise BackupError(f"{file} cannot be written: {error.strerror}. Choose another place.") from None
    finally:
        part.unlink(missing_ok=True)
    return manifest


def restore(file: Path, programs: Path, known: set[str], name: str | None = None) -> str:
    """Put a backup in the place of a database; under which name what was there before is kept.

    known: the migrations of this release. Raises BackupError, and nothing is changed then: the backup is restored
    beside, compared with its manifest, and only then takes the place.
    """
    manifest = fitting(file, known)
    _fits_here(file)
    target = place(name)["dbname"]
    stamp = datetime.now(UTC).strftime("%Y%m%d%H%M%S")
    fresh, before = f"{target}_restored_{stamp}", f"{target}_before_{stamp}"
    with psycopg.connect(**place("postgres"), autocommit=True) as admin:
        admin.execute(sql.SQL("CREATE DATABASE {} TEMPLATE template0").format(sql.Identifier(fresh)))
        try:
            _restored_as_it_was(file, programs, fresh, manifest)
        except BaseException:
            admin.execute(sql.SQL("DROP DATABASE IF EXISTS {} WITH (FORCE)").format(sql.Identifier(fresh)))
            raise
        _in_its_place(admin, fresh, target, before)
    _unpack_files(file)
    return before


def _fits_here(file: Path) -> None:
    """Whether what the backup holds beside its database has a place here, and is whole. Raises BackupError."""
    with zipfile.ZipFile(file) as packed:
        names = [name for name in packed.namelist() if name.startswith(FILES)]
        if names and store.beside() is None:
            raise BackupError("The backup holds photos that lay beside the database. Set LEITUNG_FILES first.")
        for name in names:
            if hashlib.sha256(packed.read(name)).hexdigest() != name.rpartition("/")[2]:
                raise BackupError(f"{file} was damaged: a photo in it is not what it was. Use another one.")


def _pack_files(packed: zipfile.ZipFile, connection: psycopg.Connection[Any]) -> None:
    """Photos that lie beside the database, as its rows name them at that moment."""
    beside = connection.execute(
        "SELECT 1 FROM information_schema.columns WHERE table_name = 'photos_content' AND column_name = 'beside'"
    ).fetchone()
    rows = connection.execute("SELECT company_id, sha256 FROM photos_content WHERE beside") if beside else ()
    for company, sha256 in rows:
        try:
            packed.writestr(FILES + store.name_of(company, sha256), store.fetch(company, sha256))
        except Refused as refused:
            raise BackupError(refused.detail) from None


def _unpack_files(file: Path) -> None:
    """Photos that lay beside the database go back there; what is there already is what it was."""
    with zipfile.ZipFile(file) as packed:
        for name in packed.namelist():
            if name.startswith(FILES) and (beside := store.beside()) is not None:
                company, _, sha256 = name.removeprefix(FILES).split("/")
                store.put(beside, int(company), sha256, packed.read(name))


def fitting(file: Path, known: set[str]) -> Manifest:
    """The manifest of a whole backup that this release can restore. Raises BackupError."""
    manifest = read_manifest(file)
    newer = sorted(set(manifest.migrations) - known)
    if newer:
        raise BackupError(f"The backup is of a newer Leitung ({newer[0]}). Bring this one up to date first.")
    return manifest


def _restored_as_it_was(file: Path, programs: Path, fresh: str, manifest: Manifest) -> None:
    with tempfile.TemporaryDirectory(dir=file.parent) as folder:
        with zipfile.ZipFile(file) as packed:
            packed.extract(DUMP, folder)
        _program(programs / "pg_restore", fresh, "--exit-on-error", "--no-owner", "--no-privileges",
                 str(Path(folder) / DUMP), connects="--dbname")  # fmt: skip
    with psycopg.connect(**place(fresh)) as connection:
        found = digests(connection)
    other = [table for table in {*manifest.tables, *found} if manifest.tables.get(table) != found.get(table)]
    if other:
        raise BackupError(f"Restored, {min(other)} is not what the backup says. Nothing was changed; use another one.")


def read_manifest(file: Path) -> Manifest:
    """The manifest of a backup whose dump is what it says. Raises BackupError."""
    try:
        with zipfile.ZipFile(file) as packed:
            manifest = Manifest.model_validate(json.loads(packed.read(MANIFEST)))
            with packed.open(DUMP) as dump:
                total = hashlib.sha256()
                while chunk := dump.read(CHUNK):
                    total.update(chunk)
    except FileNotFoundError:
        raise BackupError(f"There is no {file}.") from None
    except (OSError, zipfile.BadZipFile, KeyError, ValueError, ValidationError, EOFError, NotImplementedError):
        raise BackupError(f"{file} is no whole backup of Leitung. Use another one.") from None
    if manifest.format != FORMAT:
        raise BackupError(f"{file} is of format {manifest.format}; this Leitung reads {FORMAT}.")
    if total.hexdigest() != manifest.dump_sha256:
        raise BackupError(f"{file} was damaged: its dump is not what its manifest says. Use another one.")
    return manifest


@contextmanager
def one_moment(name: str | None) -> Iterator[tuple[psycopg.Connection[Any], str]]:
    """A database as it is now, whatever is written meanwhile; and by which name others see the same."""
    with psycopg.connect(**place(name)) as connection:
        connection.isolation_level = psycopg.IsolationLevel.REPEATABLE_READ
        row = connection.execute("SELECT pg_export_snapshot()").fetchone()
        assert row is not None
        yield connection, row[0]


def digests(connection: psycopg.Connection[Any]) -> dict[str, Table]:
    """What every table holds."""
    names = connection.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY 1").fetchall()
    return {name: _digest(connection, name) for (name,) in names}


def _digest(connection: psycopg.Connection[Any], table: str) -> Table:
    total, rows = hashlib.sha256(), 0
    query = sql.SQL("COPY (SELECT md5(t::text) FROM {} t ORDER BY 1) TO STDOUT").format(sql.Identifier(table))
    with connection.cursor().copy(query) as copied:
        for chunk in copied:
            total.update(chunk)
            rows += bytes(chunk).count(b"\n")
    return Table(rows=rows, sha256=total.hexdigest())


def _migrations(connection: psycopg.Connection[Any]) -> list[str]:
    rows = connection.execute("SELECT app || '.' || name FROM django_migrations ORDER BY 1").fetchall()
    return [name for (name,) in rows]


def _sum(file: Path) -> str:
    with file.open("rb") as opened:
        return hashlib.file_digest(opened, "sha256").hexdigest()


def _program(program: Path, name: str | None, *options: str, connects: str = "--dbname") -> None:
    at = place(name)
    environment: Mapping[str, str] = {**os.environ, "PGPASSWORD": at["password"]}
    where = ["--host", str(at["host"]), "--port", str(at["port"]), "--username", at["user"], connects, at["dbname"]]
    done = subprocess.run([str(program), *where, "--no-password", *options], env=environment, capture_output=True,
                          text=True, check=False)  # fmt: skip
    if done.returncode:
        last = (done.stderr.strip().splitlines() or ["no word"])[-1]
        raise BackupError(f"{program.name} ended with: {last}")


def _in_its_place(admin: psycopg.Connection[Any], fresh: str, target: str, before: str) -> None:
    """Give one database the name of another, which is kept under a third; nobody comes in meanwhile."""
    names = {"fresh": sql.Identifier(fresh), "target": sql.Identifier(target), "before": sql.Identifier(before)}

    def do(statement: str) -> None:
        admin.execute(sql.SQL(statement).format(**names))

    do("ALTER DATABASE {target} ALLOW_CONNECTIONS false")
    try:
        admin.execute("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = %s AND pid <> "
                      "pg_backend_pid()", [target])  # fmt: skip
        do("ALTER DATABASE {target} RENAME TO {before}")
    except BaseException:
        do("ALTER DATABASE {target} ALLOW_CONNECTIONS true")
        raise
    do("ALTER DATABASE {fresh} RENAME TO {target}")
    do("ALTER DATABASE {before} ALLOW_CONNECTIONS true")


def clear_old(folder: Path, keep: int) -> None:
    """Of the backups in a folder the newest stay; their names begin with their day."""
    for old in sorted(folder.glob("leitung-*.zip"), reverse=True)[keep:]:
        old.unlink()
