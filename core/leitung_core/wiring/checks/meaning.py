"""What a conductor means at each end: one thing all along its way, or a finding that says what would happen."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from leitung_core.catalogue.functions import KIND_WORDS
from leitung_core.findings import Finding, finding
from leitung_core.plan.wired import EndName
from leitung_core.plant.plant import ENDS, Plant, Post, Wire, other
from leitung_core.wiring.checks.calls import convention_of
from leitung_core.wiring.conventions import usual_colours
from leitung_core.wiring.fixes import cap, free_post, land, on_ends, swap

LOW = ("low", "data", "sense")
QUIET = ("data", "sense")
POLES = ("line-1", "line-2", "line-3")
OPPOSITE = ({"data-plus", "data-minus"}, {"head-plus", "head-minus"})
VALVE = {"valve-cool", "valve-heat"}
# The line terminals between the units of a mini-split: an accessory may be fed from them where the manual allows.
PAIR = {"pair-1", "pair-2"}


@dataclass(frozen=True)
class Clash:
    """A conductor between two terminals that mean different things: the finding's code, and what it would do."""

    code: str
    harm: str


def clash(one: Post, two: Post) -> Clash | None:
    """What a conductor between two terminals would do; None where they mean the same, or one means nothing."""
    if one.through or two.through:
        return None
    if one.function == two.function and one.kind == two.kind:
        return None
    kinds, names = {one.kind, two.kind}, {one.function, two.function}
    if "line" in kinds and "signal" in kinds:
        return Clash("signal-crossed", "line voltage on the signal input destroys both boards")
    if "line" in kinds and kinds & set(LOW):
        volts = KIND_WORDS[two.kind if one.kind == "line" else one.kind]
        return Clash("line-on-low", f"line voltage on a {volts} terminal destroys what is behind it")
    if kinds & set(QUIET) and kinds - set(QUIET):
        return Clash("two-meanings", "a sensor's or data conductor on another circuit: nothing is understood there")
    if None in names or one.function == two.function:
        return None
    return _between(one, two, names - {None})  # type: ignore[arg-type]


def _between(one: Post, two: Post, names: set[str]) -> Clash | None:
    if names in OPPOSITE:
        return Clash("data-crossed", "the pair has a polarity: crossed, nothing is understood")
    if names == {"pair-1", "pair-2"}:
        return Clash("signal-crossed", "the signal returns over the line: its input destroys itself on line voltage")
    if names & PAIR and names <= PAIR | set(POLES) | {"neutral"}:
        return None
    if names <= set(POLES):
        return Clash("pole-crossed", "the legs change their poles: motors turn backwards")
    if names == VALVE:
        return Clash("valve-sense", "the unit heats when it should cool")
    if names & VALVE and "common" in names:
        common = one if one.function == "common" else two
        return Clash(
            "valve-on-common",
            f"{common.at} is a common there: the call shorts the transformer of the other board",
        )
    if names == {"hot", "common"}:
        return Clash("two-meanings", "24 V is shorted: the fuse opens or the transformer burns")
    if "ground" in names:
        return Clash("two-meanings", "a live conductor on ground, and a ground left open")
    return Clash("two-meanings", "the call arrives as something else, or not at all")


def clash_of(plant: Plant, wire: Wire) -> tuple[Post, Post, Clash] | None:
    """A conductor whose two terminals mean different things, with both and what it would do."""
    one, two = plant.post(wire, "a"), plant.post(wire, "b")
    found = clash(one, two) if one and two else None
    if not one or not two or not found or (found.code == "pole-crossed" and not _three_phase(plant, one, two)):
        return None
    return one, two, found


def _three_phase(plant: Plant, *posts: Post) -> bool:
    """Whether the order of the legs matters: on two poles an exchange of hots is nothing."""
    return all(any(p.function == "line-3" for p in plant.posts_of(post.device_id)) for post in posts)


def harmed_end(plant: Plant, wire: Wire) -> EndName | None:
    """The end at which a conductor does its harm; None where it does none."""
    found = clash_of(plant, wire)
    return _harmed(*found[:2]) if found else None


def wires_that_clash(plant: Plant) -> Iterator[Finding]:
    """Each conductor whose two terminals mean different things; two that are exchanged are told as one."""
    told: set[str] = set()
    for wire in plant.every_wire():
        found = clash_of(plant, wire)
        if found is None or wire.about in told:
            continue
        end = _harmed(*found[:2])
        partner = _counterpart(plant, wire, end)
        mutual = partner if partner and clash_of(plant, partner) and _counterpart(plant, partner, end) is wire else None
        if mutual is not None:
            told.add(mutual.about)
        yield _report(plant, wire, end, mutual, *found)


def nets_that_clash(plant: Plant) -> Iterator[Finding]:
    """Meanings that meet through a joint, although no single conductor joins two terminals that differ."""
    seen: set[frozenset[str]] = set()
    for net in plant.nets.values():
        if len(net.meanings) < 2 or net.refs in seen:
            continue
        seen.add(net.refs)
        landed = [(wire, end) for ref in sorted(net.refs) for wire, end in plant.on.get(ref, ())]
        own = [(wire, end, post) for wire, end in landed if (post := plant.post(wire, end)) and post.function]
        if not own or any((p := plant.post(wire, other(end))) and clash(post, p) for wire, end, post in own):
            continue
        # The one that is out of step: what the fewest of the landed conductors mean.
        counts = Counter(post.function for _, _, post in own)
        wire, end, post = min(own, key=lambda entry: (counts[entry[2].function], entry[0].about))
        rest = [plant.posts[ref] for ref in sorted(net.refs) if ref in plant.posts]
        most = next(other for other in rest if other.function not in (None, post.function))
        found = clash(post, most)
        if found is not None and (found.code != "pole-crossed" or _three_phase(plant, post, most)):
            message = f"{wire.colour} of {wire.cable_id}, {post.at}, is joined to {most.at}: {found.harm}."
            fix = on_ends(wire.cable_id, {wire.id: {end: cap()}})
            yield finding(found.code, f"{wire.about}/{end}", message, f"Cap {wire.colour} at {post.device_id}", fix)


