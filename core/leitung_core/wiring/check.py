"""Every rule of the wiring over a plan. The rules are small and separate; this is the one list of them."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from leitung_core.findings import Finding
from leitung_core.plant.plant import Plant
from leitung_core.wiring.checks import (
    cable,
    calls,
    colours,
    joints,
    length,
    meaning,
    missing,
    poles,
    route,
    spares,
    terminals,
)

RULES: tuple[Callable[[Plant], Iterator[Finding]], ...] = (
    *missing.RULES, *meaning.RULES, *terminals.RULES, *calls.RULES, *cable.RULES, *route.RULES, *length.RULES,
    *joints.RULES, *colours.RULES, *poles.RULES, *spares.RULES,
)  # fmt: skip


def check_wiring(plant: Plant) -> list[Finding]:
    """Every finding of the wiring, rule by rule."""
    return [row for rule in RULES for row in rule(plant)]
