"""A stage for benchmarks and screenshots: a fresh database with the demo, and the real server on it."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT), str(ROOT / "core"), str(ROOT / "server")]


def set_the_stage(database: str) -> None:
    """Set Django up on a database of that name. Call before importing anything of the server."""
    os.environ["LEITUNG_DATABASE"] = database
    os.environ["DJANGO_SETTINGS_MODULE"] = "config.settings"
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
    # This process makes the database; the server that it begins does not.
    os.environ["LEITUNG_AS_OWNER"] = "1"
    import django

    django.setup()
    del os.environ["LEITUNG_AS_OWNER"]


@contextmanager
def database() -> Iterator[None]:
    """A fresh database with the demo; gone afterwards."""
    import psycopg
    from django.conf import settings
    from django.core.management import call_command
    from django.db import connection

    db = settings.DATABASES["default"]
    place = {"host": db["HOST"], "port": db["PORT"], "user": db["USER"], "password": db["PASSWORD"]}

    def drop() -> None:
        with psycopg.connect(dbname="postgres", autocommit=True, **place) as admin:
            name = psycopg.sql.Identifier(db["NAME"])
            admin.execute(psycopg.sql.SQL("DROP DATABASE IF EXISTS {} WITH (FORCE)").format(name))

    drop()
    call_command("prepare")
    try:
        yield
    finally:
        connection.close()
        drop()


@contextmanager
def server() -> Iterator[str]:
    """The real server on that database, with its worker; its address."""
    from launch.common import environment
    from launch.server import server_command, worker_command

    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    process = subprocess.Popen(server_command(port), env=environment(), stderr=subprocess.DEVNULL)
    worker = subprocess.Popen(worker_command(), env=environment(), stderr=subprocess.DEVNULL)
    try:
        while process.poll() is None:
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", port)) == 0:
                    break
            time.sleep(0.1)
        yield f"http://127.0.0.1:{port}"
    finally:
        for running in (process, worker):
            running.terminate()
            running.wait()
