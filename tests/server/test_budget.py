"""Seconds of a core for each person and company: what computes is refused beyond them, what keeps something never."""

from __future__ import annotations

from typing import Any

import pytest
from accounts import spent
from accounts.models import User
from config import budget

from tests.server.conftest import Api

pytestmark = pytest.mark.django_db


def test_beyond_it_what_computes_is_refused_and_what_keeps_something_is_not(
    api: Api, install: str, other_lead: User, stranger: User, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    settings.BUDGET_PERSON_S, settings.BUDGET_COMPANY_S = 30.0, 48.0
    monkeypatch.setattr(budget, "spent", spent.Spent())
    now = [1000.0]
    monkeypatch.setattr(spent.time, "monotonic", lambda: now[0])
    url = f"/api/installs/{install}"
    assert api.get(url).status_code == 200
    me = User.objects.get(username="lead")
    budget.spent.add(f"person {me.pk}", 30.0)
    refused = api.get(url)
    assert (refused.status_code, refused.json()["code"], refused.headers["Retry-After"]) == (429, "budget", "10")
    assert api.post("/api/size", {"equipment": {"kind": "unit_heater"}}).status_code == 429
    assert api.get("/api/session").status_code == 200
    kept = api.post(f"{url}/open-items", {"text": "A bushing", "owner": "Odo", "due": None})
    assert kept.status_code == 200
    # Nobody else is held up by one person, and a whole company does not hold up another.
    assert Api(other_lead).get(url).status_code == 200
    budget.spent.add(f"company {me.company_id}", 48.0)
    budget.spent.add(budget.ALL, 48.0)
    assert Api(other_lead).get(url).status_code == 200, "nobody else is there who would have less of it"
    budget.spent.add(budget.ALL, budget.OTHERS_S + 0.1)
    assert Api(other_lead).get(url).status_code == 429
    assert Api(stranger).get("/api/installs").status_code == 200
    now[0] += spent.WINDOW_S + 1
    assert api.get(url).status_code == 200


def test_what_was_spent_is_what_the_thread_had_of_a_core() -> None:
    found = spent.Spent()
    found.add("a", 1.5)
    found.add("a", 2.0)
    assert (found.of("a"), found.of("b")) == (3.5, 0.0)


def test_what_is_past_the_window_is_held_no_more_though_nobody_asks(monkeypatch: pytest.MonkeyPatch) -> None:
    found, now = spent.Spent(), [0.0]
    monkeypatch.setattr(spent.time, "monotonic", lambda: now[0])
    for _ in range(500):
        found.add("a", 1.0)
        now[0] += 1.0
    assert len(found._rows["a"]) <= spent.WINDOW_S + 1
