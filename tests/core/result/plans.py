"""The demo plans, and plans made worse at random from them."""

from __future__ import annotations

from typing import Any

from hypothesis import strategies as st
from leitung_core.findings import SEVERITIES
from leitung_core.plan.patch import merge
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
