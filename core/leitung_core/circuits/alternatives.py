"""What else would do: least lawful, matched to the device, and one size roomier. Each passes its own check."""

from __future__ import annotations

from collections.abc import Callable
from decimal import Decimal
from typing import Any, Literal

from leitung_core.circuits.choose import Choice, protects
from leitung_core.circuits.devices import Devices
from leitung_core.circuits.grounding import grounding_conductor, matching_size
from leitung_core.circuits.loads import Load
from leitung_core.circuits.material import material, metal_lb
from leitung_core.circuits.resize import resize
from leitung_core.circuits.result import Alternative
from leitung_core.circuits.spec import Spec
from leitung_core.findings import Edit
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, tidy

Title = Literal["least", "matched", "roomy"]
Patch = Callable[[tuple[Edit, ...]], dict[str, Any]]


def alternatives(
    spec: Spec, load: Load, devices: Devices, choice: Choice, book: Rulebook, patch: Patch
) -> list[Alternative]:
    """The lawful ways, by device then by conductor; none where the plate or the run is not known."""
    needed = load.min_ampacity_a
    if needed is None or choice.least is None or choice.before_drop is None:
        return []
    # The device in use and the recommended one are compared in full; every other lawful one shows its least way.
    compared = {choice.device_a, devices.recommended_a}
    rows = (
        _alternative(spec, load, choice, device, size, title, book, patch)
        for device in devices.choices_a
        for size, title in _sizes(device, choice, book)[: None if device in compared else 1]
    )
    return [row for row in rows if row is not None]


def _sizes(device: Decimal, choice: Choice, book: Rulebook) -> list[tuple[str, Title]]:
    """Distinct sizes for one device, thinnest first."""
    least = choice.least or ""
    matched = matching_size(choice.material, device, book)
    matched = matched if matched and book.not_thinner(matched, than=least) else least
    above = next((size for size in book.sizes_from(choice.material, matched) if size != matched), None)
    sizes: dict[str, Title] = {}
    for size, title in ((least, "least"), (matched, "matched"), (above, "roomy")):
        if size is not None:
            sizes.setdefault(size, title)  # type: ignore[arg-type]
    return list(sizes.items())


def _alternative(
    spec: Spec, load: Load, choice: Choice, device: Decimal, size: str, title: Title, book: Rulebook, patch: Patch
) -> Alternative | None:
    needed = load.min_ampacity_a or Decimal(0)
    drop, found = choice.uniform.drop(size), choice.uniform.carried(size)
    if drop.pct is not None and drop.pct > choice.limit_pct:
        return None
    protected = all(
        result is not None and protects(spec, load, size, result.amps, device, book, index)
        for index, result in enumerate(found)
    )
    if not protected:
        return None
    grounding = grounding_conductor(device, size, choice.before_drop, choice.material, book)
    edits = resize(spec, choice, size, book, device_a=device)
    if grounding.least is None or not edits:
        return None
    amps = min(result.amps for result in found if result is not None)
    sizes = [size] * len(spec.run)
    planned = exact(spec.proposed.ocpd_a) if spec.proposed.ocpd_a else None
    chosen = planned == device and {segment.conductor for segment in spec.run} == {size}
    changes = patch((Edit(("proposed", "ocpd_a"), float(device)), *edits))
    if not changes and not chosen:
        return None
    return Alternative(
        title=title,
        ocpd_a=float(device),
        conductor=size,
        egc=grounding.least,
        ampacity_a=float(amps),
        margin_a=float(amps - needed),
        drop_pct=tidy(drop.pct),
        material=material(spec, sizes, grounding.least, book),
        metal_lb=metal_lb(spec, sizes, grounding.least, book),
        chosen=chosen,
        patch=changes,
    )
