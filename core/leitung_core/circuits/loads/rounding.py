"""Fractions of an ampere (220.5(B)): kept as they are, unless the jurisdiction drops those below one half."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from leitung_core.circuits.loads.load import Load
from leitung_core.explain import step
from leitung_core.rulebook import Rulebook


def without_small_fraction(load: Load, book: Rulebook) -> Load:
    """The load with a fraction below 0.5 A dropped from what must be carried, where that school is chosen."""
    needed = load.min_ampacity_a
    if needed is None or book.school("fractions") != "drop-below-half" or needed % 1 >= Decimal("0.5"):
        return load
    whole = needed - needed % 1
    if not whole or whole == needed:
        return load
    row = step("load", "Fraction dropped", "below one half, by the local amendment", whole, "A", "220.5(B)")
    floor = whole if load.device_floor_a == needed else load.device_floor_a
    return replace(load, min_ampacity_a=whole, device_floor_a=floor, steps=(*load.steps, row))
