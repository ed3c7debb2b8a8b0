"""What nobody has said yet: asked for in words, no bend of the line, and filled by one change where it can be."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from leitung_core.findings import CODES, PROPOSED, STILL_TO_ENTER
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_plan

from tests.core.result.plans import plans
from tests.core.test_panels import heaters

Json = dict[str, Any]


def fresh() -> Json:
    """A mini-split of which the plate, the panel and the way are known, and nothing is chosen."""
    plate = {"volts": "208/230", "phase": 1, "mca_a": 22.0, "max_ocpd_a": 35, "max_ocpd_type": "breaker"}
    run = {"s1": {"order": 1, "method": "NM-B", "place": "attic", "length_ft": 60, "ambient_c": 40, "material": "Cu"}}
    return {
        "format": "leitung-plan", "format_version": 2, "name": "fresh",
        "sources": {"P": {"volts": 240, "phase": 1, "volts_to_ground": 120, "spaces": 20}},
        "equipment": {"U": {"kind": "mini_split_outdoor", "nameplate": plate}},
        "circuits": {"L": {"source": "P", "equipment": "U", "run": run}},
    }  # fmt: skip


def test_every_word_belongs_to_a_code_that_is_no_stop() -> None:
    assert set(STILL_TO_ENTER) <= set(CODES)
    assert {CODES[code].severity for code in STILL_TO_ENTER} <= {"warning", "note"}
    assert set(PROPOSED) <= set(STILL_TO_ENTER)


def test_a_fresh_line_bends_nowhere_and_one_change_fills_it() -> None:
    """22 A MCA in a 40 °C attic: 35 A breaker, 10 AWG NM-B, a 30 A disconnect (22 x 1.15 = 25.3 A), spaces 1 and 3."""
    plan = fresh()
    line = check_plan(read_plan(plan)).drawn["L"]
    assert line.worst == "note", "the white of a two-wire cable is re-identified"
    assert line.proposal is not None
    assert line.proposal_label == "Take 35 A, 10 AWG, 30 A in sight, 1 and 3"
    after = check_plan(read_plan(merge(plan, line.proposal)))
    assert not {row.code for row in after.findings} & set(PROPOSED)
    assert not [row for row in after.findings if row.severity == "stop"]


@pytest.mark.parametrize("length_ft", [60, 110])
def test_the_proposal_is_what_each_fix_says_alone(length_ft: float) -> None:
    plan = merge(fresh(), {"circuits": {"L": {"run": {"s1": {"length_ft": length_ft}}}}})
    result = check_plan(read_plan(plan))
    taken = merge(plan, result.drawn["L"].proposal)["circuits"]["L"]
    sized = result.circuits["L"]
    assert (taken["ocpd"]["rating_a"], taken["run"]["s1"]["conductor"]) == (sized.ocpd_a, sized.conductor)


@settings(max_examples=25, deadline=None)
@given(plans())
def test_no_proposal_brings_a_stop(plan: Json) -> None:
    before = check_plan(read_plan(plan))
    stops = {(row.code, row.about) for row in before.findings if row.severity == "stop"}
    for line in before.drawn.values():
        if line.proposal is not None:
            after = check_plan(read_plan(merge(plan, line.proposal)))
            assert {(row.code, row.about) for row in after.findings if row.severity == "stop"} <= stops


def test_a_wrong_value_beside_an_open_one_still_bends_the_line() -> None:
    plan = merge(heaters([1, 3]), {"circuits": {"C0": {"ocpd": {"rating_a": 15}}}})
    assert check_plan(read_plan(plan)).drawn["C0"].worst == "stop"
