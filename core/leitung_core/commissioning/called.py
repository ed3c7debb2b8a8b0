"""What each call of a system does: the loads that run, and the control volts that are then to be read, solved."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from leitung_core.commissioning.steps import ReadingPoint
from leitung_core.control.kept import kept
from leitung_core.control.probes import not_live, signal_pairs
from leitung_core.control.solved import ProbeAnswer, load_answers, one, probe_answer
from leitung_core.control.system import System
from leitung_core.control.trials import NEEDS, SETTLED_S
from leitung_core.elements.vocabulary import Load, Transformer
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Solution, Stretch, settle
from leitung_core.units import say

Pair = tuple[str, str]


@dataclass(frozen=True)
class Call:
    """A call made by itself, with what it never comes without: what runs, by name, and the VA of each device."""

    name: str
    runs: tuple[str, ...]
    va: Mapping[str, float]


@dataclass(frozen=True)
class Called:
    """A system called through. resting: what runs with nothing called. idle, lowest: its points as they read then, and
    in the call that pulls them lowest; `lowest_in` is that call. alone: the calls that never come alone, made so.
    """

    resting: Call
    calls: tuple[Call, ...]
    alone: Mapping[str, Call]
    idle: Mapping[Pair, ProbeAnswer]
    lowest: Mapping[Pair, ProbeAnswer]
    lowest_in: Mapping[Pair, str]


def called(system: System) -> Called:
    """What the calls of a system do; kept for as long as its network is the same."""
    return kept("called", system, lambda: _called(system))


def _called(system: System) -> Called:
    states = {call: state_of(system, call) for call in system.calls}
    single = [call for call, on in states.items() if len(on) > 1]
    courses = [(Stretch(on, SETTLED_S),)
               for on in (frozenset[str](), *states.values(), *(frozenset({call}) for call in single))]  # fmt: skip
    whole = settle(Compiled(system.network), courses)
    rest, *runs = (one(whole, column) for column in range(len(courses)))
    by_call = dict(zip(states, runs, strict=False))
    pairs = [*supplies(system), *_signals(system)]
    lowest, where = _lowest(pairs, by_call)
    return Called(
        resting=_call(system, "", rest),
        calls=tuple(_call(system, name, run) for name, run in by_call.items()),
        alone={name: _call(system, name, run) for name, run in zip(single, runs[len(states):], strict=True)},
        idle={pair: probe_answer(rest, *pair) for pair in pairs}, lowest=lowest, lowest_in=where,
    )  # fmt: skip


def state_of(system: System, call: str) -> frozenset[str]:
    """A call with what it never comes without: a second stage with the first, steam with the fan that carries it."""
    beside = {NEEDS.get(call), "call:fan" if call == "call:humidify" else None} & set(system.calls)
    return frozenset({call, *(name for name in beside if name)})


def _call(system: System, name: str, run: Solution) -> Call:
    va: dict[str, float] = {}
    words = []
    for entry in load_answers(run):
        part = _load(system, entry.device, entry.element)
        if part is None or not entry.energised or part.is_polar:
            continue
        va[entry.device] = va.get(entry.device, 0.0) + entry.amps * entry.volts
        if part.effect is not None:
            words.append(f"{(part.name or part.id).partition(',')[0]} of {entry.device}")
    return Call(name, tuple(dict.fromkeys(words)), va)


def _load(system: System, device: str, element: str) -> Load | None:
    """A load of a device as the catalogue has it, coils apart."""
    kind = system.plant.types.get(device)
    return next((part for part in (kind.inside if kind else ()) if part.id == element and isinstance(part, Load)), None)


def supplies(system: System) -> list[Pair]:
    """Hot and common of every device that makes its control supply itself."""
    found = []
    for key in system.devices:
        if not any(isinstance(part, Transformer) for part in system.plant.types[key].inside):
            continue
        posts = [post for post in system.plant.posts_of(key) if not_live(post) is None]
        hot = next((post.ref for post in posts if post.function == "hot"), None)
        common = next((post.ref for post in posts if post.function == "common"), None)
        if hot and common and system.built_ends.issuperset((hot, common)):
            found.append((hot, common))
    return found


def _signals(system: System) -> list[Pair]:
    """The inputs that hear direct current from another device; a pair that nothing drives reads nothing to go by."""
    posts = system.plant.posts
    return [pair for pair in signal_pairs(system) if not any(ref in posts and not_live(posts[ref]) for ref in pair)]


def _lowest(pairs: Sequence[Pair], runs: Mapping[str, Solution]) -> tuple[dict[Pair, ProbeAnswer], dict[Pair, str]]:
    lowest: dict[Pair, ProbeAnswer] = {}
    where: dict[Pair, str] = {}
    for name, run in runs.items():
        for pair in pairs:
            read = probe_answer(run, *pair)
            if read.volts is None or read.volts_dc is not None:
                continue
            before = lowest.get(pair)
            if before is None or (before.volts or 0.0) > read.volts:
                lowest[pair], where[pair] = read, name
    return lowest, where


def at_rest(system: System) -> Iterator[ReadingPoint]:
    """Control volts with nothing called, and the signals that are there then."""
    for pair, read in called(system).idle.items():
        direct = read.volts_dc is not None
        expected = read.volts_dc if direct else read.volts
        if expected is None or abs(expected) < 1:
            continue
        way = ", DC, plus on the first" if direct else ", nothing called"
        yield _point(system, pair, "signal" if direct else "idle", expected, way, "no_load", direct)


def under_load(system: System) -> Iterator[tuple[str, ReadingPoint]]:
    """The call that pulls each control supply lowest, and what it should then read."""
    found = called(system)
    for pair, read in found.lowest.items():
        if read.volts is not None and read.volts >= 1:
            way = f", {found.lowest_in[pair].partition(':')[2].replace('-', ' ')} called"
            yield found.lowest_in[pair], _point(system, pair, "loaded", read.volts, way, "running", False)


def _point(system: System, pair: Pair, name: str, expected: float, way: str, state: str, direct: bool) -> ReadingPoint:
    book, posts = system.plant.book, system.plant.posts
    around, words = float(book.factor("reading-volts")), book.percent("reading-volts")
    one_end, other = (posts[ref] for ref in pair)
    low, high = sorted((expected * (1 - around), expected * (1 + around)))
    return ReadingPoint.model_validate({
        "key": f"{one_end.device_id}.{one_end.strip.id}-{one_end.terminal.id}.{name}",
        "about": f"devices/{system.key}",
        "text": f"{one_end.label} to {other.label} at {one_end.device_id}{way}",
        "terminal_from": pair[0], "terminal_to": pair[1], "unit": "V", "state": state,
        "expected": round(expected, 2), "low": round(low, 2), "high": round(high, 2), "dc": direct,
        "tells": None if direct else "control",
        "basis": f"{say(expected)} V by the plan, solved; ± {words} as the supply goes",
    })  # fmt: skip
