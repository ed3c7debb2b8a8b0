"""In which step of the start-up each single mistake of a system shows, and what is left that none shows.

What would shock or destroy has to show before power; anything else before the system is left.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from leitung_core.commissioning.called import at_rest, called, state_of, under_load
from leitung_core.commissioning.running import held_off, in_call_order
from leitung_core.commissioning.steps import ReadingPoint
from leitung_core.commissioning.tests import FunctionalTest, functional_tests
from leitung_core.control.system import System
from leitung_core.control.trials import Trial, say_on
from leitung_core.slips.before_power import GRAVE
from leitung_core.slips.dead_tests import dead_tests
from leitung_core.slips.harm import Harm, Solved, carried_through, slips
from leitung_core.slips.mistakes import Mistake, mistakes
from leitung_core.solver.arrays import Bools


@dataclass(frozen=True)
class Caught:
    """A mistake, the step in which it shows first, and whether that is soon enough; None: no step shows it."""

    mistake: Mistake
    harm: Harm
    step: str | None

    @property
    def in_time(self) -> bool:
        """Before power, where power would not forgive it; before the system is left, where it harms otherwise."""
        if self.harm in GRAVE:
            return self.step is not None and self.step.endswith(".ohms")
        return self.step is not None or self.harm == "none"


def caught(system: System) -> list[Caught]:
    """Every single mistake of a system, as the start-up by its steps finds it."""
    what = mistakes(system)
    harm_of = {slip.mistake.id: slip.harm for slip in slips(system).slips}
    steps = _Steps(system, what)
    return [
        Caught(mistake, harm_of[mistake.id], next((key for key, shows in steps.shown if shows[number]), None))
        for number, mistake in enumerate(what)
    ]


@dataclass(frozen=True)
class _Steps:
    """The steps of a system, each with the mistakes that it shows."""

    system: System
    what: Sequence[Mistake]

    @cached_property
    def shown(self) -> list[tuple[str, Bools]]:
        return [(f"devices/{self.system.key}.{name}", shows) for name, shows in self._steps()]

    def _steps(self) -> Iterator[tuple[str, Bools]]:
        system = self.system
        by_ohms = np.zeros(len(self.what), dtype=bool)
        for pair in dead_tests(system) or ():
            by_ohms[list(pair.exposes)] = True
        yield "ohms", by_ohms
        yield "control", self._looks(frozenset()) | self._reads([*at_rest(system)], frozenset())
        loaded: dict[str, list[ReadingPoint]] = {}
        for name, point in under_load(system):
            loaded.setdefault(name, []).append(point)
        told = called(system)
        for call in in_call_order(told.calls):
            on, name = state_of(system, call.name), call.name.partition(":")[2]
            yield f"call-{name}", self._looks(on)
            if held_off(told, call):
                yield f"alone-{name}", self._looks(frozenset({call.name}))
            yield f"loaded-{name}", self._reads(loaded.get(call.name, []), on)
        for test in functional_tests(system):
            yield f"prove-{test.cause.partition(':')[2]}", self._proves(test)

    @cached_property
    def trials(self) -> list[Trial]:
        """Nothing called, each call, each cause while a call runs what it must stop."""
        calls = self.system.calls
        states = [frozenset[str](), *(state_of(self.system, call) for call in calls)]
        alone = [frozenset({call}) for call in calls]
        found = [Trial(on, None, say_on(on)) for on in dict.fromkeys([*states, *alone])]
        for cause in dict.fromkeys(test.cause for test in functional_tests(self.system)):
            found += [Trial(on | {cause}, on, say_on(on | {cause})) for on in dict.fromkeys(states[1:])]
        return found

    @cached_property
    def solved(self) -> Solved:
        return carried_through(self.system, self.what, self.trials)

    def _looks(self, on: frozenset[str]) -> Bools:
        """Something runs that should not, or does not run that should: motors, heat, lamps, displays."""
        return self._differs(self._place(on), self.solved.watched)

    def _place(self, on: frozenset[str]) -> int:
        return next(at for at, trial in enumerate(self.trials) if trial.on == on)

    def _differs(self, at: int, names: Iterable[str]) -> Bools:
        seen = self.solved.on[:, at][:, [self.solved.watched.index(name) for name in names]]
        found: Bools = (seen[1:] != seen[:1]).any(axis=1)
        return found

    def _reads(self, points: Sequence[ReadingPoint], on: frozenset[str]) -> Bools:
        """A reading outside its bounds."""
        found = np.zeros(len(self.what), dtype=bool)
        at = self._place(on)
        for point in points:
            pair = point.terminal_from, point.terminal_to
            if pair in self.solved.pairs and point.low is not None and point.high is not None:
                volts = self.solved.volts[1:, at, self.solved.pairs.index(pair)]
                found |= (volts < point.low) | (volts > point.high)
        return found

    def _proves(self, test: FunctionalTest) -> Bools:
        """What a cause must stop goes on; or what stops it is dead, and stops nothing."""
        loads = [name for name in self.system.effects.get(test.effect, ()) if name in self.solved.watched]
        found = np.zeros(len(self.what), dtype=bool)
        for at, trial in enumerate(self.trials):
            if test.cause in trial.on:
                found |= self._differs(at, loads) | self._dead(at, test.cause)
        return found

    def _dead(self, at: int, cause: str) -> Bools:
        return np.array([
            any(code == "DEAD_SAFETY" and cause in about and bool(holds[at]) for code, about, holds in hazards)
            for hazards in self.solved.hazards[1:]
        ])  # fmt: skip
