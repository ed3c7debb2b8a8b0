"""Findings of the bench in people's words: each hazard code of the solver, and what it says of a plan."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np

from leitung_core.control.hazards import ALIVE, Hazard
from leitung_core.control.system import System
from leitung_core.elements.vocabulary import CONTROL_VOLTS, Load
from leitung_core.solver.arrays import Bools, Floats
from leitung_core.solver.compiled import Core
from leitung_core.solver.contacts import Solution, loads_of
from leitung_core.solver.flow import across, fed_primary, winding_amps, winding_volts
from leitung_core.units import say, sentence


@dataclass(frozen=True)
class Told:
    """A hazard in one state, ready to be said."""

    system: System
    run: Solution
    column: int
    hazard: Hazard
    when: str

    @property
    def first(self) -> str:
        return self.hazard.about[0] if self.hazard.about else self.system.key

    def words(self) -> str:
        return self.system.motor(self.first)

    def volts(self) -> float:
        """Volts across the load, rms."""
        net = self.run.net
        branch = net.branch.get(self.first)
        return float(abs(across(net, self.run.flow.ac)[branch, self.column])) if branch is not None else 0.0

    def volts_dc(self) -> float:
        """Direct volts across the load."""
        branch, direct = self.run.net.branch.get(self.first), self.run.flow.dc
        if branch is None or direct is None:
            return 0.0
        return float(abs(across(self.run.net, direct)[branch, self.column]))

    def rated(self) -> float:
        loads = loads_of(self.run.net)
        return float(loads.rated[loads.names.index(self.first)])

    def is_signal(self) -> bool:
        loads = loads_of(self.run.net)
        return self.first in loads.names and bool(loads.polar[loads.names.index(self.first)])

    def is_heater(self) -> bool:
        load = self.run.net.element.get(self.first)
        return isinstance(load, Load) and load.heater

    @property
    def about(self) -> str:
        """The device of which it is told, as a path of the plan."""
        device = self.first if self.first in self.system.devices else self.first.rpartition(".")[0]
        return f"devices/{device or self.system.key}"

    @property
    def wording(self) -> Wording:
        return WORDINGS[self.hazard.code]

    def core(self) -> Core:
        return next(core for core in self.run.net.cores if core.name == self.first)

    def windings(self) -> tuple[Floats, Floats]:
        """Volts and amperes of every winding, (windings,)."""
        net, ac = self.run.net, self.run.flow.ac[:, [self.column]]
        return winding_volts(net, ac)[:, 0], np.abs(winding_amps(net, ac))[:, 0]

    def secondary(self) -> tuple[float, float]:
        """Volts and amperes of the transformer's secondary."""
        volts, amps = self.windings()
        return float(volts[self.core().secondary]), float(amps[self.core().secondary])


def _shorted(told: Told) -> str:
    _, amps = told.secondary()
    core = told.core()
    rated = core.va / core.element.secondary_volts
    return f"The secondary of {told.words()} is shorted: {say(amps, 1)} A where {say(rated, 1)} A is its rating."


def _tied(told: Told) -> str:
    names = " and ".join(told.system.words(name) for name in told.hazard.about)
    return f"Two supplies are tied together: {names}."


def _low(told: Told) -> str:
    volts = f"{sentence(told.words())} gets {say(told.volts(), 1)} V of {say(told.rated())} V"
    if told.is_heater():
        return f"{volts}: it is hot, at {say(100 * (told.volts() / told.rated()) ** 2, 0)} % of its heat."
    return f"{volts}: too little to pull in."


def _overload(told: Told) -> str:
    _, amps = told.secondary()
    core = told.core()
    asked = amps * core.element.secondary_volts
    return f"{sentence(told.words())} is asked for {say(asked, 0)} VA of its {say(core.va, 0)} VA."


def _stalled(told: Told) -> str:
    return (
        f"{sentence(told.words())} has {say(told.volts(), 1)} V and does not turn: its start winding does nothing. "
        "It draws its locked-rotor amperes until something opens, or it burns."
    )


def _tap(told: Told) -> str:
    core, (volts, amps) = told.core(), told.windings()
    fed = fed_primary(core, amps)
    made_for = told.run.net.windings[fed].ratio * core.element.secondary_volts
    return (
        f"{sentence(told.words())} has {say(volts[fed], 0)} V on its {say(made_for, 0)} V tap: "
        f"{say(volts[core.secondary], 1)} V where {say(core.element.secondary_volts, 0)} V is meant."
    )


def _line(told: Told) -> str:
    if told.first in told.run.net.branch:
        return f"{sentence(told.words())}, made for {say(told.rated())} V, gets {say(told.volts(), 0)} V AC."
    return f"The 24 V side of {told.words()} is lifted to line voltage."


def _too_many(told: Told) -> str:
    most = max(told.volts(), told.volts_dc())
    return f"{sentence(told.words())}, made for {say(told.rated())} V, gets {say(most, 0)} V."


def _air(told: Told) -> str:
    load, fan = told.hazard.about
    return f"{sentence(told.system.motor(load))} is on and {told.system.motor(fan)} moves no air."


