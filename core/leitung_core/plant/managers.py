"""The load managers that are drawn at the units of a source, beside the device that its plan counts on.

One that is drawn sheds only once it is landed on every terminal. What it is set to counts where the plan
of the source does not say it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from leitung_core.plan.feeds import Manager
from leitung_core.plant.aids import landed_whole
from leitung_core.plant.plant import setting_of
from leitung_core.ranges import Range

if TYPE_CHECKING:
    from leitung_core.plant.plant import Plant

TYPE = "load-manager"
FIGURES = {"above_a": ("above", "A"), "after_s": ("after", "s")}  # of the plan: as the device calls it, unit


@dataclass(frozen=True)
class DrawnManager:
    """A load manager at the unit of a line."""

    line: str
    device: str
    landed: bool
    set_to: dict[str, float]  # by the figure of the plan that it is


@dataclass(frozen=True)
class Managed:
    """The manager that counts for a source, what is drawn of it, and for which lines nothing is drawn."""

    manager: Manager | None
    drawn: tuple[DrawnManager, ...]
    not_drawn: tuple[str, ...]


def managed(plant: Plant, source_id: str, lines: Sequence[str]) -> Managed:
    """What sheds or alternates loads on a source with these lines."""
    planned = plant.plan.sources[source_id].manager
    drawn = tuple(found for line in lines for found in _at(plant, line))
    if planned is None or planned.kind != "sheds":
        return Managed(planned, drawn, ())
    at = {found.line: found for found in drawn}
    blind = {line for line, found in at.items() if not found.landed}
    loads = [load for load in planned.loads if load not in blind]
    not_drawn = tuple(load for load in planned.loads if load in lines and load not in at and _wired(plant, load))
    if not loads:
        return Managed(None, drawn, not_drawn)
    figures = {
        name: Range(low=value, high=value)
        for name in FIGURES if getattr(planned, name) is None and (value := _one(drawn, name)) is not None
    }  # fmt: skip
    return Managed(planned.model_copy(update={"loads": loads, **figures}), drawn, not_drawn)


def _at(plant: Plant, line: str) -> list[DrawnManager]:
    return [
        DrawnManager(line, key, landed_whole(plant, key), _set_to(plant, key))
        for key in plant.index.devices_of_unit.get(plant.plan.circuits[line].equipment, ())
        if plant.plan.devices[key].type == TYPE and plant.plan.devices[key].state != "removed"
    ]


def _wired(plant: Plant, line: str) -> bool:
    """Whether anything of the line's unit is drawn: before that, nothing is asked for."""
    return bool(plant.index.devices_of_unit.get(plant.plan.circuits[line].equipment))


def _set_to(plant: Plant, device: str) -> dict[str, float]:
    kind, settings = plant.types[device], plant.plan.devices[device].settings
    return {name: float(setting_of(kind, settings, setting) or 0) for name, (setting, _) in FIGURES.items()}


def _one(drawn: Sequence[DrawnManager], name: str) -> float | None:
    """What they are all set to; None where they are set differently, or none is drawn."""
    values = {found.set_to[name] for found in drawn}
    return values.pop() if len(values) == 1 else None
