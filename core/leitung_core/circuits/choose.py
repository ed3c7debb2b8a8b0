"""Which conductor the run has: proposed where every segment names one, else the least that will do."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.conductor import Ampacity, least_conductor, run_ampacity, worst_index
from leitung_core.circuits.drop import ADVISED_PCT, Drop, voltage_drop
from leitung_core.circuits.grounding import Grounding, grounding_conductor
from leitung_core.circuits.load import Load
from leitung_core.circuits.protection import Devices
from leitung_core.circuits.spec import Segment, Spec
from leitung_core.explain import Step, step
from leitung_core.rulebook import Rulebook
from leitung_core.rulebook.book import Material
from leitung_core.units import exact, say, say_size


@dataclass(frozen=True)
class Choice:
    """The least lawful conductor, and what the run has with the sizes in use (proposed, else least)."""

    before_drop: str | None
    least: str | None
    least_ampacity_a: Decimal | None
    least_column_c: int | None
    sizes: tuple[str | None, ...]
    found: tuple[Ampacity | None, ...]
    proposed_ampacity_a: Decimal | None
    in_use_ampacity_a: Decimal | None
    decides: int | None
    drop: Drop
    limit_pct: Decimal
    grounding: Grounding
    least_egc: str | None
    device_a: Decimal | None
    material: Material
    steps: tuple[Step, ...]


def drop_limit_pct(spec: Spec) -> Decimal:
    """The limit that counts, %: the one asked for, else the advised one."""
    return exact(spec.proposed.voltage_drop_limit_pct or ADVISED_PCT)


def least_with_drop(spec: Spec, load: Load, needed_a: Decimal, book: Rulebook) -> str | None:
    """The thinnest size that carries `needed_a` and keeps the drop within the limit; None where none in the tables."""
    limit = drop_limit_pct(spec)

    def within(size: str) -> bool:
        pct = voltage_drop(spec, [size] * len(spec.run), load.running_a, book).pct
        return pct is not None and pct <= limit

    return least_conductor(spec, needed_a, book, also=within)


def ready(segment: Segment) -> bool:
    """Whether an ampacity can be given for the segment at all."""
    return segment.method is not None


def choose(spec: Spec, load: Load, devices: Devices, book: Rulebook) -> Choice:
    """Find the least conductor of the run, and judge the sizes in use."""
    needed, material = load.min_ampacity_a, _material(spec)
    before = least = None
    if needed is not None and spec.run and all(ready(segment) for segment in spec.run):
        before = least_conductor(spec, needed, book)
        lengths_known = all(segment.length_ft is not None for segment in spec.run)
        judged = lengths_known and spec.supply.volts is not None and spec.supply.phase is not None
        least = least_with_drop(spec, load, needed, book) if judged and before else before
        least = least or before
    least_found = run_ampacity(spec, [least] * len(spec.run), needed, book) if least and needed is not None else []
    least_at = worst_index(least_found)
    worst = least_found[least_at] if least_at is not None else None
    sizes = tuple(segment.conductor or least for segment in spec.run)
    found, in_use, decides = _in_use(spec, sizes, needed, book)
    complete = [size for size in sizes if size]
    whole = bool(sizes) and len(complete) == len(sizes)
    drop = voltage_drop(spec, complete, load.running_a, book) if whole else Drop(None, None, ())
    device = exact(spec.proposed.ocpd_a) if spec.proposed.ocpd_a else devices.recommended_a
    thinnest = min(complete, key=book.sizes.index, default=None) if all(c in book.sizes for c in complete) else None
    grounding = grounding_conductor(device, thinnest, before, material, book)
    least_grounding = grounding_conductor(device, least, before, material, book)
    return Choice(
        before_drop=before,
        least=least,
        least_ampacity_a=worst.amps if worst else None,
        least_column_c=worst.column_c if worst else None,
        sizes=sizes,
        found=found,
        proposed_ampacity_a=in_use if any(segment.conductor for segment in spec.run) else None,
        in_use_ampacity_a=in_use,
        decides=decides,
        drop=drop,
        limit_pct=drop_limit_pct(spec),
        grounding=grounding,
        least_egc=least_grounding.least,
        device_a=device,
        material=material,
        steps=_steps(needed, before, least, worst),
    )


def _material(spec: Spec) -> Material:
    return "Al" if any(segment.material == "Al" for segment in spec.run) else "Cu"


def _in_use(
    spec: Spec, sizes: tuple[str | None, ...], needed: Decimal | None, book: Rulebook
) -> tuple[tuple[Ampacity | None, ...], Decimal | None, int | None]:
    """Ampacity by segment, the least of them, and the segment that decides. Unknown anywhere leaves the sum unknown."""
    found = [
        run_ampacity(spec.model_copy(update={"run": [segment]}), [size], needed or Decimal(0), book)[0]
        if size
        else None
        for segment, size in zip(spec.run, sizes, strict=True)
    ]
    amps = [result.amps for result in found if result is not None]
    whole = bool(found) and len(amps) == len(found)
    return tuple(found), min(amps) if whole else None, worst_index(found)


def _steps(needed: Decimal | None, before: str | None, least: str | None, worst: Ampacity | None) -> tuple[Step, ...]:
    if needed is None or before is None or least is None or worst is None:
        return ()
    what = f"Least conductor for {say(needed)} A, worst segment at {worst.column_c} °C"
    formula = f"thinnest that carries it in every segment: {say(worst.amps)} A"
    steps = [step("run", what, formula, say_size(before), "", f"{worst.article}, Table 310.16")]
    if least != before:
        formula = "thinnest that also keeps the drop within the limit"
        steps.append(step("run", "For the drop", formula, say_size(least), "", "210.19, informational note"))
    return tuple(steps)
