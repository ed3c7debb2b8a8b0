"""Older versions of the plan format, brought up to this one. Each step knows one version and the next."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

Json = dict[str, Any]


def from_1(plan: Json) -> Json:
    """Version 1 had strips as bare lists of terminals on the unit; they become a device with a type of its own."""
    units = plan.get("equipment")
    found = {**plan, "format_version": 2}
    if not isinstance(units, Mapping):
        return found
    devices, types = {}, {}
    found["equipment"] = {
        key: {name: value for name, value in unit.items() if name != "strips"} if isinstance(unit, Mapping) else unit
        for key, unit in units.items()
    }
    for key, unit in units.items():
        strips = _strips(unit)
        if strips:
            name = unit.get("name") or key
            types[key] = {"id": key, "name": name, "group": "outdoor unit", "strips": strips}
            devices[key] = {"type": key, "name": name, "equipment": key}
            if unit.get("place"):
                devices[key]["place"] = unit["place"]
    return found | ({"devices": devices, "device_types": types} if devices else {})


def _strips(unit: Any) -> list[Json]:
    """The strips of a unit of version 1 that have terminals, as those of a device."""
    strips = unit.get("strips") if isinstance(unit, Mapping) else None
    return [
        {"id": key, "name": strip.get("name") or key, "terminals": [{"id": name} for name in strip["terminals"]]}
        for key, strip in (strips.items() if isinstance(strips, Mapping) else ())
        if isinstance(strip, Mapping) and isinstance(strip.get("terminals"), list) and strip["terminals"]
    ]


STEPS: dict[int, Callable[[Json], Json]] = {1: from_1}


def newest(plan: Json) -> Json:
    """The plan in the newest version; as it is where its version is not one of the older ones."""
    version = plan.get("format_version")
    while isinstance(version, int) and not isinstance(version, bool) and version in STEPS:
        plan = STEPS[version](plan)
        version = plan["format_version"]
    return plan
