"""The verdict on a trial: who starts, what trips and when, what decides it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from leitung_core.starting.breaker import Opens, opens
from leitung_core.starting.case import Case, cases
from leitung_core.starting.document import Trial
from leitung_core.starting.drops import SOURCE
from leitung_core.starting.figures import figure
from leitung_core.starting.sources import BatteryState, battery_state, limit_a, missing, overloads, runs_h
from leitung_core.starting.timeline import Course, course_of, unknown_of_manager

Verdict = Literal["starts", "may_trip", "trips", "stalls", "overloads", "unknown"]
FAILS = ("trips", "overloads", "stalls")  # at the same moment the first of these is told
Held = Literal["holds", "may_trip", "trips"]


@dataclass(frozen=True)
class Why:
    """One thing that was looked at: when, what, in words, its figure against its limit."""

    at_s: float
    about: str
    says: str
    value: float
    limit: float
    unit: str


# A thing looked at, and what it says of the start.
Judged = tuple[Verdict, Why]


@dataclass(frozen=True)
class LegResult:
    """A leg: A at the most and when, A in the end and A left, and what its breaker does."""

    leg: int
    peak_a: float | None
    peak_at_s: float | None
    settled_a: float | None
    left_a: float | None
    breaker: Held | None


@dataclass(frozen=True)
class SupplyResult:
    """The source: W, V leg to neutral, the battery behind it."""

    peak_w: float | None
    settled_w: float | None
    running_limit_w: float | None
    surge_limit_w: float | None
    least_v: float | None
    battery_peak_a: float | None
    battery_least_v: float | None
    runs_h: float | None


@dataclass(frozen=True)
class StartAt:
    """A motor's start: V and share of its plate volts left at it, and the V by which it pulls down its leg."""

    load: str
    part: str
    at_s: float
    volts: float
    share: float
    dips_v: float
    dips_share: float


@dataclass(frozen=True)
class Outcome:
    """A case run: its verdict, what stands against it with what decides first, what holds, each leg, the source."""

    verdict: Verdict
    against: tuple[Why, ...]
    holds: tuple[Why, ...]
    legs: tuple[LegResult, ...]
    supply: SupplyResult
    course: Course
    unknown: dict[str, float]
    starts: tuple[StartAt, ...] = ()

    @property
    def why(self) -> tuple[Why, ...]:
        """Everything that was looked at."""
        return self.against + self.holds

    @property
    def fails(self) -> bool:
        return self.verdict in FAILS


def judge(trial: Trial) -> Outcome:
    """The worst outcome over every corner of the trial's ranges."""
    return min((run(case) for case in cases(trial)), key=_rank)


def _rank(outcome: Outcome) -> tuple[int, float, float]:
    """Certain failures first, the earliest of them before the others; of what starts, the highest current."""
    grade = 0 if outcome.fails else ("may_trip", "unknown", "starts").index(outcome.verdict) + 1
    return grade, outcome.why[0].at_s if outcome.why else 0.0, -max(leg.peak_a or 0.0 for leg in outcome.legs)


def starts(trial: Trial) -> bool:
    """Whether it starts at every corner; the first that does not is enough."""
    return all(run(case).verdict == "starts" for case in cases(trial))


def run(case: Case) -> Outcome:
    """One corner: judged by its breakers, its motors' volts and its source, as if nothing had opened."""
    course = course_of(case)
    opening = {leg: _opens(case, course, leg) for leg in range(1, case.supply.legs + 1)}
    reasons = [*_breakers(case, course, opening), *_stalls(case, course), *_sources(case, course), *_shed(case, course)]
    unknown = dict.fromkeys(missing(case.supply, course), 0.0) | course.unknown
    certain = sorted((row for row in reasons if row[0] in FAILS), key=lambda row: (row[1].at_s, FAILS.index(row[0])))
    maybe = sorted((row for row in reasons if row[0] == "may_trip"), key=lambda row: row[1].at_s)
    if certain or maybe:
        # What a manager would have to say matters only where something is to be kept from happening.
        unknown |= unknown_of_manager(case)
    # Beside what is not known, nothing is said to hold.
    holds = tuple(why for told, why in reasons if told == "starts" and not unknown)
    verdict: Verdict = "starts"
    if certain:
        verdict = certain[0][0]
    elif maybe:
        verdict = "may_trip"
    elif unknown:
        verdict = "unknown"
    legs = tuple(_leg(case, course, leg, opening[leg]) for leg in opening)
    against = tuple(why for _, why in (*certain, *maybe))
    return Outcome(verdict, against, holds, legs, _supply(case, course), course, unknown, tuple(_starts(case, course)))


def _starts(case: Case, course: Course) -> Iterator[StartAt]:
    """Every motor's start, with what the other loads on its legs and behind its feeder see of it."""
    if case.supply.ohms is None:
        return
    behind = {load.id: load.behind for load in case.loads}
    before = dict.fromkeys((SOURCE, *case.supply.feeders), (case.supply.volts, case.supply.volts))
    for stretch in course.stretches:
        for piece, left in stretch.starting:
            if piece.start_s == stretch.start_s:
                node = behind[piece.load]
                dips = max(before[node][leg - 1] - stretch.at[node][leg - 1] for leg in piece.legs)
                yield StartAt(
                    piece.load, piece.part, stretch.start_s, left * case.supply.volts * len(piece.legs), left,
                    max(0.0, dips), max(0.0, dips) / case.supply.volts,
                )  # fmt: skip
        before = stretch.at


def _opens(case: Case, course: Course, leg: int) -> list[Opens]:
    if case.supply.breaker_a is None:
        return []
    return opens(course.stretches, leg, case.supply.breaker_a, case.supply.magnetic)


