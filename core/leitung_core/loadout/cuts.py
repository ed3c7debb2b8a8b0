"""From which rolls the pieces of a cable are cut: the least length bought, then the fewest rolls.

Each piece comes whole from one roll. What no roll is long enough for is cut from the reel at the counter.
"""

from __future__ import annotations

import csv
from collections.abc import Sequence
from functools import cache
from importlib.resources import files

from ortools.sat.python import cp_model
from pydantic import BaseModel, ConfigDict

from leitung_core.loadout.rows import LoadOut, Row

PER_FT = 10  # lengths in whole tenths of a foot
MOST_PIECES = 60
LIMIT_S = 2.0
# Thicker than that, conductors are cut from the reel at the counter.
THICKEST = {"14", "12", "10", "8", "16", "18", "20", "22"}


class Roll(BaseModel):
    """One roll and what is cut from it, ft."""

    model_config = ConfigDict(frozen=True)

    length_ft: float
    pieces_ft: list[float]

    @property
    def left_ft(self) -> float:
        """What stays on it."""
        return round(self.length_ft - sum(self.pieces_ft), 2)


class Cut(BaseModel):
    """The rolls for one row; `by_the_foot`: pieces cut at the counter; proven: whether less cannot be bought."""

    model_config = ConfigDict(frozen=True)

    item: str
    rolls: list[Roll]
    by_the_foot: list[float]
    proven: bool


def cuts(found: LoadOut) -> list[Cut]:
    """From which rolls the cables and conductors of a load-out are cut."""
    return [cut_of(row.item, row.pieces, sold_in(row)) for row in found.rows if row.pieces]


def sold_in(row: Row) -> tuple[int, ...]:
    """The rolls in which a row's cable is sold, ft; none where it is sold by the foot."""
    if row.group == "conductor" and row.awg not in THICKEST:
        return ()
    return next((lengths for word, lengths in _rolls() if word in row.item), ())


@cache
def _rolls() -> tuple[tuple[str, tuple[int, ...]], ...]:
    text = files("leitung_core.loadout").joinpath("rolls.csv").read_text("utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    return tuple((row["begins"], tuple(int(length) for length in row["lengths_ft"].split())) for row in rows)


def cut_of(item: str, pieces: Sequence[float], sold: Sequence[int]) -> Cut:
    """Pieces cut from rolls of these lengths, all ft."""
    longest = max(sold, default=0)
    from_rolls = sorted((piece for piece in pieces if piece <= longest), reverse=True)
    by_the_foot = [piece for piece in pieces if piece > longest]
    if not from_rolls:
        return Cut(item=item, rolls=[], by_the_foot=by_the_foot, proven=True)
    first = _first_fit(from_rolls, sold)
    if len(from_rolls) > MOST_PIECES:
        return Cut(item=item, rolls=first, by_the_foot=by_the_foot, proven=False)
    rolls, proven = _least(from_rolls, sold, first)
    return Cut(item=item, rolls=rolls, by_the_foot=by_the_foot, proven=proven)


def _first_fit(pieces: Sequence[float], sold: Sequence[int]) -> list[Roll]:
    """Longest first, each into the first of the longest rolls that has room; then each roll as short as it may be."""
    bins: list[list[float]] = []
    for piece in pieces:
        room = next((cut for cut in bins if sum(cut) + piece <= max(sold)), None)
        if room is None:
            bins.append([piece])
        else:
            room.append(piece)
    return [Roll(length_ft=min(length for length in sold if length >= sum(cut)), pieces_ft=cut) for cut in bins]


def _least(pieces: Sequence[float], sold: Sequence[int], first: list[Roll]) -> tuple[list[Roll], bool]:
    """The least length of rolls, then the fewest; a roll for each piece is always enough."""
    model, tenths = cp_model.CpModel(), [round(piece * PER_FT) for piece in pieces]
    bins = range(len(pieces))
    size = [[model.new_bool_var(f"roll {b} of {length}") for length in sold] for b in bins]
    lies = [[model.new_bool_var(f"piece {p} on {b}") for b in bins] for p in range(len(pieces))]
    for p, row in enumerate(lies):
        model.add_exactly_one(row[: p + 1])  # of like rolls the first is taken first
        for spare in row[p + 1 :]:
            model.add(spare == 0)
    for b in bins:
        model.add_at_most_one(size[b])
        room = sum(length * PER_FT * taken for length, taken in zip(sold, size[b], strict=True))
        model.add(sum(tenths[p] * lies[p][b] for p in range(len(pieces))) <= room)
    bought = sum(length * taken for row in size for length, taken in zip(sold, row, strict=True))
    count = sum(taken for row in size for taken in row)
    model.minimize(bought * (len(pieces) + 1) + count)
    _hint(model, pieces, sold, first, size, lies)
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = LIMIT_S
    solver.parameters.num_workers = 1
    status = solver.solve(model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return first, False
    found = [
        Roll(
            length_ft=next(length for length, taken in zip(sold, size[b], strict=True) if solver.boolean_value(taken)),
            pieces_ft=[pieces[p] for p in range(len(pieces)) if solver.boolean_value(lies[p][b])],
        )
        for b in bins if any(solver.boolean_value(lies[p][b]) for p in range(len(pieces)))
    ]  # fmt: skip
    return sorted(found, key=lambda roll: (-roll.length_ft, roll.pieces_ft)), status == cp_model.OPTIMAL


def _hint(
    model: cp_model.CpModel, pieces: Sequence[float], sold: Sequence[int], first: list[Roll],
    size: list[list[cp_model.IntVar]], lies: list[list[cp_model.IntVar]],
) -> None:  # fmt: skip
    """Begin from what first fit found."""
    left = list(range(len(pieces)))
    for roll in first:
        mine = []
        for piece in roll.pieces_ft:
            mine.append(next(p for p in left if pieces[p] == piece))
            left.remove(mine[-1])
        at = min(mine)
        for p in mine:
            model.add_hint(lies[p][at], value=True)
        model.add_hint(size[at][list(sold).index(int(roll.length_ft))], value=True)
