"""Generated files, migrations and the schema itself stay in step with the code."""

from __future__ import annotations

import hashlib
import json
import subprocess
from pathlib import Path
from urllib.parse import urlencode

import pytest
import schemathesis
from config.wsgi import application
from django.conf import settings
from django.core.management import call_command
from hypothesis import settings as effort
from upkeep.management.commands.generate import LANDED, generated

from tests.server.conftest import Api, numbers

WEB = settings.ROOT / "web"


def test_generated_files_are_current() -> None:
    stale = [str(path) for path, text in generated().items() if not path.exists() or path.read_text("utf-8") != text]
    assert stale == [], "run ./leitung generate"


def test_the_web_clients_types_are_those_of_the_schema(tmp_path: Path) -> None:
    fresh = tmp_path / "schema.d.ts"
    command = ["npx", "--no-install", "openapi-typescript", "src/api/openapi.json", "-o", str(fresh)]
    subprocess.run(command, cwd=WEB, check=True, capture_output=True)
    assert fresh.read_text() == (WEB / "src/api/schema.d.ts").read_text(), "run ./leitung generate"


def test_a_migration_that_has_landed_is_never_changed() -> None:
    listed = dict(reversed(line.split("  ")) for line in LANDED.read_text("utf-8").splitlines())
    there = {str(f.relative_to(settings.ROOT)): f for f in settings.ROOT.glob("server/*/migrations/0*.py")}
    assert listed.keys() == there.keys()
    changed = [name for name, file in there.items() if hashlib.sha256(file.read_bytes()).hexdigest() != listed[name]]
    assert changed == [], "a database has been made by it: write a new migration instead"


@pytest.mark.django_db
def test_no_migration_is_missing() -> None:
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)


schema = schemathesis.openapi.from_wsgi("/api/openapi.json", application)


@pytest.mark.django_db
@schema.exclude(path_regex="session").parametrize()
@effort(max_examples=12)
def test_generated_requests_never_break_the_server(case: schemathesis.Case, api: Api, install: str) -> None:
    if "install_id" in case.path_parameters:
        case.path_parameters["install_id"] = install
    url = f"{case.formatted_path}?{urlencode(case.query, doseq=True)}"
    headers = {"X-CSRFToken": api.token, "Idempotency-Key": f"generated-{next(numbers)}"}
    body = json.dumps(case.body, default=str).encode()
    answer = api.client.generic(case.method, url, body, content_type="application/json", headers=headers)
    assert answer.status_code < 500, answer.content
