"""Readings beside the usual, where the site says that the job asks for them: insulation before power, power taken."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from itertools import combinations
from math import sqrt

from leitung_core.commissioning.steps import ReadingPoint, StartStep
from leitung_core.rulebook.book import Rulebook
from leitung_core.units import say

OPEN_MEGOHMS = 10_000.0  # as far as the testers of the trade read
INSULATION_IF_WRONG = [
    "Water in a box, a fitting or the raceway.",
    "Insulation cut at an edge, a staple or a clamp.",
    "Something is still joined: a unit, electronics, a surge protector, the neutral.",
]
TESTER = "The tester gives 500 V: nobody at the far end; each conductor discharged to ground afterwards."


def insulation_readings(
    line: str, names: Sequence[str], ref: Callable[[str], str], book: Rulebook
) -> Iterator[ReadingPoint]:
    """Megohms of each line conductor to ground and to each other line conductor, both ends free.

    names: its lines, as L1, L2. ref: the terminal at which a line, or ground, is met.
    """
    least = float(book.factor("insulation-least"))
    for one, other in [*((name, "G") for name in names), *combinations(names, 2)]:
        yield ReadingPoint(
            key=f"{line}.insulation-{one}-{other}", about=f"circuits/{line}", unit="MΩ", state="no_load",
            text=f"Insulation, {one} to {'ground' if other == 'G' else other}, at 500 V", terminal_from=ref(one),
            terminal_to=ref(other), expected=None, low=least, high=OPEN_MEGOHMS, if_wrong=INSULATION_IF_WRONG,
            basis="sound insulation, both ends free",
        )  # fmt: skip


def insulation_tested(line: str, after: str, reads: Sequence[str]) -> StartStep:
    """The insulation of a line's conductors, before either end is landed."""
    return StartStep(
        key=f"{line}.insulation", about=f"circuits/{line}", phase="before_power", needs=[after], hold=True, does="read",
        reads=list(reads), caution=TESTER, minutes=2.0 + len(reads),
        text="Insulation of the line's conductors, both ends free, no electronics and no surge protector on them: "
        "500 V DC, each held until it stands still.",
    )  # fmt: skip


def power_reading(current: ReadingPoint, book: Rulebook) -> ReadingPoint:
    """The power that a line takes at full call, kW, bounded by its volts and amps and by what power factor is likely.

    current: its reading of amps, which says what is expected of it and at which volts.
    """
    line = current.key.rpartition(".")[0]
    kva_per_a = (current.at_volts or 0.0) / 1000 * (sqrt(3) if current.phases == 3 else 1)
    factor = float(book.factor("power-factor-heat" if current.resistive else "power-factor-motor"))
    known = kva_per_a and current.low is not None and current.high is not None
    expected = current.expected * kva_per_a if current.resistive and current.expected and kva_per_a else None
    return ReadingPoint(
        key=f"{line}.power", about=current.about, unit="kW", state="running", tells="current",
        text="Power taken at full call, all lines", terminal_from=current.terminal_from,
        terminal_to=current.terminal_to, expected=_three(expected),
        low=_three((current.low or 0.0) * kva_per_a * factor) if known else None,
        high=_three((current.high or 0.0) * kva_per_a) if known else None,
        basis=f"by its volts and amps, at a power factor of {say(factor)} to 1" if known else current.basis,
        volts_key=current.volts_key, amps_key=current.key, power_factor=factor, phases=current.phases,
    )  # fmt: skip


def _three(figure: float | None) -> float | None:
    return None if figure is None else round(figure, 3)
