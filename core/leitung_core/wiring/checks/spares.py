"""What is not used: spares, unused leads, conductors out of use. Capped, recorded, and to be found again."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from leitung_core.findings import Finding, finding
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
            post, there = plant.post(wire, end), wire.end(other(end))
            if post is None or not there.capped or post.terminal.required or wire.cable.state == "removed":
                continue
            message = (
                f"{wire.colour.capitalize()} of {wire.cable_id} lands on {post.at} and is capped at the other end."
            )
            fix = on_ends(wire.cable_id, {wire.id: {end: cap()}})
            yield finding("half-landed", f"{wire.about}/{end}", message, f"Cap it at {post.device_id} too", fix)


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


RULES = (loose_ends, half_landed, still_landed, unused_leads)
