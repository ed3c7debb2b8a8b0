"""Logs made by the tests: events found, and nothing guessed where nothing can be known."""

from __future__ import annotations

import numpy as np
import pytest
from leitung_core.errors import InputError
from leitung_core.starting.case import cases
from leitung_core.starting.document import read_trial
from leitung_core.starting.expected import Expected, Part, matched
from leitung_core.starting.log import ColumnRead, read_events
from leitung_core.starting.log_file import Log, read_log
from leitung_core.starting.timeline import course_of

from tests.core.starting.logs import Made, made
from tests.core.starting.trials import on, trial, unit

CLEAN = [{}, {"step": 0.02, "noise": 0.02}, {"noise": 0.0}, {"quantum": 0.1, "noise": 0.03}, {"drift": 2.0}]
BAD = [
    {"noise": 0.25}, {"step": 1.0}, {"step": 1.0, "noise": 0.3}, {"gap": True}, {"clip": 30.0}, {"ramp_s": 2.0},
    {"ramp_s": 3.0, "step": 0.5}, {"units": 4}, {"noise": 0.2, "drift": 2.0, "gap": True, "clip": 35.0, "quantum": 0.1},
]  # fmt: skip


def found_in(log: Made) -> ColumnRead:
    return read_events(Log(log.seconds, {"a": log.amps}))[0]


def hits(log: Made, step: float) -> tuple[int, int, int]:
    """Changes found, there were, told; what lies at a gap's edge is nobody's."""

    def seen(at: float) -> bool:
        return not any(start - 4 <= at <= end + 4 for start, end in log.gaps)

    told = [event for event in found_in(log).events if seen(event.at_s)]
    truth, left, hit = [change for change in log.truth if seen(change.at_s)], list(told), 0
    for change in truth:
        rises = change.after_a > change.before_a
        near = [event for event in left if (event.step_a > 0) == rises
                and abs(event.at_s - change.at_s) <= max(2.1 * step, 0.5)]  # fmt: skip
        if near:
            left.remove(near[0])
            hit += 1
    return hit, len(truth), len(told)


@pytest.mark.parametrize(("kinds", "least"), [(CLEAN, 0.98), (BAD, 0.92)], ids=["clean", "bad"])
def test_changes_are_found_and_none_made_up(kinds: list[dict[str, float]], least: float) -> None:
    for kind in kinds:
        counts = np.array([hits(made(seed, **kind), kind.get("step", 0.1)) for seed in range(40, 48)]).sum(axis=0)  # type: ignore[arg-type]
        hit, there, told = counts
        assert hit / there >= least, (kind, hit, there)
        assert hit / told >= least, (kind, hit, told)


def logged(*changes: tuple[float, float], span: float = 120, step: float = 0.1, noise: float = 0.02) -> Log:
    """A current that changes at given seconds to given amperes."""
    seconds = np.arange(0, span, step)
    amps = np.zeros_like(seconds)
    for at, level in changes:
        amps[seconds >= at - 1e-9] = level
    return Log(seconds, {"a": amps + np.random.default_rng(7).normal(0, noise, len(seconds))})


def test_a_course_comes_back_as_it_was_simulated() -> None:
    """A unit on its supply, logged ten times a second: when, from what, at the most, to what."""
    (case,) = cases(read_trial(trial(unit(), calls=[on("front", 20, 80)])))
    course = course_of(case)
    fan, start, stop = read_events(logged(*((row.start_s, row.amps[0]) for row in course.stretches)))[0].events
    peak = max(row.amps[0] for row in course.stretches)
    assert [event.kind for event in (fan, start, stop)] == ["start", "start", "stop"]
    assert [event.at_s for event in (fan, start, stop)] == pytest.approx([20, 23, 80])
    assert (start.before_a, start.settled_a) == (pytest.approx(4, abs=0.05), pytest.approx(16, abs=0.05))
    assert (start.peak_a, start.settles_in_s) == (pytest.approx(peak, abs=0.1), pytest.approx(0.4, abs=0.11))
    assert not start.peak_is_least


