"""Level 2, land a cable: both its ends, conductor by conductor, on the strips that are there."""

from __future__ import annotations

from collections.abc import Iterator

from leitung_core.catalogue.functions import functions
from leitung_core.control.system import System
from leitung_core.plan.wired import EndName
from leitung_core.plant.plant import ENDS, Post, Wire
from leitung_core.practice.fault import Suspects, suspects_of
from leitung_core.practice.model import LandTask, PostShown, StripShown, WireShown
from leitung_core.slips.harm import HARM_WORDS, Slip
from leitung_core.slips.report import what_it_does
from leitung_core.units import sentence

FEWEST_WIRES = 2


def cables_to_land(system: System) -> list[str]:
    """The cables of a system that go whole from one device to another."""
    return [key for key in system.plant.wires if _landed(system, key)]


def _landed(system: System, cable: str) -> list[Wire]:
    """What is landed of a cable at both ends; nothing where it does not go from one device to another."""
    landed = [
        wire for wire in system.plant.wires.get(cable, [])
        if all(system.plant.post(wire, end) is not None for end in ENDS)
    ]  # fmt: skip
    if len(landed) < FEWEST_WIRES or landed[0].device("a") not in system.built.devices:
        return []
    places = {end: {_post(system, wire, end).device_id for wire in landed} for end in ENDS}
    return landed if all(len(devices) == 1 for devices in places.values()) else []


def _post(system: System, wire: Wire, end: EndName) -> Post:
    post = system.plant.post(wire, end)
    assert post is not None
    return post


def land_a_cable(system: System, cable: str) -> LandTask | None:
    """A round on a cable; None where it has no two ends to be landed."""
    wires = _landed(system, cable)
    if not wires:
        return None
    suspects = suspects_of(system)
    return LandTask(
        cable=cable,
        strips=[strip for end in ENDS for strip in _strips(system, wires, end)],
        wires=[
            WireShown(id=wire.id, colour=wire.colour, carries=_carries(system, wire),
                      a=_post(system, wire, "a").ref, b=_post(system, wire, "b").ref)
            for wire in wires
        ],
        why={wire.id: _why(system, wire) for wire in wires},
        slips=dict(_slips(system, suspects, cable, {wire.id for wire in wires})),
    )  # fmt: skip


def _strips(system: System, wires: list[Wire], end: EndName) -> Iterator[StripShown]:
    here = [_post(system, wire, end) for wire in wires]
    device = here[0].device_id
    used = {post.strip.id for post in here}
    for strip in system.plant.types[device].strips:
        if strip.id in used:
            posts = [post for post in system.plant.posts_of(device) if post.strip.id == strip.id]
            yield StripShown(
                end=end, device=device, name=strip.name,
                posts=[PostShown(ref=post.ref, label=post.label) for post in posts],
            )  # fmt: skip


def _function(post: Post) -> str:
    return functions()[post.function].says if post.function else ""


def _why(system: System, wire: Wire) -> str:
    a, b = (_post(system, wire, end) for end in ENDS)
    told = _carries(system, wire)
    belongs = f"{a.label} of {a.device_id} to {b.label} of {b.device_id}{f', {told}' if told else ''}"
    return sentence(f"{wire.colour}: {belongs}.")


def _carries(system: System, wire: Wire) -> str:
    return _function(_post(system, wire, "a")) or _function(_post(system, wire, "b"))


def _slips(system: System, suspects: Suspects, cable: str, wires: set[str]) -> Iterator[tuple[str, str]]:
    for slip in suspects.slips:
        cables = (slip.mistake.patch or {}).get("cables", {})
        moved = cables.get(cable, {}).get("conductors", {})
        if set(cables) != {cable} or not set(moved) <= wires:
            continue
        ends = [(wire, end, landing["terminal"]) for wire, by_end in moved.items() for end, landing in by_end.items()]
        if all(ref for _, _, ref in ends):
            yield ";".join(sorted(f"{wire} {end}={ref}" for wire, end, ref in ends)), _tells(system, slip)


def _tells(system: System, slip: Slip) -> str:
    told = what_it_does(system, slip)
    return f"{slip.mistake.says} It {_does(slip)}{f': {told}' if told else ''}."


def _does(slip: Slip) -> str:
    words = HARM_WORDS[slip.harm]
    subject = {"unsafe": "makes that ", "runs": "makes that ", "dead": "makes that "}.get(slip.harm, "")
    return f"{subject}{words}"
