"""What shares a raceway in a plan: the conductors of every circuit in it, and how many of them carry current."""

from __future__ import annotations

from leitung_core.circuits.spec import Together
from leitung_core.plan.model import Circuit, Plan, RunSegment
from leitung_core.plant.circuit import Shared, poles_of

Segments = list[tuple[str, str, Circuit, RunSegment]]


def raceways(plan: Plan) -> dict[str, Segments]:
    """The segments of each named raceway."""
    found: dict[str, Segments] = {}
    for circuit_id, circuit in plan.circuits.items():
        for key, segment in circuit.segments():
            if segment.raceway_id is not None:
                found.setdefault(segment.raceway_id, []).append((circuit_id, key, circuit, segment))
    return found


def open_circuits(named: dict[str, Segments]) -> set[str]:
    """The circuits that share a raceway with a stretch whose size is still to be chosen."""
    return {key for members in named.values() for key, _, _, segment in members if segment.conductor is None}


def shared_raceways(plan: Plan, sizes: dict[str, str | None]) -> Shared:
    """For each segment in a named raceway: the other circuits' conductors, and the current-carrying ones of all.

    `sizes` gives a circuit's least conductor where its segment names none. A circuit whose poles or size are not
    known is left out of the fill, and the count of current-carrying conductors is then what was entered.
    """
    result: dict[tuple[str, str], tuple[list[Together], int | None]] = {}
    for members in raceways(plan).values():
        carrying = [poles_of(circuit, plan.sources.get(circuit.source or "")) for _, _, circuit, _ in members]
        total = sum(max(poles, 2) for poles in carrying if poles) if all(carrying) else None
        for circuit_id, key, _, _ in members:
            others: list[Together] = []
            for (other_id, other_key, circuit, segment), poles in zip(members, carrying, strict=True):
                size = segment.conductor or sizes.get(other_id)
                if (other_id, other_key) == (circuit_id, key) or poles is None or size is None:
                    continue
                insulation = "XHHW-2" if segment.method == "XHHW-2" else "THWN-2"
                others.append(Together(conductor=size, count=max(poles, 2), insulation=insulation))
                if circuit.egc:
                    others.append(Together(conductor=circuit.egc, count=1, insulation=insulation))
            result[(circuit_id, key)] = (others, total)
    return result
