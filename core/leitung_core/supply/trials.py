"""Trials in fact: in which order, whether the next may be tried, and what was measured against what was expected."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from pydantic import BaseModel, ConfigDict

from leitung_core.starting.figures import figure
from leitung_core.supply.judged import SupplyAt
from leitung_core.units import say
from leitung_core.validation import NotNegative

Outcome = Literal["started", "tripped", "stalled", "shut_off", "taken_back"]
SAYS: dict[str, str] = {
    "started": "started", "tripped": "tripped", "stalled": "did not come up", "shut_off": "the source shut off",
    "taken_back": "taken back",
}  # fmt: skip


class Expected(BaseModel):
    """What a trial is expected to do: in words, and its figures in A and W; None: not known."""

    model_config = ConfigDict(frozen=True)

    expected: str
    peak_a: float | None = None
    settled_a: float | None = None
    settled_w: float | None = None
    battery_a: float | None = None


class TrialAsked(Expected):
    """A trial that an install asks for: on which source, and what is to be on.

    `stop`: why it must not be tried; None where it may.
    """

    key: str
    name: str
    kind: str
    base: str
    order: int
    on: list[str]
    stop: str | None


class Measured(BaseModel):
    """What a trial gave, A, V, W: at its peak and settled, on the AC side and, of an inverter, on the DC side."""

    model_config = ConfigDict(frozen=True)

    peak_a: NotNegative | None = None
    settled_a: NotNegative | None = None
    least_v: NotNegative | None = None
    settled_v: NotNegative | None = None
    ac_w: NotNegative | None = None
    dc_v: NotNegative | None = None
    dc_a: NotNegative | None = None
    idle_w: NotNegative | None = None
    cooling_w: NotNegative | None = None


def trials_asked(supplies: Mapping[str, SupplyAt]) -> list[TrialAsked]:
    """The trials of every source that is judged, source by source in the order in which they are tried."""
    return [_asked(at) for at in supplies.values() if at.document is not None and at.verdict is not None]


def _asked(at: SupplyAt) -> TrialAsked:
    legs, supply = at.legs, at.supply
    stop = None
    if at.fails:
        stop = f"By the figures it does not start: {at.says[:1].lower()}{at.says[1:]}. Change it on paper first."
    elif at.verdict == "unknown":
        stop = "What decides the start is not known: enter it first."
    peaks, settled = [leg.peak_a for leg in legs], [leg.settled_a for leg in legs]
    return TrialAsked(
        key=at.source, name=at.name, kind=at.kind, base=at.base, order=at.order,
        on=[load.name for load in at.loads if load.called], expected=at.says,
        peak_a=max((amps for amps in peaks if amps is not None), default=None),
        settled_a=max((amps for amps in settled if amps is not None), default=None),
        settled_w=supply.settled_w if supply else None,
        battery_a=supply.battery_peak_a if supply else None,
        stop=stop,
    )  # fmt: skip


def not_yet(asked: TrialAsked, every: Sequence[TrialAsked], came: Mapping[str, str]) -> str | None:
    """Why a trial may not be made yet; None where it may.

    came: the outcome that stands for each trial made. Those before it in its group must have started.
    """
    if asked.stop is not None:
        return asked.stop
    for before in every:
        if before.base != asked.base or before.order >= asked.order:
            continue
        outcome = came.get(before.key)
        if outcome is None and before.stop is not None:
            return f"{before.name} comes first: on paper it is not seen to start yet."
        if outcome != "started":
            said = "not tried yet" if outcome in (None, "taken_back") else SAYS[outcome]
            return f"{before.name} comes first, and must have started: {said}."
    return None


def efficiency(measured: Measured) -> float | None:
    """AC watts over DC watts; None where one of them is not known."""
    if measured.ac_w is None or not measured.dc_v or not measured.dc_a:
        return None
    return measured.ac_w / (measured.dc_v * measured.dc_a)


def against(asked: Expected, measured: Measured) -> list[str]:
    """What was measured against what was expected, in words; what a trial gave beside it."""
    share = figure("trial-near")
    rows = (("peak", measured.peak_a, asked.peak_a, "A"), ("settled", measured.settled_a, asked.settled_a, "A"),
            ("settled", measured.ac_w, asked.settled_w, "W"))  # fmt: skip
    said = [_compared(what, got, expected, unit, share) for what, got, expected, unit in rows
            if got is not None and expected is not None]  # fmt: skip
    found = efficiency(measured)
    if found is not None:
        over = ": more than all of it, read again" if found > 1 else ""
        said.append(f"{say(found * 100, 0)} % of the battery's watts come out{over}")
    if measured.cooling_w is not None and measured.ac_w:
        said.append(f"{say(measured.cooling_w / measured.ac_w, 2)} W of cooling for each W")
    return said


def _compared(what: str, got: float, expected: float, unit: str, share: float) -> str:
    figures = f"{what} {say(got)} {unit}, {say(expected)} {unit} expected"
    if abs(got - expected) <= share * expected:
        return figures
    return f"{figures}: {say(abs(got / expected - 1) * 100, 0)} % {'more' if got > expected else 'less'}"
