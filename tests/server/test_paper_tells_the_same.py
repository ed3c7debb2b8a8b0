"""Whatever stops a line, a cable, a device or a system is on its sheet, with the severity and article of the screen."""

from __future__ import annotations

from html import escape
from typing import Any

import pytest
from accounts.models import User
from documents import control, landings, package, record
from documents.drawings import draw_lines
from hypothesis import HealthCheck, given, settings
from installs import actions
from leitung_core.findings import Finding

from tests.core.result.plans import plans

pytestmark = pytest.mark.django_db


def printed(row: Finding, page: str) -> bool:
    return f"{row.severity}: {escape(row.message)}" in page and escape(row.article) in page


@settings(max_examples=12, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(plans())
def test_every_sheet_tells_what_the_screen_tells(lead: User, plan: dict[str, Any]) -> None:
    found = actions.create(lead, plan, "begun")
    result = found.result
    schedule = package.schedule_paper(found, lead).html
    record_page = record.record_paper(found, lead).html
    for key in result.circuits:
        if found.plan.circuits[key].source is not None:
            for row in result.on_line(key):
                assert row.severity != "stop" or printed(row, schedule), f"{key}: {row.message}"
    assert all(printed(row, record_page) for row in result.findings if row.severity != "note")
    for address in result.stands:
        kind, name, *rest = address.split("/")
        if rest or kind == "sources":
            continue
        sheet = landings.landings_paper(found, lead, *((name, None) if kind == "devices" else (None, name))).html
        for row in result.at(address):
            assert row.severity != "stop" or printed(row, sheet), f"{address}: {row.message}"
    for key, rows in result.of_systems().items():
        sheet = control.control_paper(found, lead, key).html
        assert all(printed(row, sheet) for row in rows if row.severity != "note"), key
    # A drawing on paper is cut if the result cuts its line, and not otherwise.
    for key, svg in draw_lines(found, 1000).items():
        assert ("data-cut" in svg) == (result.drawn[key].cut is not None), key
