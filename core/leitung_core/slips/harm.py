"""What if someone slips: every single mistake carried through every call, and how much harm it does.

The sound plan is solved first; a mistake's harm is the gravest thing that it brings and the sound plan does not.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from leitung_core.control.hazards import hazards
from leitung_core.control.probes import Pair, pairs_of, signal_pairs
from leitung_core.control.system import System, system_with
from leitung_core.control.trials import Trial, trials
from leitung_core.control.words import is_disturbed
from leitung_core.elements.conditions import Facts, read_expression
from leitung_core.elements.vocabulary import Fuse, Load
from leitung_core.slips.mistakes import Mistake, mistakes
from leitung_core.solver.arrays import Bools, Floats, Ints
from leitung_core.solver.compiled import Compiled, Extra
from leitung_core.solver.contacts import Course, Solution, loads_of, settle, usual
from leitung_core.solver.flow import branch_amps

Harm = Literal["shock", "destroys", "unsafe", "runs", "dead", "wrong", "none"]
HARMS: tuple[Harm, ...] = ("shock", "destroys", "unsafe", "runs", "dead", "wrong", "none")
HARM_WORDS: dict[Harm, str] = {
    "shock": "puts volts on a case, or takes its ground away",
    "destroys": "destroys a board, a transformer or a fuse", "unsafe": "a safety contact does nothing",
    "runs": "something runs without a call", "dead": "something does not run", "wrong": "works, but wrongly",
    "none": "changes nothing that runs",
}  # fmt: skip
HARM_OF: dict[str, Harm] = {
    "CASE_LIVE": "shock", "GROUND_OPEN": "shock", "GROUND_CARRIES": "shock", "FUSE_OPENS": "destroys",
    "SHORTED_SECONDARY": "destroys", "SOURCES_TIED": "destroys", "LINE_ON_SIGNAL": "destroys",
    "OVERLOAD_VA": "destroys", "OVER_VOLTAGE": "destroys", "STALLED": "destroys",
    "INTERLOCK_INEFFECTIVE": "unsafe", "HEAT_WITHOUT_AIR": "unsafe", "DEAD_SAFETY": "unsafe",
    "LOAD_WITHOUT_CALL": "runs", "HEAT_AND_COOL": "runs",
    "CALL_WITHOUT_LOAD": "dead", "MISSING_COMMON": "dead", "CHATTER": "dead",
    "LOW_VOLTAGE": "wrong", "WRONG_TAP": "wrong", "SERIES_LOADS": "wrong", "DRY_CONTACT_FED_TWICE": "wrong",
    "DATA_CROSSED": "wrong",
}  # fmt: skip
QUIET = {"CALL_WITHOUT_LOAD", "MISSING_COMMON"}
CASE_VOLTS = 30.0
CASE_AMPS = 0.01
GROUP = 48  # mistakes to a network: each brings branches of its own, and too many make it dense


@dataclass(frozen=True)
class Slip:
    """A mistake's outcome: its harm, by which hazard about what, in which trial (its number)."""

    mistake: Mistake
    harm: Harm
    hazard: str | None
    about: tuple[str, ...]
    trial: int | None


@dataclass(frozen=True)
class Slips:
    """All of a system's mistakes.

    pairs: where a meter's leads go. direct: on which of them it reads direct current. volts: what it reads, floating as
    0 (1 + mistakes, trials, pairs), the sound plan first; where a fuse or a breaker opens, after it did. on: which of
    `watched` are on (1 + mistakes, trials, watched).
    """

    trials: tuple[Trial, ...]
    pairs: tuple[Pair, ...]
    direct: tuple[bool, ...]
    watched: tuple[str, ...]
    slips: tuple[Slip, ...]
    volts: Floats
    on: Bools


