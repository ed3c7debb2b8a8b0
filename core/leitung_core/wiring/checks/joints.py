"""Joints: where there may be none, and which connector suits the place."""

from __future__ import annotations

from collections.abc import Iterator

from leitung_core.findings import Finding, finding
from leitung_core.plan.wired import CONNECTOR_WORDS, Connector, EndName
from leitung_core.plant.connectors import SHAKES, WET, connector_for
from leitung_core.plant.plant import ENDS, Plant, Wire
from leitung_core.wiring.checks.cable import asked_of
from leitung_core.wiring.fixes import on_cable, on_ends


def _against(connector: Connector | None, spot: str | None, moves: bool) -> str | None:
    """Why a connector does not suit its place; None where it does."""
    if connector == "lever":
        return "lever connectors are for tests, not to stay"
    if connector == "twist_on" and (moves or spot in SHAKES):
        return "twist-on connectors work loose where things vibrate"
    if connector == "twist_on" and spot == WET:
        return "a connector outdoors is one listed for wet places"
    return None


def on_the_way(plant: Plant) -> Iterator[Finding]:
    """Joints on a cable's way."""
    for key, cable in plant.plan.cables.items():
        if not cable.joints or cable.state == "removed":
            continue
        forbidding = [(device, rule) for device, rule in asked_of(plant, key) if not rule.joints]
        if forbidding:
            device, rule = forbidding[0]
            number = "a joint" if len(cable.joints) == 1 else f"{len(cable.joints)} joints"
            message = f"{key} has {number} on its way; {plant.name(device)} takes a cable in one piece ({rule.source})."
            fix = on_cable(key, joints=dict.fromkeys(cable.joints))
            yield finding("joint-forbidden", f"cables/{key}/joints", message, "Run it in one piece", fix)
            continue
        for name, joint in sorted(cable.joints.items()):
            about = f"cables/{key}/joints/{name}"
            if joint.connector is None or joint.spot is None:
                yield finding(
                    "joint-unknown", about, f"{key}: where its joint is, or with what it is made, is not known."
                )
                continue
            why = _against(joint.connector, joint.spot, False)
            if why is None and joint.connector == "twist_on" and joint.taped is False:
                why = "twist-on connectors are taped"
            if why:
                better = connector_for(joint.spot)
                change = {"connector": better, "taped": True if better == "twist_on" else None}
                yield finding(
                    "joint-connector", about, f"{key}: {why}.", f"Use a {CONNECTOR_WORDS[better]}",
                    on_cable(key, joints={name: change}),
                )  # fmt: skip


def at_leads(plant: Plant) -> Iterator[Finding]:
    """Connectors at a device's leads."""
    for wire in plant.every_wire():
        for end in ENDS:
            post, connector = plant.post(wire, end), wire.end(end).connector
            if post is None or post.terminal.hardware != "lead" or connector is None:
                continue
            device = plant.plan.devices[post.device_id]
            moves = plant.types[post.device_id].moves
            why = _against(connector, device.spot, moves)
            if why:
                better = connector_for(device.spot, moves)
                message = f"{wire.colour} of {wire.cable_id} on {post.at}: {why}."
                yield finding(
                    "joint-connector", f"{wire.about}/{end}", message, f"Use a {CONNECTOR_WORDS[better]}",
                    on_ends(wire.cable_id, {wire.id: {end: {"connector": better}}}),
                )  # fmt: skip


def connector_at(plant: Plant, wire: Wire, end: EndName) -> Connector | None:
    """How an end is joined: as entered; at a lead, else, what suits its place."""
    post = plant.post(wire, end)
    if wire.end(end).connector or post is None:
        return wire.end(end).connector
    if post.terminal.hardware != "lead" and not wire.end(end).pigtail:
        return None
    return connector_for(plant.plan.devices[post.device_id].spot, plant.types[post.device_id].moves)


RULES = (on_the_way, at_leads)
