"""The worker is begun again whenever it dies, and ends with what watches it."""

from __future__ import annotations

import signal
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
# In place of the worker: notes that it lives, and how often what it had begun was taken up before.
STAGE = """
import subprocess, sys
from launch import supervise
supervise.worker_command = lambda: [sys.executable, "-c", {worker!r}]
supervise.PAUSES_S = (0,)
subprocess.run = lambda *_, **__: open({file!r}, "a").write("taken up\\n")
supervise.main()
"""


def staged(tmp_path: Path, worker: str) -> tuple[subprocess.Popen[bytes], Path]:
    file = tmp_path / "notes"
    script = STAGE.format(worker=f"note = open({str(file)!r}, 'a'); {worker}", file=str(file))
    return subprocess.Popen([sys.executable, "-c", script], cwd=ROOT, stderr=subprocess.DEVNULL), file


def until(true: Callable[[], bool]) -> bool:
    """Whether it comes true, in the time of a slow machine."""
    for _ in range(600):
        if true():
            return True
        time.sleep(0.05)
    return False


def test_a_worker_that_dies_is_begun_again_and_what_it_had_begun_is_taken_up_first(tmp_path: Path) -> None:
    watch, file = staged(tmp_path, "note.write('lives\\n')")
    try:
        assert until(lambda: file.exists() and file.read_text().count("lives") >= 3)
        assert file.read_text().splitlines()[:4] == ["taken up", "lives", "taken up", "lives"]
    finally:
        watch.terminate()
        assert watch.wait(30) == 0


@pytest.mark.parametrize("sign", [signal.SIGTERM, signal.SIGKILL])
def test_a_worker_ends_with_what_watches_it(tmp_path: Path, sign: signal.Signals) -> None:
    watch, file = staged(
        tmp_path, "import os, time; note.write(f'pid {os.getpid()}\\n'); note.flush(); time.sleep(600)"
    )
    assert until(lambda: file.exists() and "pid" in file.read_text())
    pid = int(file.read_text().rpartition("pid ")[2].split()[0])
    watch.send_signal(sign)
    watch.wait(30)
    assert until(lambda: not _lives(pid))


def _lives(pid: int) -> bool:
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False
