"""Resistance of a copper conductor by its gauge: Chapter 9 Table 8, and below its smallest size by area."""

from __future__ import annotations

from decimal import Decimal
from functools import cache

from leitung_core.rulebook import rulebook

# Areas of the American wire gauge, circular mils, for the sizes below Table 8's smallest.
CMIL = {"24": Decimal("404"), "22": Decimal("642"), "20": Decimal("1022"), "18": Decimal("1620")}


@cache
def ohm_per_kft(awg: str, strands: str | None) -> Decimal | None:
    """Resistance of a copper conductor at 75 °C, ohm per 1000 ft: Chapter 9 Table 8.

    Below 18 AWG the table ends: the resistance of its 18 AWG grows as the area in circular mils falls.
    """
    book = rulebook("us-2023")
    found = book.ohm_per_kft(awg, strands or "stranded", "Cu") or book.ohm_per_kft(awg, "stranded", "Cu")
    if found is not None or awg not in CMIL:
        return found
    base = book.ohm_per_kft("18", strands or "solid", "Cu")
    return base * CMIL["18"] / CMIL[awg] if base is not None else None
