"""Worked cases of the size contract's last section: data with their source."""

import json
from pathlib import Path
from typing import Any

import pytest
from leitung_core.circuits import size_document
from leitung_core.plan.patch import merge

from tests.core.documents import codes, document, segment

CASES = json.loads((Path(__file__).parent.parent / "published" / "sizing_made_precise.json").read_text("utf-8"))


def of_case(case: dict[str, Any]) -> dict[str, Any]:
    patch = dict(case["doc"])
    run = [segment(**part) for part in patch.pop("run")]
    return merge(document(), patch) | {"run": run}


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_worked_case(case: dict[str, Any]) -> None:
    doc = of_case(case)
    result = size_document(doc)
    found = {name: getattr(result, name) for name in case["expect"]}
    assert found == {k: pytest.approx(v, abs=1e-6) if isinstance(v, float) else v for k, v in case["expect"].items()}
    told = {finding.code: finding.article for finding in result.findings}
    for code, article in case.get("has", {}).items():
        assert code in told
        assert article in (None, told[code])
    assert not set(case.get("hasnt", [])) & set(told)
    before = codes(result, "stop")
    for finding in result.findings:
        if finding.fix is not None:
            after = size_document(merge(doc, finding.fix))
            assert finding.code not in codes(after), finding
            assert set(codes(after, "stop")) <= set(before), finding
