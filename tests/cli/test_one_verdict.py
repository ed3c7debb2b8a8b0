"""The command line says of a plan what the screen says: each finding once, with its severity, article and fix."""

from __future__ import annotations

import json
from collections import Counter
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from hypothesis import given, settings
from leitung_cli.main import app
from leitung_core.cautions import QUALIFIED
from leitung_core.plan.model import read_plan
from leitung_core.result import PlanResult, check_plan
from typer.testing import CliRunner

from tests.core.result.plans import plans


@settings(max_examples=25)
@given(plans())
def test_the_command_line_tells_what_the_screen_tells(plan: dict[str, Any]) -> None:
    result = check_plan(read_plan(plan))
    with TemporaryDirectory() as folder:
        file = Path(folder) / "plan.json"
        file.write_text(json.dumps(plan))
        told = CliRunner().invoke(app, ["check", str(file)])
        data = CliRunner().invoke(app, ["check", str(file), "--json"])
    assert told.exit_code == data.exit_code == (1 if result.worst == "stop" else 0)
    assert PlanResult.model_validate_json(data.stdout).findings == result.findings
    lines = told.stdout.splitlines()
    printed = [line for line in lines if line.partition(":")[0] in ("stop", "warning", "note")]
    assert Counter(printed) == Counter(
        f"{row.severity}: {row.message} [{row.code}; {row.about}; {row.article}]"
        + (f" -> {row.fix_label}" if row.fix_label else "")
        for row in result.findings
    )
    assert lines[-1] == QUALIFIED
