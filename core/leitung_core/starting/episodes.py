"""From when to when each load is on: as it is called, and as a manager lets it."""

from __future__ import annotations

import math
from collections.abc import Iterator

from leitung_core.starting.case import Case

Episodes = dict[str, list[tuple[float, float]]]


def episodes(case: Case) -> Episodes:
    """Every load's times on. Of loads that a manager alternates the one that is called later waits for the other."""
    found = {load.id: list(_called(case, load.id)) for load in case.loads}
    manager = case.supply.manager
    if manager is not None and not manager.sheds:
        found |= _one_at_a_time({key: found[key] for key in manager.loads})
    return found


def _called(case: Case, load: str) -> Iterator[tuple[float, float]]:
    """As it is called: called while it is on, nothing happens."""
    until = -math.inf
    for call in sorted((call for call in case.calls if call.load == load), key=lambda call: call.at_s):
        if call.at_s < until:
            continue
        until = math.inf if call.until_s is None else call.until_s
        yield call.at_s, until


def _one_at_a_time(on: Episodes) -> Episodes:
    """In the order of the calls; what is called while another is on waits until that one is off."""
    rows = sorted((start, order, key, end) for order, (key, own) in enumerate(on.items()) for start, end in own)
    found: Episodes = {key: [] for key in on}
    free = -math.inf
    for start, _, key, end in rows:
        begins = max(start, free)
        if begins < end:
            found[key].append((begins, end))
            free = end
    return found
