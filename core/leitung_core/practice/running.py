"""Level 3, what runs: a state of a sound system, and which of its motors, heaters, lamps and displays are on in it."""

from __future__ import annotations

from random import Random

from leitung_core.bench.frames import bench_run
from leitung_core.control.system import System
from leitung_core.control.trials import trials
from leitung_core.practice.model import Choice, RunsTask
from leitung_core.slips.harm import watched_of
from leitung_core.units import sentence

MOST_ON = 2


def what_runs(system: System, seed: int) -> RunsTask | None:
    """A round; the same for the same seed. None where nothing can be called in the system."""
    random = Random(f"{system.key} {seed}")
    states = [trial for trial in trials(system) if trial.on and len(trial.on) <= MOST_ON]
    named: dict[str, list[str]] = {}
    for name in watched_of(system):
        named.setdefault(system.motor(name), []).append(name)
    if not states or len(named) < MOST_ON:
        return None
    state = random.choice(states)
    loads = bench_run(system, state.course).frames[-1].loads
    seen = {words: names for words, names in named.items() if all(name in loads for name in names)}
    on = {words: any(loads[name].on for name in names) for words, names in seen.items()}
    return RunsTask(
        state=sentence(state.says),
        watched=[Choice(id=words, says=words) for words in seen],
        runs=[words for words, runs in on.items() if runs],
        why={words: loads[names[0]].why for words, names in seen.items()},
    )
