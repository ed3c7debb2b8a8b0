"""Levels 5 and 6: what is opened and proved before a hand goes in, and the steps of a start-up in their order."""

from __future__ import annotations

from collections.abc import Sequence
from random import Random

from leitung_core.commissioning.steps import ORDER, StartStep, StartUp
from leitung_core.plant.plant import Plant
from leitung_core.practice.isolate import mend_at
from leitung_core.practice.model import Choice, DeadTask, OrderTask

FEWEST_STEPS, MOST_STEPS = 4, 7
FEWEST_OF_PROOF = 2


def prove_dead(plant: Plant, started: StartUp, line: str, hands: Sequence[str], seed: int) -> DeadTask | None:
    """A round on a line's unit: what to open, then the proof. None where the plan does not say enough of it."""
    unit = plant.plan.circuits[line].equipment or ""
    devices = [key for key in plant.index.devices_of_unit.get(unit, ()) if plant.posts_of(key)]
    steps = [step for step in started.steps if step.about == f"circuits/{line}" and step.phase == "lock_out"]
    proof = [step for step in steps if step.does != "open"]
    if len(proof) < FEWEST_OF_PROOF:
        return None
    random = Random(f"{line} {seed}")
    for device in random.sample(devices, len(devices)):
        mend = mend_at(plant, device, tuple(hands))
        if mend is not None:
            shuffled = random.sample(proof, len(proof))
            leaves = list(dict.fromkeys(step.caution for step in steps if step.caution))
            return DeadTask(mend=mend, steps=_choices(shuffled), needs=_needs(proof), leaves=leaves)
    return None


def order_the_start(started: StartUp, about: str, seed: int) -> OrderTask | None:
    """A round on a part of the work: some of its steps, to be put in order. None where it has too few."""
    random = Random(f"{about} {seed}")
    mine = [step for step in started.steps if step.about == about]
    if len(mine) < FEWEST_STEPS:
        return None
    count = min(len(mine), random.randint(FEWEST_STEPS, MOST_STEPS))
    chosen = sorted(random.sample(range(len(mine)), count))
    steps = [mine[place] for place in chosen]
    needs = _needs(steps)
    if not any(needs.values()):
        return None
    return OrderTask(steps=_choices(random.sample(steps, len(steps))), needs=needs)


def _choices(steps: Sequence[StartStep]) -> list[Choice]:
    return [Choice(id=step.key, says=step.text) for step in steps]


def _needs(steps: Sequence[StartStep]) -> dict[str, list[str]]:
    """What comes before each of some steps: what it needs by itself or by way of others, and every earlier phase."""
    keys = {step.key for step in steps}
    return {
        step.key: sorted(
            {key for key in step.needs if key in keys}
            | {other.key for other in steps if ORDER[other.phase] < ORDER[step.phase]}
        )
        for step in steps
    }
