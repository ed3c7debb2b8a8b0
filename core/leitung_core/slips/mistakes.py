"""Every single mistake that a slip of the hand can make in a system: what it is, in words, and what it changes.

Two conductors swapped at an end, a conductor open, two neighbouring terminals bridged, a lead on another tap or on the
other side of a contact, a jumper left in or out, a setting wrong; a pair, a plug or a whole cable moved together.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import combinations, pairwise
from typing import Any, Literal

from leitung_core.catalogue.device import DeviceType
from leitung_core.control.system import System
from leitung_core.elements.vocabulary import Contact, Jumper, Transformer
from leitung_core.plan.wired import EndName
from leitung_core.plant.plant import ENDS, Post, Wire, other, setting_of
from leitung_core.solver.compiled import CLOSED_OHMS, Extra
from leitung_core.solver.network import Conductor
from leitung_core.units import sentence

Kind = Literal["swap", "open", "bridge", "tap", "side", "moved", "jumper", "setting"]


@dataclass(frozen=True)
class Mistake:
    """One slip. `gone` and `extra` are branches that it takes out and puts in; `patch` is the change of the plan.

    A bridge is no change of a plan: it has none. A setting that moves contacts otherwise has no branches: `anew`.
    """

    id: str
    kind: Kind
    says: str
    about: str
    gone: tuple[str, ...] = ()
    extra: tuple[Extra, ...] = ()
    patch: dict[str, Any] | None = field(default=None, hash=False)
    anew: bool = False


def mistakes(system: System) -> list[Mistake]:
    """Every single mistake of a system, cable by cable, then device by device."""
    found = [*_in_cables(system), *_exchanged(system), *_at_devices(system)]
    return list({mistake.id: mistake for mistake in found}.values())


def _wires(system: System) -> Iterator[tuple[str, list[Wire]]]:
    """The cables of the system with their conductors that are landed at both ends."""
    landed = {conductor["id"] for conductor in system.built.conductors}
    for key, wires in system.plant.wires.items():
        there = [wire for wire in wires if f"{key}/{wire.id}" in landed]
        if there:
            yield key, there


def _in_cables(system: System) -> Iterator[Mistake]:
    for key, wires in _wires(system):
        for wire in wires:
            says = f"{wire.colour} of {key} is open."
            patch = _landed((wire, "b", None))
            yield Mistake(f"open/{key}/{wire.id}", "open", says, f"cables/{key}", (name_of(wire),), (), patch)
        for end in ENDS:
            for one, two in combinations(wires, 2):
                yield from _swap(system, key, end, one, two)
            for wire in wires:
                yield from _elsewhere(system, key, end, wire)
            yield from _together(system, key, end, wires)


def _together(system: System, key: str, end: EndName, wires: list[Wire]) -> Iterator[Mistake]:
    """All conductors of a cable moved at one end: a pair elsewhere on its strip, a plug one over, another strip."""
    posts = [system.plant.post(wire, end) for wire in wires]
    here = [post for post in posts if post is not None]
    if len(here) < max(2, len(wires)) or len({(post.device_id, post.strip.id) for post in here}) != 1:
        return
    first = here[0]
    strips = {strip.id: [terminal.id for terminal in strip.terminals]
              for strip in system.plant.types[first.device_id].strips}  # fmt: skip
    own = strips[first.strip.id]
    at = [own.index(post.terminal.id) for post in here]
    if len(here) == PAIR:
        for places in combinations(range(len(own)), PAIR):
            if set(places) != set(at):
                yield _all_at(system, key, end, wires, [f"{first.strip.id}.{own[place]}" for place in places])
    for over in (-1, 1):
        if first.terminal.hardware in PLUGS and all(0 <= place + over < len(own) for place in at):
            yield _all_at(system, key, end, wires, [f"{first.strip.id}.{own[place + over]}" for place in at])
    for name, terminals in strips.items():
        if name != first.strip.id and len(terminals) >= len(here):
            yield _all_at(system, key, end, wires, [f"{name}.{terminal}" for terminal in terminals[: len(here)]])


def _exchanged(system: System) -> Iterator[Mistake]:
    """Two whole cables exchanged between strips alike at one device: the zones of an outdoor unit."""
    at: dict[str, list[tuple[str, EndName, list[tuple[Wire, Post]]]]] = {}
    for key, wires in _wires(system):
        for end in ENDS:
            posts = [(wire, post) for wire in wires if (post := system.plant.post(wire, end)) is not None]
            if len(posts) > 1 and len({(post.device_id, post.strip.id) for _, post in posts}) == 1:
                at.setdefault(posts[0][1].device_id, []).append((key, end, posts))
    for device, ends in at.items():
        for (one, end, first), (two, far_end, second) in combinations(ends, 2):
            here, there = first[0][1].strip, second[0][1].strip
            alike = [[(entry.id, entry.function) for entry in strip.terminals] for strip in (here, there)]
            if one == two or here.id == there.id or alike[0] != alike[1]:
                continue
            moves = [(wire, end, f"{device}.{there.id}.{post.terminal.id}") for wire, post in first]
            moves += [(wire, far_end, f"{device}.{here.id}.{post.terminal.id}") for wire, post in second]
            yield Mistake(
                f"exchanged/{device}/{one}/{two}", "moved",
                f"{one} and {two} are exchanged at {device}: {here.name} and {there.name}.", f"cables/{one}",
                tuple(name_of(wire) for wire, _, _ in moves),
                tuple(_moved(system, wire, which, ref) for wire, which, ref in moves), _landed(*moves),
            )  # fmt: skip


PAIR = 2
PLUGS = ("spade", "blade", "plug")


def _all_at(system: System, key: str, end: EndName, wires: list[Wire], refs: list[str]) -> Mistake:
    """Every conductor of a cable with this end on another terminal of the same device."""
    device = wires[0].device(end)
    there = [system.plant.posts[f"{device}.{ref}"] for ref in refs]
    moved = tuple(_moved(system, wire, end, post.ref) for wire, post in zip(wires, there, strict=True))
    patch = _landed(*((wire, end, post.ref) for wire, post in zip(wires, there, strict=True)))
    names = " and ".join(wire.colour for wire in wires) if len(wires) == PAIR else "all conductors"
    labels = ", ".join(post.label for post in there)
    says = f"{names} of {key} {'are' if len(wires) > 1 else 'is'} on {labels} at {device}."
    ident = f"moved/{key}/{end}/{'/'.join(refs)}"
    return Mistake(ident, "moved", sentence(says), f"cables/{key}", tuple(map(name_of, wires)), moved, patch)


def name_of(wire: Wire) -> str:
    """A conductor's name in the network."""
    return f"{wire.cable_id}/{wire.id}"


