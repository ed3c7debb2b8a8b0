"""Places, progress and running commands."""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import subprocess
import sys
import time
from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any, NoReturn

ROOT = Path(__file__).resolve().parent.parent
STATE = Path(os.environ.get("LEITUNG_STATE", ROOT / "var"))
VENV = STATE / "venv"
PYTHON = VENV / "bin" / "python"
WEB = ROOT / "web"
NEEDED_BYTES = 1_500_000_000


class Stopped(Exception):  # noqa: N818
    """Something the user has to see to. The text says what happened, what was kept, and what to do."""


def fail(text: str) -> NoReturn:
    raise Stopped(text)


@contextmanager
def step(text: str) -> Iterator[None]:
    """Say what is being done, and how long it took."""
    started = time.monotonic()
    print(f"  {text} …", end="", flush=True)
    try:
        yield
    except BaseException:
        print(" not done", flush=True)
        raise
    print(f" {time.monotonic() - started:.1f} s", flush=True)


def run(command: Sequence[str | Path], **options: Any) -> subprocess.CompletedProcess[str]:
    """Run a command to its end; on failure its last lines are shown and the set-up can be repeated."""
    options.setdefault("cwd", ROOT)
    done = subprocess.run([str(part) for part in command], text=True, capture_output=True, check=False, **options)
    if done.returncode:
        tail = "\n".join((done.stdout + done.stderr).strip().splitlines()[-15:])
        full = "No space left on device" in tail
        remedy = (
            "The disk is full: make room, then run the same command again." if full else "Run it again when mended."
        )
        fail(f"{' '.join(str(part) for part in command[:4])} ended with {done.returncode}:\n{tail}\n{remedy}")
    return done


def digest(paths: Iterable[Path]) -> str:
    """A digest over files, and over every file below folders."""
    total = hashlib.sha256()
    for path in sorted(paths):
        files = sorted(p for p in path.rglob("*") if p.is_file()) if path.is_dir() else [path]
        for file in files:
            total.update(str(file.relative_to(ROOT)).encode())
            total.update(file.read_bytes())
    return total.hexdigest()


def fresh(name: str, value: str) -> bool:
    """Whether the stamp of that name says that this was done already."""
    stamp = STATE / "stamps" / name
    return stamp.exists() and stamp.read_text() == value


def stamp(name: str, value: str) -> None:
    """Note that it was done. Written last, so that an interrupted set-up is done again."""
    folder = STATE / "stamps"
    folder.mkdir(parents=True, exist_ok=True)
    write(folder / name, value)


def write(path: Path, text: str, mode: int = 0o600) -> None:
    """Write a file whole or not at all."""
    part = path.with_name(path.name + ".part")
    part.write_text(text)
    part.chmod(mode)
    part.replace(path)


def read_config() -> dict[str, Any]:
    """The machine's own configuration, empty before the first start."""
    file = STATE / "config.json"
    try:
        return dict(json.loads(file.read_text())) if file.exists() else {}
    except ValueError:
        # Written whole or not at all, so this is a hand's doing; the database password in it cannot be made up.
        fail(f"{file} is not readable JSON. Mend it; it holds the password of the database in {STATE}.")


def write_config(config: dict[str, Any]) -> None:
    write(STATE / "config.json", json.dumps(config, indent=2))


def check_disk() -> None:
    """Set-up needs room for packages and the database."""
    free = shutil.disk_usage(STATE if STATE.exists() else ROOT).free
    if free < NEEDED_BYTES:
        fail(
            f"Only {free // 1_000_000} MB are free here; set-up needs {NEEDED_BYTES // 1_000_000}. "
            "Make room, then start again."
        )


def environment() -> dict[str, str]:
    """The environment of the project's own Python programs."""
    paths = os.pathsep.join([str(ROOT / "core"), str(ROOT / "server")])
    return {**os.environ, "PYTHONPATH": paths, "LEITUNG_STATE": str(STATE), "PYTHONUNBUFFERED": "1"}


def become(command: Sequence[str | Path]) -> NoReturn:
    """Replace this process by that command, with its exit code."""
    sys.stdout.flush()
    os.execve(str(command[0]), [str(part) for part in command], environment())  # noqa: S606


def process_start(pid: int) -> str | None:
    """The start time of a living process, so that a reused number is not taken for ours; None for a dead one.

    A process that was killed and not yet reaped by its parent is dead.
    """
    try:
        fields = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()
    except (OSError, IndexError):
        return None
    return None if fields[0] == "Z" else fields[19]


def _of_group(group: int) -> Iterator[list[str]]:
    """What Linux says of each living process of a group: its number, then the fields of `stat` from the third on."""
    for file in Path("/proc").glob("[0-9]*/stat"):
        try:
            fields = file.read_text().rsplit(")", 1)[1].split()
        except (OSError, IndexError):
            continue
        if int(fields[2]) == group and fields[0] != "Z":
            yield [file.parent.name, *fields]


def work_done(group: int) -> int:
    """Clock ticks of processor time that the living processes of a group have used."""
    return sum(int(fields[12]) + int(fields[13]) for fields in _of_group(group))


def members(group: int) -> list[int]:
    """The living processes of a group."""
    return [int(fields[0]) for fields in _of_group(group)] if group > 1 else []
