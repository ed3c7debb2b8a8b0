"""A stop never stands without a way out: a change of the plan, or what a hand can do, in words."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from leitung_core.findings import CODES, WAYS, Finding
from leitung_core.plan.model import read_plan
from leitung_core.result import check_plan

from tests.core.control.test_bench_findings import CASES as BENCH
from tests.core.result.plans import plans
from tests.core.wiring.plans import Json
from tests.core.wiring.test_findings import CASES as WIRING

EVERY = [*BENCH.values(), *(plan for case in WIRING.values() for plan in case)]
# Said in their message: a figure that is not known is to be entered, and sizing names what would do.
IN_WORDS = {code for code in CODES if code.endswith("-missing")}


def without_a_way(rows: list[Finding]) -> set[str]:
    return {row.code for row in rows if row.severity == "stop" and not row.fix and not row.ways} - IN_WORDS


@pytest.mark.parametrize("number", range(len(EVERY)))
def test_each_case_of_landings_and_bench_has_one(number: int) -> None:
    assert without_a_way(check_plan(read_plan(EVERY[number])).findings) == set()


@settings(max_examples=25)
@given(plans())
def test_whatever_is_made_worse_has_one_in_the_wiring_and_on_the_bench(plan: Json) -> None:
    rows = check_plan(read_plan(plan)).findings
    theirs = [row for row in rows if row.about.split("/")[0] in ("devices", "cables")]
    assert without_a_way(theirs) == set()


def test_ways_in_words_are_of_codes_that_exist_and_promise_no_change() -> None:
    assert set(WAYS) <= set(CODES)
    assert all(way.fix is None and way.label and way.message for way in WAYS.values())