def _swap(system: System, key: str, end: EndName, one: Wire, two: Wire) -> Iterator[Mistake]:
    first, second = system.plant.post(one, end), system.plant.post(two, end)
    if first is None or second is None or first.ref == second.ref:
        return
    moved = (_moved(system, one, end, second.ref), _moved(system, two, end, first.ref))
    patch = _landed((one, end, second.ref), (two, end, first.ref))
    yield Mistake(
        f"swap/{key}/{end}/{one.id}/{two.id}", "swap",
        f"{one.colour} and {two.colour} of {key} are swapped at {first.device_id}: {first.label} and {second.label}.",
        f"cables/{key}", (name_of(one), name_of(two)), moved, patch,
    )  # fmt: skip


def _moved(system: System, wire: Wire, end: EndName, ref: str) -> Extra:
    """The conductor with this end on another terminal."""
    far, whole = system.plant.post(wire, other(end)), system.by_name[name_of(wire)]
    assert far is not None
    assert isinstance(whole, Conductor)
    return Extra(f"{name_of(wire)}@{end}={ref}", ref, far.ref, whole.ohms or 0.0)


def _landed(*ends: tuple[Wire, EndName, str | None]) -> dict[str, Any]:
    """The change of the plan that lands ends elsewhere; nowhere: capped."""
    cables: dict[str, Any] = {}
    for wire, end, ref in ends:
        landing = {"terminal": ref, "capped": None} if ref else {"terminal": None, "capped": True}
        cables.setdefault(wire.cable_id, {"conductors": {}})["conductors"][wire.id] = {end: landing}
    return {"cables": cables}


