"""The trace against a circuit simulator's transient on the same network."""

from __future__ import annotations

from bisect import bisect_left
from pathlib import Path

import pytest
from leitung_core.starting.case import cases
from leitung_core.starting.document import read_trial
from leitung_core.starting.timeline import course_of

from tests.core.starting.simulator import volts
from tests.core.starting.trials import on, steady, trial, unit

UNTIL_S = 14.0


@pytest.mark.parametrize(("ohms", "wait", "behind"), [(0.08, 7, {}), (0.3, 0, {}), (0.2, 0.2, {"behind": "F2"})])
def test_every_stretch_is_what_a_circuit_simulator_finds(
    ohms: float, wait: float, behind: dict[str, str], tmp_path: Path
) -> None:
    """Within 3 %, in the middle of each stretch; no two edges lie nearer than the simulator's step."""
    feeders = {"F1": {"ohms": 0.1}, "F2": {"ohms": 0.2, "behind": "F1"}}
    document = trial(unit(**behind), unit("rear", **behind), steady("oven", 6), source_ohms=ohms, feeders=feeders,
                     calls=[on("front", 0), on("rear", wait), on("oven", 1)])  # fmt: skip
    (case,) = cases(read_trial(document))
    found = volts(case, UNTIL_S, tmp_path)
    moments = [moment for moment, _ in found]
    looked = 0
    for row in course_of(case).stretches:
        middle = (row.start_s + min(row.end_s, UNTIL_S)) / 2
        _, there = found[min(bisect_left(moments, middle), len(found) - 1)]
        assert row.volts[0] == pytest.approx(there, rel=0.03)
        assert row.amps[0] == pytest.approx((120 - there) / ohms, rel=0.03)
        looked += 1
    assert looked >= 5
