"""A start's verdict in one line."""

from __future__ import annotations

from collections.abc import Sequence

from leitung_core.starting.verdict import Verdict, Why

SAYS: dict[Verdict, str] = {
    "starts": "It starts", "may_trip": "It may trip", "trips": "It trips", "stalls": "A motor may not come up",
    "overloads": "It overloads its source", "unknown": "Not known yet",
}  # fmt: skip
SOON_S = 1.0


def headline(verdict: Verdict, why: Sequence[Why]) -> str:
    """`It trips, 3.0 s in`. What must happen late may happen much sooner, and then both are said."""
    if not why or verdict in ("starts", "unknown"):
        return SAYS[verdict]
    decides = why[0]
    sooner = next((row for row in why if row.about == decides.about and row.at_s < decides.at_s - SOON_S), None)
    if sooner and verdict == "trips":
        return f"It trips within {moment(decides.at_s)}, perhaps after {moment(sooner.at_s)}"
    return f"{SAYS[verdict]}, {moment(decides.at_s)} in"


def moment(seconds: float) -> str:
    """How far into a start: `3.0 s`, `56 min`."""
    if seconds >= 90:
        return f"{seconds / 60:.0f} min"
    return f"{seconds:.1f} s" if seconds < 10 else f"{seconds:.0f} s"
