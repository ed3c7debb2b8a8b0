"""Fifty people at one install at once: how long reads and edits take, what fails, what the memory does.

Each reads, ticks and edits with a pause of two to six seconds between, as people do who look at what they get. Prints
figures; asserts nothing. Runs on a database of its own, server and worker as they are in service, asked over HTTP.
"""

from __future__ import annotations

import argparse
import http.client
import json
import random
import statistics
import sys
import threading
import time
import uuid
from collections import Counter, defaultdict
from http import HTTPStatus
from pathlib import Path
from typing import Any
from urllib.parse import urlparse

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from scripts.stage import database, server, set_the_stage

set_the_stage("leitung_load")

from accounts.models import Role, User  # noqa: E402
from installs.models import Install  # noqa: E402
from upkeep.demo import PASSWORD  # noqa: E402

PEOPLE, MINUTES = 50, 2.0
PAUSE_S = (2.0, 6.0)
MEMORY_EACH_S = 120.0
LENGTHS = [("UH-1", "s1"), ("MS-1", "s1"), ("UH-2", "s1"), ("DH-1", "s1")]
Times = dict[str, list[float]]


class Somebody(threading.Thread):
    """One person with a connection of their own."""

    def __init__(
        self, name: str, address: str, install: str, until: float, times: Times, trouble: Counter[str]
    ) -> None:
        super().__init__()
        self.username, self.path, self.until = name, f"/api/installs/{install}", until
        place = urlparse(address)
        self.connection = http.client.HTTPConnection(place.hostname or "", place.port, timeout=120)
        self.times, self.trouble, self.chance = times, trouble, random.Random(name)  # no secret
        self.cookies: dict[str, str] = {}
        self.token, self.revision = "", 0

    def call(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        headers = {"Cookie": "; ".join(f"{name}={value}" for name, value in self.cookies.items()),
                   "X-CSRFToken": self.token, "Idempotency-Key": uuid.uuid4().hex,
                   "Content-Type": "application/json"}  # fmt: skip
        self.connection.request(method, path, None if body is None else json.dumps(body), headers)
        answer = self.connection.getresponse()
        raw = answer.read()
        for cookie in answer.headers.get_all("Set-Cookie") or []:
            name, _, value = cookie.partition(";")[0].partition("=")
            self.cookies[name] = value
        return answer.status, json.loads(raw) if raw[:1] in (b"{", b"[") else None

    def timed(self, what: str, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        began = time.perf_counter()
        status, found = self.call(method, path, body)
        self.times[what].append(time.perf_counter() - began)
        if status >= 400 and status != 409:
            code = found.get("code", "") if isinstance(found, dict) else ""
            self.trouble[f"{what}: {status} {code}"] += 1
        return status, found

    def run(self) -> None:
        try:
            self.token = self.call("GET", "/api/session")[1]["csrf_token"]
            status, found = self.sign_in()
            # Too many at once are asked to come again.
            while status == HTTPStatus.TOO_MANY_REQUESTS and time.monotonic() < self.until:
                time.sleep(self.chance.uniform(*PAUSE_S))
                status, found = self.sign_in()
            self.token = found["csrf_token"]
            while time.monotonic() < self.until:
                self.once()
                time.sleep(self.chance.uniform(*PAUSE_S))
        except (OSError, http.client.HTTPException, KeyError, TypeError) as error:
            self.trouble[f"{type(error).__name__}: {error}"] += 1

    def sign_in(self) -> tuple[int, Any]:
        return self.call("POST", "/api/session", {"username": self.username, "password": PASSWORD})

    def once(self) -> None:
        what = self.chance.random()
        if what < 0.45:
            found = self.timed("read: the plan", "GET", self.path)[1]
            self.revision = found["install"]["revision"] if found else self.revision
        elif what < 0.6:
            self.timed("read: the record", "GET", f"{self.path}/record")
        elif what < 0.7:
            self.timed("read: the work list", "GET", f"{self.path}/work")
        elif what < 0.75:
            self.timed("read: the bench", "GET", f"{self.path}/bench")
        elif what < 0.9:
            self.edit()
        else:
            body = {"text": f"Of {self.username}", "owner": "Odo", "due": None}
            self.timed("edit: an open item", "POST", f"{self.path}/open-items", body)

    def edit(self) -> None:
        """A length of a run, sent as the web does; again after reading what others changed meanwhile."""
        line, segment = self.chance.choice(LENGTHS)
        patch = {"circuits": {line: {"run": {segment: {"length_ft": self.chance.randint(20, 90)}}}}}
        if not self.revision:
            self.revision = self.call("GET", self.path)[1]["install"]["revision"]
        for _ in range(4):
            body = {"base_revision": self.revision, "patch": patch, "only_changed": True}
            status, _found = self.timed("edit: a length", "POST", f"{self.path}/patches", body)
            if status != 409:
                return
            self.revision = self.call("GET", self.path)[1]["install"]["revision"]


def memory_mb(needle: str) -> float:
    """What the processes of a command line hold for themselves, all together, MB."""
    total = 0
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            if needle in (folder / "cmdline").read_text():
                rows = (folder / "smaps_rollup").read_text().splitlines()
                total += sum(int(row.split()[1]) for row in rows if row.startswith("Pss:"))
        except OSError:
            continue
    return total / 1024


def main() -> None:
    asked = argparse.ArgumentParser(prog="./leitung load", description="People at one install at once, measured.")
    asked.add_argument("minutes", type=float, nargs="?", default=MINUTES, help="how long (%(default)s)")
    asked.add_argument("--people", type=int, default=PEOPLE, help="how many (%(default)s)")
    given = asked.parse_args()
    people, seconds = given.people, given.minutes * 60
    with database():
        lead = User.objects.get(username="i.tarn")
        install = str(Install.objects.get(name="Museum plant").id)
        for number in range(people):
            User.objects.create(username=f"load{number}", password=lead.password, company=lead.company,
                                display_name=f"Load {number}", role=Role.LEAD)  # fmt: skip
        with server() as address:
            times: Times = defaultdict(list)
            trouble: Counter[str] = Counter()
            port = str(urlparse(address).port)
            until = time.monotonic() + seconds + 60
            crowd = [Somebody(f"load{number}", address, install, until, times, trouble) for number in range(people)]
            for one in crowd:
                one.start()
            # Everybody signs in first, one password at a time.
            time.sleep(60)
            times.clear()
            memory = [memory_mb(f"127.0.0.1:{port}")]
            while time.monotonic() + MEMORY_EACH_S < until:
                time.sleep(MEMORY_EACH_S)
                memory.append(memory_mb(f"127.0.0.1:{port}"))
            for one in crowd:
                one.join()
            memory.append(memory_mb(f"127.0.0.1:{port}"))
    print(f"{people} people at the museum's plant, {seconds:.0f} s")
    groups: Times = defaultdict(list)
    for what, values in sorted(times.items()):
        groups[what.partition(":")[0]] += values
        _told(what, values)
    for what, values in groups.items():
        _told(f"all {what}s", values)
    print(f"memory of the web processes, MB, each {MEMORY_EACH_S:.0f} s: {[round(one) for one in memory]}")
    print(f"not carried out: {dict(trouble) or 'nothing'}")


def _told(what: str, values: list[float]) -> None:
    p95 = sorted(values)[int(len(values) * 0.95)]
    print(f"{what:<24} {len(values):6d}   p50 {statistics.median(values):6.2f} s   p95 {p95:6.2f} s   "
          f"most {max(values):6.2f} s", flush=True)  # fmt: skip


if __name__ == "__main__":
    main()
