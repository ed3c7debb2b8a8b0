"""Writes of every kind while everything that can be killed is killed, and a restore: each is there once in the end.

`./leitung ordeal [WRITES] [KILLS]`: a Leitung of its own. Six people write, each at an install, and send again what was
not answered, as the web does; each start after a kill must do at the first try, the last ten with ten busy processes
beside. Then every write that was acknowledged is counted in the database.
"""

from __future__ import annotations

import base64
import io
import json
import os
import signal
import subprocess
import sys
import threading
import time
import urllib.error
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT), str(ROOT / "core"), str(ROOT / "server")]
os.environ["DJANGO_SETTINGS_MODULE"] = "config.settings"

import django  # noqa: E402

django.setup()

import psycopg  # noqa: E402
from PIL import Image  # noqa: E402

from tests.server.machine import Machine, Person, fresh_machine, patiently  # noqa: E402

WRITES, KILLINGS = 10_000, 40
PEOPLE, BUSY, UNDER_LOAD = 6, 10, 10
TABLES = {"plan": "installs_planrevision", "step": "records_stepentry", "reading": "records_reading",
          "photo": "photos_photo", "open item": "records_openitem", "signature": "records_signature"}  # fmt: skip


class Somebody(threading.Thread):
    """One who writes to an install of their own, in rounds, and notes what was acknowledged."""

    def __init__(self, number: int, person: Person, install: str, going: threading.Event) -> None:
        super().__init__(daemon=True)
        self.number, self.person, self.install, self.going = number, person, install, going
        self.path, self.acknowledged = f"/installs/{install}", Counter[str]()
        self.idle, self.wrong = threading.Event(), ""
        self.round, self.revision, self.standing, self.missing = 0, 1, None, list[str]()
        self.enough = False

    def send(self, what: str, address: str, body: dict[str, Any]) -> Any:
        # A signature that was refused goes again with more reasons: that is another request.
        key = f"ordeal-{self.number}-{self.round}-{len(self.missing)}-{what.replace(' ', '-')}"
        answer = patiently(lambda: self.person.call("POST", f"{self.path}/{address}", body, key))
        self.acknowledged[what] += 1
        return answer

    def run(self) -> None:
        try:
            while not self.enough:
                if not self.going.is_set():
                    self.idle.set()
                    self.going.wait()
                    self.idle.clear()
                self.once()
        except (AssertionError, KeyError, urllib.error.HTTPError) as error:
            said = error.read()[:300] if isinstance(error, urllib.error.HTTPError) else b""
            self.wrong = f"{type(error).__name__}: {error} {said!r}"
        self.idle.set()

    def once(self) -> None:
        self.round += 1
        number = self.round
        run = {"run": {"s1": {"length_ft": 20 + number % 400 / 10}}}
        plan = self.send("plan", "patches", {"base_revision": self.revision, "patch": {"circuits": {"MS-1": run}},
                                             "only_changed": True})  # fmt: skip
        self.revision = plan["install"]["revision"]
        why = f"round {number}"
        self.send("step", "steps", {"key": "MS-1.dead", "done": bool(number % 2), "value": 0.3, "reason": why})
        read = {"key": "MS-1.L1-L2", "value": 230 + number % 20, "reason": why, "corrects": self.standing}
        points = self.send("reading", "readings", read)["readings"]
        self.standing = next(one["entries"][-1]["id"] for one in points if one["key"] == "MS-1.L1-L2")
        self.send("photo", "photos", {"about": "circuits/MS-1", "name": f"{number}.png", "base64": self.picture(),
                                      "plate": False})  # fmt: skip
        self.send("open item", "open-items", {"text": why, "owner": "Odo", "due": None})
        self.sign()

    def sign(self) -> None:
        while True:
            body = {"revision": self.revision, "name": "Ines Tarn", "reasons": dict.fromkeys(self.missing, "ordeal")}
            try:
                self.send("signature", "signatures", body)
                return
            except urllib.error.HTTPError as refused:
                missing = json.loads(refused.read()).get("missing", [])
                if refused.code != 409 or not set(missing) - set(self.missing):
                    raise
                self.missing += missing

    def picture(self) -> str:
        raw = io.BytesIO()
        shade = (self.round % 256, self.round // 256 % 256, self.number % 256)
        Image.new("RGB", (24, 24), shade).save(raw, "PNG")
        return base64.b64encode(raw.getvalue()).decode()


def processes(machine: Machine) -> dict[int, str]:
    """Every process of this Leitung, with its command line."""
    found = {}
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            command = (folder / "cmdline").read_bytes().replace(b"\0", b" ").decode()
            inside = (folder / "environ").read_bytes()
        except OSError:
            continue
        if f"LEITUNG_STATE={machine.state}".encode() in inside:
            found[int(folder.name)] = command
    return found


def kill(pid: int) -> None:
    with suppress(ProcessLookupError):
        os.kill(pid, signal.SIGKILL)


def one_of(machine: Machine, needle: str, last: bool = False) -> None:
    # One that has just died with something else is begun again after a while.
    until, pids = time.monotonic() + 60, list[int]()
    while not pids and time.monotonic() < until:
        pids = sorted(pid for pid, command in processes(machine).items() if needle in command)
        time.sleep(0.1)
    if not pids:
        raise SystemExit(f"nothing of {needle} runs that could be killed")
    kill(pids[-1 if last else 0])


def a_connection(machine: Machine) -> None:
    """One of the database's processes that serve somebody: PostgreSQL then ends all others and recovers."""
    children = Path(f"/proc/{machine.postgres_pid()}/task/{machine.postgres_pid()}/children").read_text().split()
    serving = [int(pid) for pid in children if "127.0.0.1" in Path(f"/proc/{pid}/cmdline").read_text()]
    if not serving:
        raise SystemExit("nobody is connected to the database")
    kill(serving[0])


KILLS: dict[str, Callable[[Machine], None]] = {
    "everything of the server": Machine.kill_server,
    "a web process": lambda machine: one_of(machine, "gunicorn", last=True),
    "the database": Machine.kill_postgres,
    "the server's master": lambda machine: kill(machine.server_pid()),
    "a connection of the database": a_connection,
    "the worker": lambda machine: one_of(machine, "procrastinate"),
    "what watches the worker": lambda machine: one_of(machine, "launch.supervise"),
    "server and database": lambda machine: (Machine.kill_server(machine), Machine.kill_postgres(machine))[0],
}


@contextmanager
def busy() -> Iterator[None]:
    loops = [subprocess.Popen([sys.executable, "-c", "while True: pass"]) for _ in range(BUSY)]
    try:
        yield
    finally:
        for loop in loops:
            loop.kill()
            loop.wait()


def done(crowd: list[Somebody]) -> int:
    wrong = [one.wrong for one in crowd if one.wrong]
    if wrong:
        raise SystemExit(f"refused or never answered: {wrong[0]}")
    return sum(one.acknowledged.total() for one in crowd)


def wait_for(crowd: list[Somebody], goal: int) -> None:
    while done(crowd) < goal:
        time.sleep(0.05)


def killed(machine: Machine, crowd: list[Somebody], writes: int, kills: int) -> list[str]:
    """Kill in turn, a share of the writes between; the starts that did not do at the first try."""
    failed, names = [], list(KILLS)
    for number in range(kills):
        wait_for(crowd, writes * number // kills)
        name = names[number % len(names)]
        KILLS[name](machine)
        begun = time.monotonic()
        if number >= kills - UNDER_LOAD:
            with busy():
                started = machine.run("start", "--port", str(machine.port))
        else:
            started = machine.run("start", "--port", str(machine.port))
        if started.returncode:
            failed.append(f"{name}: {started.stdout[-200:]} {started.stderr[-400:]}")
            machine.run("start", "--port", str(machine.port))
        print(f"{done(crowd):6d}  killed: {name}; started in {time.monotonic() - begun:.1f} s", flush=True)
        if number == kills // 2:
            restored(machine, crowd)
    wait_for(crowd, writes)
    return failed


def restored(machine: Machine, crowd: list[Somebody]) -> None:
    """Nobody writes for as long as it takes: what is written after a backup is not in it."""
    going = crowd[0].going
    going.clear()
    for one in crowd:
        one.idle.wait()
    file = machine.state / "ordeal.zip"
    backup, restore = machine.run("backup", str(file)), machine.run("restore", str(file))
    print(f"{done(crowd):6d}  {backup.stdout.strip()} {restore.stdout.strip()}", flush=True)
    if backup.returncode or restore.returncode:
        raise SystemExit(backup.stderr + restore.stderr)
    going.set()


def counted(machine: Machine, crowd: list[Somebody]) -> list[str]:
    """What is in the database other than what was acknowledged."""
    db = json.loads((machine.state / "config.json").read_text())["database"]
    place = {"host": db["host"], "port": db["port"], "user": db["user"], "password": db["password"]}
    wrong = []
    with psycopg.connect(dbname=db["name"], **place) as connection:
        for one in crowd:
            for what, table in TABLES.items():
                query = psycopg.sql.SQL("SELECT count(*) FROM {} WHERE install_id = %s")
                row = connection.execute(query.format(psycopg.sql.Identifier(table)), [one.install]).fetchone()
                # The first revision is the install itself.
                there = (row[0] if row else 0) - (what == "plan")
                if there != one.acknowledged[what]:
                    wrong.append(f"{what}: {one.acknowledged[what]} acknowledged, {there} there")
    return wrong


def main() -> None:
    given = [int(one) for one in sys.argv[1:3]]
    writes, kills = [*given, *(WRITES, KILLINGS)[len(given) :]]
    going = threading.Event()
    going.set()
    begun = time.monotonic()
    with fresh_machine() as machine:
        lead = Person(machine)
        kiosk = next(row for row in lead.call("GET", "/installs")["installs"] if row["name"] == "Ticket kiosk")
        crowd = []
        for number in range(PEOPLE):
            body = {"name": f"Ordeal {number}", "like": kiosk["id"]}
            made = lead.call("POST", "/installs", body, f"ordeal-install-{number}")
            crowd.append(Somebody(number, Person(machine), made["install"]["id"], going))
        for one in crowd:
            one.start()
        failed = killed(machine, crowd, writes, kills)
        for one in crowd:
            one.enough = True
        for one in crowd:
            one.join()
        total, wrong = done(crowd), counted(machine, crowd)
    kinds = sum((one.acknowledged for one in crowd), Counter[str]())
    print(f"{total} writes acknowledged ({', '.join(f'{count} {what}' for what, count in kinds.items())}), "
          f"{kills} kills, one restore, {time.monotonic() - begun:.0f} s")  # fmt: skip
    print(f"lost or doubled: {wrong or 'none'}; starts that failed at the first try: {failed or 'none'}")
    raise SystemExit(1 if wrong or failed else 0)


if __name__ == "__main__":
    main()
