"""What a trial on paper costs: a thousand variants of a start, one in a circuit simulator, a log read."""

from __future__ import annotations

import copy
import subprocess
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from leitung_core.starting.case import cases
from leitung_core.starting.document import read_trial
from leitung_core.starting.log import read_events
from leitung_core.starting.log_file import read_log
from leitung_core.starting.open_form import starting
from leitung_core.starting.verdict import run

from tests.core.starting.simulator import deck
from tests.core.starting.trials import on, steady, trial, unit

Report = Callable[[str, list[float], str], None]
Timed = Callable[[Callable[[], object], int, int], list[float]]


def trailer(wait: float = 7) -> dict[str, Any]:
    """Two roof units and the oven on one leg of 30 A."""
    loads = [unit(), unit("rear"), steady("oven", 6)]
    return trial(*loads, calls=[on("front", 0), on("oven", 0), on("rear", wait)])


def bench_starts(timed: Timed, report: Report, times: int) -> None:
    """Variants of one start, the whole answer, and a long log."""
    variants = [next(cases(read_trial(trailer(wait / 50)))) for wait in range(1000)]
    values = timed(lambda: [run(case) for case in variants], 5, 1)
    each = float(np.median(values)) / 1000
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "start.cir"
        file.write_text(deck(variants[350], 20.0))
        began = time.perf_counter()
        subprocess.run(["ngspice", "-b", file], check=True, capture_output=True)
        theirs = (time.perf_counter() - began) * 1000
    report("the trailer: 1000 variants of its start", values, f"{each:.3f} ms each; ngspice {theirs:.0f} ms for one")
    report(
        "the trailer: a trial's whole answer with ways out",
        timed(lambda: starting(copy.deepcopy(trailer())), times, 1),
        "",
    )
    seconds = np.arange(400_000) * 0.1
    amps = 12 + 8 * ((seconds % 600) > 300) + np.random.default_rng(1).normal(0, 0.1, len(seconds))
    raw = ("t_s,a\n" + "\n".join(f"{t:.1f},{a:.3f}" for t, a in zip(seconds, amps, strict=True))).encode()
    report("a log of 400,000 rows read and its events found", timed(lambda: read_events(read_log(raw)), 3, 1), "")
