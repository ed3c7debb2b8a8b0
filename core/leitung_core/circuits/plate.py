"""What a plate prints of its voltage, and the range in which its unit may run."""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.spec import Nameplate
from leitung_core.findings import Path
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact

PLATE: Path = ("equipment", "nameplate")
# Utilisation voltages as plates print them, and the nominal system voltage that each is meant for (ANSI C84.1).
SYSTEM_OF_PLATE = {
    110: 120, 115: 120, 120: 120, 200: 208, 208: 208, 220: 240, 230: 240, 240: 240,
    265: 277, 277: 277, 440: 480, 460: 480, 480: 480,
}  # fmt: skip
SYSTEMS = frozenset(SYSTEM_OF_PLATE.values())


@dataclass(frozen=True)
class VoltsRange:
    """The lowest and highest volts at which the unit may run, and where that comes from."""

    low: Decimal
    high: Decimal
    source: str


def plate_volts(plate: Nameplate) -> list[int]:
    """The voltages printed on the plate: "208/230" gives [208, 230]."""
    return [int(figure) for figure in re.findall(r"\d+", plate.volts or "")]


def plate_range(plate: Nameplate | None, book: Rulebook) -> VoltsRange | None:
    """The plate's range in V: as marked, else 10 % below the lowest to 10 % above the highest printed voltage."""
    if plate is None:
        return None
    printed, around = plate_volts(plate), book.factor("plate-tolerance")
    low = exact(plate.volts_min) if plate.volts_min else min(printed, default=0) * (1 - around)
    high = exact(plate.volts_max) if plate.volts_max else max(printed, default=0) * (1 + around)
    if not low or not high:
        return None
    marked = bool(plate.volts_min and plate.volts_max)
    return VoltsRange(
        low, high, "the plate's range" if marked else f"the plate's voltage ± {book.percent('plate-tolerance')}"
    )
