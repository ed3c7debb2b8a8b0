"""The web server and the worker beside it: started in the background, found again by process id, stopped by it."""

from __future__ import annotations

import json
import os
import shutil
import signal
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Mapping
from contextlib import suppress
from pathlib import Path
from typing import Any

from launch.common import (
    PYTHON,
    ROOT,
    STATE,
    environment,
    fail,
    members,
    process_start,
    read_config,
    run,
    step,
    work_done,
    write,
)
from launch.packages import RUN_NEEDS, debian, python_environment, web_build
from launch.postgres import Cluster, free_port, port_is_free, start_project_cluster

RUN_FILE = STATE / "run" / "server.json"
LOG = STATE / "log" / "server.log"
WORKER_FILE = STATE / "run" / "worker.json"
WORKER_LOG = STATE / "log" / "worker.log"
STAND_INS_FILE = STATE / "run" / "stand_ins.json"
STAND_INS_LOG = STATE / "log" / "stand_ins.log"
DEFAULT_PORT, STAND_INS_FROM = 8420, 8431
METRICS = STATE / "run" / "metrics"
WORKERS, THREADS = 2, 4
# A server that has used no processor time for so long, s, will not come up.
STALLED_S, SAY_EACH_S = 60, 10
ANSWER_S = 30


def running(file: Path | None = None) -> dict[str, Any] | None:
    """The running server of this project, or None; a stale file is removed."""
    file = file or RUN_FILE
    try:
        found = dict(json.loads(file.read_text()))
        if process_start(found["pid"]) == found["started_at"]:
            return found
    except OSError:
        return None
    except (ValueError, TypeError, KeyError):
        pass
    file.unlink(missing_ok=True)
    return None


def worker_command() -> list[str]:
    """The command line of the worker, which carries out what takes long: analyses, plates to be read, clearing out."""
    command = [str(PYTHON), str(ROOT / "server" / "manage.py"), "procrastinate", "worker"]
    command += ["--queues", "analyses,plates,upkeep,documents", "--concurrency", "2"]
    return [*command, "--delete-jobs", "successful"]


def work() -> None:
    """Start the worker, where none runs, under what begins it again when it dies."""
    if running(WORKER_FILE):
        return
    process = _begin([str(PYTHON), "-m", "launch.supervise"], WORKER_LOG)
    write(WORKER_FILE, json.dumps({"pid": process.pid, "started_at": process_start(process.pid)}))


def stand_in() -> None:
    """Start the stand-in meters on free ports of the loopback, where none run; they say themselves where they are."""
    if running(STAND_INS_FILE):
        return
    scpi = free_port(STAND_INS_FROM)
    ports = [str(scpi), str(free_port(scpi + 1))]
    process = _begin(
        [str(PYTHON), "-m", "meters.standin", *ports, str(STATE / "run" / "stand_ins_at.json")], STAND_INS_LOG
    )
    write(STAND_INS_FILE, json.dumps({"pid": process.pid, "started_at": process_start(process.pid)}))


def _begin(command: list[str], log_file: Path, more: Mapping[str, str] | None = None) -> subprocess.Popen[bytes]:
    """A process in the background, its words in a log."""
    for file in (log_file, RUN_FILE):
        file.parent.mkdir(parents=True, exist_ok=True)
    with log_file.open("ab") as log:
        return subprocess.Popen(
            command, env={**environment(), **(more or {})}, cwd=ROOT, stdin=subprocess.DEVNULL, stdout=log, stderr=log,
            start_new_session=True,
        )  # fmt: skip


def server_command(port: int) -> list[str]:
    """The web server's command line."""
    command = [str(PYTHON), "-m", "gunicorn", "config.wsgi", "--chdir", str(ROOT / "server")]
    command += ["--bind", f"127.0.0.1:{port}", "--workers", str(WORKERS), "--threads", str(THREADS)]
    # A connection for each request: kept ones would all stay with the process that first had them.
    command += ["--timeout", "60", "--graceful-timeout", "10", "--keep-alive", "0"]
    return [*command, "--preload", "--no-control-socket"]


