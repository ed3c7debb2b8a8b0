"""Lock-out computed from the network: what to open so that what a hand touches is dead, and the proof of it.

The least set of devices is a cut between every supply and the touched terminals (`live_ways`). The solver then runs
the plan with it open: every call and cause, every contact in both positions.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict

from leitung_core.commissioning.dead import DEAD_V
from leitung_core.commissioning.live_ways import Isolator, Kind, Ways
from leitung_core.elements.vocabulary import Capacitor, Contact, DcSource, nodes_of
from leitung_core.errors import InputError, Problem
from leitung_core.plant.plant import Plant
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Course, Solution, Stretch, settle
from leitung_core.solver.network import Network

COUNT = 1_000_000  # one device more weighs more than any preference
FORCED = 6  # mixes of contacts held by hand, beside all of them closed and all open
SEED = 20


class _Frozen(BaseModel):
    model_config = ConfigDict(frozen=True)


class Opened(_Frozen):
    """A device to open and lock, and what it would keep alive."""

    device: str
    kind: Kind
    why: str


class StaysLive(_Frozen):
    """A strip in the same enclosure that is live all the same, at the most so many V to ground or within it."""

    at: str
    volts: float
    why: str


class LockOut(_Frozen):
    """What to open, what else would do, what stays live, and whether the solver has found the touched parts dead."""

    open: list[Opened]
    also: list[list[str]]
    stays_live: list[StaysLive]
    cautions: list[str]
    proved: bool
    states: int


def lock_out(plant: Plant, touch: Sequence[str]) -> LockOut:
    """The lock-out for some devices, or strips as `DEVICE.STRIP`. Raises InputError where there is no such thing."""
    touched = _touched(plant, touch)
    ways = Ways(plant)
    devices = list(dict.fromkeys(name.partition(".")[0] for name in touch))
    cost = {key: COUNT + _rank(plant, key, devices) for key in ways.through}
    # What no device in the plan can part from its supply stays live, whatever is opened.
    bare = ways.live(ways.through)
    reachable = [node for node in touched if node not in bare]
    chosen = _needed(ways, ways.least(reachable, cost) or [], touched, cost)
    live = ways.live(chosen)
    volts = _Volts(_states(ways, chosen))
    unknown = list(_unknown(ways, devices))
    strips = _live_strips(plant, ways, devices, touched, live, volts)
    return LockOut(
        open=[Opened(device=key.name, kind=key.kind, why=_why(ways, key, chosen, touched)) for key in chosen],
        also=_also(ways, reachable, cost, chosen),
        stays_live=strips,
        cautions=[*unknown, *_cautions(plant, devices, chosen, [node for node in touched if node in bare])],
        proved=not unknown and volts.most(touched) <= DEAD_V,
        states=volts.states,
    )  # fmt: skip


def lock_out_of_line(plant: Plant, line_id: str) -> LockOut | None:
    """The lock-out for everything of a line's unit: each of its devices that is in service; None where none is drawn.

    Raises InputError where there is no such line.
    """
    circuit = plant.plan.circuits.get(line_id)
    if circuit is None:
        known = ", ".join(sorted(plant.plan.circuits)[:8]) or "none"
        raise InputError(Problem("line", line_id, "is no line of this plan", f"The plan has: {known}."))
    mine = [key for key in plant.index.devices_of_unit.get(circuit.equipment, ())
            if key in plant.types and plant.plan.devices[key].state != "removed" and plant.posts_of(key)]  # fmt: skip
    return lock_out(plant, mine) if mine and circuit.equipment else None


# What the network was built without: nobody can say that it is dead.
NOT_KNOWN = ("volts", "panel", "type")


def _unknown(ways: Ways, devices: Sequence[str]) -> Iterator[str]:
    """What is not known of the plan, so that nothing is proved: it is taken as live."""
    if ways.shorted:
        yield "A hot conductor is joined to neutral or ground: nothing is proved until it is cleared. Take it as live."
    mine = {f"devices/{device}" for device in devices}
    for note in ways.built.notes:
        if note.kind in NOT_KNOWN or (note.kind == "unfed" and note.about in mine):
            yield f"{note.says} Take it as live."


def _needed(
    ways: Ways, chosen: Sequence[Isolator], touched: Sequence[str], cost: Mapping[Isolator, int]
) -> list[Isolator]:
    """The chosen without what no state needs: what it reaches floats, and puts nothing touched under voltage.

    What the solver does not know of, a source that stands in for another, is never left out.
    """
    kept = list(chosen)
    for key in sorted(chosen, key=lambda one: -cost[one]):
        rest = [other for other in kept if other != key]
        if not ways.shorted and ways.parts[key] - {""} and not _alive(ways, rest, touched):
            kept = rest
    return kept


def _alive(ways: Ways, opened: Sequence[Isolator], touched: Sequence[str]) -> bool:
    """Whether some state puts what is touched under voltage with those open; the first is enough."""
    return any(_Volts([run]).most(touched) > DEAD_V for run in _states(ways, opened))


def volts_with(plant: Plant, touch: Sequence[str], opened: Sequence[Isolator]) -> float:
    """The highest volts that any state puts on what is touched with those open: to ground, or between two of it."""
    return _Volts(_states(Ways(plant), opened)).most(_touched(plant, touch))


def _touched(plant: Plant, touch: Sequence[str]) -> list[str]:
    found: list[str] = []
    for name in touch:
        device, _, strip = name.partition(".")
        posts = [post.ref for post in plant.posts_of(device) if not strip or post.strip.id == strip]
        if not posts:
            known = ", ".join(sorted(plant.types)[:8]) or "none"
            strips = ", ".join(dict.fromkeys(post.strip.id for post in plant.posts_of(device)))
            remedy = f"It has the strips: {strips}." if strips else f"The plan has: {known}."
            raise InputError(Problem("touch", name, "is no device or strip of this plan", remedy))
        found += posts
    if not found:
        raise InputError(Problem("touch", None, "is needed", "Name what a hand will touch: DEVICE or DEVICE.STRIP."))
    return list(dict.fromkeys(found))


def _unit_of(plant: Plant, device: str) -> str | None:
    """The unit to which a device belongs, by itself or by its line."""
    found = plant.plan.devices[device]
    circuit = plant.plan.circuits.get(found.circuit or "")
    return found.equipment or (circuit.equipment if circuit else None)


def _rank(plant: Plant, key: Isolator, devices: Sequence[str]) -> int:
    """Of sets of the same number: in sight first, then the circuit's own breaker, then what lies further up."""
    plan = plant.plan
    units = {_unit_of(plant, device) for device in devices} - {None}
    if key.kind == "plug":
        return 0 if key.name in units else 3
    device = plan.devices.get(key.name)
    circuit = plan.circuits.get((device.circuit if device else key.name) or "")
    own = circuit is not None and circuit.equipment in units
    if key.kind == "disconnect":
        seen = circuit is not None and circuit.disconnect is not None and circuit.disconnect.in_sight
        return (0 if seen else 1) if own else 3
    if key.kind == "source" or key.name in plan.sources:
        return 6
    return 2 if own else 5 if circuit is not None and circuit.feeds else 4


