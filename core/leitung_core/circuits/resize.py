"""The edits that give segments another conductor, with the grounding conductor kept lawful beside it."""

from __future__ import annotations

from collections.abc import Collection
from decimal import Decimal

from leitung_core.circuits.choose import Choice, protects
from leitung_core.circuits.grounding import grounding_conductor
from leitung_core.circuits.loads import Load
from leitung_core.circuits.spec import Spec
from leitung_core.findings import Edit
from leitung_core.rulebook import Rulebook


def factory_egc_too_small(spec: Spec, sizes: list[str], least: str, book: Rulebook) -> list[int]:
    """Indexes of the segments whose cable brings a grounding conductor thinner than `least`."""
    found = []
    for index, (segment, size) in enumerate(zip(spec.run, sizes, strict=True)):
        method = book.methods.get(segment.method or "")
        own = book.factory_egc(size) if method and method.factory_egc else None
        if own and not book.not_thinner(own, than=least):
            found.append(index)
    return found


def behind(spec: Spec, load: Load, choice: Choice, device_a: Decimal, book: Rulebook) -> tuple[Edit, ...] | None:
    """Edits that keep the run lawful behind a device of that rating, A: what it would not protect becomes thicker.

    None where no conductor would do, or a cable's own grounding conductor would be too small.
    """
    bare = [
        index for index, (segment, found) in enumerate(zip(spec.run, choice.found, strict=True))
        if segment.conductor and found is not None
        and not protects(spec, load, segment.conductor, found.amps, device_a, book, index)
    ]  # fmt: skip
    if not bare:
        return () if _grounded(spec, choice, device_a, book) else None
    known = [str(spec.run[index].conductor) for index in bare if spec.run[index].conductor in book.sizes]
    thinnest = max(known, key=book.sizes.index, default=None)
    for size in book.sizes_from(choice.material, thinnest):
        carried = choice.uniform.carried(size)
        ways = [(index, carried[index]) for index in bare]
        if all(found and protects(spec, load, size, found.amps, device_a, book, index) for index, found in ways):
            return resize(spec, choice, size, book, bare, device_a) or None
    return None


def _grounded(spec: Spec, choice: Choice, device_a: Decimal, book: Rulebook) -> bool:
    """Whether the grounding conductors that the run's cables bring do behind that device."""
    sizes = [size for size in choice.sizes if size in book.sizes]
    if len(sizes) < len(spec.run) or not sizes:
        return True
    thinnest = min(sizes, key=book.sizes.index)
    least = grounding_conductor(device_a, thinnest, choice.before_drop, choice.material, book).least
    return least is None or not factory_egc_too_small(spec, sizes, least, book)


def resize(
    spec: Spec,
    choice: Choice,
    size: str | None,
    book: Rulebook,
    only: Collection[int] | None = None,
    device_a: Decimal | None = None,
) -> tuple[Edit, ...]:
    """Edits that set `size` on the segments in `only` (all where None), behind `device_a` (the one in use where None).

    Thick conductors are stranded. None where a cable's own grounding conductor would then be too small: the cable is
    the wrong one for that size.
    """
    device = device_a if device_a is not None else choice.device_a
    if size is None or device is None:
        return ()
    chosen = range(len(spec.run)) if only is None else only
    sizes = [size if index in chosen else (old or size) for index, old in enumerate(choice.sizes)]
    thinnest = min(sizes, key=lambda s: book.sizes.index(s) if s in book.sizes else -1)
    least = grounding_conductor(device, thinnest, choice.before_drop, choice.material, book).least
    if least is None or factory_egc_too_small(spec, sizes, least, book):
        return ()
    edits = tuple(Edit(("run", index, "conductor"), size) for index in chosen)
    edits += tuple(
        Edit(("run", index, "construction"), "stranded")
        for index in chosen
        if spec.run[index].construction == "solid" and book.ohm_per_kft(size, "solid", choice.material) is None
    )
    if spec.proposed.egc and not book.not_thinner(spec.proposed.egc, than=least):
        edits = (*edits, Edit(("proposed", "egc"), least))
    return edits
