"""Signing in: throttled, guarded against forged requests, secure by default."""

import json
from datetime import timedelta

import pytest
from accounts import limits
from accounts.models import User
from axes.models import AccessAttempt
from config.views import server_error
from django.conf import settings
from django.db import OperationalError, connection, transaction
from django.test import Client, RequestFactory
from django.utils import timezone
from upkeep.demo import PASSWORD

from tests.server.conftest import Api

pytestmark = pytest.mark.django_db


def test_sign_in_and_out(lead: User) -> None:
    api = Api(None)
    assert "person" not in api.get("/api/session").json()
    answer = api.post("/api/session", {"username": "lead", "password": PASSWORD})
    assert answer.json()["person"] == {
        "username": "lead", "name": "Lead", "company": "Brae & Finch Mechanical", "role": "lead",
        "may": ["plan", "record", "sign", "people"],
    }  # fmt: skip
    cookie = api.client.cookies["sessionid"]
    assert cookie["httponly"]
    assert cookie["samesite"] == "Lax"
    api.token = answer.json()["csrf_token"]
    assert "person" not in api.post("/api/session", method="delete").json()
    assert api.get("/api/installs").status_code == 401


def test_failed_attempts_are_throttled_by_name(lead: User, stranger: User) -> None:
    api = Api(None)
    tries = [api.post("/api/session", {"username": "lead", "password": f"wrong {i}"}) for i in range(5)]
    assert [answer.status_code for answer in tries] == [422, 422, 422, 422, 429]
    assert api.post("/api/session", {"username": "lead", "password": PASSWORD}).status_code == 429
    assert api.post("/api/session", {"username": "stranger", "password": PASSWORD}).status_code == 200


def test_an_address_rests_too_whatever_the_names(lead: User, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(limits, "MOST_FAILURES", 3)
    api = Api(None)
    tries = [api.post("/api/session", {"username": f"name {i}", "password": "wrong"}).status_code for i in range(4)]
    assert tries == [422, 422, 422, 429]
    # Refused before any password is looked at: not even the right one is.
    refused = api.post("/api/session", {"username": "lead", "password": PASSWORD})
    assert (refused.status_code, refused.json()["code"]) == (429, "throttled")
    AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(hours=settings.AXES_COOLOFF_TIME, minutes=1))
    assert api.post("/api/session", {"username": "lead", "password": PASSWORD}).status_code == 200


def test_one_password_is_looked_at_at_a_time(lead: User, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(limits, "WAIT_S", 0.05)
    api = Api(None)
    with limits.one_at_a_time():
        busy = api.post("/api/session", {"username": "lead", "password": PASSWORD})
    assert (busy.status_code, busy.json()["code"]) == (429, "busy")
    assert api.post("/api/session", {"username": "lead", "password": PASSWORD}).status_code == 200


@pytest.mark.parametrize(
    ("statement", "code"),
    [("SELECT pg_sleep(5)", "too-long"), ("DO $$ BEGIN RAISE disk_full; END $$", "disk-full"),
     ("DO $$ BEGIN RAISE admin_shutdown; END $$", "database")],
)  # fmt: skip
def test_what_the_database_could_not_do_is_said(db: None, statement: str, code: str) -> None:
    try:
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SET LOCAL statement_timeout = '50ms'")
            cursor.execute(statement)
    except OperationalError:
        answer = server_error(RequestFactory().get("/api/installs"))
    assert (answer.status_code, json.loads(answer.content)["code"]) == (503, code)


@pytest.mark.parametrize(
    "body",
    [{}, [], {"username": "\x00", "password": "x"}, {"username": ["a"], "password": {}},
     {"username": "a" * 500, "password": "b"}],
)  # fmt: skip
def test_nonsense_at_sign_in_is_a_message(db: None, body: object) -> None:
    answer = Api(None).post("/api/session", body)
    assert answer.status_code == 422
    assert answer["Content-Type"] == "application/problem+json"


def test_forged_requests_are_refused(lead: User, install: str) -> None:
    client = Client(enforce_csrf_checks=True)
    client.force_login(lead)
    forged = client.post(
        f"/api/installs/{install}/undo", "{}", content_type="application/json", headers={"Idempotency-Key": "forged-1"}
    )
    assert forged.status_code == 403
    body = '{"username": "lead", "password": "x"}'
    assert client.post("/api/session", body, content_type="application/json").status_code == 403


def test_every_answer_is_guarded(db: None) -> None:
    for path in ("/", "/api/session", "/api/installs"):
        answer = Client().get(path)
        policy = answer["Content-Security-Policy"]
        assert "default-src 'none'" in policy
        assert "unsafe" not in policy
        assert answer["X-Frame-Options"] == "DENY"
        assert answer["X-Content-Type-Options"] == "nosniff"
        assert answer["Referrer-Policy"] == "same-origin"
