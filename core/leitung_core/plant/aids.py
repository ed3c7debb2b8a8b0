"""What helps the compressor of a unit up: the aid that is drawn and landed, else the one that is planned.

A starter that is drawn helps only once it is landed on every lead of its role.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from leitung_core.plan.feeds import Aid

if TYPE_CHECKING:
    from leitung_core.plant.plant import Plant


Standing = Literal["none", "planned", "drawn", "not_landed"]
OF_DEVICE: dict[str, Literal["soft_starter", "hard_start"]] = {
    "soft-starter": "soft_starter", "hard-start": "hard_start",
}  # fmt: skip


@dataclass(frozen=True)
class AidAt:
    """The aid that counts; how it stands in the plan; the device that it is, where one is drawn."""

    aid: Aid
    standing: Standing
    device: str | None = None


def aid_of(plant: Plant, unit_id: str) -> AidAt:
    """The start aid of a unit."""
    unit = plant.plan.equipment[unit_id]
    planned = (unit.start.aid if unit.start else None) or Aid()
    for key in plant.index.devices_of_unit.get(unit_id, ()):
        device = plant.plan.devices[key]
        kind = OF_DEVICE.get(device.type or "")
        if kind is None or device.state == "removed":
            continue
        if not landed_whole(plant, key):
            return AidAt(Aid(), "not_landed", key)
        return AidAt(planned if planned.kind == kind else Aid(kind=kind), "drawn", key)
    return AidAt(planned, "none" if planned.kind == "none" else "planned")


def landed_whole(plant: Plant, device_id: str) -> bool:
    """Whether a conductor stands on every terminal of a device."""
    return all(plant.on.get(post.ref) for post in plant.posts_of(device_id))
