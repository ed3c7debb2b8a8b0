"""Keeps the worker alive: begun again whenever it dies, what it had begun taken up first; ended with this process."""

from __future__ import annotations

import ctypes
import signal
import subprocess
import sys
import time
from types import FrameType

from launch.backup import daily
from launch.common import PYTHON, ROOT, environment
from launch.server import worker_command

# Between two deaths: longer each time, so that one that cannot live does not take the machine.
PAUSES_S = (0, 1, 2, 5, 10, 30)
# Having lived so long it is well again.
WELL_S = 60
LOOK_EACH_S = 60


def _ends_with_parent() -> None:
    """The worker is told to end when this process is gone, however that came about (Linux: PR_SET_PDEATHSIG)."""
    ctypes.CDLL(None).prctl(1, signal.SIGTERM)


def _told(number: int, frame: FrameType | None) -> None:
    raise SystemExit(0)


def _waited(worker: subprocess.Popen[bytes]) -> int:
    """Wait for the worker's end; once a day everything is backed up meanwhile."""
    while True:
        try:
            return worker.wait(LOOK_EACH_S)
        except subprocess.TimeoutExpired:
            daily()


def main() -> None:
    """Run the worker until this process is ended."""
    signal.signal(signal.SIGTERM, _told)
    signal.signal(signal.SIGINT, _told)
    deaths = 0
    while True:
        time.sleep(PAUSES_S[min(deaths, len(PAUSES_S) - 1)])
        begun = time.monotonic()
        worker = None
        try:
            subprocess.run([str(PYTHON), str(ROOT / "server" / "manage.py"), "takeup"], env=environment(), check=False)
            worker = subprocess.Popen(worker_command(), env=environment(), cwd=ROOT, preexec_fn=_ends_with_parent)
            code = _waited(worker)
        finally:
            if worker is not None and worker.poll() is None:
                worker.terminate()
                try:
                    worker.wait(8)
                except subprocess.TimeoutExpired:
                    worker.kill()
        deaths = 0 if time.monotonic() - begun > WELL_S else deaths + 1
        print(f"the worker ended with {code} and is begun again", file=sys.stderr, flush=True)


if __name__ == "__main__":
    main()
