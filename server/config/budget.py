"""How much of the machine's cores one person, and one company, may have computed for them: seconds of a core a minute.

What keeps something is never refused for it: only what is read, and what is computed and not kept.
"""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable
from threading import Lock

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from problems import problem

from config.middleware import NOT_WRITES

WINDOW_S = 60.0
# From here on others are at work too.
OTHERS_S = 2.0
ALL = "all"
Next = Callable[[HttpRequest], HttpResponse]


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


spent = Spent()


class Budget:
    """Refuses what only computes, where somebody has had more than their share of late."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        user = getattr(request, "user", None)
        if not request.path.startswith("/api/") or user is None or not user.is_authenticated:
            return self.get_response(request)
        person, company = f"person {user.pk}", f"company {user.company_id}"
        computes = request.method == "GET" or NOT_WRITES.fullmatch(request.path)
        if computes and not request.path.startswith("/api/session"):
            mine = spent.of(person) > settings.BUDGET_PERSON_S
            if mine or self._at_others_cost(company):
                who = "You have" if mine else "Your company has"
                said = f"{who} had much computed within the last minute. Nothing is lost; try again in ten seconds."
                answer = problem(429, "budget", said)
                answer.headers["Retry-After"] = "10"
                return answer
        begun = time.thread_time()
        try:
            return self.get_response(request)
        finally:
            took = time.thread_time() - begun
            spent.add(person, took)
            spent.add(company, took)
            spent.add(ALL, took)

    def _at_others_cost(self, company: str) -> bool:
        """A company may have all of a machine that nobody else wants."""
        mine = spent.of(company)
        return mine > settings.BUDGET_COMPANY_S and spent.of(ALL) - mine > OTHERS_S
