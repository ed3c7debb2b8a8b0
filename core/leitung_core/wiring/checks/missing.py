"""What is not known, and what refers to nothing: named, never passed over."""

from __future__ import annotations

from collections.abc import Iterator

from leitung_core.findings import Finding, finding
from leitung_core.plant.make import run_of
from leitung_core.plant.plant import ENDS, Plant
from leitung_core.wiring.fixes import cap, on_ends
from leitung_core.wiring.moves import capture
from leitung_core.wiring.propose import propose_landings

SOLID = ("14", "12", "10")  # gauges of which building cable is usually solid


def devices_unknown(plant: Plant) -> Iterator[Finding]:
    """Devices whose kind is not known, and devices to which nothing leads."""
    reached = {end.device for cable in plant.plan.cables.values() for end in (cable.a, cable.b)}
    reached |= {ref.split(".")[0] for ref in plant.on}
    for key, device in plant.plan.devices.items():
        if device.state == "removed":
            continue
        if key not in plant.types:
            message = f"What {plant.name(key)} is has not been said; its terminals cannot be checked."
            yield finding("device-type-missing", f"devices/{key}/type", message)
        elif key not in reached:
            yield finding("device-not-wired", f"devices/{key}", f"No cable leads to {plant.name(key)} yet.")


def makes_unknown(plant: Plant) -> Iterator[Finding]:
    """Cables of which the construction, the gauge, the number of conductors, the length or the way is not known."""
    for key, cable in plant.plan.cables.items():
        if cable.state == "removed":
            continue
        make, about = plant.makes[key], f"cables/{key}"
        yield from _make_unknown(plant, key)
        if make.length_ft is None:
            yield finding("cable-length-missing", f"{about}/length_ft", f"{key}: length not known.")
        ways = [part.spot for part in cable.route.values()]
        exposed_unknown = any(part.spot in ("outdoor", "roof") and not part.raceway for part in cable.route.values())
        inside = cable.a.device == cable.b.device
        if cable.circuit is None and not inside and (not ways or None in ways or exposed_unknown):
            what = "whether it lies in a raceway outdoors" if ways and None not in ways else "where it runs"
            yield finding("cable-route-missing", f"{about}/route", f"{key}: {what} is not known.")


def _make_unknown(plant: Plant, key: str) -> Iterator[Finding]:
    """What a cable is built of. One that is a stretch of a line follows it: what is open there is told there."""
    make, cable = plant.makes[key], plant.plan.cables[key]
    run = run_of(plant.plan, cable)
    parts = {"construction": make.family, "gauge": make.awg, "number of conductors": make.count}
    lacking = [name for name, value in parts.items() if not value and not (run and name == "gauge")]
    told_elsewhere = bool(run) and (make.awg is None or cable.segments == [])
    if make.family and not make.strands and not told_elsewhere:
        lacking.append("solid or stranded")
    if not lacking:
        return
    message = f"{key}: {' and '.join(lacking)} not known; its fitness is not judged."
    fix = None
    if lacking == ["solid or stranded"] and make.family and make.family.building and make.awg in SOLID:
        circuit = plant.plan.circuits.get(cable.circuit or "")
        named = [name for name in cable.segments or [] if circuit and not circuit.run[name].construction]
        as_run = {"circuits": {cable.circuit: {"run": {name: {"construction": "solid"} for name in named}}}}
        fix = as_run if named else {"cables": {key: {"strands": "solid"}}}
    yield finding("cable-make-missing", f"cables/{key}/family", message, "It is solid" if fix else None, fix)


def terminals_absent(plant: Plant) -> Iterator[Finding]:
    """Landings on terminals that the device, as it is now, does not have."""
    for wire in plant.every_wire():
        for end in ENDS:
            ref = wire.end(end).terminal
            device = (ref or "").split(".")[0]
            if ref is None or ref in plant.posts or device not in plant.types:
                continue
            name = ref.split(".", 1)[1]
            message = f"{wire.colour} of {wire.cable_id} lands on {name}; {plant.name(device)} has no such terminal."
            fix = on_ends(wire.cable_id, {wire.id: {end: cap()}})
            yield finding("terminal-absent", f"{wire.about}/{end}", message, f"Cap {wire.colour}", fix)


def not_landed(plant: Plant) -> Iterator[Finding]:
    """Cables of which nothing is landed yet, with the proposal."""
    for key, wires in plant.wires.items():
        if plant.plan.cables[key].state == "removed" or not wires:
            continue
        if any(not wire.loose(end) for wire in wires for end in ENDS):
            continue
        proposal = propose_landings(plant, key)
        carried = [landing for landing in proposal.landings if landing.function]
        message = f"{key}: nothing is landed yet."
        fix = proposal.patch if carried else None
        yield finding("cable-not-landed", f"cables/{key}", message, "Land by the convention", fix)


def not_captured(plant: Plant) -> Iterator[Finding]:
    """Cables that are there already: how they are landed is kept before anything is taken off."""
    for key, wires in plant.wires.items():
        landed = any(wire.end(end).terminal for wire in wires for end in ENDS)
        captured = any(wire.conductor.was_a or wire.conductor.was_b for wire in wires)
        if plant.plan.cables[key].state == "existing" and landed and not captured:
            message = f"{key} is there already: keep how it is landed before taking anything off."
            yield finding("existing-not-captured", f"cables/{key}", message, "Keep it as found", capture(plant, key))


RULES = (devices_unknown, makes_unknown, terminals_absent, not_landed, not_captured)
