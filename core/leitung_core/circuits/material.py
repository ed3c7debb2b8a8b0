"""What a way of wiring the run takes: conductors, cables and cords by length, waste not counted."""

from __future__ import annotations

from decimal import Decimal

from leitung_core.circuits.fill import circuit_conductors
from leitung_core.circuits.spec import Spec
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say, say_size, tidy

# Pounds per circular mil and foot: copper 8.89 g/cm³, aluminium 2.70 g/cm³.
LB_PER_CMIL_FT = {"Cu": Decimal("3.027e-6"), "Al": Decimal("9.20e-7")}


def material(spec: Spec, sizes: list[str], egc: str, book: Rulebook) -> list[str]:
    """The stuff in words, in the order of the run: "12-2 NM-B with ground, 38 ft"."""
    number = circuit_conductors(spec)
    lengths: dict[str, Decimal] = {}
    for segment, size in zip(spec.run, sizes, strict=True):
        if segment.length_ft is None or number is None or segment.existing:
            continue
        length, metal = exact(segment.length_ft), segment.material or "Cu"
        method = book.methods.get(segment.method or "")
        aluminium = " Al" if metal == "Al" else ""
        if segment.method == "cord" or (method and method.is_cable):
            _add(lengths, f"{size}-{number}{aluminium} {segment.method} with ground", length)
        elif method:
            _add(lengths, f"{say_size(size)}{aluminium} {method.name}", length * number)
            _add(lengths, f"{say_size(egc)} {method.name}, green", length)
            _add(lengths, segment.raceway or "raceway", length)
    return [f"{what}, {say(length)} ft" for what, length in lengths.items()]


def _add(lengths: dict[str, Decimal], what: str, length: Decimal) -> None:
    lengths[what] = lengths.get(what, Decimal(0)) + length


def metal_lb(spec: Spec, sizes: list[str], egc: str, book: Rulebook) -> float | None:
    """Weight of the bare conductors, lb; None where a length or the number of conductors is not known."""
    number, total = circuit_conductors(spec), Decimal(0)
    for segment, size in zip(spec.run, sizes, strict=True):
        area, ground = book.area_cmil(size), book.area_cmil(egc)
        if segment.length_ft is None or number is None or area is None or ground is None:
            return None
        if not segment.existing:
            each = LB_PER_CMIL_FT[segment.material or "Cu"] * exact(segment.length_ft)
            total += each * (area * number + ground)
    return tidy(total, 2)