def _report(plant: Plant, wire: Wire, end: EndName, mutual: Wire | None, one: Post, two: Post, found: Clash) -> Finding:
    label, fix = _remedy(plant, wire, end, found)
    message = f"{wire.colour.capitalize()} leaves {one.at} and arrives on {two.at}"
    there = (plant.post(mutual, "a"), plant.post(mutual, "b")) if mutual else (None, None)
    if mutual and there[0] and there[1]:
        message += f"; {mutual.colour} leaves {there[0].label} and arrives on {there[1].label}"
    message += f": {found.harm}."
    strip = two.strip if end == "b" else one.strip
    if found.code == "signal-crossed" and _reads_backwards(strip.terminals[0].id, strip.terminals[-1].id):
        message += (
            f" The strip at {(two if end == 'b' else one).device_id} reads the other way: match names, not places."
        )
    return finding(found.code, f"{wire.about}/{end}", message, label, fix)


def _reads_backwards(first: str, last: str) -> bool:
    return last.isdigit() and not first.isdigit()


def _harmed(one: Post, two: Post) -> EndName:
    """The end at which the harm is done: where line voltage does not belong, else the far end."""
    return "a" if one.kind != "line" and two.kind == "line" else "b"


def _remedy(plant: Plant, wire: Wire, end: EndName, found: Clash) -> tuple[str | None, dict[str, Any] | None]:
    """Exchange it with its counterpart, else move it to the right terminal, else take it off and cap it."""
    if found.code == "valve-sense":
        setting = _valve_setting(plant, wire)
        if setting is not None:
            return setting
    partners = [(side, partner) for side in (end, other(end)) if (partner := _counterpart(plant, wire, side))]
    if partners:
        side, partner = max(partners, key=lambda entry: _by_colour(plant, wire, *entry))
        device = (wire.end(side).terminal or "").split(".")[0]
        return f"Swap {wire.colour} and {partner.colour} at {device}", swap(wire, partner, side)
    for side in (end, other(end)):
        target, function = plant.post(wire, side), _function_at(plant, wire, other(side))
        right = free_post(plant, target.device_id, function) if target and function else None
        if right is not None:
            patch = on_ends(wire.cable_id, {wire.id: {side: land(right.ref)}})
            return f"Move {wire.colour} to {right.at}", patch
    device = (wire.end(end).terminal or "").split(".")[0]
    return f"Cap {wire.colour} at {device}", on_ends(wire.cable_id, {wire.id: {end: cap()}})


def _by_colour(plant: Plant, wire: Wire, side: EndName, partner: Wire) -> int:
    """How many of two conductors stand for what their colour says, by the end that an exchange leaves alone."""
    expected = convention_of(plant, wire.cable_id)
    return sum(
        function in expected.get(one.colour, ()) or one.colour in usual_colours().get(function, ())
        for one in (wire, partner)
        if (function := _function_at(plant, one, other(side)))
    )


def _function_at(plant: Plant, wire: Wire, end: EndName) -> str | None:
    post = plant.post(wire, end)
    return post.function if post else None


def _counterpart(plant: Plant, wire: Wire, end: EndName) -> Wire | None:
    """A conductor of the same cable: exchanged with it at this end, this one is right, and it does no harm."""
    mine, here = plant.post(wire, other(end)), plant.post(wire, end)
    for partner in plant.wires[wire.cable_id]:
        theirs, there = plant.post(partner, other(end)), plant.post(partner, end)
        if partner is wire or mine is None or here is None or there is None or there.ref == here.ref:
            continue
        sets_right = clash(mine, there) is None and mine.function == there.function
        if sets_right and (theirs is None or clash(theirs, here) is None):
            return partner
    # A ring of three or more: set at least this one right.
    for partner in plant.wires[wire.cable_id]:
        there, theirs = plant.post(partner, end), plant.post(partner, other(end))
        if partner is wire or mine is None or there is None or mine.function is None:
            continue
        if mine.function == there.function and theirs and clash(theirs, there):
            return partner
    return None


def _valve_setting(plant: Plant, wire: Wire) -> tuple[str, dict[str, Any]] | None:
    """The setting at one end that makes its terminal mean what the other end does."""
    for end in ENDS:
        post, wanted = plant.post(wire, end), _function_at(plant, wire, other(end))
        for setting, by_value in ((post and post.terminal.function_by) or {}).items():
            value = next((value for value, function in by_value.items() if function == wanted), None)
            if post is not None and value is not None:
                says = plant.types[post.device_id].settings[setting].words(value)
                return f"Set {post.device_id} to {says}", {"devices": {post.device_id: {"settings": {setting: value}}}}
    return None


RULES = (wires_that_clash, nets_that_clash)
