"""Whether a cable is one that the devices at its ends take: construction, gauge, strands, conductors, class."""

from __future__ import annotations

from collections.abc import Iterator

from leitung_core.catalogue.cables import cable_families
from leitung_core.catalogue.device import CableRule
from leitung_core.findings import Finding, finding
from leitung_core.plant.make import Make, thinner
from leitung_core.plant.plant import ENDS, Plant, other
from leitung_core.wiring.fixes import on_cable
from leitung_core.wiring.replace import other_make

# With no manual at hand: stranded 14 to 16 AWG, four conductors, tray cable or cord, in one piece.
INTER_UNIT = CableRule(
    strips=["any"], families=["tray", "cord"], awg_min="16", stranded=True, conductors=4, joints=False,
    source="practice for inter-unit cable, no manual at hand",
)  # fmt: skip


# What a unit asks of the cable to its other unit is not asked of the one to an accessory.
BETWEEN_UNITS = ("outdoor unit", "indoor unit", "joint")


def asked_of(plant: Plant, cable_id: str) -> list[tuple[str, CableRule]]:
    """What the devices at both ends ask of a cable: the device, and its rule for the strip where the cable lands."""
    cable = plant.plan.cables[cable_id]
    found = []
    for end in ENDS:
        at = cable.at(end)
        kind = plant.types.get(at.device)
        posts = plant.posts_of(at.device)
        if kind is None or not (kind.cables or any(post.kind == "signal" for post in posts)):
            continue
        strips = {(wire.end(end).terminal or "..").split(".")[1] for wire in plant.wires[cable_id]} - {""}
        strips |= {at.strip} if at.strip else set()
        own = [rule for rule in kind.cables if strips & set(rule.strips)]
        signal = any(post.kind == "signal" for post in posts if post.strip.id in strips)
        far = plant.types.get(cable.at(other(end)).device)
        if signal and far is not None and far.group not in BETWEEN_UNITS:
            continue
        found += [(at.device, rule) for rule in own]
        if signal and (not own or plant.school("inter-unit-cable") == "stranded-only"):
            found.append((at.device, INTER_UNIT))
    return found


def fitness(plant: Plant) -> Iterator[Finding]:
    """Construction, gauge, strands and number of conductors against what the devices ask."""
    for key, cable in plant.plan.cables.items():
        if cable.state == "removed":
            continue
        make, said = plant.makes[key], set[str]()
        for device, rule in asked_of(plant, key):
            for row in _against(plant, key, make, device, rule):
                if row.code not in said:
                    said.add(row.code)
                    yield row


def _against(plant: Plant, key: str, make: Make, device: str, rule: CableRule) -> Iterator[Finding]:
    about, name = f"cables/{key}", plant.name(device)
    wanted, label = _suitable(plant, key, make, rule)
    if rule.families and make.family_id and make.family_id not in rule.families:
        names = " or ".join(cable_families()[family].name for family in rule.families)
        message = f"{key} is {make.family.name if make.family else ''}; {name} takes {names} ({rule.source})."
        yield finding("cable-wrong-kind", f"{about}/family", message, label, wanted)
    if rule.awg_min and make.awg and thinner(make.awg, rule.awg_min):
        message = f"{key} is {make.awg} AWG; {name} takes {rule.awg_min} AWG or thicker ({rule.source})."
        yield finding("cable-too-thin", f"{about}/awg", message, label, wanted)
    if rule.stranded and make.strands == "solid":
        message = f"{key} is solid; {name} asks for stranded conductors ({rule.source})."
        yield finding("cable-solid", f"{about}/strands", message, label, wanted)
    if rule.conductors and make.count and make.count < rule.conductors:
        message = f"{key} has {make.count} conductors; {name} takes {rule.conductors}, ground included."
        yield finding("cable-too-few", f"{about}/count", message, label, wanted)


def _suitable(plant: Plant, key: str, make: Make, rule: CableRule) -> tuple[dict[str, object], str]:
    """The cable exchanged for the nearest one that the rule takes."""
    keep = make.family_id if make.family_id in rule.families or not rule.families else None
    family = keep or next(iter(rule.families), "tray")
    kind = cable_families()[family]
    thick_enough = [
        size for size in kind.awg
        if not (rule.awg_min and thinner(size, rule.awg_min)) and not (make.awg and thinner(size, make.awg))
    ]  # fmt: skip
    awg = next(iter(sorted(thick_enough, key=lambda size: -int(size) if size.isdigit() else 0)), make.awg)
    count = max(rule.conductors or 0, make.count or 0)
    count = next((number for number in kind.counts() if number >= count), kind.counts()[-1])
    strands = "stranded" if rule.stranded else make.strands if make.strands in kind.strands else kind.strands[0]
    if rule.stranded and "stranded" not in kind.strands:
        return {}, ""
    return other_make(
        plant, key, family, awg, count, strands
    ), f"Take {awg} AWG {strands} {kind.name}, {count} conductors"


def class_2_on_line(plant: Plant) -> Iterator[Finding]:
    """Class 2 cable may not carry line voltage."""
    for key, wires in plant.wires.items():
        if not wires or not wires[0].make.class_2:
            continue
        carried = [wire.colour for wire in wires if plant.kind(wire) == "line"]
        rules = asked_of(plant, key)
        if carried and not any(rule.families for _, rule in rules):
            make = wires[0].make
            message = f"{key} is {make.family.name if make.family else ''}, Class 2, and carries line voltage."
            count = next((n for n in (2, 3, 4, 5) if n >= (make.count or 0)), 5)
            fix = other_make(plant, key, "tray", make.awg if make.awg in ("16", "14") else "14", count, "stranded")
            yield finding("cable-class", f"cables/{key}/family", message, "Take 14 AWG tray cable", fix)


def strands_of(plant: Plant) -> Iterator[Finding]:
    """Solid conductors where a terminal takes stranded ones only, or the other way round, are told at the cable."""
    for key, wires in plant.wires.items():
        if not wires or wires[0].make.strands != "solid" or asked_of(plant, key):
            continue
        refusing = [
            post for wire in wires for end in ENDS
            if (post := plant.post(wire, end)) and post.terminal.solid is False
        ]  # fmt: skip
        if refusing:
            message = f"{key} is solid; {refusing[0].at} takes stranded conductors."
            fix = on_cable(key, strands="stranded")
            yield finding("cable-solid", f"cables/{key}/strands", message, "Take stranded conductors", fix)


RULES = (fitness, class_2_on_line, strands_of)