def tried(system: System) -> list[Trial]:
    """The trials that mistakes are carried through: each call, each call let go, each cause where it bites."""
    every = trials(system)
    plain = {trial.on: trial for trial in every if trial.before is None}
    chosen = [trial for trial in every if trial.before is None and len(trial.on) <= 1 and not is_disturbed(trial.on)]
    chosen += [trial for trial in every if trial.before is None and _steam(trial) and not is_disturbed(trial.on)][:1]
    chosen += [trial for trial in every if not trial.on and trial.before is not None]
    for cell in system.cells:
        if cell.wanted:
            runs = [trial for trial in every if cell.cause in trial.on and _bites(system, trial, cell.loads)]
            chosen += runs[:1]
    return list(dict.fromkeys([plain[frozenset()], *chosen]))


def _steam(trial: Trial) -> bool:
    return "call:humidify" in trial.on and len(trial.on) == 2 and bool(trial.on & {"call:fan", "call:cool"})


def _bites(system: System, trial: Trial, loads: Sequence[str]) -> bool:
    """Whether the loads are called in that trial, its cause apart."""

    def on(name: str) -> Bools:
        return np.array([name in trial.on])

    facts = Facts(on, lambda name: np.array([False]), np.array([600.0]))
    texts = [system.intents[name] for name in loads if name in system.intents]
    return any(bool(read_expression(text).holds(facts)[0]) for text in texts)


def slips(system: System, progress: Callable[[float], None] | None = None) -> Slips:
    """Every single mistake of a system over all its trials. `progress` is told the share done, and may raise."""
    what, all_trials = mistakes(system), tried(system)
    carried = carried_through(system, what, all_trials, progress)
    sound, *wrong = carried.hazards
    found = [_judge(mistake, entry, sound) for mistake, entry in zip(what, wrong, strict=True)]
    rank = sorted(range(len(found)), key=lambda i: (HARMS.index(found[i].harm), i))
    pick = np.array([0, *(i + 1 for i in rank)])
    signals = set(signal_pairs(system))
    return Slips(
        trials=tuple(all_trials), pairs=carried.pairs, direct=tuple(pair in signals for pair in carried.pairs),
        watched=carried.watched, slips=tuple(found[i] for i in rank), volts=carried.volts[pick], on=carried.on[pick],
    )  # fmt: skip


def carried_through(
    system: System, what: Sequence[Mistake], all_trials: list[Trial], progress: Callable[[float], None] | None = None
) -> Solved:
    """The sound plan and each mistake in it, carried through trials; the sound plan first, then as they came."""
    plain = [number for number, mistake in enumerate(what) if not mistake.anew]
    groups = [plain[at : at + GROUP] for at in range(0, len(plain), GROUP)]
    anew = [number for number, mistake in enumerate(what) if mistake.anew]
    jobs: list[Callable[[], Solved]] = [
        _job(system, [what[number] for number in group], all_trials) for group in groups
    ]
    jobs += [_anew(system, what[number], all_trials) for number in anew]
    parts = [_solve(system, Compiled(system.network), [None], all_trials)]
    for number, job in enumerate(jobs, 1):
        parts.append(job())
        if progress is not None:
            progress(number / len(jobs))
    order = [0, *(number + 1 for number in (*(n for group in groups for n in group), *anew))]
    place = np.argsort(order)
    hazards = _each(parts)
    return Solved(
        hazards=[hazards[at] for at in place],
        volts=np.concatenate([part.volts for part in parts])[place],
        on=np.concatenate([part.on for part in parts])[place],
        pairs=parts[0].pairs,
        watched=parts[0].watched,
    )


Hazards = list[tuple[str, tuple[str, ...], Bools]]


@dataclass(frozen=True)
class Solved:
    """Some mistakes solved: hazards of each by trial, what a meter reads, what is on (mistakes, trials, …)."""

    hazards: list[Hazards]
    volts: Floats
    on: Bools
    pairs: tuple[Pair, ...]
    watched: tuple[str, ...]


def _each(parts: list[Solved]) -> list[Hazards]:
    return [entry for part in parts for entry in part.hazards]


