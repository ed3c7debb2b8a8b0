"""Before anything is touched: what is there, what stands behind the wall, and the mounting that wiring depends on."""

from __future__ import annotations

import csv
from collections.abc import Iterator, Sequence
from functools import cache
from importlib.resources import files

from leitung_core.commissioning.steps import StartStep
from leitung_core.plan.model import Unit
from leitung_core.plant.plant import Plant
from leitung_core.units import say

HIDDEN = "Hidden wires and pipes: find them before a drill or a screw goes in."
DRILLED = {"mini_split_outdoor", "unit_heater", "packaged_rooftop", "roof_unit_120v", "steam_humidifier"}


def survey(plant: Plant, line: str, devices: Sequence[str]) -> Iterator[StartStep]:
    """What is looked at first at a line's unit. `devices` are those of the unit and its line, in service or not."""
    unit = plant.plan.equipment[plant.plan.circuits[line].equipment or ""]
    about = f"circuits/{line}"
    yield StartStep(key=f"{line}.plate", about=about, phase="survey", text=_plate(unit), minutes=3)
    old = _found(plant, line, devices)
    if old:
        cables = "cable" if len(old) == 1 else "cables"
        yield StartStep(
            key=f"{line}.found", about=about, phase="survey", minutes=10, hold=True,
            text=f"What is there already, {cables} {', '.join(old)}: gauge, count, insulation and continuity as "
            "planned; a photo of each end before anything is taken off.",
        )  # fmt: skip
    if unit.kind in DRILLED:
        yield StartStep(
            key=f"{line}.behind", about=about, phase="survey", minutes=5, caution=HIDDEN,
            text="What lies behind wall and roof where it is drilled and screwed: looked for, and marked.",
        )  # fmt: skip
    yield from _mounted(plant, line, unit, devices)


def _plate(unit: Unit) -> str:
    plate, marks = unit.nameplate, []
    if plate is not None:
        marks += [f"{plate.volts} V"] if plate.volts else []
        marks += [f"MCA {say(plate.mca_a)} A"] if plate.mca_a else []
        marks += [f"at most {say(plate.max_ocpd_a)} A"] if plate.max_ocpd_a else []
    held = f": {', '.join(marks)}" if marks else ", and enter what it says"
    return f"Hold the unit’s plate against the plan{held}."


def _found(plant: Plant, line: str, devices: Sequence[str]) -> list[str]:
    """Cables that were there before, at the unit or on its line."""
    cables = plant.plan.cables
    near = {key for device in devices for key in plant.index.cables_at.get(device, ())}
    near |= set(plant.index.cables_of_line.get(line, ()))
    return sorted(key for key in near if cables[key].state in ("existing", "removed"))


def _mounted(plant: Plant, line: str, unit: Unit, devices: Sequence[str]) -> Iterator[StartStep]:
    said = set()
    at_hand = [
        key for key in devices if plant.plan.devices[key].state is None or plant.plan.devices[key].state == "new"
    ]
    for name in (unit.kind, *(word for key in at_hand if key in plant.types for word in _words(plant, key))):
        for row in _rows().get(name, ()):
            if row["name"] not in said:
                said.add(row["name"])
                yield StartStep(
                    key=f"{line}.{row['name']}", about=f"circuits/{line}", phase="survey", text=row["text"],
                    minutes=float(row["minutes"]),
                )  # fmt: skip


def _words(plant: Plant, device: str) -> tuple[str, str]:
    kind = plant.types[device]
    return kind.id, kind.group


@cache
def _rows() -> dict[str, list[dict[str, str]]]:
    """What mounting asks, by kind of unit, by device or by its group."""
    found: dict[str, list[dict[str, str]]] = {}
    text = files("leitung_core.commissioning").joinpath("mounting.csv").read_text("utf-8")
    for row in csv.DictReader(text.splitlines()):
        found.setdefault(row["of"], []).append(row)
    return found
