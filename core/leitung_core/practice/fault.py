"""Level 4, find the fault: one mistake is hidden in a sound system, and a meter tells of it.

A reading rules a mistake out where its volts and those of the hidden one differ by more than the meter may be off
either way. What no reading tells from the hidden one is as right as it.
"""

from __future__ import annotations

from dataclasses import dataclass
from random import Random

import numpy as np

from leitung_core.control.kept import kept
from leitung_core.control.probes import signal_pairs
from leitung_core.control.system import System
from leitung_core.control.trials import Trial, say_on
from leitung_core.plan.wired import EndName
from leitung_core.practice.isolate import mend_at
from leitung_core.practice.model import Choice, FaultTask, Mend, Suspect
from leitung_core.slips.fewest_tests import cover, meter_volts
from leitung_core.slips.harm import HARM_WORDS, Slip, Solved, carried_through, slips, tried
from leitung_core.slips.mistakes import Mistake
from leitung_core.slips.report import lead, what_it_does
from leitung_core.solver.arrays import Bools, Ints

NOTHING_WRONG = "Nothing is wrong: it is wired as planned."


@dataclass(frozen=True)
class Suspects:
    """What rounds of a system are made of: its states, what each mistake reads and runs in them, what it does."""

    states: tuple[Trial, ...]
    slips: tuple[Slip, ...]
    solved: Solved


def suspects_of(system: System) -> Suspects:
    """The same for as long as the network is the same."""
    return kept("practice", system, lambda: _suspects(system))


def _suspects(system: System) -> Suspects:
    found = slips(system)
    states = [*tried(system)]
    first = next((trial.on for trial in states if trial.on and trial.before is None), frozenset[str]())
    states += [Trial(first | {hand}, None, say_on(first | {hand})) for hand in system.hands]
    states = list(dict.fromkeys(states))
    what = [slip.mistake for slip in found.slips]
    return Suspects(tuple(states), found.slips, carried_through(system, what, states))


def ruled_out(suspects: Suspects, hidden: int) -> Bools:
    """What each reading rules out where `hidden` is made (tests, suspects); suspect 0: nothing is wrong.

    Tests go state by state: its leads in their order, then the look.
    """
    solved, count = suspects.solved, len(suspects.states)
    here = solved.volts[hidden]
    apart = np.abs(solved.volts - here) > meter_volts(solved.volts) + meter_volts(here)
    looks = (solved.on != solved.on[hidden]).any(axis=2)
    every = np.concatenate([apart, looks[:, :, None]], axis=2)
    found: Bools = every.reshape(len(solved.volts), count * every.shape[2]).T
    return found


def solvable(suspects: Suspects) -> list[int]:
    """The mistakes that harm and that some reading tells from the sound plan, by their number from 1."""
    told: Bools = np.logical_or.reduce(ruled_out(suspects, 0), axis=0)
    return [number for number, slip in enumerate(suspects.slips, 1) if told[number] and slip.harm != "none"]


def least_readings(rules: Bools) -> tuple[int, bool]:
    """With fewer nobody can prove it: the smallest set of readings that rules out all that any rules out; exact or not.

    Whoever names the mistake by proof has taken at least readings that leave it and its like alone; the smallest such
    set is a set cover, solved exactly where `exact`.
    """
    others = rules[:, rules.any(axis=0)]
    chosen, exact = cover(others, np.zeros(len(others), dtype=bool))
    return len(chosen), exact


def usual_readings(suspects: Suspects, rules: Bools) -> int:
    """How many readings it takes who reads each time where the suspects left fall most evenly apart."""
    left: Bools = np.ones(rules.shape[1], dtype=bool)
    alike = ~rules.any(axis=0)
    done = 0
    while (left & ~alike).any():
        together = _left_together(suspects, np.flatnonzero(left))
        best = int(np.argmin(together))
        if together[best] >= left.sum() ** 2 or not (rules[best] & left).any():
            break
        left &= ~rules[best]
        done += 1
    # Where every outcome looks alike within the meter, what is left is ruled out one by one.
    return done + (least_readings(rules[:, left])[0] if (left & ~alike).any() else 0)


