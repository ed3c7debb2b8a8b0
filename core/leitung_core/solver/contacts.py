"""Contacts, coils and time: many variants of a network carried through what is called and what happens.

A coil pulls in at or above its pull-in volts and holds down to its drop-out volts; contacts follow, with their
delays; that is repeated until nothing moves. What never comes to rest chatters.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from leitung_core.elements.vocabulary import Coil, Contact, Load
from leitung_core.solver.arrays import Bools, Floats, Ints
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.flow import Flow, across, solve

MOST_EVENTS = 400  # timed changes within one phase; a flasher that makes more is called chatter
HEATS_FROM = 0.05  # of its rated power: a resistive heater is on
STARTS_FROM = 0.5  # of its rated volts across its start winding: below that a motor hums and does not turn
NO_BRANCH = -1
EASE = 1e-9  # relative; a coil at just its pull-in volts pulls in whatever the last digit says


@dataclass(frozen=True)
class Stretch:
    """A stretch of time: what is on, and for how long, s."""

    on: frozenset[str]
    for_s: float


Course = tuple[Stretch, ...]


@dataclass
class Solution:
    """Where every variant stands.

    present: branches that are there (branches, variants). energised: loads and coils (loads, variants); since: when
    each last went on or off, s (loads, variants). due: when a contact is to move, s (contacts, variants). at: time, s,
    begun: when the present stretch began (variants,). chatter: what has not come to rest (variants,).
    """

    net: Compiled
    present: Bools
    energised: Bools
    since: Floats
    due: Floats
    at: Floats
    begun: Floats
    chatter: Bools
    flow: Flow
    signals: dict[str, Bools]
    stretch: int = 0
    moved: list[str] = field(default_factory=list)
    frames: list[Frame] = field(default_factory=list)

    @property
    def volts_ac(self) -> Floats:
        """rms volts across every load and coil, (loads, variants)."""
        loads = loads_of(self.net).branches
        return np.abs(across(self.net, self.flow.ac)[loads])


@dataclass(frozen=True)
class Frame:
    """A watched run at one solution: in which stretch, when, s from the start, what has just moved (`DEV.ID`).

    settled: nothing moves after it at that time.
    """

    stretch: int
    at_s: float
    moved: list[str]
    settled: bool
    run: Solution


@dataclass(frozen=True)
class Loads:
    """Loads and coils as arrays: branches, volts at which each goes on and drops out, and which take DC only.

    polar: data and signal inputs; a is plus, and more AC than their rating drowns the signal. starting: the branch of
    a motor's start winding, NO_BRANCH where it has none of its own.
    """

    names: tuple[str, ...]
    branches: Ints
    rated: Floats
    on_from: Floats
    pull_in: Floats
    drop_out: Floats
    on_dc: Bools
    polar: Bools
    starting: Ints

    @property
    def motors(self) -> Ints:
        """The loads with a start winding of their own."""
        found: Ints = np.flatnonzero(self.starting != NO_BRANCH)
        return found


@dataclass(frozen=True)
class Contacts:
    """Contacts as arrays: branches, rest position, delays, and what moves each: a load's row or a signal."""

    names: tuple[str, ...]
    branches: Ints
    closed_at_rest: Bools
    delay_on: Floats
    delay_off: Floats
    coil: Ints
    signal: tuple[str | None, ...]


def loads_of(net: Compiled) -> Loads:
    """The loads of a network."""
    if "loads" not in net.cache:
        net.cache["loads"] = _loads(net)
    found: Loads = net.cache["loads"]
    return found


def contacts_of(net: Compiled) -> Contacts:
    """The contacts of a network."""
    if "contacts" not in net.cache:
        net.cache["contacts"] = _contacts(net)
    found: Contacts = net.cache["contacts"]
    return found


def _loads(net: Compiled) -> Loads:
    named = net.of(Coil, Load)
    elements = [net.element[name] for name, _ in named]
    parts = [part for part in elements if isinstance(part, Coil | Load)]
    rated = np.array([part.rated_volts or 24 for part in parts], dtype=float)
    pull_in = rated * np.array([part.pull_in_frac for part in parts]) * (1 - EASE)
    drop_out = rated * np.array([min(part.drop_out_frac, part.pull_in_frac) for part in parts]) * (1 - EASE)
    heats = np.array([isinstance(part, Load) and part.heater for part in parts], dtype=bool)
    warm = rated * HEATS_FROM**0.5
    return Loads(
        names=tuple(name for name, _ in named),
        branches=np.array([branch for _, branch in named], dtype=np.int64),
        rated=rated,
        on_from=np.where(heats, warm, pull_in),
        pull_in=pull_in,
        drop_out=np.where(heats, warm, drop_out),
        on_dc=np.array([part.on_dc for part in parts], dtype=bool),
        polar=np.array([isinstance(part, Load) and part.is_polar for part in parts], dtype=bool),
        starting=np.array(
            [net.branch.get((isinstance(part, Load) and part.start_winding) or "", NO_BRANCH) for part in parts],
            dtype=np.int64,
        ),
    )


