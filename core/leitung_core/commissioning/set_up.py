"""The set-up sheet: what to set at each device, as it follows from the plan and its wiring, to be ticked off."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import BaseModel, ConfigDict

from leitung_core.control.system import System
from leitung_core.elements.vocabulary import Coil, Load
from leitung_core.plant.plant import Plant, setting_of

VALVE = {"valve-cool": "cooling", "valve-heat": "heating"}


class SetUpItem(BaseModel):
    """One thing to set: at which device, what, to which value, why; `as_planned` where the plan says the same.

    `key` is stable: records refer to it. `system` is the device at the head of its control system.
    """

    model_config = ConfigDict(frozen=True)

    key: str
    system: str
    device: str
    what: str
    value: str
    why: str
    as_planned: bool | None


ZONES_SHOW = "cables exchanged between zones show only where each unit's zone is known"


def set_up(system: System) -> list[SetUpItem]:
    """What to set in a system, device by device: every setting as planned, and what follows from the wiring."""
    rows = [row for key in system.devices for row in _settings(system, key)]
    rows += [row for key in system.devices for row in _follows(system, key)]
    return sorted(rows, key=lambda row: (row.device, row.as_planned is None))


def _item(
    system: System, device: str, name: str, what: str, value: str, why: str, as_planned: bool | None
) -> SetUpItem:
    return SetUpItem(
        key=f"{device}/{name}", system=system.key, device=device, what=what, value=value, why=why, as_planned=as_planned
    )


def _settings(system: System, key: str) -> Iterator[SetUpItem]:
    kind, device = system.plant.types[key], system.plant.plan.devices[key]
    for name, setting in kind.settings.items():
        value = setting_of(kind, device.settings, name)
        if not _matters(system.plant, key, name):
            continue
        if value is None:
            if name == "zone" and _zones(system) > 1:
                yield _item(system, key, name, setting.says, "not said", ZONES_SHOW, False)
            continue
        wanted, why = _wanted(system, key, name)
        said = setting.words(wanted or value)
        recorded = name in device.settings
        note = why or ("as planned" if recorded else "as it leaves the factory; nothing else is planned")
        yield _item(system, key, name, setting.says, said, note, wanted in (None, value))


def _matters(plant: Plant, key: str, name: str) -> bool:
    """Whether a setting has a part here: one that only gives terminals their meaning has none while they are bare."""
    given = [post for post in plant.posts_of(key) if name in (post.terminal.function_by or {})]
    return not given or any(plant.on.get(post.ref) for post in given)


def _wanted(system: System, key: str, name: str) -> tuple[str | None, str | None]:
    """The value that the wiring asks of a setting, and why; None where it asks for none."""
    plant = system.plant
    if name == "valve":
        for post in plant.posts_of(key):
            for sense, value in VALVE.items():
                if name in (post.terminal.function_by or {}) and sense in _meanings(plant, post.ref):
                    return value, f"the board's terminal is energised in {value}"
    if name == "heads":
        heads = _heads(system, key)
        return (str(heads), f"{heads} sensing heads are landed") if heads else (None, None)
    if name == "equipment":
        if system.heat_pump:
            return "heat pump", "a reversing valve is in the system"
        return "furnace", "no reversing valve here"
    if name == "start-lead":
        starts = [post for post in plant.posts_of(key) if post.function == "motor-start"]
        if all(plant.on.get(post.ref) for post in starts):
            return "off", "something lies in series with it"
        return "capacitor", "nothing lies in series with it"
    if name == "accessory":
        for post in plant.posts_of(key):
            if name in (post.terminal.function_by or {}) and plant.on.get(post.ref):
                called = _called_over(system, post.ref)
                return (called, f"the conductor on {post.label} leads to it") if called else (None, None)
    return None, None


def _meanings(plant: Plant, ref: str) -> frozenset[str]:
    net = plant.nets.get(ref)
    own = plant.posts[ref].function
    return frozenset(net.meanings - ({own} if own else set())) if net else frozenset()


def _zones(system: System) -> int:
    """Zones of the system's outdoor unit on which something is landed."""
    signals = [post for key in system.devices if system.plant.types[key].group == "outdoor unit"
               for post in system.plant.posts_of(key) if post.function == "signal"]  # fmt: skip
    return sum(bool(system.plant.on.get(post.ref)) for post in signals)


def _heads(system: System, key: str) -> int:
    """Sensing heads landed at a detector."""
    found = 0
    for post in system.plant.posts_of(key):
        if post.function == "head-plus":
            found += bool(system.plant.on.get(post.ref))
    return found


def _called_over(system: System, ref: str) -> str | None:
    """What an accessory contact calls: by what its conductor reaches."""
    plant = system.plant
    net = plant.nets.get(ref)
    for other in net.refs if net else ():
        post = plant.posts.get(other)
        if post is None or post.ref == ref:
            continue
        group = plant.types[post.device_id]
        for part in group.inside:
            if isinstance(part, Coil | Load) and f"{post.device_id}.{part.a}" == other:
                words = system.intents.get(f"{post.device_id}.{part.id}", "")
                return next((call for call in ("dehumidify", "humidify") if f"call:{call}" in words), None)
    return None


def _follows(system: System, key: str) -> Iterator[SetUpItem]:
    """What follows from the calls that are landed at a thermostat."""
    plant = system.plant
    if plant.types[key].group != "thermostat":
        return
    landed = {post.function for post in plant.posts_of(key) if plant.on.get(post.ref)}
    compressors, strips = len(landed & {"cool-1", "cool-2"}), len(landed & {"heat-1", "heat-2"})
    # A heat pump's compressor heats too: its stages are counted with the strips.
    heat, why = strips, "calls that are landed"
    if system.heat_pump and compressors:
        heat += compressors
        why = f"{compressors} of the compressor and {strips} of the strip"
    if compressors:
        yield _item(
            system, key, "stages-of-cooling", "stages of cooling", str(compressors), "calls that are landed", None
        )
    if heat:
        yield _item(system, key, "stages-of-heat", "stages of heat", str(heat), why, None)
    if "humidifier" in system.effects or "call:humidify" in system.calls:
        yield _item(system, key, "humidity-by", "humidity is controlled by", _humidity(system),
                    "what is wired to call it", None)  # fmt: skip


def _humidity(system: System) -> str:
    by = [key for key in system.devices if system.plant.types[key].id == "humidistat"]
    if by:
        return f"the humidistat {by[0]}"
    return "the thermostat" if "call:humidify" in system.calls else "nothing here"
