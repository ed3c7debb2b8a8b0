"""Judging a reading against what the plan says it should be."""

from __future__ import annotations

from typing import Literal

from leitung_core.commissioning.steps import ReadingPoint
from leitung_core.units import exact, say

Verdict = Literal["within", "outside", "unknown"]


def judge_reading(point: ReadingPoint, value: float) -> Verdict:
    """`within` both bounds (the bounds included), `outside`, or `unknown` where the plan gives no bound."""
    if point.low is None or point.high is None:
        return "unknown"
    return "within" if exact(point.low) <= exact(value) <= exact(point.high) else "outside"


def say_verdict(point: ReadingPoint, value: float) -> str:
    """The verdict as a sentence."""
    if point.low is None or point.high is None:
        return f"Not judged: {point.basis}."
    bounds = f"{say(point.low)} to {say(point.high)} {point.unit} ({point.basis})"
    if judge_reading(point, value) == "within":
        return f"Within {bounds}."
    where = "Below" if exact(value) < exact(point.low) else "Above"
    return f"{where} {bounds}. Switch off and find out why before you go on."
