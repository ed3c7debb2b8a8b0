"""A plan under given calls and causes: what a meter reads, what is on, and what is wrong with it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np
from pydantic import BaseModel, ConfigDict

from leitung_core.control.hazards import hazards
from leitung_core.control.probes import not_live
from leitung_core.control.solved import StateAnswer, answer
from leitung_core.control.system import System
from leitung_core.control.trials import say_on
from leitung_core.control.words import Told, is_disturbed, told_apart
from leitung_core.elements.signals import signals
from leitung_core.errors import InputError, Problem
from leitung_core.findings import CODES, Severity
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Solution, Stretch, settle
from leitung_core.solver.network import Probe, State


class Said(BaseModel):
    """A hazard of a state in people's words, with its code in the open form."""

    model_config = ConfigDict(frozen=True)

    code: str
    hazard: str
    severity: Severity
    about: str
    message: str


class Simulated(BaseModel):
    """One state of a plan."""

    model_config = ConfigDict(frozen=True)

    on: list[str]
    says: str
    answer: StateAnswer
    findings: list[Said]
    notes: list[str]


def signal_names(words: Sequence[str], kind: str, field: str) -> list[str]:
    """`second stage` as `call:second-stage`. Raises InputError for what is not known."""
    known = {name.partition(":")[2] for name in signals() if name.startswith(f"{kind}:")}
    found = []
    for word in (word.strip().lower() for word in words if word.strip()):
        name = word.removeprefix(f"{kind}:").replace(" ", "-")
        if name not in known:
            raise InputError(Problem(field, word, f"is no {kind} known here", f"Use: {', '.join(sorted(known))}."))
        found.append(f"{kind}:{name}")
    return list(dict.fromkeys(found))


def probe_between(text: str, known: Sequence[str]) -> Probe:
    """`AH-1.ctl.R:AH-1.ctl.C` as two leads. Raises InputError where a terminal is not there."""
    ends = text.split(":")
    if len(ends) != 2:
        raise InputError(
            Problem("probe", text, "is not two terminals", "Write device.strip.terminal:device.strip.terminal.")
        )
    for end in ends:
        if end not in known:
            raise InputError(Problem("probe", end, "there is no such terminal", "Write device.strip.terminal."))
    return Probe(a=ends[0], b=ends[1])


def simulate(system: System, on: Sequence[str], at_s: float, probes: Sequence[Probe]) -> Simulated:
    """A system with these calls and causes on since `at_s` seconds, from a cold start."""
    state = State(name=say_on(set(on)), on=list(on), at_s=at_s, probes=list(probes))
    found = answer(system.network, [state])[0]
    return Simulated(
        on=list(on), says=state.name, answer=found, findings=said(system, on, at_s),
        notes=[note.says for note in system.built.notes] + _not_live(system, probes),
    )  # fmt: skip


def _not_live(system: System, probes: Sequence[Probe]) -> list[str]:
    """Where a meter is asked for that nobody should hold there: a figure is no invitation."""
    posts = system.plant.posts
    ends = [end for probe in probes for end in (probe.a, probe.b) if end in posts]
    return [f"{posts[end].at}: {why}" for end in dict.fromkeys(ends) if (why := not_live(posts[end]))]


def said(system: System, on: Sequence[str], at_s: float) -> list[Said]:
    """What is wrong in that state."""
    return said_in(system, settle(Compiled(system.network), [(Stretch(frozenset(on), at_s),)]), on)


def said_in(system: System, state: Solution, on: Iterable[str]) -> list[Said]:
    """What is wrong in a state that is solved."""
    told = told_apart(state, hazards(state), np.array([is_disturbed(on)]))
    found = []
    for hazard in told:
        one = Told(system, state, 0, hazard, say_on(set(on)))
        code = one.wording.code
        found.append(
            Said(code=code, hazard=hazard.code, severity=CODES[code].severity, about=one.about,
                 message=one.wording.says(one))
        )  # fmt: skip
    return found
