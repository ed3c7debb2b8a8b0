"""References of devices and cables: every one must lead to an element that is there.

A terminal that a device does not have is no error: the device may have been exchanged. It is a finding.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator
from typing import TYPE_CHECKING

from leitung_core.catalogue.cables import cable_families
from leitung_core.catalogue.device import Setting, read_device_type, shipped_devices
from leitung_core.errors import InputError, Problem

if TYPE_CHECKING:
    from leitung_core.plan.model import Plan
    from leitung_core.plan.wired import Cable


def wiring_references(plan: Plan) -> list[Problem]:
    """What in the wiring refers to nothing."""
    return [*_own_types(plan), *_devices(plan), *_cables(plan)]


def missing(field: str, target: str | None, group: Collection[str]) -> Iterator[Problem]:
    """A problem where `target` is none of `group`."""
    if target is not None and target not in group:
        known = ", ".join(list(group)[:5]) or "none yet"
        yield Problem(field, target, "there is no such element", f"Known: {known}.")


def _own_types(plan: Plan) -> Iterator[Problem]:
    for key, kind in plan.device_types.items():
        field = f"device_types.{key}"
        if kind.id != key:
            yield Problem(f"{field}.id", kind.id, "is not the name under which it stands", f'Write "{key}".')
        try:
            read_device_type(kind.model_dump(exclude_unset=True), field)
        except InputError as error:
            yield from error.problems


def _devices(plan: Plan) -> Iterator[Problem]:
    types = {**shipped_devices(), **plan.device_types}
    for key, device in plan.devices.items():
        field = f"devices.{key}"
        yield from missing(f"{field}.type", device.type, types)
        yield from missing(f"{field}.equipment", device.equipment, plan.equipment)
        yield from missing(f"{field}.source", device.source, plan.sources)
        yield from missing(f"{field}.circuit", device.circuit, plan.circuits)
        kind = types.get(device.type or "")
        for setting, value in device.settings.items() if kind else ():
            if kind and setting in kind.settings:
                yield from _setting(f"{field}.settings.{setting}", value, kind.settings[setting])


def _setting(field: str, value: str, setting: Setting) -> Iterator[Problem]:
    if setting.span is None:
        yield from missing(field, value, setting.values)
    elif not setting.allows(value):
        span = setting.span
        remedy = f"Turn it to a figure from {span.least:g} to {span.most:g} {span.unit}."
        yield Problem(field, value, "is not on the knob", remedy)


def _cables(plan: Plan) -> Iterator[Problem]:
    for key, cable in plan.cables.items():
        field = f"cables.{key}"
        yield from missing(f"{field}.family", cable.family, cable_families())
        yield from missing(f"{field}.a.device", cable.a.device, plan.devices)
        yield from missing(f"{field}.b.device", cable.b.device, plan.devices)
        yield from missing(f"{field}.circuit", cable.circuit, plan.circuits)
        if cable.a.device == cable.b.device and cable.family != "jumper":
            message, remedy = "both ends are at one device", "Name another device, or make the cable a jumper."
            yield Problem(f"{field}.b.device", cable.b.device, message, remedy)
        if cable.colours and len(set(cable.colours)) < len(cable.colours):
            twice = next(name for name in cable.colours if cable.colours.count(name) > 1)
            yield Problem(f"{field}.colours", twice, "stands there twice", "Number the second one, as red-2.")
        yield from _landings(plan, field, cable)


def _landings(plan: Plan, field: str, cable: Cable) -> Iterator[Problem]:
    for name, conductor in cable.conductors.items():
        ends = (("a", conductor.a), ("b", conductor.b), ("was_a", conductor.was_a), ("was_b", conductor.was_b))
        for end_name, end in ends:
            if end is None:
                continue
            where = f"{field}.conductors.{name}.{end_name}"
            if end.terminal is not None:
                yield from missing(f"{where}.terminal", end.terminal.split(".")[0], plan.devices)
                if end.capped:
                    yield Problem(where, end.terminal, "is landed and capped at once", "Take one of the two out.")
