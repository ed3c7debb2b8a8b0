"""How much of the machine's cores one person, and one company, may have computed for them: seconds of a core a minute.

What keeps something is never refused for it: only what is read, and what is computed and not kept.
"""

from __future__ import annotations

import time
from collections.abc import Callable

from accounts.spent import Spent
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from problems import problem

from config.middleware import NOT_WRITES

# From here on others are at work too.
OTHERS_S = 2.0
ALL = "all"
Next = Callable[[HttpRequest], HttpResponse]


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
