"""How long a start-up takes: one step after another, or with the waits of one unit used for work on the others."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from heapq import heappop, heappush

from leitung_core.commissioning.steps import Clock, StartStep

Behind = Mapping[str, list[StartStep]]


def clock(steps: Sequence[StartStep]) -> Clock:
    """Both ways of doing it, minutes, for one pair of hands. `steps` stand in an order that keeps what each needs."""
    return Clock(
        one_after_another_min=round(sum(_whole(step) for step in steps), 1),
        interleaved_min=round(_interleaved(steps), 1),
    )


def _whole(step: StartStep) -> float:
    return step.minutes + step.wait_s / 60


def _interleaved(steps: Sequence[StartStep]) -> float:
    """Whenever the hands are free, the step with the longest way to the end of all that can be done then."""
    behind = _behind(steps)
    ahead = _ways_to_the_end(steps, behind)
    missing = {step.key: len(step.needs) for step in steps}
    ready = {step.key: 0.0 for step in steps}
    waiting: list[tuple[float, int, StartStep]] = []
    at_hand: list[tuple[float, int, StartStep]] = []
    place = {step.key: number for number, step in enumerate(steps)}
    for step in steps:
        if not step.needs:
            heappush(waiting, (0.0, place[step.key], step))
    now = end = 0.0
    while waiting or at_hand:
        if not at_hand:
            now = max(now, waiting[0][0])
        while waiting and waiting[0][0] <= now:
            _, number, step = heappop(waiting)
            heappush(at_hand, (-ahead[step.key], number, step))
        _, _, step = heappop(at_hand)
        now += step.minutes
        over = now + step.wait_s / 60
        end = max(end, over)
        for other in behind[step.key]:
            ready[other.key] = max(ready[other.key], over)
            missing[other.key] -= 1
            if not missing[other.key]:
                heappush(waiting, (ready[other.key], place[other.key], other))
    return end


def _behind(steps: Sequence[StartStep]) -> Behind:
    """For each step, those that need it."""
    found: defaultdict[str, list[StartStep]] = defaultdict(list)
    for step in steps:
        for key in step.needs:
            found[key].append(step)
    return found


def _ways_to_the_end(steps: Sequence[StartStep], behind: Behind) -> dict[str, float]:
    """The longest chain of steps and waits that begins with each, minutes."""
    found: dict[str, float] = {}
    for step in reversed(steps):
        found[step.key] = _whole(step) + max((found[other.key] for other in behind[step.key]), default=0.0)
    return found
