"""Calls that both ends know: each needs a conductor, and the cable must have enough of them."""

from __future__ import annotations

from collections.abc import Iterator

from leitung_core.catalogue.functions import functions
from leitung_core.findings import Finding, Way, finding
from leitung_core.plan.wired import Cable, EndName
from leitung_core.plant.plant import ENDS, Net, Plant, Post, other
from leitung_core.wiring.conventions import ABSENT, FIRST_STAGE, SYSTEM_WORDS, convention_for, out_of_system, system_of
from leitung_core.wiring.fixes import awaiting, free_post, land, land_on_spare, on_cable, on_ends, spare_wires
from leitung_core.wiring.replace import landed_anew, same_make_but
from leitung_core.wiring.ways import ways_to_carry


def needed_functions(plant: Plant, key: str) -> list[str]:
    """What a control cable must carry: 24 V that an end cannot do without, and the calls that both ends have."""
    cable = plant.plan.cables[key]
    posts = {"a": plant.posts_of(cable.a.device), "b": plant.posts_of(cable.b.device)}
    names = {end: {post.function for post in posts[end]} for end in ENDS}
    required = {post.function for end in ENDS for post in posts[end] if post.terminal.required}
    both = names["a"] & names["b"]
    return [
        name for name, function in functions().items()
        if name in both and function.kind in ("low", "data")
        and (function.call or name in required or name == "hot") and not out_of_system(cable.system, name)
    ]  # fmt: skip


def _may_wait(plant: Plant, key: str, name: str, needed: list[str]) -> bool:
    """Whether a call is a second stage on which nothing lands: one stage of two is a lawful landing."""
    ends = (plant.plan.cables[key].a.device, plant.plan.cables[key].b.device)
    posts = [post for device in ends for post in plant.posts_of(device) if post.function == name]
    return FIRST_STAGE.get(name) in needed and not any(plant.on.get(post.ref) for post in posts)


def calls(plant: Plant) -> Iterator[Finding]:
    """Cables between a thermostat, or an adapter, and its board: each call carried, conductors enough."""
    for key, cable in plant.plan.cables.items():
        if cable.state == "removed" or not _between_stat_and_board(plant, key):
            continue
        wires = plant.wires[key]
        if not any(wire.end(end).terminal for wire in wires for end in ENDS):
            continue
        needed = needed_functions(plant, key)
        carried = {name for name in needed if _carried(plant, key, name)}
        needed = [name for name in needed if name in carried or not _may_wait(plant, key, name, needed)]
        open_ones = [name for name in needed if name not in carried]
        if len(needed) > len(wires) and open_ones:
            yield _too_few(plant, key, needed, open_ones, carried)
            continue
        for name in open_ones:
            if functions()[name].call:
                yield _not_carried(plant, key, name)


def accessories(plant: Plant) -> Iterator[Finding]:
    """Terminals that a setting gives to an accessory, with nothing on them: spares that would do, or the ways out."""
    for post in awaiting(plant, plant.posts.values()):
        reaching = [
            key for key, cable in plant.plan.cables.items() if post.device_id in (cable.a.device, cable.b.device)
        ]
        if not reaching:
            continue
        says = functions()[post.function or ""].says
        ways = [way for key in reaching for way in _on_spares(plant, key, post)]
        found = f"{plant.name(post.device_id)} is set to {says} and nothing lands on {post.label}."
        if not ways:
            found += " No conductor is spare."
            ways = [_and_land(plant, way, post) for way in ways_to_carry(plant, post)]
        about = f"devices/{post.device_id}/{post.strip.id}.{post.terminal.id}"
        yield finding("accessory-not-landed", about, found, ways=ways)


def _and_land(plant: Plant, way: Way, post: Post) -> Way:
    """A larger cable, with the first of its new conductors landed here."""
    for key, change in (way.fix or {}).get("cables", {}).items():
        end: EndName = "a" if plant.plan.cables[key].a.device == post.device_id else "b"
        for name, wire in change["conductors"].items():
            if wire and all(wire.get(side, {}).get("capped") for side in ENDS):
                ends = {end: land(post.ref), other(end): {"terminal": None, "capped": None}}
                fix = {"cables": {key: {**change, "conductors": {**change["conductors"], name: ends}}}}
                return way.model_copy(update={"fix": fix})
    return way


