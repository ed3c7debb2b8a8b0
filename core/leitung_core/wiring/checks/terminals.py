"""Terminals: how many conductors, of which gauge, and those that may not stay open."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from leitung_core.catalogue.functions import functions
from leitung_core.findings import Finding, finding
from leitung_core.plant.lines import Line
from leitung_core.plant.plant import ENDS, Plant, Post, other
from leitung_core.units import say_size
from leitung_core.wiring.draw import draw_power
from leitung_core.wiring.fit import takes
from leitung_core.wiring.fixes import land, land_on_spare, on_cable, on_ends
from leitung_core.wiring.ways import ways_to_carry

OPEN = {"common": "common-missing", "ground": "ground-missing"}
SUPPLY = ("line-1", "line-2", "line-3", "neutral", "hot", "pair-1", "pair-2")


def overfull(plant: Plant) -> Iterator[Finding]:
    """More conductors than a terminal takes."""
    for ref, landed in plant.on.items():
        post = plant.posts.get(ref)
        if post is None or plant.load_on(ref) <= (post.terminal.takes or 1):
            continue
        wires = ", ".join(f"{wire.colour} of {wire.cable_id}" for wire, _ in landed)
        takes = post.terminal.takes or 1
        most = "one conductor" if takes == 1 else f"{takes} conductors"
        message = f"{post.at} takes {most} and has {len(landed)}: {wires}."
        changes: dict[str, dict[str, Any]] = {}
        for wire, end in landed:
            changes.setdefault(wire.cable_id, {}).setdefault(wire.id, {})[end] = {"pigtail": True}
        fix = {"cables": {key: {"conductors": change} for key, change in changes.items()}}
        wire, end = landed[-1]
        yield finding("terminal-overfull", f"{wire.about}/{end}", message, "Join them and land one pigtail", fix)


def gauges(plant: Plant) -> Iterator[Finding]:
    """Conductors too thin or too thick for a terminal; told once for each cable and device."""
    said: set[tuple[str, str]] = set()
    for wire in plant.every_wire():
        for end in ENDS:
            post, awg = plant.post(wire, end), wire.make.awg
            if post is None or awg is None or (wire.cable_id, post.device_id) in said:
                continue
            least, most = post.terminal.awg_min, post.terminal.awg_max
            not_thin, not_thick = takes(post, awg)
            if not_thin and not_thick:
                continue
            said.add((wire.cable_id, post.device_id))
            limits = (
                f"{say_size(least or '')} to {say_size(most or '')}"
                if least and most
                else say_size(least or most or "")
            )
            message = f"{post.at} takes {limits}; {wire.cable_id} is {say_size(awg)}."
            bound = most if not_thin else least
            can = wire.make.family is not None and bound in wire.make.family.awg and wire.cable.circuit is None
            fix = on_cable(wire.cable_id, awg=bound) if can else None
            yield finding("terminal-gauge", f"{wire.about}/{end}", message, f"Take {bound} AWG", fix)


def left_open(plant: Plant) -> Iterator[Finding]:
    """Terminals that a device cannot do without, once a cable leads to it."""
    reached = {
        end.device for cable in plant.plan.cables.values() if cable.state != "removed" for end in (cable.a, cable.b)
    }
    reached |= {ref.split(".")[0] for ref in plant.on}
    for device_id in plant.plan.devices:
        if device_id not in reached or plant.plan.devices[device_id].state == "removed":
            continue
        for strip in plant.types[device_id].strips if device_id in plant.types else ():
            posts = [post for post in plant.posts_of(device_id) if post.strip.id == strip.id and post.terminal.required]
            bare = [post for post in posts if not _served(plant, post)]
            line = _line_instead(plant, device_id, bare) if len(bare) == len(posts) else None
            if line is not None:
                yield _by_its_line(plant, device_id, line)
                continue
            if len(bare) > 1 and len(bare) == len(posts) and not any(plant.on.get(post.ref) for post in posts):
                yield _bare(plant, bare)
            else:
                yield from (_open(plant, post) for post in bare)


def _line_instead(plant: Plant, device_id: str, posts: list[Post]) -> Line | None:
    """The line that feeds a unit, or its switch, on whose supply side nothing is drawn: it is its power cable."""
    if not posts or any(post.kind not in ("line", "ground") or plant.on.get(post.ref) for post in posts):
        return None
    line = plant.fed_by_run.get(device_id)
    load_side = {f"{device_id}.{load}" for _, load in plant.types[device_id].poles}
    return None if line is None or load_side & {post.ref for post in posts} else line


def _by_its_line(plant: Plant, device_id: str, line: Line) -> Finding:
    message = f"No power cable is drawn to {plant.name(device_id)}: its line {line.id} is taken as its cable."
    patch = draw_power(plant, line.id)
    return finding("power-not-drawn", f"devices/{device_id}", message, "Draw it as its line has it", patch)


def _served(plant: Plant, post: Post) -> bool:
    """Whether a conductor lands on it whose other end lands too, or a jumper brings what it needs."""
    if any(wire.end(other(end)).terminal for wire, end in plant.on.get(post.ref, ())):
        return True
    net = plant.nets.get(post.ref)
    return net is not None and any(plant.on.get(ref) for ref in net.refs if ref != post.ref)


def _bare(plant: Plant, posts: list[Post]) -> Finding:
    """A whole strip on which nothing lands: one finding, not one for each terminal."""
    first = posts[0]
    code = "device-unfed" if any(post.function in SUPPLY for post in posts) else "terminal-open"
    labels = ", ".join(post.label for post in posts)
    message = f"Nothing lands on {first.strip.name} of {plant.name(first.device_id)}: {labels}."
    return finding(code, f"devices/{first.device_id}/{first.strip.id}", message)


def _open(plant: Plant, post: Post) -> Finding:
    function = post.function or ""
    code = OPEN.get(function) or ("device-unfed" if function in SUPPLY else "terminal-open")
    words = functions()[function].says if function else post.says
    half = plant.on.get(post.ref)
    message = f"{plant.name(post.device_id)} has nothing on {post.label} ({words})."
    if half:
        message = f"{half[0][0].colour} on {post.at} leads nowhere: its other end is not landed."
    label, fix = _bring(plant, post)
    about = f"devices/{post.device_id}/{post.strip.id}.{post.terminal.id}"
    ways = ways_to_carry(plant, post) if fix is None else None
    if fix is None and ways:
        message += " No conductor is free for it."
    return finding(code, about, message, label, fix, ways=ways)


def _bring(plant: Plant, post: Post) -> tuple[str | None, dict[str, Any] | None]:
    """A conductor for an open terminal: the one already on it, else one loose at this device, else a spare."""
    function = post.function
    half = [(wire, end) for wire, end in plant.on.get(post.ref, ()) if function]
    for wire, end in half:
        there = other(end)
        target = next((p for p in plant.posts_of(wire.device(there)) if p.function == function and plant.room(p)), None)
        if target is not None:
            return f"Land {wire.colour} on {target.at}", on_ends(wire.cable_id, {wire.id: {there: land(target.ref)}})
    for key, cable in plant.plan.cables.items():
        if function is None or post.device_id not in (cable.a.device, cable.b.device) or cable.state == "removed":
            continue
        found = land_on_spare(plant, key, function)
        if found is not None and _lands_on(found[1], post):
            wire, fix = found
            return f"Land {wire.colour} of {key} as {post.label}", fix
    return None, None


def _lands_on(patch: dict[str, Any], post: Post) -> bool:
    """Whether a patch lands something on this very terminal."""
    return any(
        end.get("terminal") == post.ref
        for cable in patch["cables"].values() for wire in cable["conductors"].values() for end in wire.values()
    )  # fmt: skip


RULES = (overfull, gauges, left_open)