def _interlock(told: Told) -> str:
    return f"{sentence(told.words())} goes on: the safety contact does nothing."


def _series(told: Told) -> str:
    one, two = told.hazard.about
    return f"{sentence(told.system.words(one))} and {told.system.words(two)} lie in series and share the volts."


def _dry(told: Told) -> str:
    device, _, contact = told.first.rpartition(".")
    return f"The dry contact {contact} of {device} is fed from two supplies."


def _off(told: Told) -> str:
    if not told.is_signal():
        volts = f"{say(told.volts(), 1)} V"
        alive = told.volts() > ALIVE * told.rated()
        says = f"does not start on {volts} of {say(told.rated())} V" if alive else f"stays off: {volts}"
        return f"{sentence(told.words())} {says}."
    device, loads = told.first.rpartition(".")[0], loads_of(told.run.net).names
    mine = [row for row, name in enumerate(loads) if name.rpartition(".")[0] == device and name != told.first]
    if told.run.energised[mine, told.column].any():
        return f"{device} powers up and does not talk: {told.words()} hears nothing."
    return f"{sentence(told.words())} hears nothing."


def _both(told: Told) -> str:
    return "Heat and cooling run at once."


@dataclass(frozen=True)
class Wording:
    """The finding of a hazard code."""

    code: str
    says: Callable[[Told], str]


WORDINGS: dict[str, Wording] = {
    "SHORTED_SECONDARY": Wording("secondary-shorted", _shorted),
    "SOURCES_TIED": Wording("supplies-tied", _tied),
    "LOAD_WITHOUT_CALL": Wording("runs-without-call", lambda told: f"{sentence(told.words())} is on without a call."),
    "CALL_WITHOUT_LOAD": Wording("call-does-nothing", _off),
    "HEAT_AND_COOL": Wording("heat-and-cool", _both),
    "MISSING_COMMON": Wording("no-return", lambda told: f"{sentence(told.words())} has a live feed and no return."),
    "OVERLOAD_VA": Wording("transformer-overloaded", _overload),
    "LOW_VOLTAGE": Wording("coil-low", _low),
    "STALLED": Wording("motor-stalls", _stalled),
    "WRONG_TAP": Wording("tap-wrong", _tap),
    "LINE_ON_SIGNAL": Wording("line-on-control", _line),
    "DATA_CROSSED": Wording("data-turned", lambda told: "A data pair is crossed: nothing will be understood."),
    "OVER_VOLTAGE": Wording("too-many-volts", _too_many),
    "HEAT_WITHOUT_AIR": Wording("heat-without-air", _air),
    "DEAD_SAFETY": Wording(
        "safety-dead", lambda told: f"{sentence(told.first)} has no supply when it is to act: it proves nothing."
    ),
    "DRY_CONTACT_FED_TWICE": Wording("dry-contact-fed-twice", _dry),
    "SERIES_LOADS": Wording("loads-in-series", _series),
    "CHATTER": Wording("chatters", lambda told: "Contacts never come to rest: a relay chatters."),
    "INTERLOCK_INEFFECTIVE": Wording("interlock-ineffective", _interlock),
}


def is_disturbed(on: Iterable[str]) -> bool:
    """Whether something has happened beside calls: then what does not run may be meant not to."""
    return any(not name.startswith("call:") for name in on)


def told_apart(state: Solution, found: list[Hazard], disturbed: Bools) -> list[Hazard]:
    """What is worth saying: not that something stays off while a cause is on, nor a motor for its own relay's coil, nor
    that one which stalls does not run."""
    stalled = {hazard.about: hazard.holds for hazard in found if hazard.code == "STALLED"}
    kept = []
    for hazard in found:
        holds = hazard.holds & ~disturbed if hazard.code in ("CALL_WITHOUT_LOAD", "MISSING_COMMON") else hazard.holds
        if hazard.code == "CALL_WITHOUT_LOAD" and hazard.about in stalled:
            holds = holds & ~stalled[hazard.about]
        if holds.any() and not _by_its_coil(state, hazard, holds, found):
            kept.append(Hazard(hazard.code, hazard.about, holds))
    return kept


def _by_its_coil(state: Solution, hazard: Hazard, holds: Bools, found: list[Hazard]) -> bool:
    """Whether a load behind a contact only does what the coil before it does, which is said at the coil."""
    if hazard.code not in ("CALL_WITHOUT_LOAD", "LOAD_WITHOUT_CALL"):
        return False
    loads = loads_of(state.net)
    # A signal input is no coil.
    named = zip(loads.names, loads.rated, loads.polar, strict=True)
    rated = {name: np.inf if polar else float(figure) for name, figure, polar in named}
    device = hazard.about[0].rpartition(".")[0]
    return rated[hazard.about[0]] > CONTROL_VOLTS and any(
        other.code == hazard.code and other.about[0].rpartition(".")[0] == device
        and rated[other.about[0]] <= CONTROL_VOLTS and bool((other.holds & holds).any())
        for other in found
    )  # fmt: skip
