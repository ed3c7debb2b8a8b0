"""Functional tests: each safety contact provoked, and what it must stop seen to stop. They follow from the matrix."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from leitung_core.control.judgement import Outcome, judge
from leitung_core.control.system import System
from leitung_core.control.wired import wiring
from leitung_core.elements.signals import signals
from leitung_core.elements.vocabulary import Effect


class FunctionalTest(BaseModel):
    """One cell of the matrix to be tried on the unit: how it is provoked, what it must stop, within how long, s.

    `key` is stable: records refer to it. `shown` is what the bench shows of it. `wiring`: what was proved holds while
    this is the same.
    """

    model_config = ConfigDict(frozen=True)

    key: str
    system: str
    title: str
    cause: str
    cause_words: str
    effect: Effect
    provoke: str | None
    within_s: float | None
    reset: str | None
    rule: str | None
    shown: Outcome
    wiring: str = ""


def test_key(system: str, cause: str, effect: str) -> str:
    """Under which key a functional test is recorded."""
    return f"{system}/{cause.partition(':')[2]}/{effect}"


def functional_tests(system: System) -> list[FunctionalTest]:
    """Every cell that the plan wants proved, cause by cause."""
    found = []
    for entry in judge(system).cells:
        cell = entry.cell
        if not cell.wanted:
            continue
        known, how = signals().get(cell.cause), cell.test
        found.append(
            FunctionalTest(
                key=test_key(system.key, cell.cause, cell.effect), system=system.key, title=system.title,
                cause=cell.cause, cause_words=known.short if known else cell.cause, effect=cell.effect,
                provoke=how.provoke if how else None, within_s=how.within_s if how else None,
                reset=how.reset if how else None, rule=cell.required.rule if cell.required else None,
                shown=entry.outcome, wiring=wiring(system),
            )
        )  # fmt: skip
    return found
