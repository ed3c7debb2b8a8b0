"""Voltage drop along the run: running current, Chapter 9 Table 8, one-way length (domain 1.2, step 5)."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.loads import Load
from leitung_core.circuits.spec import Segment, Spec
from leitung_core.explain import Step, step
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say, say_size


@dataclass(frozen=True)
class Drop:
    """Drop in V and % of the supply, and in V per segment; None where something it needs is not known."""

    volts: Decimal | None
    pct: Decimal | None
    segments_v: tuple[Decimal | None, ...]


def resistance_ohm_per_kft(segment: Segment, size: str, book: Rulebook) -> Decimal | None:
    """Table 8 at 75 °C; where the construction is not known, the larger of solid and stranded (the safe side).

    A construction that the table has no row for uses the other one's. Table 9 where that school is chosen, for copper
    in a raceway.
    """
    material = segment.material or "Cu"
    if book.school("drop-resistance") == "table-9" and material == "Cu" and segment.raceway:
        impedance = book.impedance_ohm_per_kft(size, segment.raceway)
        if impedance is not None:
            return impedance
    rows = {kind: book.ohm_per_kft(size, kind, material) for kind in ("solid", "stranded")}
    own = rows.get(segment.construction or "")
    return own if own is not None else max((ohm for ohm in rows.values() if ohm is not None), default=None)


def _row(segment: Segment, size: str, book: Rulebook) -> str:
    """The construction whose row was read, where it is not the one that was asked for."""
    material = segment.material or "Cu"
    if segment.construction is None or book.ohm_per_kft(size, segment.construction, material) is not None:
        return ""
    other = "stranded" if segment.construction == "solid" else "solid"
    return f", {other} row: the table has no {segment.construction} one"


_FACTORS = {1: Decimal(2), 3: Decimal(3).sqrt()}


def phase_factor(phase: int | None) -> Decimal | None:
    """2 for single phase (there and back), the root of 3 for three phases, None where not known."""
    return _FACTORS.get(phase or 0)


def circuit_phase(spec: Spec) -> int | None:
    """Phases of the circuit: a single-phase unit on a three-phase supply lies between two of its lines."""
    plate = spec.equipment.nameplate
    return 1 if plate is not None and plate.phase == 1 and spec.supply.phase == 3 else spec.supply.phase


def voltage_drop(spec: Spec, sizes: list[str], running_a: Decimal | None, book: Rulebook) -> Drop:
    """The drop with one size for each segment, at `running_a` amperes."""
    factor = phase_factor(circuit_phase(spec))
    volts = spec.supply.volts
    parts: list[Decimal | None] = []
    for segment, size in zip(spec.run, sizes, strict=True):
        ohm = resistance_ohm_per_kft(segment, size, book)
        if ohm is None or segment.length_ft is None or running_a is None or factor is None:
            parts.append(None)
        else:
            parts.append(factor * running_a * ohm * exact(segment.length_ft) / 1000)
    known = [part for part in parts if part is not None]
    if not parts or len(known) < len(parts) or volts is None:
        return Drop(None, None, tuple(parts))
    total = sum(known, Decimal(0))
    return Drop(total, total / exact(volts) * 100, tuple(parts))


def drop_current(load: Load, book: Rulebook) -> tuple[Decimal | None, str]:
    """The current that counts for the drop, A, and what it is."""
    if book.school("drop-current") == "ampacity":
        return load.min_ampacity_a, "what the conductors must carry"
    return load.running_a, load.running_formula


def start_steps(spec: Spec, load: Load, start: Drop) -> list[Step]:
    """The drop while the largest compressor starts: advice, and a figure of its own."""
    if start.volts is None or start.pct is None or load.start_a is None:
        return []
    what = "locked-rotor current" if spec.equipment.start_peak_a is None else "soft starter's peak"
    formula = f"the same resistances at the {what}, everything else running"
    return [
        step(
            "drop", f"Drop of {say(start.volts)} V at a start", formula, start.pct, "%", "advice", start_a=load.start_a
        )
    ]


def drop_steps(spec: Spec, sizes: list[str], load: Load, drop: Drop, book: Rulebook) -> list[Step]:
    """How the drop came about, segment by segment."""
    if drop.volts is None or drop.pct is None:
        return []
    factor = "2" if circuit_phase(spec) == 1 else "1.732"
    steps = [
        step(
            "drop",
            f"{say_size(size)} over {say(exact(segment.length_ft or 0))} ft{_row(segment, size, book)}",
            f"{factor} × current × ohm per 1000 ft × length / 1000",
            volts,
            "V",
            "Chapter 9 Table 8",
            current_a=drop_current(load, book)[0],
            ohm_per_kft=resistance_ohm_per_kft(segment, size, book),
            length_ft=segment.length_ft,
        )
        for segment, size, volts in zip(spec.run, sizes, drop.segments_v, strict=True)
    ]
    current, words = drop_current(load, book)
    what = f"Drop of {say(drop.volts)} V at {say(current or 0)} A ({words})"
    advised, whole = book.factor("drop-branch"), book.factor("drop-with-feeder")
    formula = f"drop / supply; advice {say(advised)} % on the branch, {say(whole)} % with its feeder"
    return [*steps, step("drop", what, formula, drop.pct, "%", "210.19, informational note", volts=spec.supply.volts)]
