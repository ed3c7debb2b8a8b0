"""Logs made from a course of currents, with an honest logger's faults, and what truly happened in them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.float64]


@dataclass(frozen=True)
class Truth:
    """A change: when, and A before and after."""

    at_s: float
    before_a: float
    after_a: float


@dataclass(frozen=True)
class Made:
    """A log's samples and its truth; changes within `blind` seconds of a gap's edge are in nobody's sight."""

    seconds: Numbers
    amps: Numbers
    truth: list[Truth]
    gaps: list[tuple[float, float]]


def made(
    seed: int, *, step: float = 0.1, noise: float = 0.05, drift: float = 0.0, quantum: float = 0.0,
    gap: bool = False, clip: float | None = None, ramp_s: float = 0.0, units: int = 2, rate: float = 1.0,
) -> Made:  # fmt: skip
    """Half an hour of units that come and go: fan, then compressor with its locked rotor, then off."""
    draw = np.random.default_rng(seed)
    span = 1800.0
    t = np.arange(0, span, step)
    a = np.full_like(t, draw.choice([0.0, 0.2, 3.0]))
    changes: list[tuple[float, float]] = []

    def add(at: float, until: float, amps: float, peak: float, lasts: float) -> None:
        on = (t >= at) & (t < until)
        rising = np.clip((t - at + step) / ramp_s, 0, 1) if ramp_s else 1.0
        a[on] += (amps * rising)[on] if ramp_s else amps
        a[(t >= at) & (t < min(at + lasts, until))] += peak - amps
        changes.append((at, amps))

    for _ in range(units):
        at = float(draw.uniform(20, 60))
        while at < span - 200:
            lasts = float(draw.uniform(100, 260)) / rate
            fan, compressor = float(draw.uniform(1.5, 5)), float(draw.uniform(6, 14))
            after = float(draw.uniform(5, 12))
            add(at, at + lasts, fan, 0.0 if ramp_s else fan * 2.2, 0.0 if ramp_s else 0.5)
            add(at + after, at + lasts, compressor, 0.0 if ramp_s else compressor * 4.5, 0.0 if ramp_s else 0.35)
            changes.append((at + lasts, -fan - compressor))
            at += lasts + float(draw.uniform(40, 150))
    a += draw.normal(0, noise, len(t)) + drift * t / 3600
    if clip is not None:
        a = np.minimum(a, clip)
    if quantum:
        a = np.round(a / quantum) * quantum
    gaps = []
    if gap:
        begins = float(draw.uniform(300, 1400))
        keep = (t < begins) | (t > begins + 25)
        t, a = t[keep], a[keep]
        gaps = [(begins, begins + 25)]
    changes.sort()
    truth, level = [], 0.0
    for at, by in changes:
        truth.append(Truth(at, level, level + by))
        level += by
    return Made(t, np.maximum(a, 0.0), truth, gaps)
