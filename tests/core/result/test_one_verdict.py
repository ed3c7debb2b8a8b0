"""Over plans made worse at random: each fact is told once, the same everywhere, and no proposal of ours harms."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from leitung_core.bench.overview import overview
from leitung_core.circuits.size import size
from leitung_core.control.judgement import judge
from leitung_core.control.system import systems_of
from leitung_core.findings import Finding
from leitung_core.plan.model import dump_plan, read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.plant.size_document import spec_of
from leitung_core.result import PlanResult, check_and_brief, check_plan
from leitung_core.wiring.check import check_wiring

from tests.core.result.plans import PLANS, RANK, plans


def told(plan: dict[str, Any]) -> PlanResult:
    return check_plan(read_plan(plan))


@settings(max_examples=60)
@given(plans())
def test_each_fact_is_told_once_and_the_same_wherever_it_is_read(plan: dict[str, Any]) -> None:
    model = read_plan(plan)
    result, brief = check_and_brief(model)
    by_key = {row.key: row for row in result.findings}
    assert len(by_key) == len(result.findings), "one key, one fact"
    assert len({(row.code, row.about, row.message) for row in result.findings}) == len(result.findings)
    for line in result.drawn.values():
        cuts = [part.id for part in line.parts if any(by_key[key].severity == "stop" for key in part.findings)]
        assert line.cut == next(iter(cuts), None)
    for keys in result.systems.values():
        assert set(keys) <= set(by_key)
    assert brief.stops == [row for row in result.findings if row.severity == "stop"]
    for entry in brief.lines:
        assert entry.stop == result.stop_on(entry.circuit)
    # What quick size says of the same line, by severity and article, is what the plan says of it.
    plant = Plant(model)
    for key in result.circuits:
        spec = spec_of(plant, key)
        alone = {(row.code, row.severity, row.article) for row in size(spec).findings} if spec else set()
        whole = {(row.code, row.severity, row.article) for row in result.on_line(key)}
        codes = {code for code, _, _ in whole}
        assert {entry for entry in alone if entry[0] in codes} <= whole


@settings(max_examples=40)
@given(plans())
def test_what_an_engine_tells_is_told_on_every_screen_at_least_as_gravely(plan: dict[str, Any]) -> None:
    """Sizing, landings and bench each judge; what they find stands in the result, by itself or as what follows."""
    plant = Plant(read_plan(plan))
    result = check_plan(plant.plan)
    every = [row for found in result.circuits.values() for row in found.findings] + check_wiring(plant)
    every += [row for system in systems_of(plant) for row in judge(system).findings]
    for row in every:
        said = [f for f in result.findings if (f.message, f.about) == (row.message, row.about)]
        said += [f for f in result.findings if row.message in f.follows]
        said += [f for f in result.findings if _one_fact(f, row)]
        # What cannot be said while a thing is missing is held back, and the missing thing is told.
        held = row.severity != "stop" and any(f.code.endswith("-missing") for f in result.findings)
        assert held or any(RANK[f.severity] <= RANK[row.severity] for f in said), row


def _one_fact(one: Finding, other: Finding) -> bool:
    """Two engines' words for one fact: the key names the fact and its thing, not the code."""
    return not one.key.startswith(one.code) and one.code != other.code and one.key.partition(":")[2] in other.about


@settings(max_examples=25)
@given(plans())
def test_the_bench_counts_what_stands_against_each_system(plan: dict[str, Any]) -> None:
    plant = Plant(read_plan(plan))
    of_systems = check_plan(plant.plan).of_systems()
    for brief in overview(plant, None, of_systems).systems:
        rows = of_systems[brief.key]
        assert brief.stops == sum(row.severity == "stop" for row in rows)
        assert brief.worst == (rows[0].severity if rows else None)
        shown = overview(plant, brief.key, of_systems).system
        assert shown is not None
        assert shown.findings == rows


@settings(max_examples=40)
@given(plans())
def test_what_stands_at_a_thing_stands_at_its_line_too(plan: dict[str, Any]) -> None:
    """A cable that is a stretch of a line shows what its stretch shows, and the other way round."""
    result = check_plan(read_plan(plan))
    for address, keys in result.stands.items():
        assert keys == [row.key for row in result.findings if row.key in set(keys)], "in order, each once"
        assert address.count("/") == 1 or set(keys) <= set(result.stands["/".join(address.split("/")[:2])])
    for line in result.drawn.values():
        for part in line.parts:
            if part.cable and part.kind == "segment":
                assert set(part.findings) <= set(result.stands.get(f"cables/{part.cable}", ())), part


@settings(max_examples=60)
@given(plans())
def test_no_fix_of_ours_brings_a_finding_as_grave_as_the_one_it_mends(plan: dict[str, Any]) -> None:
    before = told(plan)
    known = {(row.code, row.about) for row in before.findings}
    for row in before.findings:
        for fix in fixes(row):
            after = told(dump_plan(read_plan(merge(plan, fix))))
            assert (row.code, row.about) not in {(f.code, f.about) for f in after.findings}, f"{row.message} stands"
            fresh = [
                f for f in after.findings if (f.code, f.about) not in known and RANK[f.severity] <= RANK[row.severity]
            ]
            assert fresh == [], f"{row.message} -> {fresh[0].message}"


def fixes(row: Finding) -> list[dict[str, Any]]:
    return [fix for fix in (row.fix, *(way.fix for way in row.ways or [])) if fix]


@pytest.mark.parametrize("name", sorted(PLANS))
def test_the_demo_plans_are_sound_in_themselves(name: str) -> None:
    """Whatever the demo has wrong is meant: nothing is told of a line that it has not got."""
    result = told(PLANS[name])
    assert {part.about.split("/")[0] for line in result.drawn.values() for part in line.parts} <= {
        "sources", "circuits", "equipment", "cables"}  # fmt: skip
