"""People of two companies, and a client that writes as the web client does."""

from __future__ import annotations

import itertools
import json
import os
from collections.abc import Iterator
from typing import Any

import pytest
from accounts.models import Company, Role, User
from django.db import connection
from django.test import Client
from installs import actions, results
from leitung_demo import kiosk
from upkeep.demo import PASSWORD

numbers = itertools.count()


def worker_environment() -> dict[str, str]:
    """What the worker's process needs to work on the tests' database."""
    others = {name: value for name, value in os.environ.items() if name != "DJANGO_SETTINGS_MODULE"}
    return {**others, "LEITUNG_DATABASE": connection.settings_dict["NAME"]}


class Api:
    """A signed-in client: token, idempotency key and JSON on every write."""

    def __init__(self, user: User | None) -> None:
        self.client = Client(enforce_csrf_checks=True)
        if user:
            self.client.force_login(user)
        self.token = self.client.get("/api/session").json()["csrf_token"]

    def get(self, path: str) -> Any:
        return self.client.get(path)

    def post(self, path: str, body: Any = None, key: str | None = None, method: str = "post") -> Any:
        raw = body if isinstance(body, bytes) else json.dumps(body if body is not None else {})
        headers = {"X-CSRFToken": self.token, "Idempotency-Key": key or f"test-key-{next(numbers)}"}
        return getattr(self.client, method)(path, raw, content_type="application/json", headers=headers)


def make_person(company: Company, name: str, role: Role) -> User:
    return User.objects.create_user(name, password=PASSWORD, company=company, display_name=name.title(), role=role)


@pytest.fixture(autouse=True)
def results_are_kept(request: pytest.FixtureRequest) -> Iterator[None]:
    """What is kept behind an answer is kept before the tables are emptied: both lock them."""
    marker = request.node.get_closest_marker("django_db")
    committing = bool(marker and marker.kwargs.get("transaction"))
    if committing:
        request.getfixturevalue("transactional_db")
    yield
    if committing:
        results.settle()


@pytest.fixture
def lead(db: None) -> User:
    return make_person(Company.objects.create(name="Brae & Finch Mechanical"), "lead", Role.LEAD)


@pytest.fixture
def other_lead(lead: User) -> User:
    """A lead of the same company."""
    return make_person(lead.company, "second", Role.LEAD)


@pytest.fixture
def crew(lead: User) -> User:
    return make_person(lead.company, "crew", Role.CREW)


@pytest.fixture
def reader(lead: User) -> User:
    return make_person(lead.company, "reader", Role.READER)


@pytest.fixture
def stranger(db: None) -> User:
    """A lead of another company."""
    return make_person(Company.objects.create(name="Saltmarsh Climate"), "stranger", Role.LEAD)


@pytest.fixture
def install(lead: User) -> str:
    """The id of a sound install of the lead's company."""
    return str(actions.create(lead, kiosk(), "Install begun").install.id)


@pytest.fixture
def api(lead: User) -> Iterator[Api]:
    return Api(lead)
