"""Does the supply suit the plate (domain 1.1): voltage by the plate's range, phases, two legs of a wye."""

from __future__ import annotations

from decimal import Decimal

from leitung_core.circuits.loads.heat import heat_current, heat_ratings, power_at
from leitung_core.circuits.plate import PLATE, SYSTEM_OF_PLATE, SYSTEMS, VoltsRange, plate_range, plate_volts
from leitung_core.circuits.spec import Nameplate, Spec
from leitung_core.findings import Edit, Path, Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say

AT_POLES: Path = ("proposed", "poles")


def judge_supply(spec: Spec, book: Rulebook) -> list[Remark]:
    """What stands against feeding this plate from this supply."""
    supply, plate = spec.supply, spec.equipment.nameplate
    missing = [name for name in ("volts", "phase") if getattr(supply, name) is None]
    if missing:
        words = {"volts": "voltage", "phase": "number of phases"}
        named = " and ".join(words[name] for name in missing)
        verb = "are" if len(missing) > 1 else "is"
        message = f"The supply's {named} {verb} not known: whether it suits the unit cannot be judged."
        return [Remark("supply-missing", ("supply", missing[0]), message)]
    if plate is None or spec.equipment.kind == "feeder":
        return []
    return [*_volts(spec, plate, book), *_phase(spec, plate), *_tap(spec, plate), *_heat(spec, plate, book)]


def _volts(spec: Spec, plate: Nameplate, book: Rulebook) -> list[Remark]:
    supply = spec.supply
    volts, allowed = exact(supply.volts or 0), plate_range(plate, book) or _heat_range(plate, book)
    if allowed is None and plate.heat is None:
        message = "The plate's voltage is not known: whether the supply suits the unit cannot be judged."
        return [Remark("plate-volts-missing", (*PLATE, "volts"), message)]
    if plate.volts_min and plate.volts_max and plate.volts_min > plate.volts_max:
        message = (
            f"The plate's least voltage of {say(exact(plate.volts_min))} V is above its greatest "
            f"of {say(exact(plate.volts_max))} V. One of the two is read wrong."
        )
        return [Remark("plate-contradiction", (*PLATE, "volts_min"), message)]
    if _only_heats(spec, plate):
        return _heater_volts(volts, plate, book)
    if allowed is None:
        message = "The plate's voltage is not known: whether the supply suits the unit cannot be judged."
        return [Remark("plate-volts-missing", (*PLATE, "volts"), message)]
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


def _heat_range(plate: Nameplate, book: Rulebook) -> VoltsRange | None:
    """Where the plate prints no volts of its own: those at which its heat is rated."""
    ratings = heat_ratings(plate)
    around = book.factor("plate-tolerance")
    if not ratings:
        return None
    return VoltsRange(min(ratings) * (1 - around), max(ratings) * (1 + around), "the volts that its heat is rated at")


def _only_heats(spec: Spec, plate: Nameplate) -> bool:
    """A bare resistance without a range of its own: less voltage gives less heat, and harms nothing."""
    ranged = plate.volts_min is not None or plate.volts_max is not None
    return spec.equipment.kind == "unit_heater" and plate.heat is not None and not ranged and not plate.motors


def _heater_volts(volts: Decimal, plate: Nameplate, book: Rulebook) -> list[Remark]:
    around = book.factor("plate-tolerance")
    found = power_at(plate, volts)
    if found is None:
        message = "The heat's rated voltage is not known: whether the supply suits it cannot be judged."
        return [Remark("plate-volts-missing", (*PLATE, "volts"), message)]
    watts, rated, marked = found
    if volts > rated * (1 + around):
        message = (
            f"A {say(volts)} V supply on a {say(rated)} V heater would make it give {say(watts / 1000, 2)} kW "
            f"of its {say(marked / 1000, 2)} kW: it overheats."
        )
        return [Remark("supply-volts", ("supply", "volts"), message)]
    if volts < rated * (1 - around):
        message = (
            f"On {say(volts)} V the {say(rated)} V heater gives {say(watts / 1000, 2)} kW "
            f"of its {say(marked / 1000, 2)} kW. Check that this is enough, and that the plate allows {say(volts)} V."
        )
        return [Remark("heat-reduced", ("supply", "volts"), message)]
    return []


def _heat(spec: Spec, plate: Nameplate, book: Rulebook) -> list[Remark]:
    """Above 48 A the elements of one unit are subdivided, each part protected at 60 A or less (424.22)."""
    amps, most = heat_current(spec, plate).amps, book.factor("heat-undivided")
    if amps is None or amps <= most:
        return []
    message = (
        f"{say(amps)} A of heat is above {say(most)} A: its elements are to be subdivided, each with protection of its "
        "own. Read the unit's diagram."
    )
    return [Remark("heat-subdivided", (*PLATE, "heat"), message)]


def _tap_set(spec: Spec) -> bool:
    """Whether the control transformer is known to be on the tap of this supply."""
    tap, volts = spec.equipment.control_tap_v, spec.supply.volts
    return tap is not None and volts is not None and exact(tap) == exact(volts)


def _tap(spec: Spec, plate: Nameplate) -> list[Remark]:
    """A 208/230 V plate on 208 V: its control transformer leaves the factory on the higher tap."""
    printed = {SYSTEM_OF_PLATE.get(figure) for figure in plate_volts(plate)}
    if spec.supply.volts != 208 or not {208, 240} <= printed or _tap_set(spec):
        return []
    message = "On 208 V move the unit's control transformer from its 240 V tap to its 208 V tap before the first start."
    return [Remark("transformer-tap", (*PLATE, "volts"), message)]


def _phase(spec: Spec, plate: Nameplate) -> list[Remark]:
    supply = spec.supply
    if plate.phase == 3 and supply.phase == 1:
        return [Remark("supply-phase", ("supply", "phase"), "The unit needs three phases and the supply has one.")]
    if plate.phase == 1 and spec.proposed.poles == 3:
        message = "A single-phase unit takes two line conductors, or one and the neutral: three poles are too many."
        return [Remark("poles-too-many", AT_POLES, message, "Make it 2 poles", (Edit(AT_POLES, 2),))]
    if plate.phase == 1 and supply.phase == 3 and not _tap_set(spec):
        message = "A single-phase unit on two legs of a three-phase supply: check that its transformer is on that tap."
        return [Remark("single-phase-on-wye", ("supply", "phase"), message)]
    return []