def _contacts(net: Compiled) -> Contacts:
    named = net.of(Contact)
    parts = [part for part in (net.element[name] for name, _ in named) if isinstance(part, Contact)]
    rows = {name: row for row, name in enumerate(loads_of(net).names)}
    operators = [part.operated_by or "" for part in parts]
    return Contacts(
        names=tuple(name for name, _ in named),
        branches=np.array([branch for _, branch in named], dtype=np.int64),
        closed_at_rest=np.array([part.normally == "closed" for part in parts], dtype=bool),
        delay_on=np.array([part.delay_on_s for part in parts], dtype=float),
        delay_off=np.array([part.delay_off_s for part in parts], dtype=float),
        coil=np.array([rows.get(by.removeprefix("coil:"), -1) if by.startswith("coil:") else -1 for by in operators],
                      dtype=np.int64),
        signal=tuple(by if by and not by.startswith("coil:") else None for by in operators),
    )  # fmt: skip


def settle(
    net: Compiled, courses: Sequence[Course], present: Bools | None = None, *, watched: bool = False
) -> Solution:
    """Carry every variant through its course from a cold start.

    present: branches that are there, contacts apart (branches, variants); left out: all but the extras.
    watched: record what moves and when; one variant only.
    """
    base = present if present is not None else usual(net, len(courses))
    state = _cold(net, base.copy(), len(courses))
    longest = max(map(len, courses), default=0)
    for number in range(longest):
        active = np.array([number < len(course) for course in courses])
        stretches = [course[number] if number < len(course) else course[-1] for course in courses]
        _signals(state, stretches, active)
        state.stretch = number
        state.begun = np.where(active, state.at, state.begun)
        ends = state.at + np.array([stretch.for_s for stretch in stretches])
        _come_to_rest(state, np.flatnonzero(active), watched)
        _pass_time(state, ends, active, watched)
        state.at = np.where(active, ends, state.at)
    return state


def usual(net: Compiled, variants: int) -> Bools:
    """Every branch there but the extras."""
    present = np.ones((len(net.y), variants), dtype=bool)
    present[list(net.extras)] = False
    return present


def _cold(net: Compiled, present: Bools, variants: int) -> Solution:
    contacts, loads = contacts_of(net), loads_of(net)
    present[contacts.branches] &= contacts.closed_at_rest[:, None]
    empty = Flow(np.zeros((net.size, variants), dtype=complex), None, np.zeros((net.nodes, variants), dtype=np.int64))
    if net.dc:
        empty = Flow(empty.ac, np.zeros((net.nodes, variants)), empty.paths)
    return Solution(
        net=net, present=present, energised=np.zeros((len(loads.names), variants), dtype=bool),
        since=np.zeros((len(loads.names), variants)),
        due=np.full((len(contacts.names), variants), np.inf), at=np.zeros(variants), begun=np.zeros(variants),
        chatter=np.zeros(variants, dtype=bool), flow=empty, signals={},
    )  # fmt: skip


def _signals(state: Solution, stretches: list[Stretch], active: Bools) -> None:
    names = {signal for signal in contacts_of(state.net).signal if signal} | {n for s in stretches for n in s.on}
    for name in names:
        now = np.array([name in stretch.on for stretch in stretches])
        before = state.signals.get(name, np.zeros(len(stretches), dtype=bool))
        state.signals[name] = np.where(active, now, before)


def _wanted(state: Solution, variants: Ints) -> Bools:
    """Where each contact is to be, delays apart, (contacts, variants)."""
    contacts = contacts_of(state.net)
    moved = np.zeros((len(contacts.names), len(variants)), dtype=bool)
    by_coil = contacts.coil >= 0
    moved[by_coil] = state.energised[contacts.coil[by_coil]][:, variants]
    for row, signal in enumerate(contacts.signal):
        if signal is not None:
            moved[row] = state.signals[signal][variants]
    return moved ^ contacts.closed_at_rest[:, None]


def _come_to_rest(state: Solution, variants: Ints, watched: bool) -> None:
    """Solve and let move until nothing moves; delayed contacts are only set going."""
    most = 2 * len(loads_of(state.net).names) + 10
    left = variants
    _move(state, left, watched)
    for _ in range(most):
        _solve_for(state, left)
        _pull(state, left, watched)
        frame = _frame(state) if watched else None
        # Volts hang on the contacts alone: where none moved, another round would find the same.
        moved = _move(state, left, watched)
        state.chatter[left[~moved]] = False
        left = left[moved]
        if frame is not None:
            state.frames.append(replace(frame, settled=not len(left)))
        if not len(left):
            return
    state.chatter[left] = True


