"""Several web processes behind a proxy, any of them killed: what was acknowledged stands once, restored too."""

from __future__ import annotations

import json
import os
import re
import shutil
import signal
import subprocess
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.conf import settings

from launch.common import environment
from launch.server import server_command
from tests.server.machine import Machine, Person, free_port, fresh_machine, patiently

WRITES_A_ROUND = 30


def nginx(folder: Path) -> Path:
    """The proxy's program: this machine's, else Debian's package unpacked beside, so that no service begins."""
    there = shutil.which("nginx", path=f"{os.environ['PATH']}:/usr/sbin")
    if there is not None:
        return Path(there)
    if os.geteuid() == 0:
        subprocess.run(["apt-get", "update", "-qq"], check=True, capture_output=True)
    done = subprocess.run(["apt-get", "download", "-qq", "nginx"], cwd=folder, capture_output=True, text=True)
    assert done.returncode == 0, f"Have an administrator run: apt-get update. {done.stderr}"
    (package,) = folder.glob("nginx_*.deb")
    subprocess.run(["dpkg-deb", "-x", str(package), str(folder / "nginx")], check=True, capture_output=True)
    return folder / "nginx/usr/sbin/nginx"


def configuration(folder: Path, port: int, ports: list[int]) -> str:
    """The one that ships, on the loopback, with a certificate of its own and these processes behind."""
    key, certificate = folder / "key.pem", folder / "certificate.pem"
    command = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=127.0.0.1"]
    subprocess.run([*command, "-keyout", key, "-out", certificate], check=True, capture_output=True)
    text = (settings.ROOT / "deploy/nginx.conf").read_text()
    behind = "".join(f"    server 127.0.0.1:{one} max_fails=1 fail_timeout=1s;\n" for one in ports)
    text = re.sub(r"    server 127\.0\.0\.1:8420.*\n", behind, text)
    text = re.sub(r"server \{\n    listen 80;.*?\n\}\n", "", text, flags=re.DOTALL)
    text = text.replace("listen 443 ssl http2", f"listen 127.0.0.1:{port} ssl").replace("leitung.example", "127.0.0.1")
    text = text.replace("/etc/ssl/leitung.pem", str(certificate)).replace("/etc/ssl/private/leitung.key", str(key))
    places = "".join(f"{name}_temp_path {folder}/{name};\n"
                     for name in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi"))  # fmt: skip
    user = "user root;\n" if os.geteuid() == 0 else ""
    return (f"{user}daemon off;\npid {folder}/pid;\nerror_log {folder}/error.log;\nevents {{}}\n"
            f"http {{\naccess_log off;\n{places}{text}}}\n")  # fmt: skip


class Web:
    """One web process of several, on a port of its own."""

    def __init__(self, machine: Machine) -> None:
        self.machine, self.port = machine, free_port()
        self.start()

    def start(self) -> None:
        more = {"LEITUNG_STATE": str(self.machine.state), "LEITUNG_HTTPS": "1", "LEITUNG_BEHIND_PROXY": "1"}
        env = {name: value for name, value in environment().items() if name != "DJANGO_SETTINGS_MODULE"}
        self.process = subprocess.Popen(
            server_command(self.port), env=env | more, stderr=subprocess.DEVNULL, start_new_session=True
        )

    def kill(self) -> None:
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()


@contextmanager
def several(machine: Machine) -> Iterator[tuple[list[Web], str]]:
    """Two web processes behind the proxy; its address."""
    folder = machine.state / "proxy"
    folder.mkdir()
    web = [Web(machine), Web(machine)]
    port = free_port()
    file = folder / "nginx.conf"
    file.write_text(configuration(folder, port, [one.port for one in web]))
    proxy = subprocess.Popen([nginx(folder), "-c", file, "-p", folder], stderr=subprocess.PIPE)
    try:
        yield web, f"https://127.0.0.1:{port}"
    finally:
        proxy.terminate()
        proxy.wait()
        for one in web:
            one.kill()


def texts(person: Person, path: str) -> list[str]:
    found = patiently(lambda: person.call("GET", f"{path}/record"))
    return sorted(row["text"] for row in found["open_items"] if row["text"].startswith("write "))


def test_any_of_them_may_be_killed_and_all_is_there_once_after_a_restore_too() -> None:
    with fresh_machine() as machine, several(machine) as (web, address):
        person = patiently(lambda: Person(machine, address))
        install = next(row for row in person.call("GET", "/installs")["installs"] if row["name"] == "Ticket kiosk")
        path = f"/installs/{install['id']}"
        acknowledged: list[str] = []
        enough = threading.Event()

        def write() -> None:
            number = 0
            while not enough.is_set():
                number += 1
                body = {"text": f"write {number}", "owner": "Odo", "due": None}
                patiently(lambda body=body, number=number: person.call(
                    "POST", f"{path}/open-items", body, f"many-write-{number}"
                ))  # fmt: skip
                acknowledged.append(f"write {number}")

        writer = threading.Thread(target=write)
        writer.start()
        for one in (web[0], web[1], web[0]):
            goal = len(acknowledged) + WRITES_A_ROUND
            while len(acknowledged) < goal:
                time.sleep(0.02)
            one.kill()
            goal = len(acknowledged) + 5
            while len(acknowledged) < goal:
                time.sleep(0.02)
            one.start()
        known = sorted(acknowledged)
        file = machine.state / "all.zip"
        done = machine.run("backup", str(file))
        assert "checked" in done.stdout, done.stderr
        enough.set()
        writer.join(timeout=300)
        assert not writer.is_alive()
        assert texts(person, path) == sorted(acknowledged)
        assert len(acknowledged) >= 3 * WRITES_A_ROUND
        done = machine.run("restore", str(file))
        assert "the same as when it was made" in done.stdout, done.stderr
        restored = texts(person, path)
        assert len(restored) == len(set(restored))
        assert set(known) <= set(restored) <= set(acknowledged)
        with fresh_machine() as another:
            # The disk is lost: a fresh machine, the newest backup, and work goes on where it was then.
            done = another.run("restore", str(file))
            assert "the same as when it was made" in done.stdout, done.stderr
            assert texts(patiently(lambda: Person(another)), path) == restored
        answer = person.opener.open(f"{address}/")
        assert "max-age=31536000" in answer.headers["Strict-Transport-Security"]
        cookies = {cookie.name: cookie.secure for handler in person.opener.handlers
                   for cookie in getattr(handler, "cookiejar", ())}  # fmt: skip
        assert cookies == {"__Host-session": True, "__Host-csrf": True}
        assert json.loads(person.opener.open(f"http://127.0.0.1:{web[0].port}/health/ready").read())["ready"]
