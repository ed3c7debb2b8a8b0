"""Which conductor the run has: proposed where every segment names one, else the least that will do."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.conductor import Ampacity, ampacity, worst_index
from leitung_core.circuits.devices import Devices, is_lawful
from leitung_core.circuits.drop import Drop, drop_current, voltage_drop
from leitung_core.circuits.grounding import Grounding, grounding_conductor
from leitung_core.circuits.loads import Load
from leitung_core.circuits.spec import Spec
from leitung_core.circuits.uniform import Uniform
from leitung_core.explain import Step, step
from leitung_core.rulebook import Rulebook
from leitung_core.rulebook.book import Material
from leitung_core.units import exact, say, say_size


@dataclass(frozen=True)
class Choice:
    """The least lawful conductor, and what the run has with the sizes in use (proposed, else least).

    `device_a` is the device that the least conductor stands behind: the proposed one while it is lawful, else the
    recommended one. `grounding` is read for the device and the conductors in place, lawful or not.
    `least_drop` is the drop with the least conductor; it passes the limit only where no size in the tables keeps it.
    """

    uniform: Uniform
    before_drop: str | None
    least: str | None
    least_worst: Ampacity | None
    least_drop: Drop
    least_egc: str | None
    sizes: tuple[str | None, ...]
    found: tuple[Ampacity | None, ...]
    in_use_ampacity_a: Decimal | None
    decides: int | None
    drop: Drop
    start_drop: Drop
    limit_pct: Decimal
    grounding: Grounding
    device_a: Decimal | None
    material: Material
    steps: tuple[Step, ...]


def drop_limit_pct(spec: Spec, book: Rulebook) -> Decimal:
    """The limit that counts, %: the one asked for, else the advised one."""
    asked = spec.proposed.voltage_drop_limit_pct
    return exact(asked) if asked else book.factor("drop-branch")


def methods_known(spec: Spec) -> bool:
    """Whether an ampacity can be given for every segment of the run."""
    return bool(spec.run) and all(segment.method is not None for segment in spec.run)


def choose(spec: Spec, load: Load, devices: Devices, book: Rulebook) -> Choice:
    """Find the least conductor of the run, and what the sizes in use come to."""
    needed, uniform = load.min_ampacity_a, Uniform(spec, load, book)
    material = uniform.material
    device = device_in_use(spec, load, devices, book)
    before, least = _least_sizes(spec, load, device, uniform, book)
    placed = exact(spec.proposed.ocpd_a) if spec.proposed.ocpd_a else device
    base = before if placed == device else _least_sizes(spec, load, placed, uniform, book)[0]
    worst = _worst(least, needed, uniform)
    sizes = tuple(segment.conductor or least for segment in spec.run)
    found = tuple(
        None if size is None else uniform.carried(size)[index] if size == least
        else ampacity(spec.run[index], size, book, needed or Decimal(0))
        for index, size in enumerate(sizes)
    )  # fmt: skip
    known = [result.amps for result in found if result is not None]
    least_drop = uniform.drop(least) if least else Drop(None, None, ())
    return Choice(
        uniform=uniform,
        before_drop=before,
        least=least,
        least_worst=worst,
        least_drop=least_drop,
        least_egc=grounding_conductor(device, least, before, material, book).least,
        sizes=sizes,
        found=found,
        in_use_ampacity_a=min(known) if known and len(known) == len(found) else None,
        decides=worst_index(list(found)),
        drop=least_drop if set(sizes) == {least} else _at(spec, sizes, drop_current(load, book)[0], book),
        start_drop=_at(spec, sizes, load.start_a, book),
        limit_pct=drop_limit_pct(spec, book),
        grounding=grounding_conductor(placed, _thinnest(sizes, book), base, material, book),
        device_a=device,
        material=material,
        steps=_steps(needed, before, least, worst),
    )


def device_in_use(spec: Spec, load: Load, devices: Devices, book: Rulebook) -> Decimal | None:
    """The device that the conductors stand behind, A: the proposed one while it is lawful, else the recommended one."""
    proposed = exact(spec.proposed.ocpd_a) if spec.proposed.ocpd_a else None
    if devices.recommended_a is None:
        return proposed
    if proposed is not None and is_lawful(proposed, spec, load, devices, book):
        return proposed
    return devices.recommended_a


def protects(
    spec: Spec, load: Load, size: str, amps: Decimal, device_a: Decimal | None, book: Rulebook, index: int = 0
) -> bool:
    """Whether a device of that rating protects a conductor that carries `amps`: 240.4(B), (D), (G); 240.5 for cords.

    A cord that came with its listed appliance counts as protected (240.5(B)(1)); any other is not helped by the next
    standard rating up.
    """
    segment = spec.run[index]
    if device_a is None or segment.factory_cord:
        return True
    if segment.method == "cord":
        return device_a <= amps
    limit = book.small_conductor(segment.material or "Cu", size)
    within = limit is None or device_a <= limit.max_ocpd_a
    if not load.device_follows_conductor:
        return within or book.school("small-conductor-440") == "ampacity"
    standard = book.next_standard_a(amps)
    return within and device_a <= (standard if standard is not None else amps)


def _least_sizes(
    spec: Spec, load: Load, device: Decimal | None, uniform: Uniform, book: Rulebook
) -> tuple[str | None, str | None]:
    """The thinnest size that carries the load everywhere, and the thinnest that keeps the drop as well.

    Where no size keeps the drop, or it cannot be judged, the second is the first.
    """
    if load.min_ampacity_a is None or not methods_known(spec):
        return None, None
    limit = drop_limit_pct(spec, book)

    def protected(size: str) -> bool:
        return all(
            found is None or protects(spec, load, size, found.amps, device, book, index)
            for index, found in enumerate(uniform.carried(size))
        )

    def within(size: str) -> bool:
        pct = uniform.drop(size).pct
        return pct is not None and pct <= limit and protected(size)

    before = uniform.least(protected)
    if before is None or uniform.drop(before).pct is None:
        return before, before
    # What is thinner than the first one failed already.
    return before, uniform.least(within, start=before) or before


def _worst(size: str | None, needed: Decimal | None, uniform: Uniform) -> Ampacity | None:
    """What that size carries in the segment where it carries least."""
    if size is None or needed is None:
        return None
    found = uniform.carried(size)
    index = worst_index(found)
    return found[index] if index is not None else None


def _at(spec: Spec, sizes: tuple[str | None, ...], amps: Decimal | None, book: Rulebook) -> Drop:
    known = [size for size in sizes if size]
    if amps is None or not spec.run or len(known) < len(spec.run):
        return Drop(None, None, ())
    return voltage_drop(spec, known, amps, book)


def _thinnest(sizes: tuple[str | None, ...], book: Rulebook) -> str | None:
    """The thinnest of the sizes in use; None where one is not chosen or not in the tables."""
    known = [size for size in sizes if size in book.sizes]
    return min(known, key=book.sizes.index) if known and len(known) == len(sizes) else None


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
