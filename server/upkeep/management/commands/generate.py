"""Write the generated files: the API's schema for the web client, the list of findings, the plan's JSON Schema."""

import hashlib
import json
from pathlib import Path
from typing import Any

from config.api import api
from django.conf import settings
from django.core.management.base import BaseCommand
from leitung_core.catalogue.device import DeviceType
from leitung_core.findings import CODES, SEVERITIES
from leitung_core.plan.model import plan_json_schema
from leitung_core.plan.vocabulary import vocabulary
from leitung_core.validation import closed_schema
from leitung_demo.logs import trailer_log
from leitung_demo.practice import cases


def generated() -> dict[Path, str]:
    """Every generated file with its text."""
    return {
        settings.ROOT / "web/src/api/openapi.json": json.dumps(api.get_openapi_schema(), indent=2, default=str) + "\n",
        settings.ROOT / "web/src/api/vocabulary.json": json.dumps(vocabulary(), indent=2) + "\n",
        settings.ROOT / "docs/plan.schema.json": json.dumps(plan_json_schema(), indent=2) + "\n",
        settings.ROOT / "docs/device.schema.json": json.dumps(closed_schema(DeviceType), indent=2) + "\n",
        settings.ROOT / "docs/findings.md": findings_text(),
        settings.ROOT / "docs/examples/trailer-before.csv": trailer_log(softened=False),
        settings.ROOT / "docs/examples/trailer-after.csv": trailer_log(softened=True),
        settings.ROOT / "web/src/features/practice/cases.json": json.dumps(cases(), separators=(",", ":")) + "\n",
        LANDED: landed_text(),
    }


LANDED = settings.ROOT / "server/migrations.sha256"


def landed_text() -> str:
    """The digest of every migration. One that is listed stays as it is for good: a database has been made by it."""
    listed = {}
    if LANDED.exists():
        listed = {name: digest for digest, name in (line.split("  ") for line in LANDED.read_text().splitlines())}
    for file in sorted(settings.ROOT.glob("server/*/migrations/0*.py")):
        digest = hashlib.sha256(file.read_bytes()).hexdigest()
        listed.setdefault(file.relative_to(settings.ROOT).as_posix(), digest)
    return "".join(f"{digest}  {name}\n" for name, digest in sorted(listed.items()))


def findings_text() -> str:
    """The list of findings as a page."""
    lines = ["# Findings", "", "Generated from `core/leitung_core/findings.py` by `./leitung generate`.", ""]
    meaning = {
        "stop": "A code rule or the plate forbids it as proposed: do not energise, do not buy.",
        "warning": "Likely wrong or refused, or it cannot be judged because something is not known.",
        "note": "To be done as routine, or worth knowing.",
    }
    for severity in SEVERITIES:
        lines += [f"## {severity}", "", meaning[severity], "", "| code | article | what it says |", "|---|---|---|"]
        lines += [
            f"| `{name}` | {code.article} | {code.text} |" for name, code in CODES.items() if code.severity == severity
        ]
        lines.append("")
    return "\n".join(lines)


class Command(BaseCommand):
    help = "Write the generated files again."

    def handle(self, *args: Any, **options: Any) -> None:
        for path, text in generated().items():
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(text, "utf-8")
