"""A program that works beside this one."""

from __future__ import annotations

import subprocess
from typing import Self


class Beside:
    """Has work done by a process, begun when it is needed. It ends with what stands within, also where that fails."""

    def __init__(self) -> None:
        self.process: subprocess.Popen[bytes] | None = None

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *why: object) -> None:
        if self.process is not None:
            self.process.kill()
            self.process.communicate()
