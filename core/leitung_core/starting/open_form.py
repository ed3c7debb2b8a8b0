"""`leitung starting`: a trial's document in, its verdict with reasons, legs, source, trace and ways out back."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

from leitung_core.findings import Finding, finding
from leitung_core.starting.document import Trial, read_trial, wide_figures
from leitung_core.starting.figures import figure
from leitung_core.starting.picture import Picture, picture
from leitung_core.starting.verdict import Outcome, judge
from leitung_core.starting.ways import ways_out
from leitung_core.starting.words import moment
from leitung_core.units import sentence

DIGITS = 4


def starting(data: Any, root: str = "") -> tuple[dict[str, Any], bool]:
    """The answer to a trial's document, and whether to stop for it. Raises InputError where it cannot be read."""
    trial = read_trial(data, root)
    outcome = judge(trial)
    return answer(data, trial, outcome), outcome.fails


def drawn(data: Any) -> tuple[dict[str, Any], Picture]:
    """The answer to a trial's document, and its picture. Raises InputError where it cannot be read."""
    trial = read_trial(data)
    outcome = judge(trial)
    told = [row.at_s for row in outcome.against]
    return answer(data, trial, outcome), picture(trial, outcome, told)


def answer(data: Any, trial: Trial, outcome: Outcome) -> dict[str, Any]:
    """The open form of an outcome."""
    found = {
        "verdict": outcome.verdict,
        "why": [asdict(row) for row in outcome.why],
        "legs": [asdict(leg) for leg in outcome.legs],
        "supply": asdict(outcome.supply),
        "trace": [{"t_s": row.start_s, "leg_a": list(row.amps)} for row in outcome.course.stretches],
        "ways_out": [asdict(way) for way in ([] if outcome.verdict == "starts" else ways_out(data, trial))],
        "findings": [row.model_dump(exclude_none=True, exclude={"key", "follows"}) for row in findings(trial, outcome)],
    }
    return dict(_rounded(found))


def _rounded(value: Any) -> Any:
    if isinstance(value, float):
        return round(value, DIGITS)
    if isinstance(value, dict):
        return {key: _rounded(entry) if key != "change" else entry for key, entry in value.items()}
    return [_rounded(entry) for entry in value] if isinstance(value, list) else value


def findings(trial: Trial, outcome: Outcome) -> Iterator[Finding]:
    """What stands against a trial, and what its verdict rests on."""
    decides = outcome.why[0] if outcome.why else None
    if outcome.fails and decides:
        message = f"{sentence(decides.about)}, {moment(decides.at_s)}: {decides.says}. Do not try it: change it first."
        yield finding("start-fails", "supply", message)
    elif outcome.verdict == "may_trip" and decides:
        yield finding("start-may-trip", "supply", f"{sentence(decides.about)}, {moment(decides.at_s)}: {decides.says}.")
    for name, at in outcome.unknown.items():
        message = f"{sentence(name)}: not known, and it decides from {at:g} s on."
        yield finding("start-unknown", "supply", message, fact=name)
    wide = wide_figures(trial)
    if wide:
        yield finding("start-range", "supply", f"Known as a range, its worst taken: {', '.join(wide)}.")
    if trial.supply.manager is not None:
        message = "It leans on the manager: it helps only while it is alive, wired and set so."
        yield finding("start-managed", "supply", message)
    yield from _factors(trial)
    yield from _continuous(trial, outcome)


def _factors(trial: Trial) -> Iterator[Finding]:
    if trial.supply.kind not in ("generator", "inverter"):
        return
    bare = [load.id for load in trial.loads if load.compressor and load.compressor.power_factor is None]
    if bare:
        message = f"Power factor of the running compressor not known, 1 taken: {', '.join(bare)}."
        yield finding("start-factor-taken", "loads", message)


def _continuous(trial: Trial, outcome: Outcome) -> Iterator[Finding]:
    """What is on for three hours or more, against 80 % of the breaker."""
    rating = trial.supply.breaker_a
    if rating is None:
        return
    share, time = figure("continuous-share"), figure("continuous-time")
    for leg in range(trial.supply.legs):
        # Over what is carried at the least for so long: the lowest current of any window of stretches that long.
        most = max((_least_for(outcome, leg, index, time) for index in range(len(outcome.course.stretches))), default=0)
        if most > share * rating.low + 1e-9:
            message = (
                f"Leg {leg + 1} carries {most:.1f} A for three hours or more, above {share * 100:.0f} % of "
                f"{rating.low:g} A."
            )
            yield finding("continuous-load", f"legs/{leg + 1}", message)


def _least_for(outcome: Outcome, leg: int, index: int, time: float) -> float:
    """The least current from a stretch on over so long a time; 0 where what follows ends before."""
    rows = outcome.course.stretches
    begun, least = rows[index].start_s, rows[index].amps[leg]
    for row in rows[index:]:
        least = min(least, row.amps[leg])
        if row.end_s - begun >= time:
            return least
    return 0.0
