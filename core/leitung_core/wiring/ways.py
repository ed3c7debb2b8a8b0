"""The ways out where no conductor is left for what has to be carried."""

from __future__ import annotations

from collections.abc import Iterator

from leitung_core.catalogue.device import shipped_devices
from leitung_core.findings import Way
from leitung_core.plant.plant import ENDS, Plant, Post
from leitung_core.wiring.fixes import land, on_ends
from leitung_core.wiring.replace import landed_anew, same_make_but

KEEPS_FAN = "fan"


def ways_to_carry(plant: Plant, post: Post) -> list[Way]:
    """For a terminal that nothing reaches: a larger cable, a conductor of less use, a device that does without."""
    cables = [
        key for key, cable in plant.plan.cables.items()
        if post.device_id in (cable.a.device, cable.b.device) and cable.state != "removed"
        and post.kind in ("low", "dry") and plant.makes[key].class_2
    ]  # fmt: skip
    found = [way for key in cables for way in _by_cable(plant, key, post)]
    if post.function == "common" and cables:
        found += _without_common(plant, post)
    return found


def _by_cable(plant: Plant, key: str, post: Post) -> Iterator[Way]:
    make = plant.makes[key]
    larger = same_make_but(plant, key, (make.count or 0) + 1)
    if larger is not None:
        count = larger["cables"][key]["count"]
        yield Way(
            label=f"Replace {key}",
            message=f"a cable of {count} conductors in its place",
            fix=landed_anew(plant, key, larger),
        )
    fan = next((wire for wire in plant.wires[key] if plant.function(wire) == KEEPS_FAN), None)
    if fan is None or post.function != "common":
        return
    ends = {
        end: target.ref for end in ENDS
        for target in plant.posts_of(fan.device(end)) if target.function == "common" and plant.room(target)
    }  # fmt: skip
    if len(ends) == 2:
        yield Way(
            label=f"Use {fan.colour} for the common",
            message="the fan then runs with the call only, not from the thermostat",
            fix=on_ends(key, {fan.id: {end: land(ref) for end, ref in ends.items()}}),
        )


def _without_common(plant: Plant, post: Post) -> Iterator[Way]:
    kind = plant.types[post.device_id]
    yield Way(
        label="Add a power adapter",
        message="at the board; it puts fan and cooling on one conductor and frees one for the common",
    )
    if kind.group != "thermostat":
        return
    used = {p.terminal.id for p in plant.posts_of(post.device_id) if plant.on.get(p.ref)}
    for other in shipped_devices().values():
        open_needs = [
            name for name, terminal in other.terminals().items() if terminal.required and terminal.function == "common"
        ]
        has = {terminal.id for terminal in other.terminals().values()}
        strips = {strip.id for strip in kind.strips} <= {strip.id for strip in other.strips} | {"acc"}
        if other.group == "thermostat" and not open_needs and used <= has and strips:
            fix = {"devices": {post.device_id: {"type": other.id}}}
            yield Way(label=f"Take {other.model or other.name}", message=f"{other.name}: it needs no common", fix=fix)
            break
    yield Way(
        label="Go wireless", message="a receiver at the board and a thermostat on batteries; no cable between them"
    )
