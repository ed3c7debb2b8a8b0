"""What a cable takes out of the truck: length with slack, connectors, and the hardware that its terminals ask for."""

from __future__ import annotations

from collections import Counter
from decimal import Decimal

from pydantic import BaseModel, ConfigDict

from leitung_core.plan.wired import CONNECTOR_WORDS
from leitung_core.plant.plant import ENDS, Plant
from leitung_core.units import exact
from leitung_core.wiring.checks.joints import connector_at, connector_for

# Free conductor inside a box or cabinet at each end, ft: six inches by 300.14, and what is dressed in beyond it.
SLACK_FT = {"panel": Decimal(6), "board": Decimal(3), "outdoor unit": Decimal(3), "indoor unit": Decimal(2)}
SLACK_ELSE_FT = Decimal(1)
AT_TERMINAL = {"spade": "spade terminal", "blade": "blade terminal"}


class CableTakeOff(BaseModel):
    """One cable: `length_ft` with slack, None where its length is not known; pieces by name."""

    model_config = ConfigDict(frozen=True)

    cable: str
    says: str
    length_ft: float | None
    slack_ft: float
    connectors: dict[str, int]
    hardware: dict[str, int]
    caps: int
    markers: int


def take_off(plant: Plant) -> list[CableTakeOff]:
    """Every cable that is to be pulled; what is there already or goes out needs only its ends."""
    return [_of(plant, key) for key in plant.plan.cables if plant.plan.cables[key].state != "removed"]


def _of(plant: Plant, key: str) -> CableTakeOff:
    cable, make = plant.plan.cables[key], plant.makes[key]
    slack = sum((_slack(plant, end.device) for end in (cable.a, cable.b)), Decimal(0))
    there = cable.state == "existing"
    connectors, hardware, caps, markers = Counter[str](), Counter[str](), 0, 0
    for joint in cable.joints.values():
        connectors[CONNECTOR_WORDS[joint.connector or connector_for(joint.spot)]] += len(plant.wires[key])
    for wire in plant.wires[key]:
        for end in ENDS:
            post, connector = plant.post(wire, end), connector_at(plant, wire, end)
            connectors.update([CONNECTOR_WORDS[connector]] if connector else [])
            name = AT_TERMINAL.get((post.terminal.hardware if post else None) or "")
            if post and post.terminal.hardware == "screw" and make.strands == "stranded":
                name = "fork terminal or ferrule"
            hardware.update([name] if name else [])
            caps += bool(wire.end(end).capped)
            markers += bool(wire.end(end).reidentified)
    length = None if there or make.length_ft is None else float(exact(make.length_ft) + slack)
    return CableTakeOff(
        cable=key, says=make.says(), length_ft=0.0 if there else length, slack_ft=0.0 if there else float(slack),
        connectors=dict(connectors), hardware=dict(hardware), caps=caps, markers=markers,
    )  # fmt: skip


def _slack(plant: Plant, device_id: str) -> Decimal:
    kind = plant.types.get(device_id)
    return SLACK_FT.get(kind.group if kind else "", SLACK_ELSE_FT)
