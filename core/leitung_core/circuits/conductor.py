"""Choosing conductors (domain 1.2): column, correction and adjustment segment by segment; the worst segment decides."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.spec import Segment, Spec
from leitung_core.explain import Step, step
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say_size

LEAST_AT_75_C = "1/0"


@dataclass(frozen=True)
class Ampacity:
    """What one size carries in one segment, A, with what led to it. 0 A where it is not permitted at all.

    article: where its ampacity is said; held_by: what keeps it to its column, the method itself or its terminations.
    """

    amps: Decimal
    column_c: int
    starts_c: int
    ambient_c: Decimal
    ambient_factor: Decimal | None
    adjustment: Decimal
    at_start_a: Decimal
    at_terminals_a: Decimal
    article: str
    held_by: str


def segment_ambient_c(segment: Segment, book: Rulebook) -> Decimal:
    """The ambient that counts, °C: the table's base where unknown (a finding says so), plus the sun on a roof."""
    ambient = book.factor("base-ambient") if segment.ambient_c is None else exact(segment.ambient_c)
    if segment.place != "roof" or segment.sunlit is False:
        return ambient
    return ambient + book.roof_adder_c(exact(segment.above_roof_in or 0), segment.method or "")


def is_nipple(segment: Segment, book: Rulebook) -> bool:
    """Whether the segment is a raceway of at most 24 in: its own rules of adjustment and fill."""
    length = segment.length_ft
    return segment.raceway is not None and length is not None and exact(length) <= book.factor("nipple")


def segment_adjustment(segment: Segment, book: Rulebook) -> Decimal:
    """The factor for current-carrying conductors; a raceway of 24 in or less needs none (310.15(C)(1)(b))."""
    return (
        Decimal(1)
        if is_nipple(segment, book) or not segment.current_carrying
        else book.adjustment(segment.current_carrying)
    )


def ampacity(segment: Segment, size: str, book: Rulebook, circuit_a: Decimal = Decimal(0)) -> Ampacity | None:
    """What `size` carries in `segment`, or None where method or size are not in the tables.

    Terminations count at 60 °C up to a circuit of 100 A or 1 AWG unless both ends are marked 75 °C (110.14(C)(1)).
    """
    if segment.method == "cord":
        return _cord(segment, size, book)
    method = book.methods.get(segment.method or "")
    material = segment.material or "Cu"
    if method is None or book.ampacity_a(material, size, 60) is None:
        return None
    hot_ends = (
        segment.terminations_c == 75
        or circuit_a > book.factor("terminations-hot-above")
        or book.not_thinner(size, LEAST_AT_75_C)
    )
    column = min(75 if hot_ends else 60, method.limit_c or 90)
    ambient = segment_ambient_c(segment, book)
    factor, adjustment = book.ambient_factor(ambient, method.starts_c), segment_adjustment(segment, book)
    at_start = book.ampacity_a(material, size, method.starts_c) or Decimal(0)
    at_terminals = book.ampacity_a(material, size, column) or Decimal(0)
    corrected = at_start * (factor or 0) * adjustment
    amps = min(corrected, at_terminals)
    article = method.article_ampacity
    held_by = article if method.limit_c == column else "110.14(C)(1)"
    return Ampacity(
        amps, column, method.starts_c, ambient, factor, adjustment, at_start, at_terminals, article, held_by
    )


def _cord(segment: Segment, size: str, book: Rulebook) -> Ampacity | None:
    """What a flexible cord carries (400.5(A)(1)), corrected for ambient by its 60 °C insulation."""
    table = book.cord_ampacity_a(size, min(segment.current_carrying or 3, 3))
    if table is None:
        return None
    ambient = segment_ambient_c(segment, book)
    factor, adjustment = book.ambient_factor(ambient, 60), segment_adjustment(segment, book)
    amps = table * (factor or 0) * adjustment
    return Ampacity(amps, 60, 60, ambient, factor, adjustment, table, table, *["400.5(A)(1)"] * 2)


def run_ampacity(spec: Spec, sizes: list[str], circuit_a: Decimal, book: Rulebook) -> list[Ampacity | None]:
    """What each segment carries with its size, in the order of the run."""
    return [ampacity(segment, size, book, circuit_a) for segment, size in zip(spec.run, sizes, strict=True)]


def worst_index(found: list[Ampacity | None]) -> int | None:
    """The index of the segment that decides: least ampacity, the first of equals."""
    known = [(result.amps, index) for index, result in enumerate(found) if result is not None]
    return min(known)[1] if known else None


def limiting_article(found: Ampacity) -> str:
    """The rule that keeps the ampacity where it is: the column it ends at, the ambient, or the conductors together."""
    if found.article.startswith("400.5"):
        return found.article
    if found.at_start_a * (found.ambient_factor or 0) * found.adjustment >= found.at_terminals_a:
        return found.held_by
    less = [("310.15(B)(1)", found.ambient_factor or 0), ("310.15(C)(1)", found.adjustment)]
    return ", ".join(article for article, factor in less if factor < 1)


def ampacity_steps(index: int, size: str, found: Ampacity, material: str) -> list[Step]:
    """How one segment's ampacity came about."""
    part = f"run[{index}]"
    cord = found.article.startswith("400.5")
    table = "400.5(A)(1)" if cord else "Table 310.16"
    name = f"{say_size(size)} cord" if cord else f"{say_size(size)} {material} at {found.starts_c} °C"
    steps = [step(part, name, "table value where correction starts", found.at_start_a, "A", table)]
    if found.ambient_factor is None:
        formula = f"{found.starts_c} °C insulation is not permitted at that ambient"
        article = "Table 310.15(B)(1)(1)"
        return [*steps, step(part, "Ambient", formula, Decimal(0), "A", article, ambient_c=found.ambient_c)]
    if found.ambient_factor != 1 or found.adjustment != 1:
        corrected = found.at_start_a * found.ambient_factor * found.adjustment
        steps.append(
            step(
                part,
                "Corrected for ambient, adjusted for conductors together",
                "table value × ambient factor × adjustment",
                corrected,
                "A",
                "Tables 310.15(B)(1)(1), 310.15(C)(1)",
                ambient_c=found.ambient_c,
                ambient_factor=found.ambient_factor,
                adjustment=found.adjustment,
            )
        )
    if cord:
        return [*steps, step(part, f"{say_size(size)} cord carries", "by its table", found.amps, "A", table)]
    formula = f"at most its {found.column_c} °C column"
    article = f"{limiting_article(found)}, Table 310.16"
    steps.append(step(part, f"{say_size(size)} carries", formula, found.amps, "A", article))
    return steps
