"""The real command on a state directory of its own, beside whatever else runs here; and somebody who asks it."""

from __future__ import annotations

import json
import os
import shutil
import signal
import socket
import ssl
import subprocess
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

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

    def __init__(self, machine: Machine | None, address: str = "") -> None:
        self.base = f"{address or f'http://127.0.0.1:{machine.port if machine else 0}'}/api"
        # A certificate of one's own is known by nobody.
        secure = urllib.request.HTTPSHandler(context=ssl._create_unverified_context())
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()), secure)
        self.token = self.call("GET", "/session")["csrf_token"]
        self.token = self.call("POST", "/session", {"username": "i.tarn", "password": PASSWORD})["csrf_token"]

    def call(self, method: str, path: str, body: Any = None, key: str = "") -> Any:
        headers = {
            "Content-Type": "application/json",
            "X-CSRFToken": getattr(self, "token", ""),
            "Idempotency-Key": key,
            "Referer": self.base,
        }
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(self.base + path, data, headers, method=method)
        with self.opener.open(request, timeout=120) as answer:
            return json.loads(answer.read())


def patiently(call: Any) -> Any:
    """Ask again until it is answered, as the web client does."""
    last: Exception | None = None
    for _ in range(600):
        try:
            return call()
        except urllib.error.HTTPError as refused:
            if refused.code < 500:
                raise
            last = refused
        except (urllib.error.URLError, OSError) as error:
            last = error
        time.sleep(0.2)
    raise AssertionError(f"never answered: {last}")


def free_port() -> int:
    """A port of the loopback that nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@contextmanager
def fresh_machine() -> Iterator[Machine]:
    """A Leitung that was just started; gone afterwards."""
    # PostgreSQL's own user must be able to enter, which pytest's temporary folders do not allow.
    state = Path(tempfile.mkdtemp(prefix="leitung-crash-"))
    state.chmod(0o755)
    real = Path(os.environ.get("LEITUNG_STATE", settings.ROOT / "var"))
    (state / "venv").symlink_to(real / "venv")
    shutil.copytree(real / "stamps", state / "stamps")
    found = Machine(state, free_port())
    try:
        found.start()
        yield found
    finally:
        found.run("stop")
        shutil.rmtree(state, ignore_errors=True)
