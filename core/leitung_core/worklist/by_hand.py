"""What is put up, mounted and pulled before start-up begins: its minutes from the metal of the plan."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from leitung_core.control.system import System
from leitung_core.loadout.rows import NOT_TAKEN
from leitung_core.plant.plant import Plant
from leitung_core.worklist.ranges import NOTHING, Range, takes
from leitung_core.worklist.tasks import PEOPLE, WorkTask

ACCESS = ("roof", "attic", "crawl_space")
OUTDOORS = ("roof", "outdoor")


def lines_roughed(plant: Plant, lines: list[str]) -> Iterator[WorkTask]:
    """Each line's unit set, its run pulled, its disconnect mounted; nothing where all of it is there already."""
    for line in lines:
        found = _line(plant, line)
        if found is not None:
            yield found


def _line(plant: Plant, line: str) -> WorkTask | None:
    circuit = plant.plan.circuits[line]
    unit = plant.plan.equipment[circuit.equipment or ""]
    mine = [plant.plan.devices[key] for key in plant.index.devices_of_unit.get(circuit.equipment, ())]
    total, lacks, did = NOTHING, list[str](), list[str]()
    new_unit = not mine or any(device.state not in NOT_TAKEN for device in mine)
    places = {segment.place for _, segment in circuit.segments() if segment.place}
    on_roof = "roof" in places
    if new_unit:
        total += takes("unit", unit.quantity or 1)
        total += takes("unit-roof") if on_roof else NOTHING
        did.append("set the unit")
    stretches = [row.segment for row in plant.lines[line].stretches if not row.segment.existing]
    if stretches:
        did.append("run the line")
    for segment in stretches:
        if segment.length_ft is None:
            lacks.append("a length of its run")
        total += takes("raceway" if segment.raceway else "cable", segment.length_ft or 0)
    if circuit.disconnect is not None and new_unit and not unit.cord_connected:
        total += takes("disconnect")
        did.append("mount the disconnect")
    if not did:
        return None
    about = [f"circuits/{line}", f"equipment/{circuit.equipment}"]
    name = unit.name or circuit.name
    words = f"{line}{f' {name}' if name and name != line else ''}: {', '.join(did)}"
    more: dict[str, Any] = {"access": sorted(places & set(ACCESS)) + (["lift"] if on_roof and new_unit else [])}
    people = ("installer", "installer") if on_roof and new_unit else PEOPLE["rough"]
    return WorkTask(
        key=f"rough-{line}", kind="rough", text=words, about=about, people=list(people), minutes=total, lacks=lacks,
        outdoors=bool(places & set(OUTDOORS)), **more,
    )  # fmt: skip


def control_pulled(plant: Plant, systems: list[System]) -> Iterator[WorkTask]:
    """The control of each system: its devices mounted, its cables pulled and landed; a cable goes with the first."""
    taken = {row.cable for line in plant.lines.values() for row in line.stretches if row.cable}
    for system in systems:
        total, lacks, devices, cables = NOTHING, list[str](), 0, 0
        for key in system.devices:
            device, kind = plant.plan.devices[key], plant.types[key]
            own = device.equipment is None and device.circuit is None and kind.group not in ("panel", "disconnect")
            if own and device.state not in NOT_TAKEN and f"device {key}" not in taken:
                total, devices = total + takes("device"), devices + 1
                taken.add(f"device {key}")
        for key in _cables_of(plant, system):
            if key in taken:
                continue
            taken.add(key)
            total, cables = total + _pulled(plant, key, lacks), cables + 1
        if devices or cables:
            parts = [f"mount {_counted(devices, 'device')}" if devices else "",
                     f"pull and land {_counted(cables, 'cable')}" if cables else ""]  # fmt: skip
            yield WorkTask(
                key=f"control-{system.key}", kind="control", about=[f"devices/{system.key}"],
                text=f"Control of {system.title}: {', '.join(part for part in parts if part)}",
                people=list(PEOPLE["control"]), minutes=total, lacks=lacks,
            )  # fmt: skip


def _counted(count: int, what: str) -> str:
    return f"{count} {what}{'' if count == 1 else 's'}"


def _cables_of(plant: Plant, system: System) -> list[str]:
    there = set(system.devices)
    return [
        key for key, cable in plant.plan.cables.items()
        if {cable.a.device, cable.b.device} <= there and cable.state not in NOT_TAKEN and not cable.factory_cord
        and cable.segments is None
    ]  # fmt: skip


def _pulled(plant: Plant, key: str, lacks: list[str]) -> Range:
    make = plant.makes[key]
    if make.length_ft is None:
        lacks.append(f"the length of {key}")
    return takes("control-cable", float(make.length_ft or 0)) + takes("control-end", 2 * (make.count or 0))
