"""What is not used: spares, unused leads, conductors out of use. Capped, recorded, and to be found again."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from leitung_core.findings import Finding, finding
from leitung_core.plan.wired import EndName
from leitung_core.plant.plant import ENDS, Plant, Wire, other
from leitung_core.wiring.fixes import cap, on_ends


def loose_ends(plant: Plant) -> Iterator[Finding]:
    """Conductors that are neither landed nor capped, cable by cable."""
    for key, wires in plant.wires.items():
        removed = plant.plan.cables[key].state == "removed"
        if not removed and all(wire.loose(end) for wire in wires for end in ENDS):
            continue
        changes: dict[str, Any] = {}
        where: list[str] = []
        for wire in wires:
            ends = [end for end in ENDS if wire.loose(end)]
            if ends:
                changes[wire.id] = {end: cap() for end in (ENDS if _leads_nowhere(plant, wire) else ends)}
                where.append(f"{wire.colour} at {' and '.join(wire.device(end) for end in ends)}")
        if not changes:
            continue
        code = "abandoned-not-capped" if removed else "spare-not-capped"
        message = f"{key}: {', '.join(where)} {'is' if len(where) == 1 else 'are'} neither landed nor capped."
        about = f"cables/{key}/conductors/{next(iter(changes))}"
        label = "Cap it" if len(changes) == 1 else f"Cap all {len(changes)}"
        yield finding(code, about, message, label, on_ends(key, changes))


def _leads_nowhere(plant: Plant, wire: Wire) -> bool:
    """Whether the end that is landed may come off too: capped at the other end, it would lead nowhere."""
    posts = [plant.post(wire, end) for end in ENDS]
    return not any(post is not None and post.terminal.required for post in posts)


def half_landed(plant: Plant) -> Iterator[Finding]:
    """Conductors that land at one end and are capped at the other: they lead nowhere."""
    for wire in plant.every_wire():
        for end in ENDS:
            post = plant.post(wire, end)
            if post is None or post.terminal.required or wire.cable.state == "removed":
                continue
            if not _ends_capped(plant, wire, end) or (post.through and len(plant.on[post.ref]) > 1):
                continue
            message = (
                f"{wire.colour.capitalize()} of {wire.cable_id} lands on {post.at} and is capped at the other end."
            )
            fix = on_ends(wire.cable_id, {wire.id: {end: cap()}})
            yield finding("half-landed", f"{wire.about}/{end}", message, f"Cap it at {post.device_id} too", fix)


def _ends_capped(plant: Plant, wire: Wire, end: EndName) -> bool:
    """Whether the other end is capped, carried on through boxes or not: a spare carried through a box stays one."""
    there, post = wire.end(other(end)), plant.post(wire, other(end))
    if post is None or not post.through:
        return bool(there.capped)
    here = wire.end(end).terminal
    net = plant.nets[post.ref]
    if any(ref != here and not (ref in plant.posts and plant.posts[ref].through) for ref in net.refs):
        return False
    ends = [(w, e) for ref in net.refs if ref != here for w, e in plant.on[ref]]
    far = [w.end(other(e)) for w, e in ends if w is not wire]
    return bool(far) and all(entry.capped or entry.terminal for entry in far)


def for_test(plant: Plant) -> Iterator[Finding]:
    """Jumpers that were put in for a test, until they are out again."""
    for key, cable in plant.plan.cables.items():
        if cable.for_test and cable.state != "removed":
            message = f"{key} at {plant.name(cable.a.device)} was put in for a test: take it out before hand-over."
            fix = {"cables": {key: {"state": "removed", "conductors": dict.fromkeys(cable.conductors)}}}
            yield finding("jumper-for-test", f"cables/{key}", message, "It is out", fix)


def still_landed(plant: Plant) -> Iterator[Finding]:
    """Conductors of a cable out of use that still hang on a terminal."""
    for key, wires in plant.wires.items():
        if plant.plan.cables[key].state != "removed":
            continue
        landed = {wire.id: {end: cap() for end in ENDS if wire.end(end).terminal} for wire in wires}
        landed = {name: ends for name, ends in landed.items() if ends}
        if landed:
            message = f"{key} is out of use and still lands: {', '.join(landed)}."
            about = f"cables/{key}/conductors/{next(iter(landed))}"
            yield finding("abandoned-not-capped", about, message, "Take off and cap", on_ends(key, landed))


def unused_leads(plant: Plant) -> Iterator[Finding]:
    """A device's own leads that are not used, where some of them are."""
    for device_id, kind in plant.types.items():
        device = plant.plan.devices[device_id]
        posts = [
            post for post in plant.posts_of(device_id) if post.terminal.hardware == "lead" and kind.group != "joint"
        ]
        if device.state == "removed" or not any(plant.on.get(post.ref) for post in posts):
            continue
        names = {f"{post.strip.id}.{post.terminal.id}": post for post in posts if not plant.on.get(post.ref)}
        open_leads = {
            name: post for name, post in names.items() if not device.capped.get(name) and not post.terminal.required
        }
        if not open_leads:
            continue
        labels = ", ".join(post.label for post in open_leads.values())
        many = len(open_leads) > 1
        what = "leads" if many else "lead"
        message = f"{plant.name(device_id)}: {what} {labels} not used and not capped."
        fix = {"devices": {device_id: {"capped": dict.fromkeys(open_leads, True)}}}
        about = f"devices/{device_id}/{next(iter(open_leads))}"
        yield finding("spare-not-capped", about, message, "Cap them" if many else "Cap it", fix)


RULES = (loose_ends, half_landed, for_test, still_landed, unused_leads)