def _solve_for(state: Solution, variants: Ints) -> None:
    found = solve(state.net, state.present[:, variants])
    state.flow.ac[:, variants] = found.ac
    state.flow.paths[:, variants] = found.paths
    if state.flow.dc is not None and found.dc is not None:
        state.flow.dc[:, variants] = found.dc


def _pull(state: Solution, variants: Ints, watched: bool) -> None:
    """Loads pull in and drop out by their volts."""
    net, loads = state.net, loads_of(state.net)
    volts = np.abs(across(net, state.flow.ac[:, variants])[loads.branches])
    if state.flow.dc is not None:
        direct = np.real(across(net, state.flow.dc[:, variants])[loads.branches])
        heard = np.where(volts > loads.rated[:, None], 0.0, direct)
        volts = np.where(loads.on_dc[:, None], np.where(loads.polar[:, None], heard, np.abs(direct)), volts)
    else:
        volts[loads.on_dc] = 0
    before = state.energised[:, variants]
    now = volts >= np.where(before, loads.drop_out[:, None], loads.on_from[:, None])
    motors = loads.motors
    if len(motors):
        all_volts, least = across(net, state.flow.ac[:, variants]), STARTS_FROM * loads.rated[motors, None]
        run, start = all_volts[loads.branches[motors]], all_volts[loads.starting[motors]]
        # In phase with the run winding, a start winding makes no field that turns.
        now[motors] &= (np.abs(start) >= least) & (np.abs(start - run) >= least)
    state.energised[:, variants] = now
    state.since[:, variants] = np.where(before != now, state.at[variants], state.since[:, variants])
    if watched:
        _note(state, loads.names, before, now)


def _move(state: Solution, variants: Ints, watched: bool) -> Bools:
    """Contacts move, or are set going where they are delayed; which variants have one that moved."""
    contacts = contacts_of(state.net)
    wanted, closed = _wanted(state, variants), state.present[contacts.branches][:, variants]
    towards = wanted ^ contacts.closed_at_rest[:, None]
    delay = np.where(towards, contacts.delay_on[:, None], contacts.delay_off[:, None])
    due, now = state.due[:, variants], state.at[variants]
    differs = wanted != closed
    due = np.where(differs, np.where(np.isinf(due), now + delay, due), np.inf)
    moves = differs & (due <= now)
    state.due[:, variants] = np.where(moves, np.inf, due)
    after = np.where(moves, wanted, closed)
    state.present[np.ix_(contacts.branches, variants)] = after
    if watched:
        _note(state, contacts.names, closed, after)
    return np.asarray(moves.any(axis=0))


def _note(state: Solution, names: tuple[str, ...], before: Bools, now: Bools) -> None:
    state.moved += [names[row] for row in np.flatnonzero(before[:, 0] != now[:, 0])]


def _frame(state: Solution) -> Frame:
    """The run as it stands, with what moved since the frame before."""
    frame = Frame(state.stretch, float(state.at[0]), list(dict.fromkeys(state.moved)), False, copy_of(state))
    state.moved.clear()
    return frame


def copy_of(state: Solution) -> Solution:
    """A run that no longer changes with the first."""
    flow = Flow(state.flow.ac.copy(), None if state.flow.dc is None else state.flow.dc.copy(), state.flow.paths.copy())
    return Solution(
        state.net, state.present.copy(), state.energised.copy(), state.since.copy(), state.due.copy(), state.at.copy(),
        state.begun.copy(), state.chatter.copy(), flow, dict(state.signals),
    )  # fmt: skip


def _pass_time(state: Solution, ends: Floats, active: Bools, watched: bool) -> None:
    """Let delayed contacts come due, each variant by its own clock."""
    if not state.due.size:
        return
    for _ in range(MOST_EVENTS):
        following = state.due.min(axis=0)
        ready = np.flatnonzero(active & (following <= ends))
        if not len(ready):
            return
        state.at[ready] = np.maximum(following[ready], state.at[ready])
        _come_to_rest(state, ready, watched)
    state.chatter[np.flatnonzero(active & (state.due.min(axis=0) <= ends))] = True


def without(state: Solution, branches: Sequence[int]) -> Solution:
    """The same moment with some branches gone for good, settled; time does not pass."""
    after = copy_of(state)
    after.present[list(branches)] = False
    _come_to_rest(after, np.arange(len(state.at)), watched=False)
    return after
