"""What a screen or a sheet shows of the wiring: strips as they hang on the wall, conductors with both their ends."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from leitung_core.catalogue.functions import KIND_WORDS, functions
from leitung_core.findings import Finding
from leitung_core.plan.wired import CONNECTOR_WORDS, Cable, EndName, Standing
from leitung_core.plant.plant import ENDS, Plant, Post, Wire, other
from leitung_core.units import say, say_size
from leitung_core.wiring.check import check_wiring
from leitung_core.wiring.checks.calls import system_on
from leitung_core.wiring.checks.joints import connector_at
from leitung_core.wiring.checks.meaning import harmed_end
from leitung_core.wiring.conventions import SYSTEM_WORDS
from leitung_core.wiring.draw import is_any_unit
from leitung_core.wiring.moves import Move, moves_of, was
from leitung_core.wiring.plugs import cord_notes, empty
from leitung_core.wiring.propose import propose_landings


class View(BaseModel):
    model_config = ConfigDict(frozen=True)


class Landed(View):
    """A conductor at one of its ends, with all that a landing sheet says of it.

    `says` is what it is for; `far` names where its other end is; `marked` is its re-identification at this end.
    """

    cable: str
    conductor: str
    end: EndName
    colour: str
    kind: str | None
    says: str
    far: str
    awg: str | None
    marked: str | None = None
    connector: str | None = None
    pigtail: bool = False
    note: str | None = None


class TerminalView(View):
    """A terminal as it is seen; figures are None where the device's data does not say them.

    empty: what it means that nothing lands here, where it means something.
    """

    ref: str
    label: str
    says: str
    short: str
    kind: str
    kind_words: str
    required: bool
    takes: int
    hardware: str | None
    gauges: str | None
    strip_in: float | None
    torque_in_lb: float | None
    caution: str | None
    landed: list[Landed]
    empty: str | None


class StripView(View):
    """A strip, its terminals left to right as they hang on this wall; `notes` say what the hand must know here."""

    id: str
    name: str
    reversed: bool
    terminals: list[TerminalView]
    notes: list[str]


class DeviceView(View):
    """A device. `spare` holds the ends at it that are capped, `loose` those that are neither landed nor capped."""

    id: str
    title: str
    kind: str | None
    maker: str | None
    place: str | None
    state: Standing
    group: str | None
    cables: list[str]
    strips: list[StripView]
    spare: list[Landed]
    loose: list[Landed]


class EndView(View):
    """One end of a conductor."""

    state: Literal["landed", "capped", "loose"]
    terminal: str | None = None
    at: str
    marked: str | None = None
    was: str | None = None


class ConductorView(View):
    """One conductor: its colour as printed, what it is for, its ends.

    `proved`: both its terminals have one and the same meaning. `harm` names the end at which it does harm.
    """

    id: str
    colour: str
    kind: str | None
    kind_words: str
    says: str
    proved: bool
    harm: EndName | None = None
    a: EndView
    b: EndView
    note: str | None = None


class CableView(View):
    """A cable in words, its conductors in order, and the landings that the convention would change."""

    id: str
    title: str
    says: str
    length: str
    way: str
    unit: str | None
    state: Standing
    convention: str | None
    captured: bool
    conductors: list[ConductorView]
    proposal: dict[str, Any] | None


class WiringResult(View):
    """Everything computed from a plan's devices and cables.

    `order` names the cables in the order in which they are read, `undrawn` the units that are no device yet.
    """

    order: list[str]
    devices: dict[str, DeviceView]
    cables: dict[str, CableView]
    moves: list[Move]
    undrawn: list[str]


def wiring_result(plant: Plant) -> tuple[WiringResult, list[Finding]]:
    """The wiring of a plan for screens and sheets, and its findings."""
    plan = plant.plan
    drawn = {device.equipment for device in plan.devices.values() if not is_any_unit(device.type)}
    order = sorted(plan.cables, key=lambda key: (_unit(plant, key) or "~", key))
    result = WiringResult(
        order=order,
        devices={key: device_view(plant, key) for key in sorted(plan.devices)},
        cables={key: cable_view(plant, key) for key in order},
        moves=moves_of(plant),
        undrawn=sorted(key for key in plan.equipment if key not in drawn),
    )
    return result, check_wiring(plant)


def landed(plant: Plant, wire: Wire, end: EndName) -> Landed:
    """One end of a conductor as a sheet says it."""
    there, connector = other(end), connector_at(plant, wire, end)
    return Landed(
        cable=wire.cable_id, conductor=wire.id, end=end, colour=wire.colour, kind=plant.kind(wire),
        says=plant.says(wire), far=where(plant, wire, there), awg=say_size(wire.make.awg) if wire.make.awg else None,
        marked=wire.end(end).reidentified, connector=CONNECTOR_WORDS[connector] if connector else None,
        pigtail=wire.end(end).pigtail or False, note=wire.conductor.note,
    )  # fmt: skip


def where(plant: Plant, wire: Wire, end: EndName) -> str:
    """`R at TS-1`, or that it is capped or loose there."""
    post = plant.post(wire, end)
    if post is not None:
        return post.at
    ref = wire.end(end).terminal
    if ref is not None:
        device, name = ref.split(".", 1)
        return f"{name} at {device}"
    return f"{'capped' if wire.end(end).capped else 'loose'} at {wire.device(end)}"


def device_view(plant: Plant, key: str) -> DeviceView:
    """A device with its strips as they hang on the wall."""
    device, kind = plant.plan.devices[key], plant.types.get(key)
    free = plant.unlanded.get(key, [])
    cables = set(plant.index.cables_at.get(key, ()))
    cables |= {wire.cable_id for post in plant.posts_of(key) for wire, _ in plant.on.get(post.ref, ())}
    return DeviceView(
        id=key, title=device.name or (kind.name if kind else key), kind=kind.name if kind else None,
        maker=f"{kind.maker} {kind.model}" if kind and kind.maker and kind.model else None, place=device.place,
        state=device.state or "new", group=kind.group if kind else None, cables=sorted(cables),
        strips=[_strip(plant, key, strip.id) for strip in (kind.strips if kind else [])],
        spare=[landed(plant, wire, end) for wire, end in free if wire.end(end).capped],
        loose=[landed(plant, wire, end) for wire, end in free if not wire.end(end).capped],
    )  # fmt: skip


def _strip(plant: Plant, key: str, strip_id: str) -> StripView:
    seen = plant.plan.devices[key].strips.get(strip_id)
    posts = [post for post in plant.posts_of(key) if post.strip.id == strip_id]
    turned = bool(seen and seen.reversed)
    rows = [_terminal(plant, post) for post in posts]
    return StripView(
        id=strip_id, name=posts[0].strip.name, reversed=turned, terminals=rows[::-1] if turned else rows,
        notes=cord_notes(plant, posts),
    )  # fmt: skip


def _terminal(plant: Plant, post: Post) -> TerminalView:
    terminal = post.terminal
    least, most = terminal.awg_min, terminal.awg_max
    return TerminalView(
        ref=post.ref, label=post.label, says=post.says, short=_short(post), kind=post.kind,
        kind_words="joint" if post.through else KIND_WORDS[post.kind], required=terminal.required,
        takes=terminal.takes or 1,
        hardware=terminal.hardware.replace("_", "-") if terminal.hardware else None,
        gauges=f"{say_size(least)} to {say_size(most)}" if least and most else None, strip_in=terminal.strip_in,
        torque_in_lb=terminal.torque_in_lb, caution=terminal.caution,
        landed=[landed(plant, wire, end) for wire, end in plant.on.get(post.ref, ())], empty=empty(plant, post),
    )  # fmt: skip


def _short(post: Post) -> str:
    """What a terminal is for, in a word or two for the drawing; a joint is for nothing of its own."""
    if post.through:
        return ""
    if post.terminal.says or not post.function:
        return post.terminal.says or KIND_WORDS[post.kind]
    return functions()[post.function].short or functions()[post.function].says


def cable_view(plant: Plant, key: str) -> CableView:
    """A cable with its conductors."""
    cable, wires, make = plant.plan.cables[key], plant.wires[key], plant.makes[key]
    proposal = propose_landings(plant, key) if wires and cable.state != "removed" else None
    # What is landed whole and harms nothing is somebody's intent: nobody is asked to land it otherwise.
    wanting = any(wire.loose(end) for wire in wires for end in ENDS) or any(harmed_end(plant, wire) for wire in wires)
    system = system_on(plant, key)
    return CableView(
        id=key, title=cable.name or f"{cable.a.device} to {cable.b.device}", says=make.says(),
        length=make.length_says(), way=way_says(cable), unit=_unit(plant, key), state=cable.state or "new",
        convention=(proposal.convention if proposal else None) or (SYSTEM_WORDS[system] if system else None),
        captured=any(wire.conductor.was_a or wire.conductor.was_b for wire in wires),
        conductors=[_conductor(plant, wire) for wire in wires],
        proposal=(proposal.patch or None) if proposal and wanting else None,
    )  # fmt: skip


def _conductor(plant: Plant, wire: Wire) -> ConductorView:
    kind = plant.kind(wire)
    return ConductorView(
        id=wire.id,
        colour=wire.colour,
        kind=kind,
        kind_words=KIND_WORDS[kind] if kind else "",
        says=plant.says(wire),
        proved=_proved(plant, wire),
        harm=harmed_end(plant, wire),
        a=_end(plant, wire, "a"),
        b=_end(plant, wire, "b"),
        note=wire.conductor.note,
    )


def _proved(plant: Plant, wire: Wire) -> bool:
    ends = [plant.post(wire, end) for end in ENDS]
    meant = {post.function if post else None for post in ends}
    return len(meant) == 1 and None not in meant


def _end(plant: Plant, wire: Wire, end: EndName) -> EndView:
    now = wire.end(end)
    before = was(wire, end)
    return EndView(
        state="landed" if now.terminal else "capped" if now.capped else "loose", terminal=now.terminal,
        at=where(plant, wire, end), marked=now.reidentified,
        was=(before.terminal or ("capped" if before.capped else "loose")) if before else None,
    )  # fmt: skip


def _unit(plant: Plant, key: str) -> str | None:
    """The unit that a cable serves: that of its far end, of its near end, or of its line."""
    cable, plan = plant.plan.cables[key], plant.plan
    for device_id in (cable.b.device, cable.a.device):
        device = plan.devices.get(device_id)
        if device is not None and device.equipment:
            return device.equipment
    circuit = plan.circuits.get(cable.circuit or "")
    return circuit.equipment if circuit else None


def way_says(cable: Cable) -> str:
    """Where a cable runs, in words: `interior 40 ft, outdoor in LFNC 9 ft`."""
    parts = []
    for _, part in cable.stretches():
        words = (part.spot or "place not known").replace("_", " ")
        words += {None: "", "none": ", exposed"}.get(part.raceway, f" in {part.raceway}")
        parts.append(f"{words} {say(part.length_ft)} ft" if part.length_ft is not None else words)
    joints = len(cable.joints)
    parts += [f"{joints} joint{'s' if joints > 1 else ''} on its way"] if joints else []
    return ", ".join(parts)
