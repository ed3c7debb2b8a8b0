"""Does the supply suit the plate (domain 1.1): voltage by the plate's range, phases, two legs of a wye."""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.load import PLATE
from leitung_core.circuits.spec import Nameplate, Supply
from leitung_core.findings import Remark
from leitung_core.units import exact, say

TOLERANCE = Decimal("0.10")
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


def plate_range(plate: Nameplate | None) -> VoltsRange | None:
    """The plate's range in V: as marked, else 10 % below the lowest to 10 % above the highest printed voltage."""
    if plate is None:
        return None
    printed = plate_volts(plate)
    low = exact(plate.volts_min) if plate.volts_min else min(printed, default=0) * (1 - TOLERANCE)
    high = exact(plate.volts_max) if plate.volts_max else max(printed, default=0) * (1 + TOLERANCE)
    if not low or not high:
        return None
    marked = bool(plate.volts_min and plate.volts_max)
    return VoltsRange(low, high, "the plate's range" if marked else "the plate's voltage ± 10 %")


def judge_supply(supply: Supply, plate: Nameplate | None) -> list[Remark]:
    """What stands against feeding this plate from this supply."""
    missing = [name for name in ("volts", "phase") if getattr(supply, name) is None]
    if missing:
        words = {"volts": "voltage", "phase": "number of phases"}
        named = " and ".join(words[name] for name in missing)
        verb = "are" if len(missing) > 1 else "is"
        message = f"The supply's {named} {verb} not known: whether it suits the unit cannot be judged."
        return [Remark("supply-missing", ("supply", missing[0]), message)]
    if plate is None:
        return []
    return [*_volts(supply, plate), *_phase(supply, plate)]


def _volts(supply: Supply, plate: Nameplate) -> list[Remark]:
    volts, allowed = exact(supply.volts or 0), plate_range(plate)
    if allowed is None:
        message = "The plate's voltage is not known: whether the supply suits the unit cannot be judged."
        return [Remark("plate-volts-missing", (*PLATE, "volts"), message)]
    if plate.volts_min and plate.volts_max and plate.volts_min > plate.volts_max:
        message = (
            f"The plate's least voltage of {say(exact(plate.volts_min))} V is above its greatest "
            f"of {say(exact(plate.volts_max))} V. One of the two is read wrong."
        )
        return [Remark("plate-contradiction", (*PLATE, "volts_min"), message)]
    systems = {SYSTEM_OF_PLATE[figure] for figure in plate_volts(plate) if figure in SYSTEM_OF_PLATE}
    ranged = plate.volts_min is not None or plate.volts_max is not None
    fits_system = ranged or volts not in SYSTEMS or not systems or int(volts) in systems
    if allowed.low <= volts <= allowed.high and fits_system:
        return []
    message = (
        f"A {say(volts)} V supply on a {plate.volts or 'unit'} plate: "
        f"allowed are {say(allowed.low)} to {say(allowed.high)} V ({allowed.source})."
    )
    if allowed.low <= volts <= allowed.high:
        message = (
            f"A {say(volts)} V system is not the one that a {plate.volts} V plate is meant for. "
            "If the maker states a range that reaches it, enter that range."
        )
    return [Remark("supply-volts", ("supply", "volts"), message)]


def _phase(supply: Supply, plate: Nameplate) -> list[Remark]:
    if plate.phase == 3 and supply.phase == 1:
        return [Remark("supply-phase", ("supply", "phase"), "The unit needs three phases and the supply has one.")]
    if plate.phase == 1 and supply.phase == 3:
        message = "A single-phase unit on two legs of a three-phase supply: check that its transformer is on that tap."
        return [Remark("single-phase-on-wye", ("supply", "phase"), message)]
    return []
