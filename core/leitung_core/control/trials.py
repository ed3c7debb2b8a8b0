"""The states in which a system is tried: every call, the sensible pairs, every call let go, every cause on top."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

from leitung_core.control.system import System
from leitung_core.elements.signals import signals
from leitung_core.solver.contacts import Course, Stretch

SETTLED_S = 600.0
# Calls that are not made at once: what heats and what cools.
APART = (
    {"call:cool", "call:second-stage"},
    {"call:heat", "call:second-stage-heat", "call:emergency-heat"},
)
NEEDS = {"call:second-stage": "call:cool", "call:second-stage-heat": "call:heat"}


@dataclass(frozen=True)
class Trial:
    """A state to be tried: what is on, after what, in words."""

    on: frozenset[str]
    before: frozenset[str] | None
    says: str

    @property
    def course(self) -> Course:
        first = (Stretch(self.before, SETTLED_S),) if self.before is not None else ()
        return (*first, Stretch(self.on, SETTLED_S))


def trials(system: System) -> list[Trial]:
    """The states of a system, the plainest first."""
    singles = [_with_needed(call) for call in system.calls]
    pairs = [one | two for one, two in combinations(singles, 2) if _together(one | two)]
    states = [frozenset[str](), *dict.fromkeys([*singles, *pairs])]
    found = [Trial(on, None, say_on(on)) for on in states]
    found += [Trial(frozenset(), on, f"after {say_on(on)}") for on in singles]
    running = [*singles, *(on for on in pairs if "call:humidify" in on and on & {"call:fan", "call:cool"})]
    for cause in system.causes:
        found.append(Trial(frozenset({cause}), None, say_on({cause})))
        found += [Trial(on | {cause}, on, f"{say_on({cause})} while {say_on(on)}") for on in dict.fromkeys(running)]
    return found


def _with_needed(call: str) -> frozenset[str]:
    return frozenset({call, NEEDS[call]}) if call in NEEDS else frozenset({call})


def _together(on: frozenset[str]) -> bool:
    return not all(on & side for side in APART)


def say_on(on: frozenset[str] | set[str]) -> str:
    """`cool and fan called`, `smoke`, `nothing called`."""
    calls = [signals()[name].short for name in signals() if name in on and name.startswith("call:")]
    causes = [signals()[name].short for name in signals() if name in on and name.startswith("cause:")]
    hands = [f"{name.removeprefix('hand:')} off" for name in sorted(on) if name.startswith("hand:")]
    words = ([" and ".join(calls) + " called"] if calls else []) + causes + hands
    return ", ".join(words) or "nothing called"
