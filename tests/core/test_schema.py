"""The published JSON Schema of the plan says the same as the code that reads it."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from leitung_core.errors import InputError
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_demo import kiosk, loft, workshop

DOCS = Path(__file__).resolve().parents[2] / "docs"
SCHEMA = json.loads((DOCS / "plan.schema.json").read_text("utf-8"))


@pytest.mark.parametrize("plan", [workshop(), kiosk(), loft()], ids=["workshop", "kiosk", "loft"])
def test_the_demo_plans_fit_the_schema(plan: dict[str, Any]) -> None:
    jsonschema.validate(plan, SCHEMA)


@pytest.mark.parametrize(
    "change",
    [
        {"name": None}, {"surprise": 1}, {"format_version": 3}, {"sources": {"a b": {"volts": 240}}},
        {"sources": {"PA": {"volts": 0}}}, {"sources": {"PA": {"volts": "240"}}}, {"sources": {"PA": {"phase": 2}}},
        {"equipment": {"OU-1": {"kind": "toaster"}}}, {"equipment": {"OU-1": {"nameplate": {"mca_a": -1}}}},
        {"circuits": {"MS-1": {"run": {"s1": {"order": 1.5}}}}},
        {"circuits": {"MS-1": {"run": {"s1": {"method": "X"}}}}},
        {"circuits": {"MS-1": {"ocpd": {"spaces": [0]}}}}, {"circuits": {"MS-1": {"ocpd": {"spaces": [1, 2, 3, 4]}}}},
    ],
)  # fmt: skip
def test_schema_and_reader_refuse_the_same(change: dict[str, Any]) -> None:
    plan = merge(workshop(), change)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(plan, SCHEMA)
    with pytest.raises(InputError):
        read_plan(plan)
