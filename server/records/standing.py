"""What stands in the records: the last word on each step, the uncorrected reading of each point."""

from __future__ import annotations

from dataclasses import dataclass

from installs.models import Install
from leitung_core.commissioning.judge import Verdict, judge_reading
from leitung_core.commissioning.steps import StartUp

from records.models import Reading, StepEntry


@dataclass(frozen=True)
class Standing:
    """`verdicts` judge the standing readings against the plan as it is now."""

    done: frozenset[str]
    verdicts: dict[str, Verdict]


def standing(install: Install, startup: StartUp) -> Standing:
    """The standing records of an install."""
    last: dict[str, bool] = {}
    for key, done in StepEntry.objects.filter(install=install).values_list("key", "done"):
        last[key] = done
    points = {point.key: point for point in startup.readings}
    rows = Reading.objects.filter(install=install, corrected_by=None).values_list("key", "value")
    verdicts = {key: judge_reading(points[key], value) for key, value in rows if key in points}
    return Standing(frozenset(key for key, done in last.items() if done), verdicts)