def _also(
    ways: Ways, touched: Sequence[str], cost: Mapping[Isolator, int], chosen: Sequence[Isolator]
) -> list[list[str]]:
    """Other sets of as few: each chosen one replaced, where something else can take its place."""
    found = {frozenset(chosen)}
    told = []
    for key in chosen:
        other = ways.least(touched, {**cost, key: COUNT * len(cost)})
        if other is not None and len(other) == len(chosen) and frozenset(other) not in found:
            found.add(frozenset(other))
            told.append([one.name for one in other])
    return told


def _why(ways: Ways, key: Isolator, chosen: Sequence[Isolator], touched: Sequence[str]) -> str:
    """What it would keep alive: a touched terminal, with all the others open."""
    live = ways.live([other for other in chosen if other != key])
    first = next((node for node in touched if node in live), None)
    return f"closed, it can put {first} under voltage" if first else "closed, it feeds what is touched"


def _live_strips(
    plant: Plant, ways: Ways, devices: Sequence[str], touched: Sequence[str], live: set[str], volts: _Volts
) -> list[StaysLive]:
    """The strips of what is touched that are live all the same."""
    found = []
    for device in devices:
        for strip in dict.fromkeys(post.strip.id for post in plant.posts_of(device)):
            nodes = [post.ref for post in plant.posts_of(device) if post.strip.id == strip]
            alive = [node for node in nodes if node in live]
            if alive:
                hand = "what is touched" if set(nodes) & set(touched) else "the same enclosure"
                why = f"{alive[0]} can be live with all of that open: {hand}"
                found.append(StaysLive(at=f"{device}.{strip}", volts=round(volts.most(nodes), 1), why=why))
    return found


