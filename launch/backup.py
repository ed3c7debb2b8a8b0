"""Backups: one on demand, one each day by itself, and the way back."""

from __future__ import annotations

import time
from datetime import date, datetime
from pathlib import Path

from launch import server
from launch.common import PYTHON, ROOT, STATE, Stopped, environment, fail, run, step
from launch.packages import postgres_bin, python_environment
from launch.postgres import start_project_cluster

FOLDER = STATE / "backups"
KEEP_DAYS = 30
# Of the night, where a machine runs through it; else as soon as it runs.
HOUR = 2
MANAGE = ROOT / "server" / "manage.py"


def _programs() -> Path:
    found = postgres_bin()
    if found is None:
        fail("PostgreSQL's programs are missing. Have an administrator run: apt-get install postgresql")
    return found


def backup(file: Path) -> str:
    """Write everything to a file, while the application runs or not; what is said of it."""
    if not file.parent.is_dir():
        fail(f"There is no folder {file.parent}. Make it, or choose another place.")
    return beside(*_with_programs("backup", file))


def beside(*command: str | Path) -> str:
    """Do the owner's work with the database, which is ended again where it did not run."""
    python_environment("base")
    _, started = start_project_cluster()
    try:
        return owners_work(*command)
    finally:
        if started:
            start_project_cluster()[0].stop()


def restore(file: Path) -> str:
    """Put a backup in the place of what is there, which is kept; the application stands meanwhile."""
    python_environment("base")
    cluster, started = start_project_cluster()
    serving = server.running()
    try:
        owners_work(*_with_programs("restore", file, "--check"))
        if serving:
            with step("The application stands"):
                server.end()
        said = owners_work(*_with_programs("restore", file))
        run([PYTHON, MANAGE, "prepare"], env=environment())
    finally:
        if serving and not server.running():
            server.start(serving["port"])
        elif started:
            cluster.stop()
    return said


def _with_programs(command: str, file: Path, *more: str) -> list[str | Path]:
    return [command, file.resolve(), "--programs", _programs(), *more]


def owners_work(*command: str | Path) -> str:
    """What a command of the server's own says; what it refuses with in one line."""
    try:
        done = run([PYTHON, MANAGE, *command], env=environment())
    except Stopped as stopped:
        # The command says in one line what is the matter.
        lines = [line for line in str(stopped).splitlines() if line.startswith("CommandError: ")]
        raise Stopped(lines[-1].removeprefix("CommandError: ")) if lines else stopped from None
    return done.stdout.strip()


def due(now: datetime) -> Path | None:
    """The backup of today where it is to be made now; None where it is there, or its hour has not come."""
    file = FOLDER / f"leitung-{now.date().isoformat()}.zip"
    newest = max((path.name for path in FOLDER.glob("leitung-*.zip")), default="")
    yesterdays = newest >= f"leitung-{date.fromordinal(now.date().toordinal() - 1).isoformat()}.zip"
    if file.exists() or (yesterdays and now.hour < HOUR):
        return None
    return file


def daily(now: datetime | None = None) -> None:
    """Make the backup of the day where it is due. What fails is said, and tried again in an hour."""
    file = due(now or datetime.now())
    if file is None or time.monotonic() < _again[0]:
        return
    FOLDER.mkdir(parents=True, exist_ok=True)
    FOLDER.chmod(0o700)
    try:
        print(owners_work(*_with_programs("backup", file, "--keep", str(KEEP_DAYS))), flush=True)
    except Stopped as stopped:
        _again[0] = time.monotonic() + 3600
        print(f"The backup of the day was not made: {stopped}", flush=True)


_again = [0.0]
