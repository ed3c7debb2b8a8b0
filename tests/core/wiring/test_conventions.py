"""The proposal against the convention, conductor by conductor, and proved end to end by terminals."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.catalogue.cables import cable_families
from leitung_core.catalogue.device import shipped_devices
from leitung_core.catalogue.functions import functions

from tests.core.wiring.plans import changed, checked, landed, plant, proposed, two

CASES = json.loads((Path(__file__).parents[2] / "published/conventions.json").read_text("utf-8"))


def plan_of(case: dict[str, Any]) -> dict[str, Any]:
    plan = two(case["a"], case["b"], count=case["count"], **({"system": case["system"]} if "system" in case else {}))
    return changed(plan, {"devices": {"B": {"settings": case.get("settings", {})}}})


@pytest.mark.parametrize("case", CASES, ids=[f"{c['a']} {c['b']} {c['count']} {c.get('system', '')}" for c in CASES])
def test_the_proposal_is_what_the_convention_says(case: dict[str, Any]) -> None:
    done = plant(landed(plan_of(case)))
    labels = case.get("labels") or {"a": case["expect"], "b": case["expect"]}
    for end, expected in labels.items():
        got = {wire.id: post.label if (post := done.post(wire, end)) else None for wire in done.wires["T"]}
        assert {colour: got[colour] for colour in expected} == expected


@pytest.mark.parametrize("case", CASES, ids=[f"{c['a']} {c['b']} {c['count']} {c.get('system', '')}" for c in CASES])
def test_it_is_proved_end_to_end_by_terminals(case: dict[str, Any]) -> None:
    """Each conductor means one and the same at both its ends; what the convention cannot carry is said."""
    plan = landed(plan_of(case))
    done = plant(plan)
    for wire in done.wires["T"]:
        posts = [done.post(wire, end) for end in ("a", "b")]
        assert [post is None for post in posts] in ([True, True], [False, False])
        if posts[0] and posts[1]:
            assert posts[0].function == posts[1].function is not None
        else:
            assert wire.end("a").capped
            assert wire.end("b").capped
    codes = {row.code for row in checked(plan).findings if row.about.startswith("cables/")}
    assert ("cable-too-few" in codes) == case.get("too_few", False)
    assert codes <= {"cable-too-few"}


def test_what_stands_by_the_convention_is_not_touched() -> None:
    plan = landed(two("furnace-board", "stat-common"))
    assert proposed(plan).patch == {}


def test_a_landing_of_ones_own_on_a_spare_is_kept() -> None:
    plan = landed(two("furnace-board-2", "stat-universal", count=8))
    own = {"cables": {"T": {"conductors": {"black": {"a": {"terminal": "A.ctl.DH", "capped": None}}}}}}
    assert "black" not in str(proposed(changed(plan, own)).patch)


TYPES = sorted(key for key, kind in shipped_devices().items() if kind.group != "joint")
COUNTS = [(family, count) for family, kind in cable_families().items() for count in kind.counts()]


@given(st.sampled_from(TYPES), st.sampled_from(TYPES), st.sampled_from(COUNTS))
def test_no_proposal_makes_a_conductor_mean_two_things(a: str, b: str, made: tuple[str, int]) -> None:
    """Whatever devices and cable: functions agree at both ends, no terminal is overfull, no line on Class 2."""
    family, count = made
    plan = landed(two(a, b, family, cable_families()[family].awg[0], count))
    found = checked(plan).findings
    grave = {"two-meanings", "signal-crossed", "line-on-low", "data-crossed", "valve-on-common", "valve-sense",
             "terminal-overfull", "cable-class", "green-ungrounded", "terminal-absent", "pole-crossed"}  # fmt: skip
    assert not grave & {row.code for row in found}


def test_every_function_has_words_and_a_kind() -> None:
    assert all(function.says and function.kind for function in functions().values())


@pytest.mark.parametrize(("board", "feed"), [("rooftop-board", "A.stop.S1"), ("furnace-board", "A.ctl.R")])
def test_a_detector_is_fed_ahead_of_the_loop_that_it_opens(board: str, feed: str) -> None:
    """From R behind the loop it would lose its supply when it trips."""
    found = proposed(two(board, "duct-detector", count=4))
    assert {entry.b: entry.a for entry in found.landings if entry.function} == {
        "B.sup.P": feed, "B.sup.M": "A.ctl.C"
    }  # fmt: skip
