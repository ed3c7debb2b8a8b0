"""Breakers, disconnects, units and devices, and what closes, caps and marks the conductors at them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from leitung_core.loadout.rows import NOT_TAKEN, Gathered
from leitung_core.plan.vocabulary import unit_kinds
from leitung_core.plan.wired import CONNECTOR_WORDS, EndName
from leitung_core.plant.connectors import connector_for
from leitung_core.plant.lines import breaker_of, is_origin, units_devices
from leitung_core.plant.make import THIN_FIRST
from leitung_core.plant.plant import Plant, Post, Wire
from leitung_core.plant.poles import poles_of
from leitung_core.units import say, say_size

TYPES = {"nonfused": "non-fused disconnect", "fused": "fused disconnect", "breaker": "breaker disconnect"}


def lines_parts(plant: Plant, found: Gathered) -> None:
    """What stands at the ends of the lines: the device at the source, the disconnect, the receptacle, the label."""
    for key, line in plant.lines.items():
        circuit, about = line.circuit, f"circuits/{key}"
        drawn = breaker_of(plant, key)
        poles = poles_of(circuit, line.source, line.unit)
        ocpd = circuit.ocpd
        if drawn is not None and plant.plan.devices[drawn].state in NOT_TAKEN:
            pass
        elif ocpd is not None and ocpd.rating_a and not line.shares_device:
            amps, asked = ocpd.rating_a, [f"{about}/ocpd", *([f"devices/{drawn}"] if drawn is not None else [])]
            if ocpd.type == "fuse":
                name, count = f"{say(amps)} A fuse", poles or 1
            else:
                name = f"{say(amps)} A {f'{poles}-pole ' if poles else ''}breaker{_for(plant, circuit.source)}"
                count = 1
            found.add("breaker", name, count, *asked, poles=poles, amps=amps)
        elif not line.shares_device:
            found.lacks(f"{about}/ocpd", "rating of the breaker not known")
        _disconnect(plant, key, poles, found)
        if line.unit is not None:
            found.add("label", "label for a disconnect, with the line's figures", 1, about)


def _for(plant: Plant, source_id: str | None) -> str:
    source = plant.plan.sources.get(source_id or "")
    return f" for {source.name or source_id}" if source else ""


def _switch_of(plant: Plant, line: str) -> str | None:
    """The disconnect of a line, where it is drawn; a receptacle is none that is bought as one."""
    return next(
        (key for key in plant.index.devices_of_line.get(line, ()) if key in plant.types and _is_switch(plant, key)),
        None,
    )


def _is_switch(plant: Plant, device: str) -> bool:
    return plant.types[device].id.startswith("disconnect")


def _disconnect(plant: Plant, line: str, poles: int | None, found: Gathered) -> None:
    off, drawn = plant.plan.circuits[line].disconnect, _switch_of(plant, line)
    if drawn is not None and plant.plan.devices[drawn].state in NOT_TAKEN:
        return
    if off is None and drawn is None:
        return
    about = [f"circuits/{line}/disconnect"] if off is not None else []
    about += [f"devices/{drawn}"] if drawn is not None else []
    if off is None or off.rating_a is None:
        found.lacks(about[0], "rating of the disconnect not known")
    amps = off.rating_a if off is not None else None
    rated = f"{say(amps)} A " if amps else ""
    kind = TYPES[off.type] if off is not None and off.type else "disconnect"
    name = f"{rated}{f'{poles}-pole ' if poles else ''}{kind}"
    found.add("disconnect", name, 1, *about, poles=poles, amps=amps)


def units_taken(plant: Plant, found: Gathered) -> None:
    """The units themselves; the devices that are their electrical part come with them."""
    named = {row["kind"]: row["name"] for row in unit_kinds()}
    for key, unit in plant.plan.equipment.items():
        name = " ".join(word for word in (named.get(unit.kind, unit.kind), unit.maker, unit.model) if word)
        found.add("device", name, unit.quantity or 1, f"equipment/{key}")


def devices_taken(plant: Plant, found: Gathered) -> None:
    """Every device that is drawn, is new, and is neither a breaker, a disconnect nor part of a unit."""
    inside = {device for line in plant.plan.circuits.values() if line.equipment
              for device in units_devices(plant, line)}  # fmt: skip
    for key, device in plant.plan.devices.items():
        kind = plant.types.get(key)
        if device.state in NOT_TAKEN:
            continue
        if kind is None:
            found.lacks(f"devices/{key}", "what device it is is not known")
            continue
        at_line_end = is_origin(plant, key) or _is_switch(plant, key)
        if key in inside or kind.kinds or at_line_end:
            if at_line_end and device.circuit is None:
                found.lacks(f"devices/{key}", "of which line it is is not known")
            continue
        name = " ".join(word for word in (kind.name, kind.maker, kind.model) if word)
        found.add("device", name, 1, f"devices/{key}")


def ends_taken(plant: Plant, found: Gathered) -> None:
    """Connectors at leads and joints, caps, spades, markers: by how conductors end."""
    for post in plant.posts.values():
        if plant.plan.devices[post.device_id].state in NOT_TAKEN:
            continue
        landed = [(wire, end) for wire, end in plant.on.get(post.ref, ()) if wire.cable.state != "removed"]
        new = [(wire, end) for wire, end in landed if wire.cable.state != "existing"]
        if not new:
            continue
        about = f"devices/{post.device_id}"
        if post.terminal.hardware == "lead":
            said = next((wire.end(end).connector for wire, end in new if wire.end(end).connector), None)
            device = plant.plan.devices[post.device_id]
            usual = connector_for(device.spot, plant.types[post.device_id].moves)
            words = CONNECTOR_WORDS[said or usual]
            found.add("connector", f"{words} for {len(landed) + 1} x {_thickest(landed)}", 1, about)
        elif post.terminal.hardware == "spade":
            for wire, _ in new:
                found.add("terminal", f"female spade, {_gauge(wire)}", 1, about)
        for wire, _ in new:
            _end_of(post, wire, about, found)
    for key, capped in _caps(plant):
        found.add("connector", "cap for a conductor that is not used", capped, key)
    for cable_id, cable in plant.plan.cables.items():
        if cable.state in NOT_TAKEN:
            continue
        for name, joint in cable.joints.items():
            words = CONNECTOR_WORDS[joint.connector or connector_for(joint.spot)]
            wires = plant.wires[cable_id]
            found.add("connector", f"{words} for 2 x {_gauge(wires[0]) if wires else 'gauge not known'}", len(wires),
                      f"cables/{cable_id}/joints/{name}")  # fmt: skip
        if not cable.for_test:
            found.add("label", "marker for the end of a cable", 2, f"cables/{cable_id}")


def _end_of(post: Post, wire: Wire, about: str, found: Gathered) -> None:
    """What the end of a conductor needs before its terminal takes it."""
    own, make = post.terminal, wire.make
    if own.awg_max and make.awg and THIN_FIRST.index(make.awg) > THIN_FIRST.index(own.awg_max):
        found.add("terminal", f"reducing pin lug, {say_size(make.awg)} to {say_size(own.awg_max)}", 1, about)
    elif own.hardware == "screw" and make.strands == "stranded":
        found.add("terminal", f"fork or ferrule, {_gauge(wire)}", 1, about)


def _gauge(wire: Wire) -> str:
    return f"{wire.make.awg} AWG" if wire.make.awg else "gauge not known"


def _thickest(landed: Sequence[tuple[Wire, EndName]]) -> str:
    """The gauge that a connector has to take."""
    known = sorted((wire.make.awg for wire, _ in landed if wire.make.awg), key=THIN_FIRST.index)
    return f"{known[-1]} AWG" if known else "gauge not known"


def _caps(plant: Plant) -> Iterator[tuple[str, int]]:
    for key, device in plant.plan.devices.items():
        count = sum(bool(capped) for capped in device.capped.values())
        if count and device.state not in NOT_TAKEN:
            yield f"devices/{key}", count
    for key, cable in plant.plan.cables.items():
        ends = [end for wire in plant.wires[key] for end in (wire.end("a"), wire.end("b"))]
        if cable.state not in NOT_TAKEN and (count := sum(bool(end.capped) for end in ends)):
            yield f"cables/{key}", count