def _elsewhere(system: System, key: str, end: EndName, wire: Wire) -> Iterator[Mistake]:
    """A lead on another tap of its transformer, or on the other side of a changeover contact."""
    post = system.plant.post(wire, end)
    if post is None:
        return
    kind = system.plant.types[post.device_id]
    for what, others in (("tap", _taps(kind, post)), ("side", _sides(kind, post))):
        for ref in others:
            there = system.plant.posts[f"{post.device_id}.{ref}"]
            says = f"{wire.colour} of {key} is on {there.label} instead of {post.label} at {post.device_id}."
            yield Mistake(
                f"{what}/{key}/{end}/{wire.id}/{ref}", "tap" if what == "tap" else "side", says, f"cables/{key}",
                (name_of(wire),), (_moved(system, wire, end, there.ref),), _landed((wire, end, there.ref)),
            )  # fmt: skip


def _local(post: Post) -> str:
    return f"{post.strip.id}.{post.terminal.id}"


def _taps(kind: DeviceType, post: Post) -> list[str]:
    for part in kind.inside:
        if isinstance(part, Transformer):
            taps = [tap.terminal for tap in part.primary_taps if not tap.terminal.startswith("_")]
            if _local(post) in taps:
                return [tap for tap in taps if tap != _local(post)]
    return []


def _sides(kind: DeviceType, post: Post) -> list[str]:
    """The other throw of a changeover: a contact with the same common, at rest the other way."""
    here = [part for part in kind.inside if isinstance(part, Contact) and _local(post) in (part.a, part.b)]
    found = []
    for mine in here:
        for part in kind.inside:
            if isinstance(part, Contact) and part.operated_by == mine.operated_by and part.normally != mine.normally:
                shared = {mine.a, mine.b} & {part.a, part.b}
                away = {part.a, part.b} - shared
                if len(shared) == 1 and _local(post) not in shared and len(away) == 1:
                    found.append(away.pop())
    return [ref for ref in dict.fromkeys(found) if not ref.startswith("_")]


def _at_devices(system: System) -> Iterator[Mistake]:
    for key in system.devices:
        kind = system.plant.types[key]
        yield from _bridges(system, key, kind)
        yield from _settings(system, key, kind)


def _bridges(system: System, key: str, kind: DeviceType) -> Iterator[Mistake]:
    """Neighbouring terminals of which both are in use: a whisker of copper between them."""
    if kind.group in ("panel", "disconnect"):
        return
    used = {post.ref for post in system.plant.posts_of(key) if system.plant.on.get(post.ref)}
    for strip in kind.strips:
        for left, right in pairwise(strip.terminals):
            refs = f"{key}.{strip.id}.{left.id}", f"{key}.{strip.id}.{right.id}"
            if not set(refs) <= used:
                continue
            names = f"{left.label or left.id} and {right.label or right.id}"
            yield Mistake(
                f"bridge/{refs[0]}/{refs[1]}", "bridge", f"{names} are bridged at {key}.", f"devices/{key}", (),
                (Extra(f"bridge {refs[0]} {refs[1]}", *refs, CLOSED_OHMS),),
            )  # fmt: skip


def _settings(system: System, key: str, kind: DeviceType) -> Iterator[Mistake]:
    """Another value of each setting that changes something inside."""
    settings = system.plant.plan.devices[key].settings
    for name, setting in kind.settings.items():
        now = setting_of(kind, settings, name)
        jumpers = [part for part in kind.inside if isinstance(part, Jumper) and part.setting == name]
        moves = any(
            isinstance(part, Contact) and (name in (part.operated_by_setting or {}) or part.delay_on_setting == name)
            and system.used(key, part)
            for part in kind.inside
        )  # fmt: skip
        for value in setting.ends:
            if value == now or not (jumpers or moves):
                continue
            says = f"{key}: {setting.says} is set to {setting.words(value)}."
            patch = {"devices": {key: {"settings": {name: value}}}}
            gone = tuple(f"{key}.{part.id}" for part in jumpers if now in part.values and value not in part.values)
            extra = tuple(
                Extra(f"{key}.{part.id}", f"{key}.{part.a}", f"{key}.{part.b}", part.ohms)
                for part in jumpers if value in part.values and now not in part.values
            )  # fmt: skip
            kind_word: Kind = "jumper" if jumpers and not moves else "setting"
            yield Mistake(f"set/{key}/{name}/{value}", kind_word, says, f"devices/{key}", gone, extra, patch, moves)
