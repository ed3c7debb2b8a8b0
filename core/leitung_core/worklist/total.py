"""What many tasks come to. Those of one kind go well or badly together, as one crew does them; kinds do not."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from math import hypot

from leitung_core.plan.work import SKILLS, Skill
from leitung_core.worklist.ranges import Range
from leitung_core.worklist.tasks import WorkTask


def hands(tasks: Iterable[WorkTask], skill: Skill | None = None) -> Range:
    """Hours of hands, of one trade or of all."""
    kinds: dict[str, Range] = {}
    for task in tasks:
        count = len(task.people) if skill is None else task.people.count(skill)
        kinds[task.kind] = kinds.get(task.kind, Range(low=0, likely=0, high=0)) + task.minutes.times(count)
    likely = sum(one.likely for one in kinds.values())
    below = hypot(*(one.likely - one.low for one in kinds.values()))
    above = hypot(*(one.high - one.likely for one in kinds.values()))
    return Range(low=(likely - below) / 60, likely=likely / 60, high=(likely + above) / 60)


def by_trade(tasks: Sequence[WorkTask]) -> dict[Skill, Range]:
    """Hours of hands of each trade that is asked for."""
    found = {skill: hands(tasks, skill) for skill in SKILLS}
    return {skill: hours for skill, hours in found.items() if hours.likely}