def _left_together(suspects: Suspects, numbers: Ints) -> Ints:
    """For each test, of how many pairs of some suspects it cannot tell the one from the other."""
    states, pairs = len(suspects.states), len(suspects.solved.pairs)
    volts = np.sort(suspects.solved.volts[numbers].reshape(len(numbers), states * pairs), axis=0)
    off = meter_volts(volts)
    gaps = np.diff(volts, axis=0) > off[:-1] + off[1:]
    read = _same_pairs(np.vstack([np.zeros((1, states * pairs), dtype=np.int64), np.cumsum(gaps, axis=0)]))
    on = suspects.solved.on[numbers]
    seen = np.sort(on @ (1 << np.arange(on.shape[2], dtype=np.int64)), axis=0)
    looks = np.vstack([np.zeros((1, states), dtype=np.int64), np.cumsum(np.diff(seen, axis=0) != 0, axis=0)])
    return np.concatenate([read.reshape(states, pairs), _same_pairs(looks)[:, None]], axis=1).ravel()


def _same_pairs(group: Ints) -> Ints:
    """By column, how many pairs of its rows are in one group."""
    height, width = group.shape
    sizes = np.bincount((group + np.arange(width) * height).ravel(), minlength=height * width)
    found: Ints = (sizes.reshape(width, height) ** 2).sum(axis=1)
    return found


def find_the_fault(system: System, seed: int, kind: str) -> FaultTask | None:
    """A round with a hidden mistake of a kind; the same for the same seed. None where there is none to be found."""
    suspects = suspects_of(system)
    able = [number for number in solvable(suspects) if suspects.slips[number - 1].mistake.kind == kind]
    random = Random(f"{system.key} {kind} {seed}")
    for hidden in random.sample(able, len(able)):
        mend = mend_at(system.plant, _hand_at(system, suspects.slips[hidden - 1].mistake), tuple(system.hands))
        if mend is not None:
            return with_mistake(system, hidden, mend)
    return None


def with_mistake(system: System, hidden: int, mend: Mend) -> FaultTask:
    """The round that hides one mistake, by its number from 1 among those of the system."""
    suspects = suspects_of(system)
    rules, slip, solved = ruled_out(suspects, hidden), suspects.slips[hidden - 1], suspects.solved
    least, exact = least_readings(rules)
    numbers: dict[str, int] = {}
    width = len(solved.pairs) + 1
    table = [[numbers.setdefault(_hex(rules[state * width + place]), len(numbers)) for place in range(width)]
             for state in range(len(suspects.states))]  # fmt: skip
    signals = set(signal_pairs(system))
    return FaultTask(
        system=system.key,
        title=system.title,
        states=[Choice(id=str(number), says=state.says) for number, state in enumerate(suspects.states)],
        leads=[Choice(id=f"{a} {b}", says=f"{lead(a)} to {lead(b)}") for a, b in solved.pairs],
        direct=[pair in signals for pair in solved.pairs],
        volts=[[round(float(v), 1) for v in row] for row in solved.volts[hidden]],
        watched=[system.motor(name) for name in solved.watched],
        runs=[np.flatnonzero(row).tolist() for row in solved.on[hidden]],
        suspects=[Suspect(id="", says=NOTHING_WRONG, about=""), *(_suspect(each.mistake) for each in suspects.slips)],
        rules=table,
        sets=list(numbers),
        hidden=hidden,
        does=_does(system, slip),
        least=least,
        exact=exact,
        usual=usual_readings(suspects, rules),
        mend=mend,
    )


def _suspect(mistake: Mistake) -> Suspect:
    return Suspect(id=mistake.id, says=mistake.says, about=mistake.about)


def _does(system: System, slip: Slip) -> str:
    told = what_it_does(system, slip)
    return f"{HARM_WORDS[slip.harm]}: {told}" if told else HARM_WORDS[slip.harm]


def _hex(row: Bools) -> str:
    return format(int.from_bytes(np.packbits(row, bitorder="little").tobytes(), "little"), "x")


def _hand_at(system: System, mistake: Mistake) -> str:
    """The device into which a hand goes to mend it: where the end is landed that differs, or what is set."""
    group, _, key = mistake.about.partition("/")
    changed = (mistake.patch or {}).get("cables", {}).get(key, {}).get("conductors", {})
    if group == "devices" or not changed:
        return key
    name, ends = next(iter(changed.items()))
    wire = next(wire for wire in system.plant.wires[key] if wire.id == name)
    end: EndName = "a" if "a" in ends else "b"
    post = system.plant.post(wire, end)
    return post.device_id if post else wire.device(end)
