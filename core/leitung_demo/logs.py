"""What a logger saw at the trailer's front unit before and after its soft starter, with an honest logger's faults.

The currents come from the trailer's own trial on paper; the faults are noise, a resolution, drift, and a gap.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_plan
from leitung_core.starting.case import cases
from leitung_core.starting.document import read_trial
from leitung_core.starting.timeline import course_of

from leitung_demo.museum import museum

SPAN_S, STEP_S, NOISE_A, RESOLUTION_A, DRIFT_A = 900.0, 0.1, 0.06, 0.1, 0.15
GAP_S = (402.0, 415.0)
CALLS: list[dict[str, Any]] = [
    {"load": "RU-1", "at_s": 40, "until_s": 340}, {"load": "RU-1", "at_s": 660, "until_s": 850},
    {"load": "microwave", "at_s": 120, "until_s": 180},
]  # fmt: skip
WITHOUT = {"aid": {"kind": "none"}, "compressor": {"start_s": 0.4}}


def trailer_log(*, softened: bool) -> str:
    """A CSV of fifteen minutes at the pedestal: the front unit twice, the microwave once."""
    document = check_plan(read_plan(museum())).supplies["TP"].document or {}
    loads = [
        load if softened or load["id"] != "RU-1" else merge({k: v for k, v in load.items() if k != "aid"}, WITHOUT)
        for load in document["loads"]
    ]
    (case,) = cases(read_trial({**document, "loads": loads, "calls": CALLS}))
    course = course_of(case)
    seconds = np.arange(0, SPAN_S, STEP_S)
    starts = np.array([row.start_s for row in course.stretches])
    amps = np.array([row.amps[0] for row in course.stretches])[np.searchsorted(starts, seconds, "right") - 1]
    draw = np.random.default_rng(7 if softened else 5)
    seen = amps + draw.normal(0, NOISE_A, len(seconds)) + DRIFT_A * seconds / SPAN_S
    seen = np.maximum(0, np.round(seen / RESOLUTION_A) * RESOLUTION_A)
    rows = (
        f"{at:.1f},{value:.1f}" for at, value in zip(seconds, seen, strict=True) if not GAP_S[0] < at < GAP_S[1]
    )  # fmt: skip
    return "t_s,a\n" + "\n".join(rows) + "\n"
