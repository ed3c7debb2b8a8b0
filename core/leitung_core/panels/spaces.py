"""A circuit's spaces in its panel: count, neighbouring legs, taken or not there (240.15(B), 408.4)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from leitung_core.findings import Finding, finding
from leitung_core.plan.model import Circuit, Plan
from leitung_core.plan.sources import Source
from leitung_core.plant.legs import spaces_fit
from leitung_core.plant.poles import poles_of

WITH_SPACES = ("panel", "subpanel")


Taken = Mapping[int, Sequence[str]]


def taken_spaces(plan: Plan, source_id: str) -> Taken:
    """Every space of the panel that something has, with all that have it: circuits by id, existing ones by name."""
    found: dict[int, list[str]] = {}
    for key, entry in plan.sources[source_id].existing.items():
        for space in entry.spaces or []:
            found.setdefault(space, []).append(entry.name or key)
    for circuit_id, circuit in plan.circuits.items():
        if circuit.source == source_id:
            for space in (circuit.ocpd and circuit.ocpd.spaces) or []:
                found.setdefault(space, []).append(circuit_id)
    return found


def _others(taken: Taken, circuit_id: str) -> dict[int, str]:
    """The spaces that something else has."""
    named = {space: [name for name in names if name != circuit_id] for space, names in taken.items()}
    return {space: names[0] for space, names in named.items() if names}


def free_spaces(plan: Plan, circuit_id: str, count: int, taken: Taken) -> list[int] | None:
    """The first free neighbouring spaces of the circuit's panel, or None where there are none or it is not known."""
    circuit = plan.circuits[circuit_id]
    source = plan.sources.get(circuit.source or "")
    if source is None or source.spaces is None:
        return None
    others = _others(taken, circuit_id)
    each = (range(first, first + 2 * count, 2) for first in range(1, source.spaces + 1))
    return next(([*wanted] for wanted in each if max(wanted) <= source.spaces and not others.keys() & wanted), None)


def judge_spaces(plan: Plan, circuit_id: str, taken: Taken) -> list[Finding]:
    """What stands against the spaces of one circuit; `taken` are all that its panel has."""
    circuit = plan.circuits[circuit_id]
    source = plan.sources.get(circuit.source or "")
    if source is None or source.kind not in WITH_SPACES:
        return []
    count = poles_of(circuit, source, plan.equipment.get(circuit.equipment or ""))
    wrong = _wrong(_others(taken, circuit_id), circuit, source, count)
    if wrong is None:
        return []
    code, message = wrong
    free = free_spaces(plan, circuit_id, count, taken) if count else None
    label = f"Use {' and '.join(str(space) for space in free)}" if free else None
    fix = {"circuits": {circuit_id: {"ocpd": {"spaces": free}}}} if free else None
    return [finding(code, f"circuits/{circuit_id}/ocpd/spaces", message, label, fix)]


def _wrong(others: dict[int, str], circuit: Circuit, source: Source, count: int | None) -> tuple[str, str] | None:
    spaces = (circuit.ocpd and circuit.ocpd.spaces) or []
    taken = [space for space in spaces if space in others]
    outside = [space for space in spaces if source.spaces is not None and space > source.spaces]
    said = " and ".join(str(space) for space in spaces)
    if not spaces:
        return "spaces-missing", "No spaces in the panel chosen yet."
    if outside:
        return "space-outside", f"The panel ends at space {source.spaces}; {outside[0]} is not there."
    if taken:
        space = min(taken)
        return "space-taken", f"Space {space} belongs to {others[space]}."
    if count is not None and len(set(spaces)) != count:
        return "spaces-count", f"This circuit needs {count} {'space' if count == 1 else 'spaces'}; {said} is not that."
    if not spaces_fit(spaces):
        return "spaces-legs", f"Spaces {said} are not neighbours on one side: the poles could share a leg."
    return None
