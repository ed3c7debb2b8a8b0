"""Which circuits this version sizes. What it does not compute with is refused, never ignored."""

from __future__ import annotations

from typing import Any

from leitung_core.circuits.spec import Spec
from leitung_core.errors import NotHandledYet, Problem

MARKED_COOLING = (
    "mini_split_outdoor",
    "condensing_unit",
    "heat_pump_outdoor",
    "packaged_rooftop",
    "packaged_heat_pump",
)


def refuse_unhandled(spec: Spec) -> None:
    """Raise NotHandledYet for every field that the format knows and this version does not compute with."""
    problems = [
        Problem(field, value, "this version does not compute with it", remedy)
        for field, value, remedy in _unhandled(spec)
        if value not in (None, False, [])
    ]
    if problems:
        raise NotHandledYet(*problems)


def _unhandled(spec: Spec) -> list[tuple[str, Any, str]]:
    unit, plate, proposed = spec.equipment, spec.equipment.nameplate, spec.proposed
    marked = "Size it by hand and by the article; only units with a marked MCA and maximum are sized."
    rows: list[tuple[str, Any, str]] = [
        ("rulebook", None if spec.rulebook == "us-2023" else spec.rulebook, "Use us-2023."),
        ("amendments", spec.amendments, "Leave it out and apply the amendment by hand."),
        ("equipment.kind", None if unit.kind in MARKED_COOLING else unit.kind, f"Use {', '.join(MARKED_COOLING)}."),
        ("equipment.quantity", unit.quantity if (unit.quantity or 1) > 1 else None, "Size each unit on its own line."),
        ("equipment.heat_with_cooling", unit.heat_with_cooling, marked),
        ("equipment.cord_connected", unit.cord_connected, "Only hard-wired units are sized."),
        ("proposed.receptacle_a", proposed.receptacle_a, "Only hard-wired units are sized."),
        ("proposed.other_outlets_on_branch", proposed.other_outlets_on_branch, "Plan an individual branch circuit."),
    ]
    for index, segment in enumerate(spec.run):
        rows.append((f"run[{index}].method", "cord" if segment.method == "cord" else None, "Name a fixed method."))
    if plate:
        for name in ("heat", "amps", "watts", "continuous", "supply_cfm", "return_cfm"):
            rows.append((f"equipment.nameplate.{name}", getattr(plate, name), marked))
        if plate.mca_a is None:
            rows.append(("equipment.nameplate.compressors", plate.compressors and "given without an MCA", marked))
            rows.append(("equipment.nameplate.motors", plate.motors and "given without an MCA", marked))
    return rows
