"""Where a line is fed from, in words."""

from __future__ import annotations

from leitung_core.plan.model import Circuit, Plan
from leitung_core.units import in_a_row


def fed_from(plan: Plan, circuit: Circuit) -> str:
    """`Main panel, spaces 11, 13 and 15`; empty where no source is known."""
    source = plan.sources.get(circuit.source or "")
    if source is None:
        return ""
    spaces = spaces_said(circuit)
    return f"{source.name or circuit.source}{f', {spaces}' if spaces else ''}"


def spaces_said(circuit: Circuit) -> str:
    """`space 4`, `spaces 1, 3 and 5`; empty where it has none."""
    spaces = [str(space) for space in (circuit.ocpd.spaces if circuit.ocpd else None) or []]
    return f"{'space' if len(spaces) == 1 else 'spaces'} {in_a_row(spaces)}" if spaces else ""
