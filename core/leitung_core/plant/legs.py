"""The legs of a panel: which space lies on which, and what each carries."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal
from itertools import pairwise

NAMES = ("A", "B", "C")


def leg_of(space: int, legs: int) -> int:
    """The leg of a numbered space, counted from 0: each row of two spaces lies on the next leg."""
    return (space - 1) // 2 % legs


def spaces_fit(spaces: Iterable[int]) -> bool:
    """Whether the spaces lie one under the other on one side of the panel, so that each is on another leg."""
    return all(lower - upper == 2 for upper, lower in pairwise(sorted(spaces)))


def legs_of(spaces: Iterable[int], legs: int) -> set[int]:
    """The legs of a load. One without spaces counts on every leg: the safe side."""
    return {leg_of(space, legs) for space in spaces} or set(range(legs))


def legs_on(leg: int | str | None, spaces: Iterable[int], legs: int) -> set[int]:
    """The legs of a load by its spaces, else as they are said; said of a leg that is not there: every one."""
    if leg is None or [*spaces]:
        return legs_of(spaces, legs)
    return {0, 1} & set(range(legs)) if leg == "both" else {int(leg) - 1} & set(range(legs)) or set(range(legs))


def unbalance_pct(totals: list[Decimal]) -> Decimal:
    """How far the least loaded leg lies below the most loaded one, %."""
    most = max(totals, default=Decimal(0))
    return (most - min(totals)) / most * 100 if most else Decimal(0)