def _job(system: System, group: list[Mistake], all_trials: list[Trial]) -> Callable[[], Solved]:
    def work() -> Solved:
        extras: dict[str, Extra] = {extra.name: extra for mistake in group for extra in mistake.extra}
        net = Compiled(system.network, extras=tuple(extras.values()))
        return _solve(system, net, list(group), all_trials)

    return work


def _anew(system: System, mistake: Mistake, all_trials: list[Trial]) -> Callable[[], Solved]:
    def work() -> Solved:
        network = system.judging(system_with(system, mistake.patch or {}).built)
        return _solve(system, Compiled(network), [None], all_trials)

    return work


def _solve(system: System, net: Compiled, group: Sequence[Mistake | None], all_trials: list[Trial]) -> Solved:
    count = len(all_trials)
    present = usual(net, len(group) * count)
    for number, mistake in enumerate(group):
        if mistake is not None:
            columns = slice(number * count, (number + 1) * count)
            present[[net.branch[name] for name in mistake.gone], columns] = False
            present[[net.branch[extra.name] for extra in mistake.extra], columns] = True
    courses = [trial.course for _ in group for trial in all_trials]
    state = settle(net, courses, present)
    pairs, signals, watched = pairs_of(system), signal_pairs(system), tuple(watched_of(system))
    rows = [loads_of(net).names.index(name) for name in watched]
    shape = (len(group), count)
    volts, on = readings(state, pairs, signals), state.energised[rows]
    for where, left in _opened_one_by_one(net, courses, present, state):
        volts[:, where], on[:, where] = readings(left, pairs, signals), left.energised[rows]
    return Solved(
        hazards=_hazards(system, state, shape, all_trials),
        volts=volts.T.reshape(*shape, len(pairs)),
        on=on.T.reshape(*shape, len(rows)),
        pairs=pairs,
        watched=watched,
    )


def _opened_one_by_one(
    net: Compiled, courses: Sequence[Course], present: Bools, state: Solution
) -> Iterator[tuple[Ints, Solution]]:
    """What is left where a fuse or a breaker opens: the one furthest above its rating, then the next; by variant."""
    names = [(branch, part.amps) for name, branch in net.of(Fuse) if isinstance(part := net.element[name], Fuse)]
    if not names:
        return
    branches, rated = np.array([branch for branch, _ in names]), np.array([amps for _, amps in names])
    columns: Ints = np.arange(len(courses))
    while True:
        over = np.abs(branch_amps(net, state.flow.ac, state.present))[branches] / rated[:, None]
        hit = np.flatnonzero(over.max(axis=0) > 1)
        if not hit.size:
            return
        columns, present = columns[hit], present[:, hit]
        present[branches[over[:, hit].argmax(axis=0)], np.arange(len(hit))] = False
        state = settle(net, [courses[column] for column in columns], present)
        yield columns, state


def watched_of(system: System) -> list[str]:
    """What a person sees working without a meter: motors, heaters, lamps, displays, and whether units talk."""
    seen = [name for loads in system.effects.values() for name in loads]
    for key in system.devices:
        kind = system.plant.types[key]
        if kind.group in ("thermostat", "indoor unit"):
            seen += [f"{key}.{part.id}" for part in kind.inside if part.id == "BOARD"]
        seen += [f"{key}.{part.id}" for part in kind.inside if isinstance(part, Load) and part.takes == "dc_signal"]
    return sorted(dict.fromkeys(seen))


def readings(state: Solution, pairs: Sequence[Pair], signals: Sequence[Pair] = ()) -> Floats:
    """What a meter reads on each pair, rms volts; between parts that nothing joins it reads nothing: 0.

    On the pairs among `signals`, direct volts with their sign.
    """
    net, flow = state.net, state.flow
    if not pairs:
        return np.zeros((0, flow.ac.shape[1]))
    a, b = (np.array([net.index[end] for end in ends], dtype=np.int64) for ends in zip(*pairs, strict=True))
    joined = flow.paths[a] == flow.paths[b]
    read = np.abs(flow.ac[a] - flow.ac[b])
    direct = np.array([pair in set(signals) for pair in pairs])
    if direct.any():
        dc = flow.dc if flow.dc is not None else np.zeros(flow.paths.shape)
        read[direct] = dc[a[direct]] - dc[b[direct]]
    found: Floats = np.where(joined, read, 0.0)
    return found


