"""What a running Leitung tells of itself: requests by route, whether it is well, and nothing that anybody entered."""

from __future__ import annotations

import json
import logging
from typing import Any

import pytest
from config import telemetry
from config.settings import LOGGING
from django.db import DatabaseError, connection
from django.test import Client

from tests.server.conftest import Api

pytestmark = pytest.mark.django_db
SECRET = "Quillmoor-7731"


def line_of(record: logging.LogRecord) -> dict[str, Any]:
    """A line as it stands in the log."""
    made: Any = LOGGING["formatters"]["line"]  # type: ignore[index]
    formatter = made["()"](**{name: value for name, value in made.items() if name != "()"})
    found: dict[str, Any] = json.loads(formatter.format(record))
    return found


def test_each_request_has_a_line_with_its_route_and_nothing_that_was_entered(
    api: Api, install: str, caplog: pytest.LogCaptureFixture
) -> None:
    caplog.set_level(logging.INFO, "leitung")
    answer = api.post(f"/api/installs/{install}/open-items", {"text": SECRET, "owner": SECRET, "due": None})
    assert answer.status_code == 200
    lines = [line_of(record) for record in caplog.records if record.name == "leitung.request"]
    (line,) = (line for line in lines if line["method"] == "POST")
    assert (line["route"], line["status"]) == ("api/installs/<install_id>/open-items", 200)
    assert line["request_id"] == answer.headers["X-Request-ID"]
    assert SECRET not in json.dumps(lines)
    assert install not in json.dumps(lines)


def test_a_number_that_was_given_is_kept_and_nonsense_is_not(api: Api) -> None:
    given = Client().get("/api/session", headers={"X-Request-ID": "from-the-proxy-1"})
    assert given.headers["X-Request-ID"] == "from-the-proxy-1"
    for nonsense in ("a b", "x" * 65, "{0}", "short"):
        assert Client().get("/api/session", headers={"X-Request-ID": nonsense}).headers["X-Request-ID"] != nonsense


def test_a_slow_statement_is_told_without_what_it_was_asked_for(
    api: Api, install: str, caplog: pytest.LogCaptureFixture, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(telemetry, "SLOW_QUERY_S", -1)
    api.get(f"/api/installs/{install}")
    slow = [line_of(record) for record in caplog.records if record.message == "slow query"]
    assert any("installs_install" in line["query"] for line in slow)
    assert not any(install.replace("-", "") in line["query"] or install in line["query"] for line in slow)


def test_ready_only_where_the_database_is_of_this_release(monkeypatch: pytest.MonkeyPatch) -> None:
    client = Client()
    assert client.get("/health/live").json() == {"live": True}
    assert client.get("/health/ready").json() == {"ready": True, "database": "ok", "disk": True}
    with connection.cursor() as cursor:
        cursor.execute("RESET ROLE")
        cursor.execute("DELETE FROM django_migrations WHERE app = 'weeks'")
    behind = client.get("/health/ready")
    assert (behind.status_code, behind.json()["database"]) == (503, "of an earlier release")

    def gone(*_: Any) -> None:
        raise DatabaseError

    monkeypatch.setattr(telemetry, "MigrationExecutor", gone)
    monkeypatch.setattr(telemetry, "LEAST_FREE_BYTES", 1 << 60)
    down = client.get("/health/ready")
    assert (down.status_code, down.json()) == (503, {"ready": False, "database": "does not answer", "disk": False})


def test_counters_for_this_machine_alone(api: Api, install: str) -> None:
    api.get(f"/api/installs/{install}")
    told = Client().get("/metrics")
    assert told.status_code == 200
    text = told.content.decode()
    assert 'leitung_requests_total{method="GET",route="api/installs/<install_id>",status="200"}' in text
    assert "leitung_request_seconds_bucket" in text
    assert "leitung_backup_age_seconds" in text
    assert install not in text
    assert Client(REMOTE_ADDR="10.0.0.7").get("/metrics").status_code == 403
    assert Client().get("/metrics", headers={"X-Forwarded-For": "10.0.0.7"}).status_code == 403
