"""The moves between two states: what was found on the terminals, and what is to hang there afterwards."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from leitung_core.plan.wired import EndName, Was
from leitung_core.plant.plant import ENDS, Plant, Wire


class Move(BaseModel):
    """One thing to do with one end of one conductor; `before` and `after` are its place in words."""

    model_config = ConfigDict(frozen=True)

    cable: str
    conductor: str
    colour: str
    end: EndName
    device: str
    what: Literal["land", "move", "cap", "take off", "uncap"]
    before: str
    after: str


def moves_of(plant: Plant) -> list[Move]:
    """Every end that does not stay as it was found, cable by cable."""
    found = [_move(plant, wire, end) for wire in plant.every_wire() for end in ENDS]
    return [move for move in found if move is not None]


def was(wire: Wire, end: EndName) -> Was | None:
    """How an end was found; None where it was not captured."""
    return wire.conductor.was_a if end == "a" else wire.conductor.was_b


def _move(plant: Plant, wire: Wire, end: EndName) -> Move | None:
    before, now = was(wire, end), wire.end(end)
    if before is None or (before.terminal == now.terminal and bool(before.capped) == bool(now.capped)):
        return None
    if now.terminal is not None:
        what: Any = "move" if before.terminal else "land"
    elif now.capped:
        what = "cap"
    else:
        what = "take off" if before.terminal else "uncap"
    return Move(
        cable=wire.cable_id, conductor=wire.id, colour=wire.colour, end=end, what=what,
        device=(now.terminal or before.terminal or wire.device(end)).split(".")[0],
        before=_place(plant, before.terminal, before.capped), after=_place(plant, now.terminal, now.capped),
    )  # fmt: skip


def _place(plant: Plant, terminal: str | None, capped: bool | None) -> str:
    if terminal is None:
        return "capped" if capped else "loose"
    post = plant.posts.get(terminal)
    return post.at if post else f"{terminal.split('.', 1)[1]} at {terminal.split('.')[0]}"


def capture(plant: Plant, cable_id: str) -> dict[str, Any]:
    """The patch that keeps a cable's landings as found."""
    conductors: dict[str, Any] = {}
    for wire in plant.wires[cable_id]:
        ends = {
            f"was_{end}": {"terminal": wire.end(end).terminal, "capped": wire.end(end).capped or None} for end in ENDS
        }
        conductors[wire.id] = ends
    return {"cables": {cable_id: {"conductors": conductors}}}
