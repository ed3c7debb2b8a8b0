"""A control system as it stands there, with or without a mistake: volts, amps and ohms between its terminals."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from leitung_core.commissioning.judge import OPEN_OHMS
from leitung_core.control.solved import one, probe_answer
from leitung_core.control.system import System, system_with
from leitung_core.control.trials import SETTLED_S
from leitung_core.slips.dead_tests import Dead
from leitung_core.slips.mistakes import Mistake
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Solution, Stretch, settle, usual
from leitung_core.solver.flow import branch_amps


@dataclass(frozen=True)
class AsBuilt:
    """A system and the mistake that is hidden in it, if any."""

    system: System
    mistake: Mistake | None = None

    @cached_property
    def _there(self) -> tuple[System, Mistake | None]:
        """A setting is a change of the plan; any other mistake takes branches out and puts branches in."""
        if self.mistake is not None and self.mistake.anew:
            return system_with(self.system, self.mistake.patch or {}), None
        return self.system, self.mistake

    @cached_property
    def _net(self) -> Compiled:
        system, mistake = self._there
        return Compiled(system.network, extras=mistake.extra if mistake else ())

    @cached_property
    def _runs(self) -> dict[frozenset[str], Solution]:
        return {}

    def run(self, on: frozenset[str]) -> Solution:
        """Settled under calls and causes."""
        if on not in self._runs:
            self._runs[on] = self._settled(on)
        return self._runs[on]

    def _settled(self, on: frozenset[str]) -> Solution:
        _, mistake = self._there
        present = usual(self._net, 1)
        if mistake is not None:
            present[[self._net.branch[name] for name in mistake.gone]] = False
            present[[self._net.branch[extra.name] for extra in mistake.extra]] = True
        return settle(self._net, [(Stretch(on, SETTLED_S),)], present)

    def volts(self, a: str, b: str, on: frozenset[str], dc: bool = False) -> float | None:
        """Volts from a to b: rms, or direct with their sign; None where nothing joins them: a meter then floats."""
        read = probe_answer(one(self.run(on), 0), a, b)
        return read.volts_dc if dc else read.volts

    def amps(self, terminal: str, on: frozenset[str]) -> float:
        """Amperes, rms, through the conductors landed on a terminal."""
        run = self.run(on)
        through = np.abs(branch_amps(self._net, run.flow.ac, run.present))[:, 0]
        landed = [wire.id for wire in self.system.network.conductors if terminal in (wire.a, wire.b)]
        return float(sum(through[self._net.branch[name]] for name in landed))

    def ohms(self, a: str, b: str) -> float:
        """Ohms from a to b with everything dead, as for the tests before power; a megohm where nothing is between."""
        return min(OPEN_OHMS, self._dead.ohms(a, b))

    @cached_property
    def _dead(self) -> Dead:
        system, mistake = self._there
        return Dead(system, [mistake])
