"""What happened in a logged current: its settled stretches, and each start, step, stop and trip between them.

Bounds come from the log itself: its noise, its resolution, its step of time. What it cannot have seen is said.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Any, Literal

import numpy as np

from leitung_core.findings import Finding, finding
from leitung_core.starting.log_file import Log, Numbers

Kind = Literal["start", "stop", "step_up", "step_down", "trip"]
SIGMAS = 6.0  # of the noise: what a sample must differ by
LEAST_A = 0.15  # below which nothing is taken for a change
OFF_A = 0.5
SETTLED = 4  # samples within the bound that make a stretch settled
BLOCK = 48  # samples over which a level is followed, for drift
GAP_STEPS = 3.0
START_S = 3.0  # what a start takes at the most: a higher level for so long is its peak
PLATEAU = 3  # samples near a peak by which it has been seen whole


@dataclass(frozen=True)
class Event:
    """One change: when it shows first, A before, at the most and after, how long it took."""

    at_s: float
    kind: Kind
    before_a: float
    peak_a: float
    peak_is_least: bool
    settled_a: float
    settles_in_s: float
    step_a: float
    likely: list[dict[str, str]] = field(default_factory=list)


@dataclass(frozen=True)
class Level:
    """A settled stretch."""

    from_s: float
    to_s: float
    a: float


@dataclass(frozen=True)
class ColumnRead:
    """A current column and what happened in it."""

    column: str
    samples: int
    span_s: float
    step_s: float
    gaps: list[tuple[float, float]]
    noise_a: float
    levels: list[Level]
    events: list[Event]
    findings: list[Finding]


def read_events(log: Log, rating_a: float | None = None) -> list[ColumnRead]:
    """Every current column of a log. `rating_a`: of the breaker, by which a trip is told from a stop."""
    return [_Reader(name, log.seconds, amps, rating_a).read() for name, amps in log.columns.items()]


@dataclass
class _Stretch:
    """A settled stretch by its samples: from, up to and without."""

    first: int
    end: int
    a: float = 0.0


class _Reader:
    def __init__(self, name: str, seconds: Numbers, amps: Numbers, rating_a: float | None) -> None:
        self.name, self.t, self.a, self.rating = name, seconds, amps, rating_a
        self.steps = np.diff(seconds)
        self.step = float(np.median(self.steps))
        self.gap_at = np.flatnonzero(self.steps > GAP_STEPS * self.step)
        self.noise = _noise(amps)
        self.bound = max(SIGMAS * self.noise, 1.6 * _resolution(amps), LEAST_A)
        self.findings: list[Finding] = []

    def read(self) -> ColumnRead:
        stretches: list[_Stretch] = []
        events: list[Event] = []
        edges = [0, *(int(at) + 1 for at in self.gap_at), len(self.a)]
        for first, end in pairwise(edges):
            part = list(self._stretches(first, end))
            if stretches and part:
                self._over_gap(stretches[-1], part[0])
            for one, two in pairwise(part):
                events += self._between(one, two)
            stretches += part
        events = [self._named(event) for event in self._joined(events)]
        self._said(events)
        levels = [Level(float(self.t[s.first]), float(self.t[s.end - 1]), s.a) for s in stretches]
        levels = [row for row in levels if not any(_within(row, event) for event in events)]
        residue = [self.a[s.first : s.end] - s.a for s in stretches if s.end - s.first > SETTLED]
        noise = float(np.std(np.concatenate(residue))) if residue else self.noise
        gaps = [(float(self.t[at]), float(self.t[at + 1])) for at in self.gap_at]
        span = float(self.t[-1] - self.t[0])
        return ColumnRead(
            self.name, len(self.a), span, self.step, gaps, noise, levels, events, self.findings
        )  # fmt: skip

    def _stretches(self, first: int, end: int) -> Iterator[_Stretch]:
        """The settled stretches of what lies between two gaps."""
        at = self._settled_from(first, end)
        while at is not None:
            left = self._leaves(at, end)
            yield _Stretch(at, left, float(np.median(self.a[at:left])))
            at = self._settled_from(left, end) if left < end else None

    def _settled_from(self, first: int, end: int) -> int | None:
        """The first sample from which the current keeps within the bound for a while."""
        for at in range(first, end - SETTLED + 1):
            window = self.a[at : at + SETTLED]
            if window.max() - window.min() <= self.bound:
                return at
        return None

    def _leaves(self, first: int, end: int) -> int:
        """The first sample that leaves the level on which the stretch from `first` lies; it may drift."""
        at = first + SETTLED
        while at < end:
            level = float(np.median(self.a[max(first, at - BLOCK) : at]))
            block = np.abs(self.a[at : at + BLOCK] - level) > self.bound * 0.75
            out = np.flatnonzero(block)
            for index in out:
                where = at + int(index)
                if abs(self.a[where] - level) > self.bound or self._stays_out(where, end, level):
                    return where
            at += BLOCK
        return end

    def _stays_out(self, at: int, end: int, level: float) -> bool:
        """Whether the samples from here on lie to one side by most of the bound: a small step within much noise."""
        window = self.a[at : min(end, at + SETTLED)] - level
        return len(window) == SETTLED and bool(np.all(np.abs(window) > self.bound * 0.6)) and (
            bool(np.all(window > 0)) or bool(np.all(window < 0))
        )  # fmt: skip

    def _between(self, one: _Stretch, two: _Stretch) -> list[Event]:
        """What happened between two settled stretches: one change, or several that followed too fast to settle."""
        marks = self._marks(one, two)
        found, before = [], one.a
        for index, (at, rises) in enumerate(marks):
            last = index == len(marks) - 1
            end = two.first if last else marks[index + 1][0]
            settled = two.a if last else float(np.median(self.a[max(at, end - 2) : end]))
            if abs(settled - before) <= self.bound and not (rises and self._overshoots(at, end, settled)):
                continue
            found.append(self._event(at, end, before, settled))
            before = settled
        return found

    def _overshoots(self, at: int, end: int, settled: float) -> bool:
        return bool(self.a[at : max(end, at + 1)].max() > settled + 2 * self.bound)

    def _marks(self, one: _Stretch, two: _Stretch) -> list[tuple[int, bool]]:
        """Where changes begin between two stretches: the first sample out, each new rise, a fall out of a start."""
        marks = [(one.end, bool(self.a[one.end] > one.a))]
        highest = lowest = float(self.a[one.end])
        for at in range(one.end + 1, two.first + 1):
            jump = self.a[at] - self.a[at - 1]
            fell = highest - lowest > self.bound
            rises_anew = jump > self.bound and fell and self.a[at - 1] - lowest <= self.bound
            lay = at - marks[-1][0] >= 2 and abs(self.a[at - 1] - self.a[at - 2]) <= self.bound
            if rises_anew or (lay and abs(jump) > self.bound):
                marks.append((at, bool(jump > 0)))
                highest = float(self.a[at])
            highest, lowest = (
                max(highest, float(self.a[at])),
                float(self.a[at]) if jump > 0 else min(lowest, self.a[at]),
            )
        peak = float(self.a[one.end : two.first].max(initial=one.a))
        if two.a < OFF_A and peak > max(one.a, two.a) + self.bound:
            rise = marks[-1][0]
            falls = np.diff(self.a[rise : two.first + 1])
            if falls.size and falls.min() < -self.bound:
                marks.append((rise + int(falls.argmin()) + 1, False))
        return marks

    def _event(self, at: int, end: int, before: float, settled: float) -> Event:
        shown = self.a[at : max(end, at + 1)]
        peak = float(shown.max(initial=max(before, settled)))
        near = int(np.count_nonzero(shown >= settled + 0.9 * (peak - settled))) if peak > settled else 0
        overshoots = peak > settled + self.bound
        kind: Kind = "step_down"
        if settled > before:
            kind = "start" if overshoots else "step_up"
        elif settled < OFF_A:
            kind = "stop"
        clipped = self._clipped(peak, shown)
        return Event(
            at_s=float(self.t[at]), kind=kind, before_a=before, peak_a=peak,
            peak_is_least=kind == "start" and (clipped or near < PLATEAU), settled_a=settled,
            settles_in_s=float(self.t[end] - self.t[at]), step_a=settled - before,
        )  # fmt: skip

    def _clipped(self, peak: float, shown: Numbers) -> bool:
        """Whether a peak lies flat at the highest figure of the whole log, where nothing else lies flat."""
        return bool(self.noise > 0 and peak >= self.a.max() and np.count_nonzero(shown == peak) >= 2)

    def _over_gap(self, one: _Stretch, two: _Stretch) -> None:
        if abs(two.a - one.a) <= self.bound:
            return
        start, end = float(self.t[one.end - 1]), float(self.t[two.first])
        message = f"Between {start:g} and {end:g} s nothing was logged, and it went from {one.a:.1f} to {two.a:.1f} A."
        self.findings.append(finding("log-changed-in-gap", self.name, message, fact=f"{start:g}"))

    def _joined(self, events: list[Event]) -> Iterator[Event]:
        """A change that goes on in the same sense, slowly, is one change."""
        held: Event | None = None
        for event in events:
            if (
                held
                and held.kind == event.kind
                and event.kind in ("step_up", "step_down")
                and self._goes_on(held, event)
            ):
                held = replace(held, settled_a=event.settled_a, step_a=event.settled_a - held.before_a,
                               peak_a=max(held.peak_a, event.peak_a),
                               settles_in_s=event.at_s + event.settles_in_s - held.at_s)  # fmt: skip
                continue
            if held and self._is_its_peak(held, event):
                # What was seen as a level was a start's peak, seen whole.
                held = replace(held, kind="start", settled_a=event.settled_a, step_a=event.settled_a - held.before_a,
                               peak_a=max(held.peak_a, held.settled_a), peak_is_least=self._flat_at_top(held),
                               settles_in_s=event.at_s + event.settles_in_s - held.at_s)  # fmt: skip
                continue
            if held:
                yield held
            held = event
        if held:
            yield held

    def _is_its_peak(self, one: Event, two: Event) -> bool:
        falls = two.step_a < 0 and two.settled_a > one.before_a + self.bound
        return one.step_a > 0 and falls and two.at_s - one.at_s <= START_S

    def _flat_at_top(self, event: Event) -> bool:
        first, last = np.searchsorted(self.t, [event.at_s, event.at_s + START_S])
        return self._clipped(float(self.a[first:last].max()), self.a[first:last])

    def _goes_on(self, one: Event, two: Event) -> bool:
        soon = two.at_s - (one.at_s + one.settles_in_s) <= 6 * self.step
        at = int(np.searchsorted(self.t, two.at_s))
        return soon and abs(self.a[at] - self.a[at - 1]) <= max(2 * self.bound, 0.4 * abs(two.step_a))

    def _named(self, event: Event) -> Event:
        """A stop that is a trip, where the breaker's rating is known."""
        fell = event.kind == "stop" and self.rating is not None
        return replace(event, kind="trip") if fell and event.before_a > (self.rating or 0) else event

    def _said(self, events: list[Event]) -> None:
        """What the log cannot have seen."""
        stops = [event for event in events if event.kind == "stop"]
        if stops and self.rating is None:
            message = f"Whether a breaker tripped in {len(stops)} of the stops is not known: its rating was not given."
            self.findings.append(finding("log-trip-unknown", self.name, message))
        least = [event for event in events if event.peak_is_least]
        if least:
            each = f"a sample each {self.step:g} s has not seen them whole"
            message = f"{len(least)} of the peaks may have been higher: {each}."
            self.findings.append(finding("log-peak-least", self.name, message))
        top = float(self.a.max())
        flat = int(np.count_nonzero(self.a == top))
        if (
            any(event.kind == "start" and event.peak_a >= top for event in events)
            and flat >= PLATEAU
            and self.noise > 0
        ):
            message = f"{flat} samples lie flat at {top:g} A: the instrument may end there."
            self.findings.append(finding("log-clipped", self.name, message))
        close = [
            one for one, two in pairwise(events)
            if one.kind == "start" and two.kind == "start" and two.at_s - one.at_s <= 3 * self.step
        ]  # fmt: skip
        for event in close:
            message = f"Two starts at {event.at_s:g} s lie closer than the logger can tell apart."
            self.findings.append(finding("log-starts-close", self.name, message, fact=f"{event.at_s:g}"))


