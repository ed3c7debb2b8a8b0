"""A device between a source and its loads: what it sheds and when, what waits for what, and that it never harms."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.errors import InputError
from leitung_core.plan.patch import merge
from leitung_core.starting.document import read_trial
from leitung_core.starting.open_form import starting
from leitung_core.starting.verdict import judge

from tests.core.starting.test_properties import figures, trials, worse
from tests.core.starting.trials import Json, on, steady, trial, unit, verdict

SHEDS = {"kind": "sheds", "loads": ["oven"], "above_a": 28, "after_s": 2}


def shed(document: Json) -> dict[str, float]:
    return judge(read_trial(document)).course.shed


def test_an_oven_is_shed_by_hand() -> None:
    """Fan 4 A and oven 16 A from 0 s; the compressor joins at 3 s, 12 A from 3.4 s: 32 A, two seconds above 28 A."""
    bare = trial(unit(), steady("oven", 16))
    managed = merge(bare, {"supply": {"manager": SHEDS}})
    assert shed(managed) == {"oven": pytest.approx(5.0)}  # above from the start of the compressor, at 3 s
    found, _ = starting(managed)
    assert (verdict(bare), found["verdict"]) == ("may_trip", "starts")
    (leg,) = found["legs"]
    assert (leg["settled_a"], leg["left_a"]) == (16, 14)
    assert any(row["about"] == "manager" and "oven is shed" in row["says"] for row in found["why"])
    assert [row["code"] for row in found["findings"]] == ["start-managed"]
    # Above its bound for too short a time, or on the other leg: nothing is shed.
    assert shed(merge(managed, {"supply": {"manager": {"above_a": 40}}})) == {}
    other = trial(unit(leg=1), steady("oven", 16, 2), legs=2, manager=SHEDS)
    assert shed(other) == {}


def test_in_their_order_until_it_is_enough() -> None:
    """30 A of three ovens above 15 A: the first and the second go, a second apart, the third stays."""
    rows = [steady(name, 10) for name in ("a", "b", "c")]
    managed = trial(*rows, manager={"kind": "sheds", "loads": ["a", "b", "c"], "above_a": 15, "after_s": 1})
    assert shed(managed) == {"a": pytest.approx(1), "b": pytest.approx(2)}
    kept = merge(managed, {"supply": {"manager": {"above_a": 25}}})
    assert shed(kept) == {"a": pytest.approx(1)}


def test_one_at_a_time() -> None:
    """The rear unit, called at 5 s, waits until the front one is off at 60 s; never, where that one stays on."""
    alternates = {"kind": "alternates", "loads": ["front", "rear"]}
    both = trial(unit(), unit("rear"), calls=[on("front", 0, 60), on("rear", 5)], manager=alternates)
    course = judge(read_trial(both)).course
    assert min(piece.start_s for piece in course.pieces if piece.load == "rear") == 60
    ever = trial(unit(), unit("rear"), calls=[on("front", 0), on("rear", 5)], manager=alternates)
    assert {piece.load for piece in judge(read_trial(ever)).course.pieces} == {"front"}
    assert verdict(ever) == "starts"


def test_what_it_measures_must_be_known_and_its_loads_there() -> None:
    managed = trial(unit(), steady("oven", 16), manager={"kind": "sheds", "loads": ["oven"], "after_s": 2})
    assert any("Above how many A" in row["message"] for row in starting(managed)[0]["findings"])
    assert verdict(merge(managed, {"supply": {"breaker_a": 60}})) == "starts"  # nothing is to be shed
    with pytest.raises(InputError) as told:
        read_trial(merge(managed, {"supply": {"manager": {"loads": ["kettle"]}}}))
    assert told.value.problems[0].field == "supply.manager.loads"


@given(trials(), figures(1, 60), figures(0, 20), st.sampled_from([["oven"], ["oven", "front"]]))
def test_it_never_makes_a_verdict_worse(document: Json, above: float, after: float, loads: list[str]) -> None:
    manager = {"kind": "sheds", "loads": loads, "above_a": above, "after_s": after}
    assert worse(merge(document, {"supply": {"manager": manager}})) <= worse(document)
