"""Plate before catalogue: what a unit's plate says of its power takes the place of what the catalogue says of its like.

VA = A x V of what is marked, on three phases x √3; electric heat by its watts at its rated volts. Several elements of
one sort share it as the catalogue's do.
"""

from __future__ import annotations

from collections.abc import Iterator
from math import sqrt

from leitung_core.catalogue.device import DeviceType
from leitung_core.circuits.loads import compressor_currents, motor_currents
from leitung_core.circuits.loads.heat import heat_ratings
from leitung_core.circuits.plate import plate_volts
from leitung_core.circuits.spec import Nameplate
from leitung_core.elements.vocabulary import CONTROL_VOLTS, Effect, Element, Load
from leitung_core.plan.model import Unit

# What the plain amps or watts of a plate are the power of, by the kind of unit.
WHOLE: dict[str, Effect | None] = {
    "unit_heater": "heat", "steam_humidifier": "humidifier", "dehumidifier": "dehumidifier", "condensate_pump": None,
}  # fmt: skip


def with_plate(kind: DeviceType, unit: Unit | None) -> DeviceType:
    """The device with the power that its unit's plate gives; as it is where the plate says nothing of it."""
    if unit is None or unit.nameplate is None or unit.kind not in kind.kinds:
        return kind
    inside = list(kind.inside)
    for effect, va, volts in _marked(unit, unit.nameplate):
        inside = _shared(inside, effect, va, volts)
    return kind.model_copy(update={"inside": inside}) if inside != kind.inside else kind


def _marked(unit: Unit, plate: Nameplate) -> Iterator[tuple[Effect | None, float, float]]:
    """What the plate marks: the effect that it is the power of, VA, and at which volts."""
    ratings = heat_ratings(plate)
    if ratings:
        volts = max(ratings)
        yield "heat", float(ratings[volts]), float(volts)
    printed = plate_volts(plate)
    if not printed:
        return
    # Current is marked for the highest voltage that the plate prints, watts for its highest too.
    line = float(max(printed))
    phases = sqrt(3) if plate.phase == 3 else 1.0
    compressors = float(sum(compressor_currents(plate)))
    if compressors:
        yield ("dehumidifier" if unit.kind == "dehumidifier" else "cooling"), compressors * line * phases, line
    blowers = float(sum(motor_currents(plate, "blower")))
    if blowers:
        yield "fan", blowers * line * phases, line
    if unit.kind in WHOLE and not ratings and not compressors:
        whole = plate.watts or (plate.amps * line * phases if plate.amps else None)
        pumps = float(sum(motor_currents(plate, "pump"))) * line
        if whole or pumps:
            yield WHOLE[unit.kind], whole or pumps, line


def _shared(inside: list[Element], effect: Effect | None, va: float, volts: float) -> list[Element]:
    """The elements with that power shared among those of one effect, in the catalogue's proportions."""
    mine = [part for part in inside if _is(part, effect)]
    known = [part.va for part in mine if isinstance(part, Load) and part.va]
    if not mine or not volts:
        return inside
    each = 1 / len(mine)
    total = sum(known) if len(known) == len(mine) else 0
    return [
        part.model_copy(
            update={"va": va * ((part.va or 0) / total if total else each), "rated_volts": _rated(part, volts)}
        )
        if isinstance(part, Load) and _is(part, effect) else part
        for part in inside
    ]  # fmt: skip


def _rated(part: Load, volts: float) -> float:
    """The volts at which the plate's power holds; an element between a leg and the neutral keeps its own."""
    own = part.rated_volts or volts
    return volts if own > 0.75 * volts else own


def _is(part: Element, effect: Effect | None) -> bool:
    return isinstance(part, Load) and (part.rated_volts or 24) > CONTROL_VOLTS and part.effect == effect
