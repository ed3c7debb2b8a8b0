"""Exact arithmetic for entered figures, and figures as people say them.

Figures arrive as binary floats. Every comparison of the trade is made on decimals, so that a tie is a tie:
16.0 A times 125 % is 20 A and not a hair more.
"""

from __future__ import annotations

from collections.abc import Sequence
from decimal import ROUND_HALF_UP, Decimal
from functools import lru_cache


@lru_cache(maxsize=8192, typed=True)
def exact(figure: float | int | str | Decimal) -> Decimal:
    """The decimal that was typed: 0.1 is one tenth."""
    return figure if isinstance(figure, Decimal) else Decimal(str(figure))


def tidy(figure: Decimal | None, places: int = 6) -> float | None:
    """A float for a result, rounded far below any meaning to drop the tail of a division."""
    return None if figure is None else float(round(figure, places))


# Nothing that is measured has more; what was typed may.
MOST_DIGITS = 15


@lru_cache(maxsize=8192, typed=True)
def say(figure: Decimal | float | int, places: int = 1) -> str:
    """The figure in words: 15, 12.65 to one place 12.7, 11.0 as 11."""
    whole = exact(figure)
    if whole.adjusted() > MOST_DIGITS:
        return f"{whole:.2e}"
    text = str(whole.quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP))
    return text.rstrip("0").rstrip(".") if "." in text else text


def say_size(size: str) -> str:
    """A conductor size in words: 12 AWG, 1/0 AWG, 250 kcmil."""
    return f"{size} kcmil" if size.isdigit() and int(size) >= 250 else f"{size} AWG"


def sentence(text: str) -> str:
    """With a capital at its beginning."""
    return text[:1].upper() + text[1:]


def in_a_row(names: Sequence[str]) -> str:
    """`a`, `a and b`, `a, b and c`; empty for none."""
    *others, last = names or [""]
    return f"{', '.join(others)} and {last}" if others else last