def test_a_logger_slower_than_the_start_has_seen_less_than_its_peak() -> None:
    slow = logged((30.2, 50.0), (30.9, 12.0), step=0.5)
    column = read_events(slow)[0]
    assert [event.peak_is_least for event in column.events] == [True]
    assert any(row.code == "log-peak-least" for row in column.findings)
    # One that samples each second may miss it: then it is a step, and no peak is made up.
    (event,) = read_events(logged((30.2, 50.0), (30.6, 12.0), step=1.0))[0].events
    assert (event.kind, event.peak_a) == ("step_up", pytest.approx(12, abs=0.1))


@pytest.mark.parametrize(("rating", "kind"), [(None, "stop"), (30, "trip"), (45, "stop")])
def test_a_trip_needs_the_breakers_rating(rating: float | None, kind: str) -> None:
    column = read_events(logged((20, 38.0), (70, 0.0)), rating)[0]
    assert column.events[-1].kind == kind
    assert any(row.code == "log-trip-unknown" for row in column.findings) is (rating is None)


def test_what_changed_while_nothing_was_logged_is_said_and_not_dated() -> None:
    log = logged((60, 14.0))
    keep = (log.seconds < 50) | (log.seconds > 70)
    column = read_events(Log(log.seconds[keep], {"a": log.columns["a"][keep]}))[0]
    assert (column.events, [row.code for row in column.findings]) == ([], ["log-changed-in-gap"])
    assert column.gaps == [(pytest.approx(49.9), pytest.approx(70.1))]
    assert [round(level.a) for level in column.levels] == [0, 14]


def test_nothing_happens_in_noise() -> None:
    for seed in range(5):
        amps = np.random.default_rng(seed).normal(6, 0.3, 20_000)
        assert read_events(Log(np.arange(20_000) * 0.1, {"a": amps}))[0].events == []


def test_a_step_is_likely_the_part_whose_plate_it_is() -> None:
    parts = [Part("RU-1", "blower", 3.5), Part("RU-1", "compressor", 12.0, 60.0)]
    course = [(20, 3.6), (40, 50.0), (40.4, 15.4), (90, 0.0)]
    column = matched(read_events(logged(*course))[0], Expected(30, parts))
    named = [event.likely[0]["part"] for event in column.events]
    assert named == ["blower", "compressor", "the whole unit"]
    assert "peak of 46 A is 77 % of its 60 A" in column.events[1].likely[0]["because"]


@pytest.mark.parametrize(
    ("text", "field", "words"),
    [
        ("", "log", "empty"),
        ("t_s,a\n0,1\n", "log", "too few rows"),
        ("name,a\nx,1\ny,2\n", "header", "no column of time"),
        ("t_s,volts\n0,1\n1,2\n", "header", "no column of current"),
        ("t_s,a\n0,1\n1,one\n", "row 3, a", "is no number"),
        ("t_s,a\n0,1\n1\n", "row 3, a", "1 cells of 2"),
        ("t_s,a\n0,1\n1,2\n1,3\n", "row 4, t_s", "does not go on"),
        ("t_s,a\n0,1\n1,nan\n", "row 3, a", "no finite number"),
        ("time,a\nyesterday,1\ntoday,2\n", "row 2, time", "neither seconds nor"),
        ('t_s,a\n0,"1\n', "line 2", "quote"),
    ],
)  # fmt: skip
def test_a_cell_that_will_not_do_is_named(text: str, field: str, words: str) -> None:
    with pytest.raises(InputError) as told:
        read_log(text.encode())
    problem = told.value.problems[0]
    assert (problem.field, words in problem.message) == (field, True), problem
    assert problem.remedy


@pytest.mark.parametrize("raw", [b"\xff\xd8\xff\xe0 a photo", bytes(range(256)) * 4])
def test_a_picture_is_no_log(raw: bytes) -> None:
    with pytest.raises(InputError):
        read_log(raw)


def test_columns_and_times_as_loggers_write_them() -> None:
    text = "timestamp,front_a,volts,rear_a\n2026-07-14T09:30:00,1,120,2\n2026-07-14T09:30:01.5,3,119,4\n"
    log = read_log(b"\xef\xbb\xbf" + text.encode())
    assert (log.seconds.tolist(), {name: amps.tolist() for name, amps in log.columns.items()}) == (
        [0, 1.5], {"front_a": [1, 3], "rear_a": [2, 4]}
    )  # fmt: skip
