"""A circuit's spaces in its panel: count, neighbouring legs, taken or not there (240.15(B), 408.4)."""

from __future__ import annotations

from itertools import pairwise

from leitung_core.findings import CODES, Finding
from leitung_core.plan.model import Circuit, Plan


def poles(volts: float | None, volts_to_ground: float | None, phase: int | None) -> int | None:
    """Poles of the device: three on three phases, one where the circuit's volts are those to ground, else two."""
    if phase == 3:
        return 3
    if volts is None or phase is None:
        return None
    return 1 if volts_to_ground is not None and volts <= volts_to_ground else 2


def spaces_fit(spaces: list[int]) -> bool:
    """Whether the spaces lie one under the other on one side of the panel, so that each is on another leg."""
    ordered = sorted(spaces)
    return all(lower - upper == 2 for upper, lower in pairwise(ordered))


def free_spaces(plan: Plan, circuit_id: str, count: int) -> list[int] | None:
    """The first free neighbouring spaces of the circuit's panel, or None where there are none or it is not known."""
    circuit = plan.circuits[circuit_id]
    source = plan.sources.get(circuit.source or "")
    if source is None or source.spaces is None:
        return None
    taken = {
        space for other in _others(plan, circuit_id, circuit) for space in (other.ocpd and other.ocpd.spaces) or []
    }
    for first in range(1, source.spaces + 1):
        wanted = [first + 2 * pole for pole in range(count)]
        if wanted[-1] <= source.spaces and not taken & set(wanted):
            return wanted
    return None


def _others(plan: Plan, circuit_id: str, circuit: Circuit) -> list[Circuit]:
    return [c for name, c in plan.circuits.items() if name != circuit_id and c.source == circuit.source]


def judge_spaces(plan: Plan, circuit_id: str) -> list[Finding]:
    """What stands against the spaces of one circuit."""
    circuit = plan.circuits[circuit_id]
    source = plan.sources.get(circuit.source or "")
    if source is None:
        return []
    count = poles(source.volts, source.volts_to_ground, source.phase)
    spaces = (circuit.ocpd and circuit.ocpd.spaces) or []
    free = free_spaces(plan, circuit_id, count) if count else None
    said = " and ".join(str(space) for space in spaces)
    others = {space: name for name, c in plan.circuits.items() if name != circuit_id and c.source == circuit.source
              for space in (c.ocpd and c.ocpd.spaces) or []}  # fmt: skip
    taken = [space for space in spaces if space in others]
    outside = [space for space in spaces if source.spaces is not None and space > source.spaces]
    code = message = None
    if not spaces:
        code, message = "spaces-missing", "No spaces in the panel chosen yet."
    elif outside:
        code, message = "space-outside", f"The panel ends at space {source.spaces}; {outside[0]} is not there."
    elif taken:
        code, message = "space-taken", f"Space {taken[0]} belongs to {others[taken[0]]}."
    elif count is not None and len(set(spaces)) != count:
        code, message = "spaces-count", f"This circuit needs {count} spaces; {said} is not that."
    elif not spaces_fit(spaces):
        code, message = "spaces-legs", f"Spaces {said} are not neighbours on one side: the poles could share a leg."
    if code is None or message is None:
        return []
    label = f"Use {' and '.join(str(space) for space in free)}" if free else None
    fix = {"circuits": {circuit_id: {"ocpd": {"spaces": free}}}} if free else None
    about = f"circuits/{circuit_id}/ocpd/spaces"
    return [
        Finding(
            code=code,
            severity=CODES[code].severity,
            about=about,
            message=message,
            article=CODES[code].article,
            fix_label=label,
            fix=fix,
        )
    ]
