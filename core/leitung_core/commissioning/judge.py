"""Judging readings against what the plan says they should be, and against each other."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from itertools import combinations
from typing import Literal

from leitung_core.commissioning.meanings import Meaning, meaning_of
from leitung_core.commissioning.steps import ReadingPoint
from leitung_core.units import exact, say

# doubtful: within what the unit allows, and not what this place should give.
Verdict = Literal["within", "outside", "doubtful", "unknown"]
# Between readings of one line: meters of the trade agree within this share of what they read.
METERS_AGREE = Decimal("0.03")
IMBALANCE_MOST = Decimal("0.02")
# What is kept where an ohmmeter shows that nothing is between: a megohm, as good as open here.
OPEN_OHMS = 1e6


@dataclass(frozen=True)
class Judged:
    """The verdict on a reading, said as a sentence; the bounds are those that it was judged by; what it usually means
    where it is not as it should be.
    """

    verdict: Verdict
    said: str
    low: float | None
    high: float | None
    meaning: Meaning | None = None


def judge_readings(points: Sequence[ReadingPoint], values: Mapping[str, float]) -> dict[str, Judged]:
    """Every reading judged: by its own bounds, by what the supply gives, by the other readings of its line.

    `values` are the readings that stand, by key. Current through heat is judged in proportion to the volts just read.
    """
    doubts: dict[str, str] = {}
    by_part: dict[str, list[ReadingPoint]] = {}
    for point in points:
        if point.key in values:
            by_part.setdefault(point.about, []).append(point)
    for mine in by_part.values():
        for key, says in _against_each_other(mine, values):
            doubts.setdefault(key, says)
    return {
        point.key: _judged(_at_volts(point, values), values, doubts.get(point.key))
        for mine in by_part.values() for point in mine
    }  # fmt: skip


def judge_reading(point: ReadingPoint, value: float) -> Verdict:
    """`within` both bounds (the bounds included), `outside`, or `unknown` where the plan gives no bound."""
    if point.low is None or point.high is None:
        return "unknown"
    return "within" if exact(point.low) <= exact(value) <= exact(point.high) else "outside"


def say_verdict(point: ReadingPoint, value: float) -> str:
    """The verdict on one reading by itself, as a sentence."""
    if point.low is None or point.high is None:
        return f"Not judged: {point.basis}."
    bounds = f"{say_bounds(point)} ({point.basis})"
    if judge_reading(point, value) == "within":
        return f"Within {bounds}."
    if point.unit == "Ω":
        found = "Joined, and should not be" if exact(value) < exact(point.low) else "Not joined, and should be"
        return " ".join([f"{found}: {bounds}. Find out why before there is power.", *_may_be(point)])
    if point.unit == "MΩ" and exact(value) < exact(point.low):
        return " ".join([f"Below {bounds}. Find out why before there is power.", *_may_be(point)])
    where = "Below" if exact(value) < exact(point.low) else "Above"
    return f"{where} {bounds}. Switch off and find out why before you go on."


def _may_be(point: ReadingPoint) -> list[str]:
    return [f"It may be: {' Or: '.join(point.if_wrong)}"] if point.if_wrong else []


def say_read(value: float, unit: str) -> str:
    """`246.5 V`; `OL` where an ohmmeter shows that nothing is between."""
    return "OL" if unit == "Ω" and value >= OPEN_OHMS else f"{say(value)} {unit}"


def say_bounds(point: ReadingPoint) -> str | None:
    """`228 to 252 V`, `at most 1 Ω`; None where it cannot be judged."""
    low, high = point.low, point.high
    if low is None or high is None:
        return None
    if point.unit == "Ω":
        return f"over {say(low)} Ω" if high >= OPEN_OHMS else f"at most {say(high)} Ω"
    if point.unit == "MΩ":
        return f"at least {say(low)} MΩ"
    return f"{say(low)} to {say(high)} {point.unit}"


def _judged(point: ReadingPoint, values: Mapping[str, float], doubt: str | None) -> Judged:
    value = values[point.key]
    verdict, said = judge_reading(point, value), say_verdict(point, value)
    if verdict != "outside":
        doubt = doubt or _off_the_supply(point, value)
        if doubt is not None:
            said = f"{said} {doubt}" if verdict == "within" else doubt
            verdict = "doubtful"
    watts = _watts(point, values)
    meaning = meaning_of(point, value) if verdict in ("outside", "doubtful") else None
    return Judged(verdict, f"{said} {watts}" if watts else said, point.low, point.high, meaning)


def _at_volts(point: ReadingPoint, values: Mapping[str, float]) -> ReadingPoint:
    """The point at the volts that were read: what heat draws goes with them in proportion, what is taken with amps."""
    read = values.get(point.volts_key or "")
    if point.power_factor is not None:
        return _at_volt_amperes(point, values)
    if not point.resistive or read is None or not point.at_volts or point.low is None or point.high is None:
        return point
    share = read / point.at_volts
    return point.model_copy(update={
        "low": round(point.low * share, 6), "high": round(point.high * share, 6),
        "basis": f"{point.basis}; at the {say(read)} V just read",
    })  # fmt: skip


def _at_volt_amperes(point: ReadingPoint, values: Mapping[str, float]) -> ReadingPoint:
    """A power between what the volts and amps just read come to and the least share of it that is likely."""
    kva = _kva(point, values.get(point.volts_key or ""), values.get(point.amps_key or ""))
    if kva is None:
        return point
    volts, amps = values[point.volts_key or ""], values[point.amps_key or ""]
    return point.model_copy(update={
        "low": round(float(kva) * (point.power_factor or 0), 6), "high": round(float(kva * (1 + METERS_AGREE)), 6),
        "basis": f"of the {say(volts)} V and {say(amps)} A just read",
    })  # fmt: skip


def _kva(point: ReadingPoint, volts: float | None, amps: float | None) -> Decimal | None:
    if volts is None or amps is None:
        return None
    return exact(amps) * exact(volts) * (Decimal(3).sqrt() if point.phases == 3 else 1) / 1000


def _watts(point: ReadingPoint, values: Mapping[str, float]) -> str | None:
    """What a current comes to at the volts just read; of a power its power factor."""
    read = values.get(point.volts_key or "")
    if point.unit == "kW":
        kva = _kva(point, read, values.get(point.amps_key or ""))
        return f"That is a power factor of {say(exact(values[point.key]) / kva, 2)}." if kva else None
    kva = _kva(point, read, values[point.key]) if point.unit == "A" else None
    return f"At {say(read or 0)} V that is {say(kva, 2)} {'kW' if point.resistive else 'kVA'}." if kva else None


def _off_the_supply(point: ReadingPoint, value: float) -> str | None:
    """Within the plate, and far from what the panel gives."""
    if point.unit != "V" or point.near_low is None or point.near_high is None or point.expected is None:
        return None
    if point.near_low <= value <= point.near_high:
        return None
    off = abs(exact(value) - exact(point.expected))
    way = "below" if value < point.near_low else "above"
    return f"But {say(off, 0)} V {way} the {say(point.expected, 1)} V of this panel: which leg, which tap?"


def _against_each_other(mine: Sequence[ReadingPoint], values: Mapping[str, float]) -> Iterator[tuple[str, str]]:
    volts = {point.key.rpartition(".")[2]: point for point in mine if point.unit == "V"}
    yield from _triangles(volts, values)
    yield from _imbalance([point for name, point in volts.items() if name in THREE], values)


THREE = ("L1-L2", "L2-L3", "L3-L1")


def _triangles(volts: Mapping[str, ReadingPoint], values: Mapping[str, float]) -> Iterator[tuple[str, str]]:
    """Two lines to ground and between each other: three sides of a triangle, on split phase a flat one."""
    for one, two in combinations(("L1", "L2", "L3"), 2):
        across = volts.get(f"{one}-{two}") or volts.get(f"{two}-{one}")
        grounds = [volts.get(f"{line}-G") for line in (one, two)]
        if across is None or None in grounds:
            continue
        sides = [exact(values[point.key]) for point in (*grounds, across) if point is not None]
        a, b, between = sides
        slack = METERS_AGREE * max(sides)
        keys = [point.key for point in (*grounds, across) if point is not None]
        if between > a + b + slack or between < abs(a - b) - slack:
            says = f"{say(a)} V and {say(b)} V to ground cannot give {say(between)} V between them: one is read wrong."
            yield from ((key, says) for key in keys)
        elif across.split and abs(between - a - b) > slack:
            says = f"{say(a)} V and {say(b)} V to ground should give {say(a + b)} V between them: which system is this?"
            yield from ((key, says) for key in keys)


def _imbalance(points: Sequence[ReadingPoint], values: Mapping[str, float]) -> Iterator[tuple[str, str]]:
    """Three phases: the greatest distance from their mean, against 2 %."""
    if len(points) < len(THREE):
        return
    read = [exact(values[point.key]) for point in points]
    mean = sum(read, Decimal(0)) / len(read)
    if not mean:
        return
    worst = max(range(len(read)), key=lambda i: abs(read[i] - mean))
    share = abs(read[worst] - mean) / mean
    if share > IMBALANCE_MOST:
        most = say(IMBALANCE_MOST * 100)
        yield points[worst].key, f"The phases are {say(share * 100, 1)} % out of balance; {most} % is the most."
