"""The steps that led to a number."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from leitung_core.units import tidy


@dataclass(frozen=True, slots=True)
class Step:
    """One step: what was worked out, how, from which inputs, to which value, by which article or table.

    `part` names the part of the line that the step explains: load, ocpd, run[i], egc, disconnect, drop.
    """

    part: str
    what: str
    formula: str
    inputs: dict[str, float | int | str | None]
    value: float | str | None
    unit: str
    article: str


def step(
    part: str, what: str, formula: str, value: Decimal | str | None, unit: str, article: str, **inputs: Any
) -> Step:
    """A step from exact figures; inputs carry their unit in their name (`mca_a`, `length_ft`)."""
    shown = {name: tidy(figure) if isinstance(figure, Decimal) else figure for name, figure in inputs.items()}
    return Step(
        part=part,
        what=what,
        formula=formula,
        inputs=shown,
        value=tidy(value) if isinstance(value, Decimal) else value,
        unit=unit,
        article=article,
    )
