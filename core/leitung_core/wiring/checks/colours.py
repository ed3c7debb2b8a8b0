"""Colours: what misleads the next person, what the code reserves, what is to be marked."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator

from leitung_core.catalogue.functions import functions
from leitung_core.findings import Finding, Way, finding
from leitung_core.plant.colours import GROUND_COLOURS, GROUNDED_COLOURS, MARKED_FROM, UNGROUNDED
from leitung_core.plant.make import thinner
from leitung_core.plant.plant import ENDS, Plant, Wire
from leitung_core.wiring.checks.calls import convention_of
from leitung_core.wiring.conventions import usual_colours
from leitung_core.wiring.fixes import on_cable, on_ends
from leitung_core.wiring.propose import propose_landings


def misleading(plant: Plant) -> Iterator[Finding]:
    """Colours that stand for something else than the convention says, without a note."""
    for key, wires in plant.wires.items():
        expected = convention_of(plant, key)
        off = [
            wire for wire in wires
            if wire.colour in expected and (function := plant.function(wire)) and not wire.conductor.note
            and function not in expected[wire.colour] and _misleads(function, wire.colour, expected)
        ]  # fmt: skip
        if not off:
            continue
        parts = [f"{wire.colour} is {plant.says(wire)} here" for wire in off]
        message = f"{key}: {', '.join(parts)}; whoever goes by colour is misled."
        notes = {wire.id: {"note": f"{wire.colour} is {plant.says(wire)}"} for wire in off}
        by_convention = propose_landings(plant, key).patch
        ways = (
            [Way(label="Land by the convention", message="as the colours say", fix=by_convention)]
            if by_convention
            else None
        )
        yield finding(
            "colour-misleads", f"cables/{key}/conductors/{off[0].id}", message, "Note it on the sheet",
            on_cable(key, conductors=notes), ways=ways,
        )  # fmt: skip


def _misleads(function: str, colour: str, expected: dict[str, list[str]]) -> bool:
    """A colour misleads where it has a meaning of its own, or what it carries has another colour."""
    return bool(expected[colour]) or any(function in names for names in expected.values())


def at_one_device(plant: Plant) -> Iterator[Finding]:
    """Colours that mean two things at one device, on two cables; told once for each device."""
    met: dict[tuple[str, str], list[tuple[Wire, str]]] = defaultdict(list)
    for wire in plant.every_wire():
        function = plant.function(wire)
        if function is None or functions()[function].kind != "low" or wire.colour.isdigit():
            continue
        for end in ENDS:
            post = plant.post(wire, end)
            if post is not None:
                met[post.device_id, wire.colour].append((wire, function))
    at_device: dict[str, list[str]] = defaultdict(list)
    for (device, colour), found in met.items():
        if len({function for _, function in found}) < 2:
            continue
        cables = {function: wire.cable_id for wire, function in reversed(found)}
        parts = [f"{functions()[function].says} in {key}" for function, key in reversed(cables.items())]
        at_device[device].append(f"{colour} is {' and '.join(parts)}")
    for device, colours in at_device.items():
        yield finding("colour-two-meanings", f"devices/{device}", f"At {plant.name(device)} {'; '.join(colours)}.")


def white(plant: Plant) -> Iterator[Finding]:
    """White or grey as an ungrounded conductor: re-identified at each end (200.7(C)(1))."""
    for wire in plant.every_wire():
        function = plant.function(wire)
        if wire.colour not in GROUNDED_COLOURS or function not in UNGROUNDED or wire.make.class_2:
            continue
        bare = [end for end in ENDS if wire.end(end).terminal and not wire.end(end).reidentified]
        if not bare:
            continue
        colour = usual_colours()[function][0]
        places = " and ".join(wire.device(end) for end in bare)
        message = f"White of {wire.cable_id} is {plant.says(wire)}, ungrounded, and not marked at {places}."
        fix = on_ends(wire.cable_id, {wire.id: {end: {"reidentified": colour} for end in bare}})
        yield finding("white-not-marked", f"{wire.about}/{bare[0]}", message, f"Mark it {colour} at each end", fix)


def green(plant: Plant) -> Iterator[Finding]:
    """Green and bare are ground's in power cables (250.119); in thermostat cable green is a colour like others."""
    for wire in plant.every_wire():
        function = plant.function(wire)
        if wire.colour not in GROUND_COLOURS or function in (None, "ground") or wire.make.class_2:
            continue
        says = plant.says(wire)
        message = f"{wire.colour.capitalize()} of {wire.cable_id} is {says}; green and bare are for ground alone."
        rest = [other for other in plant.wires[wire.cable_id] if other is not wire]
        ground = [other for other in rest if plant.function(other) == "ground"]
        spare = [other for other in rest if not any(other.end(end).terminal for end in ENDS)]
        partner = next(iter(ground + spare), None)
        fix = on_ends(wire.cable_id, {wire.id: _ends(partner), partner.id: _ends(wire)}) if partner else None
        label = f"Exchange it with {partner.colour}" if partner else None
        yield finding("green-ungrounded", f"{wire.about}/b", message, label, fix)


def ground(plant: Plant) -> Iterator[Finding]:
    """A ground on another colour than green, green-yellow or bare (250.119); from 4 AWG on, marked at both ends."""
    for wire in plant.every_wire():
        if plant.function(wire) != "ground" or wire.colour in GROUND_COLOURS or wire.make.class_2:
            continue
        thick = wire.make.awg is not None and not thinner(wire.make.awg, MARKED_FROM)
        if thick and all(wire.seen(end) in GROUND_COLOURS for end in ENDS if wire.end(end).terminal):
            continue
        message = f"{wire.colour.capitalize()} of {wire.cable_id} is ground; ground is green, green-yellow or bare."
        rest = [other for other in plant.wires[wire.cable_id] if other.colour in GROUND_COLOURS]
        partner = next((other for other in rest if plant.function(other) != "ground"), None)
        fix = on_ends(wire.cable_id, {wire.id: _ends(partner), partner.id: _ends(wire)}) if partner else None
        label = f"Exchange it with {partner.colour}" if partner else None
        if fix is None and thick:
            fix = on_ends(wire.cable_id, {wire.id: {end: {"reidentified": "green"} for end in ENDS}})
            label = "Mark it green at each end"
        if fix is None:
            message += f" {wire.cable_id} has none: take a cable with one."
        yield finding("ground-colour", f"{wire.about}/a", message, label, fix)


def _ends(wire: Wire) -> dict[str, object]:
    """Both ends of a conductor as another one takes them over."""
    return {end: {"terminal": wire.end(end).terminal, "capped": wire.end(end).capped} for end in ENDS}


RULES = (misleading, at_one_device, white, green, ground)
