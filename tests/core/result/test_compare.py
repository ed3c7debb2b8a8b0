"""What a change does to a plan: every figure and finding that differs, and nothing else; in the lines' order."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_plan
from leitung_core.result.compare import Comparison, compare

from tests.core.plant.test_one_plant import heater

Json = dict[str, Any]


def between(plan: Json, patch: Json) -> Comparison:
    return compare(check_plan(read_plan(plan)), check_plan(read_plan(merge(plan, patch))))


def test_nothing_changed_is_nothing_to_tell() -> None:
    found = between(heater(), {})
    assert (found.figures, found.comes, found.goes) == ([], [], [])


@pytest.mark.parametrize(
    ("patch", "figures"),
    [
        # 8 kW at 240 V is 33.33 A and 41.67 A with 125 %, on 45 A; 5 kW 20.83 and 26.04, on 30 A. The device in place
        # and its conductor stay.
        (
            {"equipment": {"U": {"nameplate": {"heat": {"watts": 5000}}}}},
            {
                "conductors must carry": ("41.67 A", "26.04 A"),
                "device at most": ("45 A", "30 A"),
                "disconnect at least": ("41.67 A", "26.04 A"),
                "drop": ("0.55 %", "0.34 %"),
            },
        ),
        # Twice the way, twice the drop, and nothing else.
        ({"circuits": {"H": {"run": {"s1": {"length_ft": 80}}}}}, {"drop": ("0.55 %", "1.09 %")}),
    ],
)
def test_each_figure_that_differs_is_told_before_and_after(patch: Json, figures: dict[str, tuple[str, str]]) -> None:
    found = between(heater(), patch)
    assert {row.what: (row.before, row.after) for row in found.figures} == figures
    assert {row.circuit for row in found.figures} == {"H"}


def test_findings_come_and_go_by_what_they_are_about() -> None:
    smaller = {"circuits": {"H": {"ocpd": {"rating_a": 30}}}}
    found = between(heater(), smaller)
    assert [row.about for row in found.comes if row.severity == "stop"] == ["circuits/H/ocpd/rating_a"]
    back = between(merge(heater(), smaller), {"circuits": {"H": {"ocpd": {"rating_a": 50}}}})
    assert [(row.code, row.about) for row in back.goes] == [(row.code, row.about) for row in found.comes]
    assert [(row.code, row.about) for row in back.comes] == [(row.code, row.about) for row in found.goes]


def test_a_line_that_is_new_has_nothing_before_it_to_be_compared() -> None:
    found = between(heater(), {"circuits": {"N": {"source": "P"}}})
    assert "N" not in {row.circuit for row in found.figures}
    assert any(row.about.startswith("circuits/N") for row in found.comes)