def _breakers(case: Case, course: Course, opening: dict[int, list[Opens]]) -> Iterator[Judged]:
    rating = case.supply.breaker_a
    if rating is None:
        return
    for leg, events in opening.items():
        about = f"breaker of leg {leg}"
        for event in events:
            verdict: Verdict = "trips" if event.certain else "may_trip"
            says = f"{event.amps:.1f} A, {event.says}"
            yield verdict, Why(event.at_s, about, says, event.amps, event.limit_a, "A")
        if not events:
            peak, at = _peak(course, leg)
            low, _ = case.supply.magnetic
            over = peak > rating
            says = f"{peak:.1f} A at the most: below its magnetic trip, and too short to warm it" if over else (
                f"{peak:.1f} A at the most, never above its rating"
            )  # fmt: skip
            yield "starts", Why(at, about, says, peak, low * rating if over else rating, "A")


def _stalls(case: Case, course: Course) -> Iterator[Judged]:
    """Motors whose volts while they start fall below what they need; the least volts of all where all have enough."""
    if case.supply.ohms is None:
        return
    least, share = None, figure("start-volts")
    told = set[tuple[str, str]]()
    for stretch in course.stretches:
        for piece, left in stretch.starting:
            nominal = case.supply.volts * len(piece.legs)
            about = f"{piece.part} of {piece.load}"
            if left < share and (piece.load, piece.part) not in told:
                told.add((piece.load, piece.part))
                says = f"{left * nominal:.1f} V are left, {left * 100:.0f} % of {nominal:g} V: it may not come up"
                yield "stalls", Why(stretch.start_s, about, says, left * nominal, share * nominal, "V")
            if least is None or left < least[0]:
                least = left, stretch.start_s, about, nominal
    if least is not None and not told:
        left, at, about, nominal = least
        says = f"{left * nominal:.1f} V are left at its start, {left * 100:.0f} % of {nominal:g} V"
        yield "starts", Why(at, about, says, left * nominal, share * nominal, "V")


def _sources(case: Case, course: Course) -> Iterator[Judged]:
    told = False
    for row in overloads(case.supply, course):
        told = True
        verdict: Verdict = "overloads" if row.certain else "may_trip"
        yield verdict, Why(row.at_s, row.about, row.says, row.value, row.limit, row.unit)
    limits = case.supply.limits
    if limits and not told and limits.surge_w is not None:
        peak = max(course.stretches, key=lambda stretch: stretch.watts)
        says = f"{peak.watts:.0f} W at the most"
        yield "starts", Why(peak.start_s, case.supply.kind, says, peak.watts, limits.surge_w, "W")


def _shed(case: Case, course: Course) -> Iterator[Judged]:
    manager = case.supply.manager
    for load, at in course.shed.items():
        above = (manager.above_a if manager else None) or 0.0
        legs = next(entry.legs for entry in case.loads if entry.id == load)
        row = next(row for row in reversed(course.stretches) if row.start_s <= at)
        amps = max(row.amps[leg - 1] for leg in legs)
        yield "starts", Why(at, "manager", f"{load} is shed, {amps:.1f} A are left on its leg", amps, above, "A")


def _peak(course: Course, leg: int) -> tuple[float, float]:
    most = max(course.stretches, key=lambda stretch: stretch.amps[leg - 1])
    return most.amps[leg - 1], most.start_s


def _leg(case: Case, course: Course, leg: int, events: list[Opens]) -> LegResult:
    # What takes an unknown current makes its leg's peak unknown; its settled current only where that is unknown too.
    loads = {load.id for load in case.loads if leg in load.legs}
    mine = [name for name in course.unknown if name.partition(":")[0] in loads]
    locked = any(piece.locked and leg in piece.legs for row in course.stretches for piece, _ in row.starting)
    blind = bool(mine) or (case.supply.ohms is None and locked)
    peak, at = _peak(course, leg)
    settled: float | None = course.last.amps[leg - 1]
    if any("running" in name for name in mine):
        settled = None
    rating = case.supply.breaker_a
    rooms = [rating - settled] if rating is not None and settled is not None else []
    most = limit_a(case.supply)
    if most is not None and settled is not None:
        # The source's amperes are of all its legs together.
        rooms.append(most - sum(course.last.amps))
    left = min(rooms, default=None)
    held: Held | None = None
    if rating is not None:
        held = "trips" if any(event.certain for event in events) else "may_trip" if events else "holds"
        if held == "holds" and blind:
            held = None
    return LegResult(leg, None if blind else peak, None if blind else at, settled, left, held)


def _supply(case: Case, course: Course) -> SupplyResult:
    limits, settled = case.supply.limits, course.last.watts
    blind = bool(course.unknown)
    peak = max(stretch.watts for stretch in course.stretches)
    least = min(min(volts[: case.supply.legs]) for stretch in course.stretches for volts in stretch.at.values())
    states: list[BatteryState] = []
    if limits and limits.battery and limits.efficiency:
        found = [battery_state(limits.battery, limits.efficiency, row.watts + (limits.idle_w or 0.0))
                 for row in course.stretches]  # fmt: skip
        states = [state for state in found if state is not None]
    known = bool(states) and not blind
    return SupplyResult(
        peak_w=None if blind else peak,
        settled_w=None if any("running" in name for name in course.unknown) else settled,
        running_limit_w=limits.running_w if limits else None,
        surge_limit_w=limits.surge_w if limits else None,
        least_v=None if blind or case.supply.ohms is None else least,
        battery_peak_a=max(state.amps for state in states) if known else None,
        battery_least_v=min(state.volts for state in states) if known else None,
        runs_h=runs_h(limits, settled) if limits else None,
    )
