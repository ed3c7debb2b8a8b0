"""The landings of a cable as the crew made them in another plan, between devices of the same two types."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from leitung_core.catalogue.device import shipped_devices
from leitung_core.plan.wired import EndName
from leitung_core.plant.plant import ENDS, Plant, Wire

Json = Mapping[str, Any]


def landed_as_before(plant: Plant, cable_id: str, other: Json) -> dict[str, Any] | None:
    """The change that lands a cable as in another plan's document; None where nothing there says so.

    The other cable runs between devices of the same two shipped types and has every conductor of this one, all of them
    landed or capped. Where all hang so already there is nothing to offer.
    """
    wires = plant.wires[cable_id]
    cable = plant.plan.cables[cable_id]
    types: list[str | None] = [plant.plan.devices[cable.at(end).device].type for end in ENDS]
    if not wires or not shipped_devices().keys() >= set(types):
        return None
    for there in _alike(other, types):
        found = {wire.id: _ends(plant, wire, there) for wire in wires}
        if all(found.values()):
            change = {key: moved for key, moved in found.items() if moved != _now(wires, key)}
            return {"cables": {cable_id: {"conductors": change}}} if change else None
    return None


@dataclass(frozen=True)
class _There:
    """A cable of another plan: its conductors, which of its ends is which of ours, the types of that plan's devices."""

    cable: Json
    ends: Mapping[EndName, EndName]
    type_of: Mapping[str, str]


def _alike(other: Json, types: list[str | None]) -> Iterator[_There]:
    """The cables of another plan between devices of these types."""
    type_of = {key: device.get("type") for key, device in (other.get("devices") or {}).items()}
    for cable in (other.get("cables") or {}).values():
        if cable.get("state") == "removed":
            continue
        at = [type_of.get((cable.get(end) or {}).get("device")) for end in ENDS]
        if at == types:
            yield _There(cable, {"a": "a", "b": "b"}, type_of)
        elif at == types[::-1]:
            yield _There(cable, {"a": "b", "b": "a"}, type_of)


def _ends(plant: Plant, wire: Wire, there: _There) -> dict[str, Any] | None:
    """Both ends of a conductor as they hang there; None where one of them hangs loose or has no such terminal here."""
    conductor = (there.cable.get("conductors") or {}).get(wire.id) or {}
    found: dict[str, Any] = {}
    for end in ENDS:
        entry = conductor.get(there.ends[end]) or {}
        if entry.get("capped"):
            found[end] = {"terminal": None, "capped": True, "pigtail": None}
            continue
        ref = _here(plant, wire.device(end), entry.get("terminal") or "", there, there.ends[end])
        if ref not in plant.posts:
            return None
        found[end] = {"terminal": ref, "capped": None, "pigtail": entry.get("pigtail") or None}
    return found


def _here(plant: Plant, device: str, ref: str, there: _There, end: EndName) -> str | None:
    """A terminal of the other plan in this one: of the cable's own device, or of the one joint of that type."""
    name, _, terminal = ref.partition(".")
    if name == (there.cable.get(end) or {}).get("device"):
        return f"{device}.{terminal}"
    same = [key for key, entry in plant.plan.devices.items() if entry.type == there.type_of.get(name)]
    return f"{same[0]}.{terminal}" if len(same) == 1 else None


def _now(wires: list[Wire], key: str) -> dict[str, Any]:
    wire = next(wire for wire in wires if wire.id == key)
    return {
        end: {"terminal": wire.end(end).terminal, "capped": wire.end(end).capped or None,
              "pigtail": wire.end(end).pigtail or None}
        for end in ENDS
    }  # fmt: skip
