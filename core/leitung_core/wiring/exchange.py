"""A device exchanged for another: what was there is kept, conductors go to the terminals that mean the same."""

from __future__ import annotations

from typing import Any

from leitung_core.catalogue.device import function_of, shipped_devices
from leitung_core.errors import InputError, Problem
from leitung_core.plant.plant import ENDS, Plant, Wire
from leitung_core.wiring.moves import was


def exchange(plant: Plant, device_id: str, new_id: str, type_id: str) -> dict[str, Any]:
    """The merge patch that puts a device of another type in the place of one, and keeps the old landings.

    A conductor whose function the new device does not have is left loose at that end: a finding names it. Raises
    InputError where the device or the type is not there, or the new id is taken.
    """
    plan, kind = plant.plan, {**shipped_devices(), **plant.plan.device_types}.get(type_id)
    problems = []
    if device_id not in plan.devices:
        problems.append(Problem("device", device_id, "there is no such device", "Name one of the plan."))
    if kind is None:
        problems.append(Problem("type", type_id, "there is no such device in the catalogue", "Pick one of the list."))
    if new_id in plan.devices:
        problems.append(Problem("id", new_id, "another device has that name", "Give it another one."))
    if problems or kind is None:
        raise InputError(*problems)
    old = plan.devices[device_id]
    settings = {key: setting.factory for key, setting in kind.settings.items() if setting.factory}
    by_function: dict[str, list[str]] = {}
    for name, terminal in kind.terminals().items():
        function = function_of(terminal, kind, settings)
        if function:
            by_function.setdefault(function, []).extend([f"{new_id}.{name}"] * (terminal.takes or 1))
    cables: dict[str, Any] = {}
    for key, cable in plan.cables.items():
        change: dict[str, Any] = {end: {"device": new_id} for end in ENDS if cable.at(end).device == device_id}
        conductors = {
            wire.id: found for wire in plant.wires[key] if (found := _wire(plant, wire, device_id, by_function))
        }
        if change or conductors:
            cables[key] = {**change, "state": cable.state or "existing", "conductors": conductors}
    fresh = {"type": type_id, "place": old.place, "spot": old.spot, "equipment": old.equipment, "circuit": old.circuit,
             "source": old.source, "state": "new"}  # fmt: skip
    devices = {device_id: {"state": "removed"}, new_id: {name: value for name, value in fresh.items() if value}}
    return {"devices": devices, "cables": cables}


def become(plant: Plant, device_id: str, type_id: str) -> dict[str, Any]:
    """The merge patch that says what a unit is of which only the power terminals were known.

    Its conductors go to the terminals that mean the same; nothing was exchanged, so nothing is kept as found.
    """
    kind = shipped_devices()[type_id]
    by_function: dict[str, list[str]] = {}
    for name, terminal in kind.terminals().items():
        by_function.setdefault(function_of(terminal, kind, {}) or "", []).append(f"{device_id}.{name}")
    cables: dict[str, Any] = {}
    for post in plant.posts_of(device_id):
        for wire, end in plant.on.get(post.ref, ()):
            there = by_function.get(post.function or "", [])
            landing = {end: {"terminal": there[0] if there else None}}
            cables.setdefault(wire.cable_id, {"conductors": {}})["conductors"][wire.id] = landing
    return {"devices": {device_id: {"type": type_id}}} | ({"cables": cables} if cables else {})


def _wire(plant: Plant, wire: Wire, device_id: str, by_function: dict[str, list[str]]) -> dict[str, Any]:
    """A conductor at the exchanged device: kept as found at both ends, and landed where the new one means the same."""
    ends = [end for end in ENDS if (wire.end(end).terminal or f"{wire.device(end)}.").split(".")[0] == device_id]
    if not ends:
        return {}
    found: dict[str, Any] = {}
    for end in ENDS:
        if was(wire, end) is None:
            found[f"was_{end}"] = {"terminal": wire.end(end).terminal, "capped": wire.end(end).capped}
    for end in ends:
        post = plant.post(wire, end)
        free = by_function.get(post.function or "", []) if post else []
        if wire.end(end).terminal is not None:
            found[end] = {"terminal": free.pop(0) if free else None, "capped": None, "pigtail": None}
    return found
