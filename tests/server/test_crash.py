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
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from tests.server.machine import Machine, Person, fresh_machine, patiently


@pytest.fixture(scope="module")
def machine() -> Iterator[Machine]:
    with fresh_machine() as found:
        yield found


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


def test_a_database_that_hangs_is_waited_for_no_longer_than_it_may_take(
    machine: Machine, monkeypatch: pytest.MonkeyPatch
) -> None:
    machine.run("stop")
    monkeypatch.setitem(machine.environment, "LEITUNG_STATEMENT_S", "2")
    machine.start()
    person = Person(machine)
    serving = Path(f"/proc/{machine.postgres_pid()}/task/{machine.postgres_pid()}/children").read_text().split()
    hung = [machine.postgres_pid(), *map(int, serving)]
    for pid in hung:
        os.kill(pid, signal.SIGSTOP)
    try:
        begun = time.monotonic()
        with pytest.raises(urllib.error.HTTPError) as refused:
            person.call("GET", "/installs")
        assert refused.value.code == 503
        assert "Nothing is lost" in refused.value.read().decode()
        assert time.monotonic() - begun < 60
    finally:
        for pid in hung:
            os.kill(pid, signal.SIGCONT)
    assert patiently(lambda: person.call("GET", "/installs"))["installs"]
    monkeypatch.undo()
    machine.run("stop")
    machine.start()


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
