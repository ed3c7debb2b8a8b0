"""The web server: started in the background, found again by its process id and start time, stopped by it."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

from launch.common import PYTHON, ROOT, STATE, environment, fail, process_start, read_config, run, step, write
from launch.packages import RUN_NEEDS, debian, python_environment, web_build
from launch.postgres import Cluster, port_is_free, start_project_cluster

RUN_FILE = STATE / "run" / "server.json"
LOG = STATE / "log" / "server.log"
DEFAULT_PORT = 8420
WORKERS, THREADS = 2, 4


def running() -> dict[str, Any] | None:
    """The running server of this project, or None; a stale file is removed."""
    try:
        found = dict(json.loads(RUN_FILE.read_text()))
        if process_start(found["pid"]) == found["started_at"]:
            return found
    except OSError:
        return None
    except (ValueError, TypeError, KeyError):
        pass
    RUN_FILE.unlink(missing_ok=True)
    return None


def server_command(port: int) -> list[str]:
    """The web server's command line."""
    command = [str(PYTHON), "-m", "gunicorn", "config.wsgi", "--chdir", str(ROOT / "server")]
    command += ["--bind", f"127.0.0.1:{port}", "--workers", str(WORKERS), "--threads", str(THREADS)]
    command += ["--timeout", "60", "--graceful-timeout", "10", "--keep-alive", "30"]
    return [*command, "--preload", "--no-control-socket"]


def serve(port: int) -> int:
    """Start the server on that port of the loopback; its process id."""
    LOG.parent.mkdir(parents=True, exist_ok=True)
    RUN_FILE.parent.mkdir(parents=True, exist_ok=True)
    command = server_command(port)
    with LOG.open("ab") as log:
        process = subprocess.Popen(
            command,
            env=environment(),
            cwd=ROOT,
            stdin=subprocess.DEVNULL,
            stdout=log,
            stderr=log,
            start_new_session=True,
        )
    write(RUN_FILE, json.dumps({"pid": process.pid, "started_at": process_start(process.pid), "port": port}))
    for _ in range(150):
        if process.poll() is not None:
            break
        if answers(port):
            return process.pid
        time.sleep(0.1)
    tail = "\n".join(LOG.read_text(errors="replace").splitlines()[-8:])
    fail(f"The server did not come up. Nothing was lost. The last lines of {LOG}:\n{tail}")


def answers(port: int) -> bool:
    """Whether Leitung answers on that port."""
    try:
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/session", timeout=5) as answer:
            return b"csrf_token" in answer.read()
    except (urllib.error.URLError, OSError):
        return False


def start(port: int) -> None:
    """Set up what is missing and serve."""
    found = running()
    if found and answers(found["port"]) and _database_as_the_server_knows_it():
        _welcome(found["port"], "Leitung is running already.")
        return
    if found:
        _end(found["pid"])
    if not port_is_free(port):
        fail(
            f"Port {port} of this machine is taken by another program. Nothing was changed.\n"
            f"Free it, or start on another one: ./leitung start --port {port + 1}"
        )
    print("Leitung", flush=True)
    debian(RUN_NEEDS)
    python_environment("base")
    web_build()
    with step("Database"):
        start_project_cluster()
        run([PYTHON, ROOT / "server" / "manage.py", "prepare"], env=environment())
    with step("Server"):
        serve(port)
    _welcome(port, "Ready.")


def _database_as_the_server_knows_it() -> bool:
    """Whether the database runs where the running server looks for it; one that had died is started again."""
    before = read_config().get("database", {}).get("port")
    cluster, started = start_project_cluster()
    if started:
        print("The database had stopped; it runs again.")
    return cluster.port == before


def _welcome(port: int, text: str) -> None:
    print(f"\n{text}\n  Open     http://127.0.0.1:{port}\n  Sign in  i.tarn, password copper-line-14 (demo data)")
    print("  Stop     ./leitung stop", flush=True)


def stop() -> None:
    """End the server and the database that `start` started, and nothing else."""
    found = running()
    if found:
        _end(found["pid"])
        print("Server stopped.")
    else:
        print("No server of this project was running.")
    database = read_config().get("database", {})
    if "folder" in database:
        cluster = Cluster(Path(database["folder"]), database.get("port"))
        if cluster.data.exists() and cluster.running():
            cluster.stop()
            print("Database stopped; its data is kept.")


def _end(pid: int) -> None:
    """End the server and wait for it; by force after ten seconds."""
    for sign, patience in ((signal.SIGTERM, 100), (signal.SIGKILL, 30)):
        try:
            os.kill(pid, sign)
        except ProcessLookupError:
            break
        for _ in range(patience):
            if process_start(pid) is None:
                RUN_FILE.unlink(missing_ok=True)
                return
            time.sleep(0.1)
    RUN_FILE.unlink(missing_ok=True)
