"""Raceway fill: conductors by Chapter 9 Table 5 in raceways of Table 4, to the part that Table 1 allows."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.conductor import is_nipple
from leitung_core.circuits.plate import plate_volts
from leitung_core.circuits.spec import Segment, Spec
from leitung_core.explain import Step, step
from leitung_core.findings import Edit, Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import say


@dataclass(frozen=True)
class Fill:
    """`size` is the least trade size; `pct` the fill of the proposed size. `unknown`: what keeps all of it from being
    told."""

    size: str | None = None
    area_in2: Decimal | None = None
    conductors: int | None = None
    pct: Decimal | None = None
    allowed_pct: Decimal | None = None
    unknown: str | None = None


def circuit_conductors(spec: Spec) -> int | None:
    """Insulated conductors of the circuit without its grounding conductor: phases, and a neutral where needed."""
    if spec.supply.phase == 3:
        return 4 if needs_neutral(spec) else 3
    if spec.supply.phase == 1:
        return 3 if needs_neutral(spec) else 2
    return None


def needs_neutral(spec: Spec) -> bool:
    """A plate of 120/240 or 120/208 V takes a neutral beside its line conductors; 240 V alone takes none."""
    printed = set(plate_volts(spec.equipment.nameplate)) if spec.equipment.nameplate else set()
    return bool(printed & {110, 115, 120}) and bool(printed & {208, 220, 230, 240}) and (spec.supply.volts or 0) > 150


def raceway_fill(spec: Spec, segment: Segment, size: str | None, egc: str | None, book: Rulebook) -> Fill | None:
    """The fill of one segment's raceway with everything in it; None where the segment has no raceway."""
    if segment.raceway is None:
        return None
    method = book.methods.get(segment.method or "")
    own = circuit_conductors(spec)
    if method is None or method.is_cable or own is None or size is None or egc is None:
        return Fill(unknown="conductors")
    rows = [(size, own, method.name), (egc, 1, method.name)]
    rows += [(other.conductor, other.count, other.insulation) for other in segment.together or []]
    areas = [(book.conductor_area_in2(insulation, size_), number) for size_, number, insulation in rows]
    if any(area is None for area, _ in areas):
        return Fill(unknown="area")
    total = sum((area * number for area, number in areas if area is not None), Decimal(0))
    number = sum(number for _, number, _ in rows)
    allowed = book.fill_allowed(number, is_nipple(segment, book))
    by_size = book.raceway_areas_in2.get(segment.raceway, {})
    least = next((trade for trade, area in by_size.items() if total <= area * allowed), None)
    inside = by_size.get(segment.raceway_size or "")
    pct = total / inside * 100 if inside else None
    return Fill(least, total, number, pct, allowed * 100)


def fill_steps(index: int, segment: Segment, fill: Fill) -> list[Step]:
    """How the trade size came about."""
    if fill.size is None or fill.area_in2 is None:
        return []
    formula = (
        f"{fill.conductors} conductors take {say(fill.area_in2, 4)} in²; they may fill {say(fill.allowed_pct or 0)} %"
    )
    article = "Chapter 9 Tables 1, 4, 5"
    what = f"{segment.raceway} at least"
    return [step(f"run[{index}]", what, formula, f"trade size {fill.size}", "", article, area_in2=fill.area_in2)]


def judge_fill(index: int, segment: Segment, fill: Fill | None) -> list[Remark]:
    """What stands against the raceway's trade size."""
    if fill is None:
        return []
    at = ("run", index, "raceway_size")
    if fill.unknown == "area" or (fill.unknown is None and fill.size is None):
        message = f"No trade size of {segment.raceway} in the table holds these conductors, or one is not in the table."
        return [Remark("raceway-out-of-table", at, message)]
    if fill.pct is None or fill.size is None or fill.allowed_pct is None:
        if segment.raceway_size and fill.unknown is None:
            message = f"Trade size {segment.raceway_size} of {segment.raceway} is not in the table."
            label, edits = f"Make it {fill.size}", (Edit(at, fill.size),)
            return [Remark("raceway-out-of-table", at, message, label, edits)]
        return []
    if fill.pct > fill.allowed_pct:
        message = (
            f"{fill.conductors} conductors fill {say(fill.pct)} % of a {segment.raceway_size} {segment.raceway}; "
            f"{say(fill.allowed_pct)} % is the most."
        )
        return [Remark("raceway-full", at, message, f"Make it {fill.size}", (Edit(at, fill.size),))]
    return []
