"""Worked cases, as data with their source."""

import json
from pathlib import Path
from typing import Any

import pytest
from leitung_core.circuits import size_document

from tests.core.documents import codes, document, segment

CASES = json.loads((Path(__file__).parent.parent / "published" / "marked_cooling.json").read_text())


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_worked_case(case: dict[str, Any]) -> None:
    plate = {"mca_a": case["mca_a"], "max_ocpd_a": case["max_ocpd_a"], **case.get("plate", {})}
    proposed = {"ocpd_a": case.get("ocpd_a", 15), "disconnect_a": 60}
    more = {name: case[name] for name in ("kind", "supply") if name in case}
    result = size_document(document([segment(**s) for s in case["run"]], plate, proposed=proposed, **more))
    found = {name: getattr(result, name) for name in case["expect"]}
    expected = {k: pytest.approx(v, abs=1e-6) if isinstance(v, float) else v for k, v in case["expect"].items()}
    assert found == expected
    assert codes(result, "stop") == []
    assert set(case.get("findings", [])) <= set(codes(result))