def serve(port: int) -> int:
    """Start the server on that port of the loopback; its process id."""
    # Counters of the processes of one start meet in one folder; those of an earlier one are over.
    shutil.rmtree(METRICS, ignore_errors=True)
    METRICS.mkdir(parents=True)
    process = _begin(server_command(port), LOG, {"PROMETHEUS_MULTIPROC_DIR": str(METRICS)})
    write(RUN_FILE, json.dumps({"pid": process.pid, "started_at": process_start(process.pid), "port": port}))
    if _comes_up(process, port):
        return process.pid
    tail = "\n".join(LOG.read_text(errors="replace").splitlines()[-8:])
    fail(f"The server did not come up. Nothing was lost. The last lines of {LOG}:\n{tail}")


def _comes_up(process: subprocess.Popen[bytes], port: int) -> bool:
    """Wait for the first answer as long as the server lives and gets on: a busy machine takes what it takes."""
    begun = moved = said = time.monotonic()
    ticks = -1
    while process.poll() is None:
        if answers(port):
            return True
        now, before = time.monotonic(), ticks
        ticks = work_done(process.pid)
        if ticks != before:
            moved = now
        elif now - moved > STALLED_S:
            break
        if now - said > SAY_EACH_S:
            said = now
            print(f" waiting for its first answer, {now - begun:.0f} s so far …", end="", flush=True)
        time.sleep(0.1)
    return False


def orphans() -> list[int]:
    """What is left of a server of this project whose first process was killed: it still holds the port."""
    try:
        leader = int(json.loads(RUN_FILE.read_text())["pid"])
    except (OSError, ValueError, TypeError, KeyError):
        return []
    # A number that somebody else has taken over leads a group of its own.
    return [] if process_start(leader) else members(leader)


def answers(port: int) -> bool:
    """Whether Leitung answers on that port."""
    try:
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/session", timeout=ANSWER_S) as answer:
            return b"csrf_token" in answer.read()
    except (urllib.error.URLError, OSError):
        return False


def start(port: int) -> None:
    """Set up what is missing and serve."""
    _end_all(orphans())
    found = running()
    if found and answers(found["port"]) and _database_as_the_server_knows_it():
        work()
        stand_in()
        _welcome(found["port"], "Leitung is running already.")
        return
    if found:
        _end(found["pid"], RUN_FILE)
    _end_beside()
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
        work()
        stand_in()
    _welcome(port, "Ready.")


def _database_as_the_server_knows_it() -> bool:
    """Whether the database runs where the running server looks for it; one that had died is started again."""
    before = read_config().get("database", {}).get("port")
    cluster, started = start_project_cluster()
    if started:
        print("The database had stopped; it runs again.")
    return bool(cluster.port == before)


def _welcome(port: int, text: str) -> None:
    print(f"\n{text}\n  Open     http://127.0.0.1:{port}\n  Sign in  i.tarn, password copper-line-14 (demo data)")
    print("  Stop     ./leitung stop", flush=True)


def end() -> bool:
    """End the server and what runs beside it, not the database; whether one ran."""
    _end_beside()
    _end_all(orphans())
    found = running()
    if found:
        _end(found["pid"], RUN_FILE)
    return found is not None


def stop() -> None:
    """End the server and the database that `start` started, and nothing else."""
    print("Server stopped." if end() else "No server of this project was running.")
    database = read_config().get("database", {})
    if "folder" in database:
        cluster = Cluster(Path(database["folder"]), database.get("port"))
        if cluster.data.exists() and cluster.running():
            cluster.stop()
            print("Database stopped; its data is kept.")


def _end_beside() -> None:
    """End what runs beside the server: the worker and the stand-in meters."""
    for file in (WORKER_FILE, STAND_INS_FILE):
        if beside := running(file):
            _end(beside["pid"], file)


def _end(pid: int, file: Path) -> None:
    """End a process that a file names."""
    _end_all([pid])
    file.unlink(missing_ok=True)


def _end_all(pids: list[int]) -> None:
    """End processes and wait for them; by force after ten seconds."""
    for sign, patience in ((signal.SIGTERM, 100), (signal.SIGKILL, 30)):
        for pid in pids:
            with suppress(ProcessLookupError):
                os.kill(pid, sign)
        for _ in range(patience):
            pids = [pid for pid in pids if process_start(pid)]
            if not pids:
                return
            time.sleep(0.1)
