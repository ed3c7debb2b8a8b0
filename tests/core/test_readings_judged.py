"""Where the judging of readings begins and ends: readings held against bounds, supply and each other, by hand.

Meters agree within 3 % of the largest of what they read; phases within 2 % of their mean.
"""

from __future__ import annotations

from typing import Any, get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.commissioning.judge import Judged, judge_readings, say_read
from leitung_core.commissioning.steps import ReadingPoint, Tells


def point(name: str, **more: Any) -> ReadingPoint:
    found = {"text": name, "terminal_from": "", "terminal_to": "", "unit": "V", "expected": None, "low": None,
             "high": None, "basis": "plate", "state": "no_load"}  # fmt: skip
    return ReadingPoint(key=f"C.{name}", about="circuits/C", **(found | more))


def judged(points: list[ReadingPoint], *values: float) -> list[Judged]:
    found = judge_readings(points, {entry.key: value for entry, value in zip(points, values, strict=True)})
    return [found[entry.key] for entry in points]


def triangle(split: bool = False) -> list[ReadingPoint]:
    return [point("L1-G"), point("L2-G"), point("L1-L2", split=split)]


@pytest.mark.parametrize(
    ("values", "split", "doubted"),
    [
        # 3 % of 200 V is 6 V of slack.
        ((97, 97, 200), False, False), ((97, 96.9, 200), False, True),
        ((200, 100, 94), False, False), ((200, 100, 93.9), False, True),
        ((100, 200, 94), False, False), ((100, 200, 93.9), False, True),
        # On split phase the triangle is flat: the sum, within the same slack.
        ((97, 97, 200), True, False), ((103, 103, 200), True, False), ((104, 103, 200), True, True),
        ((120, 120, 208), False, False), ((120, 120, 208), True, True),
    ],
)  # fmt: skip
def test_lines_to_ground_and_between(values: tuple[float, ...], split: bool, doubted: bool) -> None:
    verdicts = {entry.verdict for entry in judged(triangle(split), *values)}
    assert verdicts == {"doubtful" if doubted else "unknown"}, "a doubt stands at all three: any may be the wrong one"


def test_a_doubt_stands_alone_where_no_bound_is_known_and_behind_the_bounds_where_one_is() -> None:
    (line, *_) = judged(triangle(), 121, 500, 241)
    assert line.said == "121 V and 500 V to ground cannot give 241 V between them: one is read wrong."
    bounded = [point("L1-G", low=100, high=130), *triangle()[1:]]
    (line, *_) = judged(bounded, 121, 500, 241)
    assert line.said == f"Within 100 to 130 V (plate). {judged(triangle(), 121, 500, 241)[0].said}"
    (line, *_) = judged(bounded, 90, 500, 241)
    assert (line.verdict, line.said.partition(".")[0]) == ("outside", "Below 100 to 130 V (plate)")


@pytest.mark.parametrize(
    ("values", "told"),
    [((98, 100, 102), None), ((97.9, 100, 102.1), "2.1 % out of balance; 2 % is the most"), ((0, 0, 0), None)],
)
def test_three_phases_against_their_mean(values: tuple[float, ...], told: str | None) -> None:
    found = judged([point(name) for name in ("L1-L2", "L2-L3", "L3-L1")], *values)
    said = [entry.said for entry in found if entry.verdict == "doubtful"]
    assert said == ([f"The phases are {told}."] if told else [])


@pytest.mark.parametrize(
    ("phases", "resistive", "words"),
    [
        (1, True, "At 480 V that is 48 kW."), (2, False, "At 480 V that is 48 kVA."),
        (3, True, "At 480 V that is 83.14 kW."),  # 480 x 100 x 1.7321
    ],
)  # fmt: skip
def test_a_current_says_its_watts_at_the_volts_just_read(phases: int, resistive: bool, words: str) -> None:
    amps = point("amps", unit="A", phases=phases, resistive=resistive, volts_key="C.L1-L2", low=1, high=200)
    _, found = judged([point("L1-L2"), amps], 480, 100)
    assert found.said.endswith(words)


@pytest.mark.parametrize(
    ("value", "words"),
    [(228, None), (252, None), (227.9, "But 12 V below the 240 V"), (252.1, "But 12 V above the 240 V")],
)
def test_what_the_panel_gives_is_near_within_its_bounds(value: float, words: str | None) -> None:
    (found,) = judged([point("L1-L2", low=197, high=253, expected=240, near_low=228, near_high=252)], value)
    assert (found.verdict, (words or "Within") in found.said) == ("doubtful" if words else "within", True)