def _within(level: Level, event: Event) -> bool:
    """Whether what looked settled was part of a change."""
    return event.at_s <= level.from_s < event.at_s + event.settles_in_s - 1e-9


def _noise(amps: Numbers) -> float:
    """The standard deviation about a level, from what neighbours differ by: steps are few, noise is everywhere."""
    if len(amps) < 3:
        return 0.0
    apart = np.abs(np.diff(amps))
    return float(np.median(apart) / 0.6745 / np.sqrt(2))


def _resolution(amps: Numbers) -> float:
    """The least by which two samples differ, where many do: else what differs are the changes themselves."""
    apart = np.abs(np.diff(amps))
    apart = apart[apart > 1e-9]
    return float(np.quantile(apart, 0.02)) if apart.size > len(amps) / 20 else 0.0


def envelope(
    log: Log, column: str, buckets: int = 600, within: tuple[float, float] | None = None
) -> list[tuple[float, float, float]]:
    """A column small enough to be drawn: from when, and the least and the most A, of each of so many equal parts.

    within: of these seconds alone.
    """
    seconds, amps = log.seconds, log.columns[column]
    if within is not None:
        first, end = np.searchsorted(seconds, within)
        seconds, amps = seconds[first:end], amps[first:end]
    if not len(seconds):
        return []
    parts = np.array_split(np.arange(len(seconds)), min(buckets, len(seconds)))
    return [(float(seconds[part[0]]), float(amps[part].min()), float(amps[part].max())) for part in parts]


def as_json(found: ColumnRead) -> dict[str, Any]:
    """A column read as the open form has it."""

    def rounded(value: float) -> float:
        return round(value, 4)

    return {
        "column": found.column, "samples": found.samples, "span_s": rounded(found.span_s),
        "step_s": rounded(found.step_s), "gaps": [[rounded(edge) for edge in gap] for gap in found.gaps],
        "noise_a": rounded(found.noise_a),
        "levels": [{key: rounded(value) for key, value in vars(level).items()} for level in found.levels],
        "events": [
            {key: rounded(value) if isinstance(value, float) else value for key, value in vars(event).items()}
            for event in found.events
        ],
        "findings": [row.model_dump(exclude_none=True, exclude={"key", "follows"}) for row in found.findings],
    }  # fmt: skip
