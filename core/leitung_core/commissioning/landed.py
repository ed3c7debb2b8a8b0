"""Landings to be ticked at each device: tugged, tightened, seen."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from leitung_core.plant.plant import Plant


class LandingItem(BaseModel):
    """A terminal on which something is to land. `key` is the terminal; records refer to it."""

    model_config = ConfigDict(frozen=True)

    key: str
    device: str


def landing_items(plant: Plant) -> list[LandingItem]:
    """Every terminal of the plan on which a conductor in service lands, device by device."""
    found = []
    for device in sorted(plant.types):
        if plant.plan.devices[device].state == "removed":
            continue
        for post in plant.posts_of(device):
            if any(wire.cable.state != "removed" for wire, _ in plant.on.get(post.ref, ())):
                found.append(LandingItem(key=post.ref, device=device))
    return found
