"""What shares a raceway in a plant: the conductors of every line in it, and how many of them carry current."""

from __future__ import annotations

from typing import TYPE_CHECKING

from leitung_core.circuits.spec import Together
from leitung_core.plant.lines import Line, Stretch
from leitung_core.plant.poles import poles_of
from leitung_core.plant.size_document import Shared

if TYPE_CHECKING:
    from leitung_core.plant.plant import Plant

Members = list[tuple[Line, Stretch]]


def raceways(plant: Plant) -> dict[str, Members]:
    """The stretches in each named raceway."""
    found: dict[str, Members] = {}
    for line in plant.lines.values():
        for stretch in line.stretches:
            if stretch.raceway_id is not None:
                found.setdefault(stretch.raceway_id, []).append((line, stretch))
    return found


def open_lines(named: dict[str, Members]) -> set[str]:
    """The lines that share a raceway with a stretch whose size is still to be chosen."""
    return {line.id for members in named.values() for line, stretch in members if stretch.segment.conductor is None}


def shared_raceways(plant: Plant, sizes: dict[str, str | None]) -> Shared:
    """For each stretch in a named raceway: the other lines' conductors, and the current-carrying ones of all.

    `sizes` gives a line's least conductor where its stretch names none. A line whose poles or size are not known is
    left out of the fill, and the count of current-carrying conductors is then what was entered.
    """
    result: dict[tuple[str, str], tuple[list[Together], int | None]] = {}
    for members in raceways(plant).values():
        carrying = [poles_of(line.circuit, line.source, line.unit) for line, _ in members]
        total = sum(max(poles, 2) for poles in carrying if poles) if all(carrying) else None
        for line, stretch in members:
            others: list[Together] = []
            for (other, its), poles in zip(members, carrying, strict=True):
                size = its.segment.conductor or sizes.get(other.id)
                if its is stretch or poles is None or size is None:
                    continue
                insulation = "XHHW-2" if its.segment.method == "XHHW-2" else "THWN-2"
                others.append(Together(conductor=size, count=max(poles, 2), insulation=insulation))
                if other.circuit.egc:
                    others.append(Together(conductor=other.circuit.egc, count=1, insulation=insulation))
            result[(line.id, stretch.key)] = (others, total)
    return result
