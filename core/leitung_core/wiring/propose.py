"""Propose landings: by the convention for that number of conductors and that kind of system, proved by terminals."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from typing import Any

from leitung_core.catalogue.functions import functions
from leitung_core.plan.wired import EndName
from leitung_core.plant.colours import GROUND_COLOURS, GROUNDED_COLOURS, UNGROUNDED
from leitung_core.plant.plant import ENDS, Plant, Post, Wire, other
from leitung_core.wiring.conventions import FIRST_STAGE, convention_for, out_of_system, system_of, usual_colours
from leitung_core.wiring.fixes import awaiting


@dataclass(frozen=True)
class Proposed:
    """One conductor of a proposal: on which terminals, for what; without terminals it is spare and capped."""

    conductor: str
    function: str | None = None
    a: str | None = None
    b: str | None = None


@dataclass(frozen=True)
class Proposal:
    """Landings for one cable. `left_out` holds what both ends have and no conductor carries."""

    convention: str | None
    landings: tuple[Proposed, ...]
    left_out: tuple[str, ...]
    patch: dict[str, Any]


def propose_landings(plant: Plant, cable_id: str) -> Proposal:
    """The landings of a cable by the convention; conductors that nothing needs are capped at both ends.

    Nothing is moved that the convention would not move: `patch` holds only what differs from what is landed now.
    """
    wires = plant.wires[cable_id]
    cable = plant.plan.cables[cable_id]
    free = {end: _free(plant, cable_id, end) for end in ENDS}
    ahead = {end for end in ENDS if _is_safety(plant, cable.at(other(end)).device)}
    system = cable.system or system_of(*(_names(free[end]) for end in ENDS))
    wanted = [name for name in both_have(free) if not out_of_system(cable.system, name) and _fits(wires, name)]
    convention = convention_for(system, len(wires))
    if convention is not None and not set(convention.colours) <= {wire.id for wire in wires}:
        convention = None
    meant: dict[str, str] = {}
    for colour, choices in (convention.colours if convention else {}).items():
        fitting = [name for name in choices if name in wanted and name not in meant.values()]
        meant |= {colour: fitting[0]} if fitting else {}
    carried = set(meant.values())
    needed = [name for name in wanted if name not in carried and (convention is None or _required(free, name))]
    spare = [wire.id for wire in wires if wire.id not in meant]
    for name in needed:
        chosen = _colour_for(name, spare)
        if chosen is not None:
            meant[chosen] = name
            spare.remove(chosen)
    _give_way(plant, cable_id, meant)
    taken: dict[str, str] = {}
    landings = tuple(_landing(wire, meant.get(wire.id), free, taken, ahead) for wire in wires)
    landed = {landing.function for landing in landings}
    left_out = tuple(name for name in wanted if name not in landed)
    return Proposal(convention.says() if convention else None, landings, left_out, _patch(cable_id, wires, landings))


def _give_way(plant: Plant, cable_id: str, meant: dict[str, str]) -> None:
    """Take from second stages that can wait the last conductors, which an accessory at an end needs."""
    if not FIRST_STAGE.keys() & set(meant.values()):
        return
    cable = plant.plan.cables[cable_id]
    posts = [post for end in (cable.a, cable.b) for post in plant.posts_of(end.device)]
    lacking = len([*awaiting(plant, posts)]) - (len(plant.wires[cable_id]) - len(meant))
    for conductor, name in [*meant.items()][::-1]:
        landed = any(plant.on.get(post.ref) for post in posts if post.function == name)
        if lacking > 0 and FIRST_STAGE.get(name) in meant.values() and not landed:
            del meant[conductor]
            lacking -= 1


def _free(plant: Plant, cable_id: str, end: EndName) -> list[Post]:
    """Terminals at an end that this cable may use: what others hold counts, what it holds itself does not."""
    found = []
    for post in plant.reachable(plant.plan.cables[cable_id], end):
        others = [entry for entry in plant.on.get(post.ref, ()) if entry[0].cable_id != cable_id]
        if len(others) < (post.terminal.takes or 1):
            found.append(post)
    return found


def _names(posts: Iterable[Post]) -> set[str]:
    return {post.function for post in posts if post.function}


def _accepting(posts: Iterable[Post]) -> set[str]:
    return {name for post in posts if not post.function for name in post.terminal.accepts}


def both_have(free: dict[EndName, list[Post]]) -> list[str]:
    """Functions that can be carried: named at both ends, or named at one and accepted at the other."""
    named = {end: _names(free[end]) for end in ENDS}
    taken = {end: named[end] | _accepting(free[end]) for end in ENDS}
    both = (named["a"] | named["b"]) & taken["a"] & taken["b"]
    return [name for name in functions() if name in both]


def _fits(wires: list[Wire], function: str) -> bool:
    """Class 2 cable carries no line voltage, and a power cable nothing of Class 2."""
    kind, make = functions()[function].kind, wires[0].make if wires else None
    if make is None or make.family is None:
        return True
    return (kind in ("line", "signal", "ground")) != make.class_2


def _required(free: dict[EndName, list[Post]], function: str) -> bool:
    return any(post.terminal.required for end in ENDS for post in free[end] if post.function == function)


def _colour_for(function: str, spare: list[str]) -> str | None:
    """A spare conductor for a function: its usual colour, else the first that misleads nobody."""
    usual = [colour for colour in usual_colours().get(function, ()) if colour in spare]
    if usual:
        return usual[0]
    if functions()[function].kind == "ground":
        return None
    keep = functions()[function].kind in ("line", "signal")
    return next((colour for colour in spare if not (keep and colour in GROUND_COLOURS)), None)


def _is_safety(plant: Plant, device_id: str) -> bool:
    return device_id in plant.types and plant.types[device_id].group == "safety"


def _landing(
    wire: Wire, function: str | None, free: dict[EndName, list[Post]], taken: dict[str, str], ahead: Collection[EndName]
) -> Proposed:
    """Where a conductor lands: where it does already, if that will do. A terminal that means nothing of its own takes
    one function; `taken` says which. `ahead`: ends at which a safety device gets its 24 V, ahead of a loop that it
    may open, where there is one."""
    conductor = wire.id
    if function is None:
        return Proposed(conductor)
    ends: dict[EndName, str] = {}
    for end in ENDS:
        named = [post.ref for post in free[end] if post.function == function]
        accepting = [
            post.ref for post in free[end]
            if not post.function and function in post.terminal.accepts and taken.get(post.ref, function) == function
        ]  # fmt: skip
        first, then = (accepting, named) if end in ahead and function == "hot" else (named, accepting)
        fitting, now = [*first, *then], wire.end(end).terminal
        ref = now if now in fitting else next(iter(fitting), None)
        if ref is None:
            return Proposed(conductor)
        ends[end] = ref
    taken |= dict.fromkeys(ends.values(), function)
    return Proposed(conductor, function, ends["a"], ends["b"])


def _patch(cable_id: str, wires: list[Wire], landings: Iterable[Proposed]) -> dict[str, Any]:
    """The merge patch that lands the proposal; empty where everything stands so already.

    A conductor that the convention leaves spare and that was landed for something else keeps its landing.
    """
    conductors: dict[str, Any] = {}
    used = {ref for landing in landings for ref in (landing.a, landing.b)}
    for wire, landing in zip(wires, landings, strict=True):
        change: dict[str, Any] = {}
        for end, ref in (("a", landing.a), ("b", landing.b)):
            now = wire.end("a" if end == "a" else "b")
            if ref is not None and now.terminal != ref:
                change[end] = {"terminal": ref, "capped": None, "pigtail": None}
                if landing.function in UNGROUNDED and wire.colour in GROUNDED_COLOURS and not now.reidentified:
                    change[end]["reidentified"] = usual_colours()[landing.function][0]
            elif ref is None and not now.capped and (now.terminal is None or now.terminal in used):
                change[end] = {"terminal": None, "capped": True, "pigtail": None}
        if change:
            conductors[wire.id] = change
    return {"cables": {cable_id: {"conductors": conductors}}} if conductors else {}
