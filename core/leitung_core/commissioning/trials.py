"""Trials as steps of start-up: source by source, grid first, once everything that is to be on has power."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from leitung_core.commissioning.steps import StartStep
from leitung_core.commissioning.waits import steady_after
from leitung_core.supply.trials import TrialAsked

MINUTES_EACH = 4  # the calls made, the start seen, what settles written down


def trials_made(
    trials: Sequence[TrialAsked], lines: Mapping[str, Sequence[str]], learned: Mapping[str, str]
) -> Iterator[StartStep]:
    """A step for each trial; the next of a group needs the one before it.

    lines: by the source whose lines they are, those that are started up; learned: by line the step in which its soft
    starter learns.
    """
    before: dict[str, str] = {}
    for trial in sorted(trials, key=lambda trial: trial.order):
        mine = lines.get(trial.base, ())
        if not mine:
            continue
        key = f"sources/{trial.key}.trial"
        needs = [f"{line}.disconnect-on" for line in mine] + [learned[line] for line in mine if line in learned]
        needs += [before[trial.base]] if trial.base in before else []
        on = ", ".join(trial.on) or "what is called"
        expected = f"{trial.expected[:1].lower()}{trial.expected[1:]}"
        yield StartStep(
            key=key, about=f"sources/{trial.base}", phase="running", does="test", minutes=MINUTES_EACH,
            wait_s=steady_after("call:cool"), caution=trial.stop, lines=list(mine), needs=needs, trials=[trial.key],
            text=f"Trial on {trial.name}: {on}, called as planned. Expected: {expected}.",
        )  # fmt: skip
        before[trial.base] = key
