"""The equipment grounding conductor (250.122): by the device, capped at the circuit conductor, grown in proportion."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache

from leitung_core.explain import Step, step
from leitung_core.rulebook import Rulebook
from leitung_core.rulebook.book import Material
from leitung_core.units import say, say_size


@dataclass(frozen=True)
class Grounding:
    """`least` is required; `table` is the table's size, advised where the cap lowered it.

    `in_proportion_from` is what was asked for before it grew with the conductors; None where it did not grow.
    """

    least: str | None
    table: str | None
    steps: tuple[Step, ...]
    in_proportion_from: str | None = None


@lru_cache(maxsize=4096)
def grounding_conductor(
    ocpd_a: Decimal | None, conductor: str | None, base: str | None, material: Material, book: Rulebook
) -> Grounding:
    """The least grounding conductor for a device of `ocpd_a` amperes and the conductors at hand.

    `base` is the least lawful circuit conductor behind that device before voltage drop: growing beyond it grows the
    grounding conductor in proportion to the circular mils (250.122(B)). The conductor in place is the cap (250.122(A)).
    """
    table = book.egc_size(ocpd_a, material) if ocpd_a is not None else None
    if ocpd_a is None or table is None or conductor is None:
        return Grounding(None, None, ())
    steps = [step("egc", f"Device of {say(ocpd_a)} A", "by the device", say_size(table), "", "Table 250.122")]
    if book.school("egc-base") == "matched":
        base = matching_size(material, ocpd_a, book) or base
    capped = book.school("egc-cap") == "capped"
    area, base_area = book.area_cmil(conductor), book.area_cmil(base or conductor)
    grows = area is not None and base_area is not None and area > base_area
    least = _smaller(table, base if base and grows else conductor, book) if capped else table
    if least != table:
        formula = "never required larger than the circuit conductors"
        steps.append(step("egc", "Capped", formula, say_size(least), "", "250.122(A)"))
    before = None
    if grows and area is not None and base_area is not None:
        before = least
        least, grown = _grown(least, area / base_area, conductor, material, book)
        steps.append(grown)
    return Grounding(least, table, tuple(steps), before)


def matching_size(material: Material, device_a: Decimal, book: Rulebook) -> str | None:
    """The thinnest size that 240.4(D), or above 10 AWG its 60 °C ampacity, lets stand behind the device."""
    for size in book.sizes_from(material):
        limit = book.small_conductor(material, size)
        carried = limit.max_ocpd_a if limit else book.ampacity_a(material, size, 60)
        if carried is not None and carried >= device_a:
            return size
    return None


def _smaller(size: str, other: str, book: Rulebook) -> str:
    return other if book.not_thinner(size, than=other) else size


def _grown(size: str, ratio: Decimal, conductor: str, material: Material, book: Rulebook) -> tuple[str, Step]:
    # Table 8 is rounded: an area that is short by less than that is not short.
    needed = (book.area_cmil(size) or Decimal(0)) * ratio * (1 - book.factor("area-rounding"))
    grown = next((s for s in book.sizes_from(material, size) if (book.area_cmil(s) or 0) >= needed), conductor)
    if book.school("egc-cap") == "capped":
        grown = _smaller(grown, conductor, book)
    formula = "area × (conductor / least lawful conductor), capped at the circuit conductor"
    what = "Conductors larger than needed: grown in proportion"
    return grown, step("egc", what, formula, say_size(grown), "", "250.122(B), (A)", ratio=round(ratio, 4))
