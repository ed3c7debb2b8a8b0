"""What was spent of late, by key, within a minute: seconds of a core, or how often something was asked."""

from __future__ import annotations

import time
from collections import deque
from threading import Lock

WINDOW_S = 60.0


class Spent:
    """Seconds of a core that were spent of late, for each of several keys."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._rows: dict[str, deque[tuple[float, float]]] = {}

    def add(self, key: str, seconds: float) -> None:
        """So much more, now."""
        with self._lock:
            self._rows.setdefault(key, deque()).append((time.monotonic(), seconds))
            self._let_go(key)

    def of(self, key: str) -> float:
        """What was spent within the window."""
        with self._lock:
            self._let_go(key)
            return sum(seconds for _, seconds in self._rows.get(key, ()))

    def _let_go(self, key: str) -> None:
        """Of what is past the window nothing is held, whether anybody asks for it or not."""
        since, rows = time.monotonic() - WINDOW_S, self._rows.get(key)
        while rows and rows[0][0] < since:
            rows.popleft()
        if not rows:
            self._rows.pop(key, None)
