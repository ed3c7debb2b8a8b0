"""Killed in the middle of writes: no acknowledged change is lost, and `./leitung start` recovers by itself.

Runs the real command on a state directory of its own, beside whatever else runs on this machine.
"""

from __future__ import annotations

import json
import os
import re
import shutil
import signal
import socket
import subprocess
import tempfile
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from upkeep.demo import PASSWORD

LEITUNG = settings.ROOT / "leitung"


class Machine:
    """One Leitung with its own database and port."""

    def __init__(self, state: Path, port: int) -> None:
        self.state, self.port = state, port
        self.environment = {**os.environ, "LEITUNG_STATE": str(state)}
        # What pytest set for itself is not for the real command.
        self.environment.pop("DJANGO_SETTINGS_MODULE", None)

    def run(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        command = [str(LEITUNG), *arguments]
        return subprocess.run(command, env=self.environment, capture_output=True, text=True, check=False, timeout=900)

    def start(self) -> None:
        done = self.run("start", "--port", str(self.port))
        assert done.returncode == 0, done.stdout + done.stderr

    def server_pid(self) -> int:
        return int(json.loads((self.state / "run" / "server.json").read_text())["pid"])

    def postgres_pid(self) -> int:
        folder = Path(json.loads((self.state / "config.json").read_text())["database"]["folder"])
        return int((folder / "data" / "postmaster.pid").read_text().splitlines()[0])

    def kill_server(self) -> None:
        os.killpg(self.server_pid(), signal.SIGKILL)

    def kill_postgres(self) -> None:
        os.kill(self.postgres_pid(), signal.SIGKILL)


class Person:
    """Signed in by HTTP, as the web client is."""

    def __init__(self, machine: Machine) -> None:
        self.base = f"http://127.0.0.1:{machine.port}/api"
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        self.token = self.call("GET", "/session")["csrf_token"]
        self.token = self.call("POST", "/session", {"username": "i.tarn", "password": PASSWORD})["csrf_token"]

    def call(self, method: str, path: str, body: Any = None, key: str = "") -> Any:
        headers = {
            "Content-Type": "application/json",
            "X-CSRFToken": getattr(self, "token", ""),
            "Idempotency-Key": key,
        }
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(self.base + path, data, headers, method=method)
        with self.opener.open(request, timeout=120) as answer:
            return json.loads(answer.read())


@pytest.fixture(scope="module")
def machine() -> Iterator[Machine]:
    # PostgreSQL's own user must be able to enter, which pytest's temporary folders do not allow.
    state = Path(tempfile.mkdtemp(prefix="leitung-crash-"))
    state.chmod(0o755)
    real = Path(os.environ.get("LEITUNG_STATE", settings.ROOT / "var"))
    (state / "venv").symlink_to(real / "venv")
    shutil.copytree(real / "stamps", state / "stamps")
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    found = Machine(state, port)
    try:
        found.start()
        yield found
    finally:
        found.run("stop")
        shutil.rmtree(state, ignore_errors=True)


@pytest.mark.parametrize("kill", [Machine.kill_server, Machine.kill_postgres], ids=["server", "postgresql"])
def test_no_acknowledged_change_is_lost(machine: Machine, kill: Callable[[Machine], None]) -> None:
    person = Person(machine)
    install = next(row for row in person.call("GET", "/installs")["installs"] if row["name"] == "Ticket kiosk")
    path = f"/installs/{install['id']}"
    base = person.call("GET", path)["install"]["revision"]
    acknowledged: list[tuple[int, float]] = []
    sent: dict[str, Any] = {}

    def write() -> None:
        for number in range(100_000):
            length = 20 + number % 500 + 0.5
            sent.update(
                key=f"crash-write-{base}-{number}",
                body={
                    "base_revision": base + number,
                    "patch": {"circuits": {"MS-1": {"run": {"s1": {"length_ft": length}}}}},
                },
            )
            try:
                answer = person.call("POST", f"{path}/patches", sent["body"], sent["key"])
            except (urllib.error.URLError, OSError):
                return
            acknowledged.append((answer["install"]["revision"], length))

    writer = threading.Thread(target=write)
    writer.start()
    while len(acknowledged) < 25:
        time.sleep(0.01)
    kill(machine)
    writer.join(timeout=300)
    assert not writer.is_alive()
    if kill is Machine.kill_postgres:
        with pytest.raises(urllib.error.HTTPError) as refused:
            person.call("GET", "/installs")
        assert (refused.value.code, json.loads(refused.value.read())["code"]) == (503, "database")
    machine.start()

    # The last write was never answered: sent again under its key, it stands exactly once.
    again = Person(machine)
    answer = again.call("POST", f"{path}/patches", sent["body"], sent["key"])
    assert answer["install"]["revision"] == acknowledged[-1][0] + 1
    lengths: dict[int, str] = {}
    before = ""
    while True:
        page = again.call("GET", f"{path}/revisions{before}")
        lengths |= {row["number"]: row["summary"] for row in page["revisions"]}
        if "before" not in page:
            break
        before = f"?before={page['before']}"
    assert sorted(lengths) == list(range(1, answer["install"]["revision"] + 1))
    for revision, length in acknowledged:
        assert re.search(rf"length {length:g} ft", lengths[revision]), (revision, lengths[revision])


def test_a_second_start_finds_what_runs_and_a_stale_file_is_no_obstacle(machine: Machine) -> None:
    assert "running already" in machine.run("start", "--port", str(machine.port)).stdout
    machine.kill_server()
    file = machine.state / "run" / "server.json"
    # A process of another program has taken over the number.
    file.write_text(json.dumps({"pid": os.getpid(), "started_at": "0", "port": machine.port}))
    assert "No server of this project was running" in machine.run("stop").stdout
    machine.start()
    assert Person(machine).call("GET", "/installs")["installs"]


def test_a_taken_port_is_said_and_nothing_is_changed(machine: Machine) -> None:
    machine.run("stop")
    with socket.socket() as other:
        other.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        other.bind(("127.0.0.1", machine.port))
        other.listen()
        done = machine.run("start", "--port", str(machine.port))
    assert done.returncode == 3
    assert f"Port {machine.port} of this machine is taken" in done.stderr
    assert f"--port {machine.port + 1}" in done.stderr
    machine.start()


def test_an_interrupted_set_up_goes_on_from_where_it_was(machine: Machine) -> None:
    machine.run("stop")
    folder = Path(json.loads((machine.state / "config.json").read_text())["database"]["folder"])
    shutil.rmtree(folder / "data")
    # What an initdb leaves that was killed half way.
    (folder / "data.partial").mkdir()
    (folder / "data.partial" / "PG_VERSION").write_text("15")
    machine.start()
    assert len(Person(machine).call("GET", "/installs")["installs"]) == 4