def _on_spares(plant: Plant, key: str, post: Post) -> Iterator[Way]:
    """Each spare conductor of a cable, landed here; its other end then waits for the accessory."""
    cable = plant.plan.cables[key]
    end: EndName = "a" if cable.a.device == post.device_id else "b"
    for wire in spare_wires(plant, key, post.function or "")[:3]:
        ends = {end: land(post.ref), other(end): {"terminal": None, "capped": None}}
        message = f"its other end at {wire.device(other(end))} then waits for the accessory"
        yield Way(label=f"Use {wire.colour} of {key}", message=message, fix=on_ends(key, {wire.id: ends}))


def _between_stat_and_board(plant: Plant, key: str) -> bool:
    cable = plant.plan.cables[key]
    groups = {plant.types[end.device].group for end in (cable.a, cable.b) if end.device in plant.types}
    return "thermostat" in groups and bool(groups & {"board", "relay"})


def _carried(plant: Plant, key: str, name: str) -> bool:
    """Whether a function reaches from one device to the other: on one net, or over contacts of others between them.

    What a contact on the way does is not judged here.
    """
    cable = plant.plan.cables[key]
    at: dict[EndName, list[Net]] = {
        end: [
            plant.nets[post.ref] for post in plant.posts_of(cable.at(end).device)
            if post.function == name and plant.on.get(post.ref)
        ] for end in ENDS
    }  # fmt: skip
    if any(net is other_net for net in at["a"] for other_net in at["b"]):
        return True
    return all(any(_over_a_contact(plant, cable, net) for net in at[end]) for end in ENDS)


def _over_a_contact(plant: Plant, cable: Cable, net: Net) -> bool:
    """Whether a net goes on through a contact of a third device, or drives a relay's coil."""
    ends = (cable.a.device, cable.b.device)
    others = [plant.posts[ref] for ref in net.refs if ref in plant.posts]
    return any(
        post.device_id not in ends and (post.kind == "dry" or plant.types[post.device_id].group == "relay")
        for post in others
    )


def _too_few(plant: Plant, key: str, needed: list[str], open_ones: list[str], carried: set[str]) -> Finding:
    words = ", ".join(functions()[name].says for name in open_ones)
    message = f"{key} has {len(plant.wires[key])} conductors and {len(needed)} are needed: nothing is left for {words}."
    larger = same_make_but(plant, key, len(needed))
    fix = landed_anew(plant, key, larger) if larger else None
    count = larger["cables"][key]["count"] if larger else None
    ways = [
        Way(label=f"It is {SYSTEM_WORDS[system]}", message="these calls are not used", fix=on_cable(key, system=system))
        for system, absent in ABSENT.items() if set(open_ones) <= absent and not carried & absent
    ]  # fmt: skip
    return finding("cable-too-few", f"cables/{key}/count", message, f"Take {count} conductors", fix, ways=ways)


def _not_carried(plant: Plant, key: str, name: str) -> Finding:
    cable, says = plant.plan.cables[key], functions()[name].says
    about = f"cables/{key}/conductors"
    found = land_on_spare(plant, key, name)
    message = f"{key}: no conductor carries {says}, which both ends have."
    if found is not None:
        wire, fix = found
        return finding("call-not-carried", about, message, f"Land {wire.colour} for {says}", fix)
    ends = [end for end in (cable.a.device, cable.b.device) if free_post(plant, end, name) is None]
    if not ends:
        message += " No conductor is spare."
    larger = same_make_but(plant, key, len(plant.wires[key]) + 1)
    better = landed_anew(plant, key, larger) if larger and not ends else None
    count = larger["cables"][key]["count"] if larger else None
    return finding("call-not-carried", about, message, f"Take {count} conductors", better)


def system_on(plant: Plant, key: str) -> str | None:
    """What kind of system a cable is of: as chosen, else by what the terminals at both ends are for."""
    cable = plant.plan.cables[key]
    ends = [{post.function for post in plant.reachable(cable, end) if post.function} for end in ENDS]
    return cable.system or system_of(*ends)


def convention_of(plant: Plant, key: str) -> dict[str, list[str]]:
    """The convention in force on a cable: for each colour, what it may stand for; empty where there is none."""
    found = convention_for(system_on(plant, key), len(plant.wires[key]))
    return found.colours if found else {}


RULES = (calls, accessories)
