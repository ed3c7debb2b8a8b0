"""What each family of load asks for (domain 1.1): one module for each rule, one place that chooses among them."""

from __future__ import annotations

from leitung_core.circuits.loads.combined import combined_load
from leitung_core.circuits.loads.heat import heat_load
from leitung_core.circuits.loads.load import (
    COOLING,
    OUTDOOR,
    PLATE,
    Article,
    Load,
    compressor_currents,
    count,
    motor_currents,
    running_currents,
)
from leitung_core.circuits.loads.marked import marked_load
from leitung_core.circuits.loads.motors import amps_only_cooling, compressor_load, motor_load
from leitung_core.circuits.loads.plain import amps_load, feeder_load
from leitung_core.circuits.loads.rounding import without_small_fraction
from leitung_core.circuits.spec import Heat, Nameplate, Spec
from leitung_core.findings import Remark
from leitung_core.rulebook import Rulebook

__all__ = [
    "COOLING",
    "OUTDOOR",
    "PLATE",
    "Load",
    "compressor_currents",
    "count",
    "load_of",
    "motor_currents",
    "running_currents",
]
_ARTICLE: dict[str, Article] = {
    "air_handler": "424",
    "unit_heater": "424",
    "steam_humidifier": "210",
    "dehumidifier": "210",
    "condensate_pump": "430",
    "feeder": "215",
}


def load_of(spec: Spec, book: Rulebook) -> Load:
    """The load of this circuit, from whatever its plate says; a remark where it says too little."""
    plate = spec.equipment.nameplate
    if plate is None:
        return _nothing(spec)
    if plate.mca_a is not None:
        return marked_load(spec, plate, book)
    return without_small_fraction(_computed(spec, plate, book), book)


def _computed(spec: Spec, plate: Nameplate, book: Rulebook) -> Load:
    kind, cooling = spec.equipment.kind, bool(compressor_currents(plate))
    if kind == "feeder":
        return feeder_load(spec, plate, book) if plate.loads else _by_amps(spec, plate, book)
    if kind == "steam_humidifier" and plate.amps:
        # An electrode humidifier is no fixed resistance: its marked amps count (domain 8).
        return amps_load(spec, plate, book)
    if kind == "unit_heater" and plate.heat is None and plate.watts:
        # A heater's plain watts are its heat.
        plate = plate.model_copy(update={"heat": Heat(watts=plate.watts), "amps": None})
    if plate.heat is not None:
        return combined_load(spec, plate, book) if cooling else heat_load(spec, plate, book)
    if cooling:
        return compressor_load(spec, plate, book)
    if plate.amps and kind in COOLING:
        return amps_only_cooling(spec, plate, book)
    if motor_currents(plate):
        return motor_load(spec, plate, book)
    return _by_amps(spec, plate, book)


def _by_amps(spec: Spec, plate: Nameplate, book: Rulebook) -> Load:
    return amps_load(spec, plate, book) if plate.amps or plate.watts else _nothing(spec)


def _nothing(spec: Spec) -> Load:
    kind = spec.equipment.kind
    if kind in COOLING:
        message = (
            "The plate's minimum circuit ampacity (MCA) is not known: nothing can be sized. Read it off the plate."
        )
        return Load("440", remarks=(Remark("plate-mca-missing", (*PLATE, "mca_a"), message),))
    asks = {
        "air_handler": "its MCA, or its heat and motors",
        "unit_heater": "the heat's power and voltage",
        "steam_humidifier": "its amps",
        "feeder": "what it feeds",
    }.get(kind, "its amps or its motor's FLA")
    message = f"Nothing to size from is known: enter what the plate says, {asks}."
    return Load(_ARTICLE.get(kind, "210"), remarks=(Remark("plate-load-missing", PLATE, message),))