def _cautions(plant: Plant, devices: Sequence[str], chosen: Sequence[Isolator], bare: Sequence[str]) -> Iterator[str]:
    if bare:
        yield f"Nothing in the plan parts {bare[0]} from its supply: the main ahead of it, or the utility."
    for key in chosen:
        source = plant.plan.sources.get(key.name)
        if source is not None and key.kind == "source" and source.starts_itself is not False:
            yield f"{source.name or key.name} can start by itself: its automatic start off before anything is opened."
    if any(plant.types[device].group == "panel" for device in devices):
        yield "The bars of the panel stay live, whatever of its breakers is off."
    if any(isinstance(part, Capacitor) for device in devices for part in plant.types[device].inside):
        yield "Capacitors hold a charge that can kill after the power is off: measure them before you reach in."
    yield "Prove dead with a meter that was proved on a live source before and after. Unknown is live."


class _Volts:
    """The highest voltage that any state has put on some terminals: to ground, or between two of them."""

    def __init__(self, runs: Iterable[Solution]) -> None:
        self._runs = list(runs)
        self.states = sum(run.flow.ac.shape[1] for run in self._runs)

    def most(self, nodes: Sequence[str]) -> float:
        return max((self._of(run, nodes) for run in self._runs), default=0.0)

    def _of(self, run: Solution, nodes: Sequence[str]) -> float:
        index = run.net.index
        mine = [index[node] for node in nodes if node in index]
        reference = index.get(run.net.network.reference or "")
        rows = [*mine, *([reference] if reference is not None else [])]
        highest = 0.0
        for flow in (run.flow.ac, run.flow.dc):
            if flow is None or not mine:
                continue
            volts, paths = flow[rows], run.flow.paths[rows]
            for row in range(len(rows)):
                # Supplies without a common conductor have no voltage between them.
                apart = np.abs(volts - volts[row]) * (paths == paths[row])
                highest = max(highest, float(apart.max()))
        return highest


def _states(ways: Ways, chosen: Sequence[Isolator]) -> Iterator[Solution]:
    """The plan with the chosen open: under every call and cause alone and together, and with contacts held by hand."""
    live = ways.live(chosen)
    gone = {part for key in chosen for part in ways.parts[key]}
    bare = _without(ways.network, gone, live)
    signals = sorted({
        part.operated_by for device in bare.devices for part in device.inside
        if isinstance(part, Contact) and part.operated_by and not part.operated_by.startswith("coil:")
    })  # fmt: skip
    calls = [name for name in signals if name.startswith("call:")]
    mixes = [[], *([name] for name in signals), calls, signals]
    draw = np.random.default_rng(SEED)
    for number in range(FORCED + 2):
        share = {0: 1.0, 1: 0.0}.get(number, 0.5)
        yield settle(Compiled(_forced(bare, draw, share)), [_course([])])
    yield settle(Compiled(bare), [_course(mix) for mix in mixes])


def _course(on: Sequence[str]) -> Course:
    return (Stretch(frozenset(on), 600.0),)


def _without(network: Network, gone: set[str], live: set[str]) -> Network:
    """The network without what is opened; a signal output whose unit is dead gives nothing."""

    def stays(device: str, part: Any) -> bool:
        if f"{device}.{part.id}" in gone:
            return False
        return not isinstance(part, DcSource) or f"{device}.{part.plus}" in live

    devices = []
    for device in network.devices:
        kept = [part for part in device.inside if stays(device.id, part)]
        # What hung on a part that is gone stays in the network, on nothing.
        nodes = dict.fromkeys([*device.internal_nodes, *(node for part in device.inside for node in nodes_of(part))])
        devices.append(device.model_copy(update={"inside": kept, "internal_nodes": list(nodes)}))
    wires = [wire for wire in network.conductors if wire.id not in gone]
    return network.model_copy(update={"devices": devices, "conductors": wires})


def _forced(network: Network, draw: np.random.Generator, share: float) -> Network:
    """Every contact held, closed by that share of them, whatever would move it."""

    def held(part: Any) -> Any:
        if not isinstance(part, Contact):
            return part
        normally: Literal["open", "closed"] = "closed" if draw.random() < share else "open"
        return part.model_copy(update={"operated_by": None, "normally": normally})

    devices = [
        device.model_copy(update={"inside": [held(part) for part in device.inside]}) for device in network.devices
    ]
    return network.model_copy(update={"devices": devices})