@pytest.mark.parametrize(("amps", "verdict"), [(18.05, "outside"), (18.1, "within"), (22, "within"), (22.1, "outside")])
def test_heat_is_bounded_in_proportion_to_its_volts(amps: float, verdict: str) -> None:
    """21.71 to 26.4 A at 240 V are 18.09 to 22 A at 200."""
    heat = point("amps", unit="A", resistive=True, volts_key="C.L1-L2", at_volts=240, low=21.71, high=26.4)
    _, found = judged([point("L1-L2"), heat], 200, amps)
    assert found.verdict == verdict
    assert found.high == pytest.approx(22)
    assert "at the 200 V just read" in found.said


JOINED = {"unit": "Ω", "low": 0, "high": 1, "expected": 0, "basis": "joined by copper"}
APART = {"unit": "Ω", "low": 2, "high": 1e6, "basis": "nothing between", "if_wrong": ["Red is open.", "A bridge."]}


@pytest.mark.parametrize(
    ("asked", "ohms", "verdict", "begins"),
    [
        (JOINED, 1, "within", "Within at most 1 Ω (joined by copper)."),
        (JOINED, 1.1, "outside", "Not joined, and should be: at most 1 Ω (joined by copper). Find out why before"),
        (APART, 2, "within", "Within over 2 Ω (nothing between)."),
        (APART, 1e6, "within", "Within over 2 Ω"),
        (APART, 1.9, "outside", "Joined, and should not be: over 2 Ω (nothing between). Find out why before"),
    ],
)
def test_ohms_before_power(asked: dict[str, Any], ohms: float, verdict: str, begins: str) -> None:
    (found,) = judged([point("x", **asked)], ohms)
    assert (found.verdict, found.said.startswith(begins)) == (verdict, True), found.said
    assert ("It may be: Red is open. Or: A bridge." in found.said) == (asked is APART and verdict == "outside")


@pytest.mark.parametrize(
    ("value", "unit", "shown"),
    [
        (1e6, "Ω", "OL"),
        (999_999, "Ω", "999999 Ω"),
        (0.2, "Ω", "0.2 Ω"),
        (1e6, "V", "1000000 V"),
        (246.5, "V", "246.5 V"),
    ],
)
def test_what_was_read_as_it_is_said(value: float, unit: str, shown: str) -> None:
    """A megohm and more is as good as open."""
    assert say_read(value, unit) == shown


def test_a_great_imbalance_is_told_with_its_figure() -> None:
    points = [point(name) for name in ("L1-L2", "L2-L3", "L3-L1")]
    assert "10 % out of balance; 2 % is the most" in judged(points, 90, 100, 110)[0].said


@pytest.mark.parametrize(
    ("tells", "expected", "read", "means"),
    [
        ("between", 240, 0.4, "Nothing arrives"), ("between", 240, 60, "floats"),
        ("between", 240, 121, "Half"), ("between", 240, 208, "208 V source"),
        ("between", 208, 240, "240 V source"), ("between", 120, 240, "Far too much"),
        ("ground", 120, 208, "high leg"), ("ground", 120, 240, "Twice to ground"),
        ("running", 234, 190, "falls under load"), ("current", 20, 0, "Nothing flows"),
        ("current", 20, 9, "Less than all"), ("current", 20, 31, "More than it should"),
        ("control", 26, 0, "fuse"), ("control", 26, 23, "the tap is for more volts"),
        ("control", 26, 31, "fewer volts"),
    ],
)  # fmt: skip
def test_what_a_reading_outside_means_is_told_with_the_next_one(
    tells: Tells, expected: float, read: float, means: str
) -> None:
    """The trade's usual faults, by what they leave of the volts or amperes that should be there."""
    (found,) = judged([point("x", tells=tells, expected=expected, low=expected * 0.95, high=expected * 1.05)], read)
    assert found.meaning is not None
    assert means in found.meaning.says
    assert found.meaning.then


@given(st.sampled_from(get_args(Tells)), st.floats(0, 8.9))
def test_no_reading_outside_is_left_without_a_meaning_and_none_within_has_one(tells: Tells, share: float) -> None:
    (found,) = judged([point("x", tells=tells, expected=100, low=95, high=105)], round(share * 100, 3))
    assert (found.meaning is None) == (found.verdict == "within")


@pytest.mark.parametrize(
    ("kw", "verdict", "words"),
    [
        # 240 V x 20 A = 4.8 kVA; at least half of it, at most 3 % more than all of it.
        (4.4, "within", "That is a power factor of 0.92."), (2.4, "within", "That is a power factor of 0.5."),
        (2.3, "outside", "That is a power factor of 0.48."), (5.0, "outside", "That is a power factor of 1.04."),
    ],
)  # fmt: skip
def test_a_power_is_held_against_the_volts_and_amps_just_read(kw: float, verdict: str, words: str) -> None:
    power = point("power", unit="kW", phases=1, power_factor=0.5, volts_key="C.L1-L2", amps_key="C.amps", low=0, high=9)
    *_, found = judged([point("L1-L2"), point("amps", unit="A"), power], 240, 20, kw)
    assert (found.verdict, found.said.endswith(words)) == (verdict, True), found.said
