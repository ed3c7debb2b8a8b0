"""Which connector suits a place."""

from __future__ import annotations

from leitung_core.plan.wired import Connector

SHAKES = ("roof", "vehicle", "inside_unit")
WET = "outdoor"


def connector_for(spot: str | None, moves: bool = False) -> Connector:
    """Crimped where things vibrate, sealed in the wet, twist-on with tape indoors."""
    if moves or spot in SHAKES:
        return "crimp"
    return "sealed" if spot == WET else "twist_on"
