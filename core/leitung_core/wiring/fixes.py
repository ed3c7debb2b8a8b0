"""The changes that clear a finding of the wiring, as merge patches on the plan."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from leitung_core.catalogue.functions import functions
from leitung_core.plan.wired import EndName
from leitung_core.plant.colours import GROUND_COLOURS
from leitung_core.plant.plant import ENDS, Plant, Post, Wire
from leitung_core.wiring.conventions import usual_colours

Patch = dict[str, Any]


def on_cable(cable_id: str, **fields: Any) -> Patch:
    """Fields of a cable."""
    return {"cables": {cable_id: fields}}


def on_ends(cable_id: str, changes: Mapping[str, Any]) -> Patch:
    """Ends of a cable's conductors: `{conductor: {end: fields}}`."""
    return {"cables": {cable_id: {"conductors": changes}}}


def land(ref: str) -> Patch:
    """An end on a terminal."""
    return {"terminal": ref, "capped": None, "pigtail": None}


def cap() -> Patch:
    """An end taken off and capped."""
    return {"terminal": None, "capped": True, "pigtail": None, "connector": None}


def swap(wire: Wire, with_wire: Wire, end: EndName) -> Patch:
    """Two conductors of one cable exchanged at an end."""
    return on_ends(
        wire.cable_id,
        {
            wire.id: {end: land(with_wire.end(end).terminal or "")},
            with_wire.id: {end: land(wire.end(end).terminal or "")},
        },
    )


def spare_wires(plant: Plant, cable_id: str, function: str) -> list[Wire]:
    """Conductors of a cable that land nowhere and may carry a function: ground has its colours, and keeps them."""
    kind = functions()[function].kind
    if plant.makes[cable_id].class_2 and kind in ("line", "signal", "ground"):
        return []
    spare = [wire for wire in plant.wires[cable_id] if not any(wire.end(end).terminal for end in ENDS)]
    if kind == "ground":
        return [wire for wire in spare if wire.colour in GROUND_COLOURS]
    keep = kind in ("line", "signal")
    return [wire for wire in spare if not (keep and wire.colour in GROUND_COLOURS) and wire.colour != "bare"]


def awaiting(plant: Plant, posts: Iterable[Post]) -> Iterator[Post]:
    """Terminals that a setting gives to an accessory, with nothing on them."""
    for post in posts:
        device = plant.plan.devices[post.device_id]
        chosen = any(name in device.settings for name in post.terminal.function_by or {})
        said = post.function is not None and functions()[post.function].call and not post.terminal.required
        if chosen and said and not plant.on.get(post.ref) and device.state != "removed":
            yield post


def free_post(plant: Plant, device_id: str, function: str) -> Post | None:
    """A terminal of a device for a function, with room for one more."""
    fitting = (post for post in plant.posts_of(device_id) if post.function == function and plant.room(post))
    return next(fitting, None)


def land_on_spare(plant: Plant, cable_id: str, function: str) -> tuple[Wire, Patch] | None:
    """A function on a spare conductor of a cable, at both ends; None where there is no spare, or no terminal for it."""
    cable = plant.plan.cables[cable_id]
    at_a, at_b = free_post(plant, cable.a.device, function), free_post(plant, cable.b.device, function)
    spare = spare_wires(plant, cable_id, function)
    if at_a is None or at_b is None or not spare:
        return None
    usual = usual_colours().get(function, [])
    wire = next((wire for colour in usual for wire in spare if wire.colour == colour), spare[0])
    return wire, on_ends(cable_id, {wire.id: {"a": land(at_a.ref), "b": land(at_b.ref)}})
