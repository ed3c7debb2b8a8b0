"""Every rule of the wiring over a plan. The rules are small and separate; this is the one list of them."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from leitung_core.findings import Finding
from leitung_core.wiring.rules import (
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
from leitung_core.wiring.scene import Scene

RULES: tuple[Callable[[Scene], Iterator[Finding]], ...] = (
    *missing.RULES, *meaning.RULES, *terminals.RULES, *calls.RULES, *cable.RULES, *route.RULES, *length.RULES,
    *joints.RULES, *colours.RULES, *poles.RULES, *spares.RULES,
)  # fmt: skip


def check_wiring(scene: Scene) -> list[Finding]:
    """Every finding of the wiring, rule by rule."""
    return [row for rule in RULES for row in rule(scene)]