def _hazards(system: System, state: Solution, shape: tuple[int, int], all_trials: list[Trial]) -> list[Hazards]:
    """The hazards of each mistake by trial; fuses and breakers that open count among them."""
    disturbed = np.array([is_disturbed(trial.on) for trial in all_trials])
    found: list[Hazards] = [[] for _ in range(shape[0])]
    every = [(hazard.code, hazard.about, hazard.holds) for hazard in hazards(state)]
    every += _opened(state) + _cases(system, state)
    for code, about, holds in every:
        grid = holds.reshape(shape)
        if code in QUIET:
            grid = grid & ~disturbed
        for number in np.flatnonzero(grid.any(axis=1)):
            found[number].append((code, about, grid[number]))
    return found


def _opened(state: Solution) -> Hazards:
    amps = np.abs(branch_amps(state.net, state.flow.ac, state.present))
    found: Hazards = []
    for name, branch in state.net.of(Fuse):
        part = state.net.element[name]
        assert isinstance(part, Fuse)
        opens = amps[branch] > part.amps
        if opens.any():
            found.append(("FUSE_OPENS", (name,), opens))
    return found


def _cases(system: System, state: Solution) -> Hazards:
    """A device's case that has volts to ground, or has lost its way to ground, or whose ground carries current."""
    net, ac, paths = state.net, state.flow.ac, state.flow.paths
    points = net.points(state.present)
    bars = [net.index[f"{piece['id']}.G"] for piece in system.built.pieces if piece["kind"] == "panel"]
    amps = np.abs(branch_amps(net, ac, state.present))
    found: Hazards = []
    for key, node in grounds_of(system):
        index = net.index[node]
        with_bar = np.logical_or.reduce([points[index] == points[bar] for bar in bars])
        volts = np.where(paths[index] == paths[bars[0]], np.abs(ac[index] - ac[bars[0]]), 0.0)
        found.append(("CASE_LIVE", (key,), volts >= CASE_VOLTS))
        found.append(("GROUND_OPEN", (key,), ~with_bar & (volts < CASE_VOLTS)))
        wires = np.flatnonzero((net.a == index) | (net.b == index))
        found.append(("GROUND_CARRIES", (key,), (amps[wires] > CASE_AMPS).any(axis=0) & (volts < CASE_VOLTS)))
    return found


def grounds_of(system: System) -> list[tuple[str, str]]:
    """The ground terminals of units on which the sound plan lands something: device and node."""
    return [
        (key, post.ref) for key in system.devices for post in system.plant.posts_of(key)
        if post.function == "ground" and system.plant.types[key].group not in ("panel", "joint")
        and post.ref in system.built_ends and any(piece["kind"] == "panel" for piece in system.built.pieces)
    ]  # fmt: skip


def _judge(mistake: Mistake, found: Hazards, sound: Hazards) -> Slip:
    """The gravest hazard that the sound plan does not have in the same trial."""
    before = {(code, about): holds for code, about, holds in sound}
    worst: tuple[int, int, str, tuple[str, ...]] | None = None
    for code, about, holds in found:
        fresh = holds & ~before.get((code, about), np.zeros_like(holds))
        if fresh.any():
            harm = HARM_OF[code]
            entry = (HARMS.index(harm), int(np.flatnonzero(fresh)[0]), code, about)
            worst = min(worst, entry) if worst else entry
    if worst is None:
        return Slip(mistake, "none", None, (), None)
    return Slip(mistake, HARMS[worst[0]], worst[2], worst[3], worst[1])
