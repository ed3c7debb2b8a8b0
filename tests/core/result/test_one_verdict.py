"""Over plans made worse at random: each fact is told once, the same everywhere, and no proposal of ours harms."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from leitung_core.circuits.size import size
from leitung_core.findings import SEVERITIES, Finding
from leitung_core.plan.model import dump_plan, read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.plant.size_document import spec_of
from leitung_core.result import PlanResult, check_and_brief, check_plan
from leitung_demo import kiosk, loft, museum, workshop

PLANS = {"kiosk": kiosk(), "loft": loft(), "museum": museum(), "workshop": workshop()}
RANK = {severity: number for number, severity in enumerate(SEVERITIES)}  # stop first


@st.composite
def plans(draw: st.DrawFn) -> dict[str, Any]:
    """A demo plan with up to four things about its lines, plates, landings or devices changed."""
    plan = PLANS[draw(st.sampled_from(sorted(PLANS)))]
    for _ in range(draw(st.integers(1, 4))):
        plan = merge(plan, draw(changes(plan)))
    return plan


def changes(plan: dict[str, Any]) -> st.SearchStrategy[dict[str, Any]]:
    lines = st.sampled_from(sorted(plan["circuits"]))
    choices = [
        st.builds(lambda key, amps: {"circuits": {key: {"ocpd": {"rating_a": amps}}}},
                  lines, st.sampled_from([15, 20, 25, 30, 40, 50, 60])),
        st.builds(lambda key, amps: {"circuits": {key: {"disconnect": {"rating_a": amps}}}},
                  lines, st.sampled_from([30, 60])),
        st.builds(lambda key, seen: {"circuits": {key: {"disconnect": {"in_sight": seen}}}}, lines, st.booleans()),
        st.builds(lambda key, poles: {"circuits": {key: {"poles": poles}}}, lines, st.sampled_from([1, 2, None])),
        st.builds(lambda key, awg: {"circuits": {key: {"egc": awg}}}, lines, st.sampled_from(["14", "10", "6", None])),
        st.builds(stretch_of(plan), lines, st.sampled_from([
            {"conductor": "14"}, {"conductor": "12"}, {"conductor": "8"}, {"conductor": None}, {"length_ft": 240},
            {"length_ft": None}, {"method": "NM-B", "raceway": None}, {"method": "THWN-2", "raceway": "EMT"},
            {"place": "outdoor"}, {"place": "attic", "ambient_c": 52}, {"current_carrying": 9},
            {"terminations_c": 60}, {"material": "Al"}, {"white_reidentified": False},
        ])),
        st.builds(lambda key, plate: {"equipment": {key: {"nameplate": plate}}}, st.sampled_from(
            sorted(plan["equipment"])), st.sampled_from([None, {"volts": "240"}, {"phase": 3}, {"mca_a": 30}])),
    ]  # fmt: skip
    if plan.get("cables"):
        choices.append(st.builds(loosened(plan), st.sampled_from(sorted(plan["cables"])), st.integers(0, 3)))
    return st.one_of(choices)


def stretch_of(plan: dict[str, Any]) -> Any:
    def made(line: str, what: dict[str, Any]) -> dict[str, Any]:
        run = plan["circuits"][line].get("run") or {}
        return {"circuits": {line: {"run": {next(iter(sorted(run)), "s1"): what if run else {"order": 10} | what}}}}

    return made


def loosened(plan: dict[str, Any]) -> Any:
    def made(cable: str, number: int) -> dict[str, Any]:
        wires = sorted(plan["cables"][cable].get("conductors") or {})
        if not wires:
            return {"cables": {cable: {"state": "removed"}}}
        return {"cables": {cable: {"conductors": {wires[number % len(wires)]: {"a": None}}}}}

    return made


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
