"""What else would do: least lawful, matched to the device, and one size roomier. Each passes its own check."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from decimal import Decimal
from typing import Any, Literal

from leitung_core.circuits.choose import Choice, drop_limit_pct, protects
from leitung_core.circuits.conductor import run_ampacity
from leitung_core.circuits.devices import Devices
from leitung_core.circuits.drop import drop_current, voltage_drop
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
    rows = []
    for device in devices.choices_a:
        for size, title in _sizes(device, choice, book):
            row = _alternative(spec, load, choice, device, size, title, book, patch)
            if row is not None:
                rows.append(row)
    return rows


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
    sizes = [size] * len(spec.run)
    found = run_ampacity(spec, sizes, needed, book)
    amps = min(result.amps for result in found if result is not None)
    protected = all(
        result is not None and protects(spec, load, size, result.amps, device, book, index)
        for index, result in enumerate(found)
    )
    drop = voltage_drop(spec, sizes, drop_current(load, book)[0], book)
    grounding = grounding_conductor(device, size, choice.before_drop, choice.material, book)
    edits = resize(spec, replace(choice, device_a=device), size, book)
    over = drop.pct is not None and drop.pct > drop_limit_pct(spec)
    if grounding.least is None or not edits or over or not protected:
        return None
    edits = (Edit(("proposed", "ocpd_a"), float(device)), *edits)
    planned = exact(spec.proposed.ocpd_a) if spec.proposed.ocpd_a else None
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
        chosen=planned == device and {segment.conductor for segment in spec.run} == {size},
        patch=patch(edits),
    )
