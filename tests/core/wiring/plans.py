"""Plans of two devices and one cable for the tests: sound, so that a test changes only what it is about."""

from __future__ import annotations

from typing import Any

from leitung_core.findings import Finding
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.result import PlanResult, check_plan
from leitung_core.wiring.propose import Proposal, propose_landings

Json = dict[str, Any]
INSIDE = {"r1": {"order": 10, "spot": "interior"}}


def two(type_a: str, type_b: str, family: str = "thermostat", awg: str = "18", count: int = 5, **cable: Any) -> Json:
    """Devices A and B of these types, and cable T between them."""
    make = {"family": family, "awg": awg, "count": count, "length_ft": 40, "route": INSIDE}
    return {
        "format": "leitung-plan", "format_version": 2, "name": "two ends",
        "devices": {"A": {"type": type_a}, "B": {"type": type_b}},
        "cables": {"T": {"a": {"device": "A"}, "b": {"device": "B"}, **make, **cable}},
    }  # fmt: skip


def plant(plan: Json) -> Plant:
    return Plant(read_plan(plan))


def proposed(plan: Json, cable: str = "T") -> Proposal:
    return propose_landings(plant(plan), cable)


def landed(plan: Json, cable: str = "T") -> Json:
    """The plan with the landings that the convention proposes."""
    return merge(plan, proposed(plan, cable).patch)


def changed(plan: Json, *patches: Json) -> Json:
    for patch in patches:
        plan = merge(plan, patch)
    return plan


def cable(key: str = "T", /, **fields: Any) -> Json:
    """A patch on a cable."""
    return {"cables": {key: fields}}


def ends(key: str = "T", /, **conductors: Json) -> Json:
    """A patch on conductors: `ends(red={"b": on("B.base.W")})`."""
    return {"cables": {key: {"conductors": conductors}}}


def on(ref: str) -> Json:
    return {"terminal": ref, "capped": None}


CAPPED: Json = {"terminal": None, "capped": True}
LOOSE: Json = {"terminal": None, "capped": None}


def checked(plan: Json) -> PlanResult:
    return check_plan(read_plan(plan))


def found(plan: Json, code: str) -> list[Finding]:
    return [row for row in checked(plan).findings if row.code == code]


def split_pair() -> Json:
    """An outdoor unit and a wall unit whose strip reads the other way, landed rightly."""
    return landed(two("split-outdoor-1", "split-indoor-wall", "tray", "14", 4, a={"device": "A", "strip": "zone-a"}))


def stat(board: str = "furnace-board", thermostat: str = "stat-common", count: int = 5, **fields: Any) -> Json:
    return landed(two(board, thermostat, count=count, **fields))
