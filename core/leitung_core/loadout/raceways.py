"""Raceway of lines and cables: what several share is as long as the longest stretch in it, and bought once."""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal
from math import ceil

from leitung_core.loadout.rows import Gathered
from leitung_core.loadout.supports import supports
from leitung_core.units import exact

STICK_FT = 10
FLEXIBLE = ("LFNC", "LFMC", "FMC")


@dataclass
class Raceways:
    """Raceways as they are gathered, each by its kind, its size and the name that those who share it give."""

    lengths: dict[tuple[str, str, str], Decimal] = field(default_factory=dict)
    asked: dict[tuple[str, str, str], list[str]] = field(default_factory=dict)

    def add(self, kind: str, size: str, name: str, length_ft: float, about: str) -> None:
        """A stretch in a raceway, asked for by an address."""
        key = kind, size, name
        self.lengths[key] = max(self.lengths.get(key, Decimal(0)), exact(length_ft))
        self.asked.setdefault(key, []).append(about)

    def taken(self, found: Gathered) -> None:
        """Whole sticks, their couplings, what closes them at both ends, their straps."""
        for (kind, size, shared), length in self.lengths.items():
            about, name = self.asked[kind, size, shared], f"{size} in {kind}" if size else f"{kind}, size to be chosen"
            sticks, support = ceil(length / STICK_FT), supports()[kind]
            found.add("raceway", name, sticks * STICK_FT, *about, unit="ft")
            found.add("fitting", f"{name} {support.fitting}", 2, about[0])
            if kind not in FLEXIBLE and sticks > 1:
                found.add("fitting", f"{name} coupling", sticks - 1, about[0])
            if support.holder and (count := support.holders(float(length))):
                found.add("support", f"{name} {support.holder} ({support.article})", count, about[0])
