"""What a plate says as changes of its unit: each field is offered with its piece of the picture, none is taken."""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass
from typing import Any

from leitung_core.entry.plate.read import SURE, PlateRead
from leitung_core.plan.model import Unit
from leitung_core.plan.patch import merge
from leitung_core.units import say

Patch = dict[str, Any]
KINDS_OF_DEVICE = {"fuse": "fuse only", "breaker": "breaker only", "fuse_or_breaker": "fuse or breaker"}


@dataclass(frozen=True)
class Offer:
    """A field of the plate: its words, its box [x, y, w, h] in the picture as it is seen.

    takes: a unit has a place for it; what it has none for is shown only. stands: the plan has it so already.
    """

    field: str
    says: str
    shown: str
    sure: bool
    box: list[int]
    takes: bool
    stands: bool
    doubted: str | None


def _amps(value: Any) -> str:
    return f"{say(value)} A"


def _watts(value: Any) -> str:
    return f"{say(value / 1000, 2)} kW" if value >= 1000 else f"{say(value)} W"


# How each field is called and shown, in the order in which people check them.
FIELDS: dict[str, tuple[str, Callable[[Any], str]]] = {
    "model": ("Model", str), "serial": ("Serial number", str), "volts": ("Volts", lambda v: f"{v} V"),
    "phase": ("Phase", str), "hz": ("Frequency", lambda v: f"{v} Hz"), "mca_a": ("Minimum circuit ampacity", _amps),
    "max_ocpd_a": ("Maximum fuse or breaker", _amps), "max_ocpd_type": ("Its kind", lambda v: KINDS_OF_DEVICE[v]),
    "rla_a": ("Compressor, running", _amps), "lra_a": ("Compressor, locked", _amps),
    "fan_fla_a": ("Fan, full load", _amps), "heat_w": ("Heat", _watts), "amps": ("Amperes", _amps),
    "watts": ("Watts", _watts), "refrigerant": ("Refrigerant", str),
}  # fmt: skip
PLAIN = ("volts", "phase", "mca_a", "max_ocpd_a", "max_ocpd_type", "amps", "watts")
COMPRESSOR = ("rla_a", "lra_a")


def offers(read: PlateRead, unit: Unit) -> list[Offer]:
    """Everything that was read, in order."""
    has = unit.model_dump(mode="json", exclude_none=True)
    doubts = {name: row.says for row in read.contradictions for name in row.fields}
    found = []
    for name, (says, shown) in FIELDS.items():
        field = read.fields.get(name)
        if field is not None:
            patch = taken(read, unit, [name])
            found.append(Offer(
                field=name, says=says, shown=shown(field.value), sure=field.sure >= SURE, box=field.box,
                takes=bool(patch), stands=bool(patch) and merge(has, patch) == has, doubted=doubts.get(name),
            ))  # fmt: skip
    return found


def taken(read: PlateRead, unit: Unit, fields: Collection[str]) -> Patch:
    """The change of the unit that takes these fields; what else stands in it stays."""
    value = {name: read.fields[name].value for name in fields if name in read.fields}
    has: Patch = unit.model_dump(mode="json", exclude_none=True).get("nameplate", {})
    plate: Patch = {name: value[name] for name in PLAIN if name in value}
    marks = {name: value[name] for name in COMPRESSOR if name in value}
    if marks:
        first, *others = has.get("compressors") or [{}]
        plate["compressors"] = [{**first, **marks}, *others]
    if "fan_fla_a" in value:
        others = [row for row in has.get("motors", []) if row["use"] != "condenser_fan"]
        plate["motors"] = [{"use": "condenser_fan", "fla_a": value["fan_fla_a"]}, *others]
    if "heat_w" in value:
        printed = str(read.fields["volts"].value).split("/") if "volts" in read.fields else []
        rated = {"rated_volts": max(float(part) for part in printed)} if printed else {}
        plate["heat"] = {"watts": value["heat_w"], **rated}
    change: Patch = {"model": value["model"]} if "model" in value else {}
    return change | ({"nameplate": plate} if plate else {})
