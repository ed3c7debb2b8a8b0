"""A cable exchanged for another make, with its landings taken over or proposed anew."""

from __future__ import annotations

from typing import Any

from leitung_core.catalogue.cables import cable_families
from leitung_core.plan.model import dump_plan, read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.colours import GROUND_COLOURS
from leitung_core.plant.plant import ENDS, Plant, Wire
from leitung_core.wiring.fixes import Patch
from leitung_core.wiring.propose import propose_landings


def other_make(plant: Plant, cable_id: str, family: str, awg: str | None, count: int, strands: str | None) -> Patch:
    """The cable exchanged for another make. Its landings go over by colour, else in order to the colours left."""
    cable = plant.plan.cables[cable_id]
    kind = cable_families()[family]
    colours = kind.colours_of(count)
    landed = [wire for wire in plant.wires[cable_id] if any(wire.end(end).terminal for end in ENDS)]
    moved: dict[str, Wire] = {wire.id: wire for wire in landed if wire.id in colours}
    left = [colour for colour in colours if colour not in moved]
    for wire in landed:
        if wire.id in moved:
            continue
        # Ground's colours stay ground's: a conductor for which no other is left is not taken over.
        ground = wire.colour in GROUND_COLOURS
        fitting = [name for name in left if name in GROUND_COLOURS] if ground else []
        colour = next(iter([*fitting, *(name for name in left if name not in GROUND_COLOURS)]), None)
        if colour is not None:
            moved[colour] = wire
            left.remove(colour)
    conductors: dict[str, Any] = {name: None for name in cable.conductors if name not in moved}
    for colour in colours:
        source = moved.get(colour)
        if source is None:
            conductors[colour] = {"a": {"capped": True}, "b": {"capped": True}}
        elif source.id != colour:
            conductors[colour] = {end: source.end(end).model_dump(exclude_none=True) for end in ENDS}
    fields: Patch = {"family": family, "count": count, "awg": awg, "strands": strands, "wet": None, "sunlight": None}
    return {"cables": {cable_id: {**fields, "conductors": conductors}}}


def same_make_but(plant: Plant, cable_id: str, count: int) -> Patch | None:
    """The same construction with at least so many conductors; None where it is not made so."""
    make = plant.wires[cable_id][0].make if plant.wires[cable_id] else None
    if make is None or make.family is None or make.family_id is None:
        return None
    size = next((number for number in make.family.counts() if number >= count), None)
    return other_make(plant, cable_id, make.family_id, make.awg, size, make.strands) if size else None


def landed_anew(plant: Plant, key: str, larger: dict[str, Any]) -> dict[str, Any]:
    """The larger cable with the landings that its convention proposes."""
    fresh = {"cables": {key: {**larger["cables"][key], "conductors": None}}}
    bare = read_plan(merge(dump_plan(plant.plan), fresh))
    proposal = propose_landings(Plant(bare), key).patch
    old = dict.fromkeys(plant.plan.cables[key].conductors)
    built = proposal.get("cables", {}).get(key, {}).get("conductors", {})
    # It is a new cable, whatever lay there before.
    fields = {name: value for name, value in larger["cables"][key].items() if name != "conductors"} | {"state": None}
    for name in built:
        for end in ENDS:
            built[name].setdefault(end, {})
            built[name][end] = {"terminal": None, "capped": None, **built[name][end]}
    return {"cables": {key: {**fields, "conductors": {**old, **built}}}}
