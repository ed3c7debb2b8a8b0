"""Two logs of the same loads: what is gone of each start, and what nobody can say of it."""

from __future__ import annotations

import numpy as np
import pytest
from leitung_core.starting.compared import compared, in_words
from leitung_core.starting.log import ColumnRead, read_events
from leitung_core.starting.log_file import read_log
from leitung_demo.logs import trailer_log


def column(rises: list[tuple[float, float, float]], step: float = 0.1) -> ColumnRead:
    """A log of rises: at, A at the peak for 0.4 s, A settled for 60 s; nothing else runs."""
    seconds = np.arange(0, 60 + 120 * len(rises), step)
    amps = np.zeros_like(seconds)
    for at, peak, settled in rises:
        amps[(seconds >= at) & (seconds < at + 60)] = settled
        amps[(seconds >= at) & (seconds < at + 0.4)] = peak
    noise = np.random.default_rng(3).normal(0, 0.02, len(seconds))
    text = "t_s,a\n" + "".join(f"{at:.2f},{max(0, a):.3f}\n" for at, a in zip(seconds, amps + noise, strict=True))
    (found,) = read_events(read_log(text.encode()), 30)
    return found


def test_what_a_soft_starter_took_off_by_hand() -> None:
    """60 A above nothing before, 24 A after: 60 % less; an oven that settles near it keeps its own."""
    before = column([(30, 60, 12), (150, 12.4, 12.4), (270, 60, 12)])
    after = column([(30, 12.4, 12.4), (150, 24, 12), (270, 24, 12)])
    rows = compared(before, after)
    assert [(round(row.before_at_s), round(row.after_at_s)) for row in rows] == [(30, 150), (270, 270)]
    assert all(row.share == pytest.approx(0.6, abs=0.01) for row in rows)
    assert in_words(rows[0]).endswith("60 % less")


def test_a_slow_logger_gives_a_bound_or_nothing() -> None:
    fast, slow = column([(30, 60, 12)]), column([(30.4, 40, 12)], step=1.0)
    quick = column([(30, 24, 12)])
    (row,) = compared(fast, quick)
    assert row.sure == "as_seen"
    slow = slow if slow.events[0].kind == "start" else column([(30, 40, 12)], step=0.35)
    assert slow.events[0].peak_is_least
    (row,) = compared(slow, quick)
    assert row.sure == "at_least"
    (row,) = compared(fast, slow)
    assert row.sure == "at_most"
    (row,) = compared(slow, slow)
    assert "not known" in in_words(row)


def test_loads_that_have_nothing_to_do_with_each_other_are_not_compared() -> None:
    assert compared(column([(30, 60, 12)]), column([(30, 30, 4)])) == []
    assert compared(column([]), column([(30, 30, 4)])) == []


def test_the_demos_logs_show_what_their_trials_took() -> None:
    """62 / (1 + 62 / 120 x 0.1256 ohm) = 58.2 A of locked rotor, against 22 A of the soft starter's ramp."""
    rows = {}
    for softened in (False, True):
        (rows[softened],) = read_events(read_log(trailer_log(softened=softened).encode()), 30)
    compressors = [row for row in compared(rows[False], rows[True]) if row.settled_a > 10]
    assert [round(row.after_at_s) for row in compressors] == [45, 665]
    assert all(row.peak_after_a == pytest.approx(22, abs=0.6) for row in compressors)
    assert all(row.share == pytest.approx(1 - 22 / 58.2, abs=0.02) for row in compressors)
    assert rows[True].gaps
