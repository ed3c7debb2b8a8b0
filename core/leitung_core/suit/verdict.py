"""What a question about the job comes to: figures, the steps behind them, what is missing, and findings."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict

from leitung_core.explain import Step

Suits = Literal["yes", "no", "unknown"]


class Frozen(BaseModel):
    model_config = ConfigDict(frozen=True)


class Figure(Frozen):
    """One figure of the answer, in words and as a number; `also` says it in the unit that others use."""

    what: str
    value: float | None
    unit: str
    also: str | None = None


class Point(Frozen):
    """One point of the warm-up curve."""

    minutes: float
    temperature_f: float


class Option(Frozen):
    """One voltage of a humidifier: what it gives and what circuit it asks for.

    `on_site`: whether the site has that voltage; None where its sources are not known.
    """

    volts: float
    phase: int
    amps: float
    kw: float
    gal_per_day: float
    covers: bool | None
    on_site: bool | None = None
    ocpd_a: float | None
    conductor: str | None


class Share(Frozen):
    """One load on a branch, against the part of the branch that it may take."""

    name: str
    amps: float
    most_a: float
    fits: bool


class Answer(Frozen):
    """`suits`: yes, no, or unknown where something that matters is missing. `verdict` says it in one sentence."""

    ask: Literal["heat", "steam", "branch"]
    suits: Suits
    verdict: str
    missing: list[str]
    figures: list[Figure] = []
    curve: list[Point] = []
    options: list[Option] = []
    shares: list[Share] = []
    steps: list[Step] = []


def missing_answer(ask: Literal["heat", "steam", "branch"], missing: list[str]) -> Answer:
    """The answer where something that matters is not known: named, never guessed."""
    verdict = f"Not known yet: {', '.join(missing)}."
    return Answer(ask=ask, suits="unknown", verdict=verdict, missing=missing)
