"""The cord and its plug: which blade carries which colour, which stays empty, and how the cord is held."""

from __future__ import annotations

from collections.abc import Sequence

from leitung_core.plant.plant import Plant, Post, other

PLUG = ("slot", "blade")


def empty(plant: Plant, post: Post) -> str | None:
    """What it means that nothing lands on a terminal; None where something does, or it means nothing."""
    if plant.on.get(post.ref):
        return None
    if post.terminal.required:
        return "nothing lands here and it may not stay open"
    unit = _unit(plant, [entry for entry in plant.posts_of(post.device_id) if entry.strip.id == post.strip.id])
    if post.terminal.hardware in PLUG and post.function == "neutral" and unit is not None:
        return f"stays empty: {unit} takes no neutral"
    return None


def cord_notes(plant: Plant, posts: Sequence[Post]) -> list[str]:
    """What to know at the plug of a cord, once one is landed: how it is held, how long it is cut, what stays empty."""
    unit = _unit(plant, posts) if posts[0].terminal.hardware in PLUG else None
    if unit is None:
        return []
    cords = dict.fromkeys(wire.cable_id for post in posts for wire, _ in plant.on.get(post.ref, ()))
    notes = [f"{cord}: cut to {plant.makes[cord].length_says()}" for cord in cords if plant.makes[cord].length_ft]
    left = [post.label for post in posts if post.function == "neutral" and not plant.on.get(post.ref)]
    notes += [
        f"{name} stays empty in the plug and the receptacle alike; its conductor is cut back and capped"
        for name in left
    ]
    return [*notes, "Strain relief holds the jacket at both ends; no blade is forced or filed."]


def _unit(plant: Plant, posts: Sequence[Post]) -> str | None:
    """The device at the other end of the cord that is landed on a strip."""
    for post in posts:
        for wire, end in plant.on.get(post.ref, ()):
            return wire.device(other(end))
    return None
