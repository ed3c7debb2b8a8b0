"""The steps of a start-up: in an order that keeps what each needs, nothing skipped unseen, waits used, by hand."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from leitung_core.commissioning.clock import clock
from leitung_core.commissioning.judge import judge_reading, say_bounds
from leitung_core.commissioning.steps import StartStep, StartUp, unmet
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_and_brief
from leitung_core.result.progress import Recorded, done_steps, not_proved
from leitung_demo import museum

from tests.core.result.plans import plans
from tests.core.test_start_up import one_pole

Json = dict[str, Any]


def started(plan: Json) -> StartUp:
    return check_and_brief(read_plan(plan))[1].start_up


@pytest.fixture(scope="module")
def vault() -> StartUp:
    return started(museum())


def behind(found: StartUp, key: str) -> set[str]:
    """Everything that has to be done before a step."""
    by_key, seen, queue = found.by_key(), set[str](), [key]
    while queue:
        for need in by_key[queue.pop()].needs:
            if need not in seen:
                seen.add(need)
                queue.append(need)
    return seen


@settings(max_examples=25, deadline=None)
@given(plans())
def test_no_order_is_circular_and_nothing_is_closed_that_is_not_proved(plan: Json) -> None:
    found = started(plan)
    seen: set[str] = set()
    for step in found.steps:
        assert step.key not in seen
        assert seen.issuperset(step.needs), step.key
        seen.add(step.key)
    for kind, asked in (
        ("reads", found.readings), ("tests", found.tests), ("settings", found.set_up),
    ):  # fmt: skip
        assert sorted(key for step in found.steps for key in getattr(step, kind)) == sorted(row.key for row in asked)
    for step in found.steps:
        line = step.key.partition(".")[0]
        if step.key == f"{line}.breaker-on":
            assert behind(found, step.key) >= {f"{line}.{name}" for name in ("dead", "meter-after", "torque", "covers")}
        if step.key == f"{line}.disconnect-on":
            (reads,) = (other for other in found.steps if other.key in step.needs)
            assert reads.does == "read"
            points = [point for point in found.readings if point.key in reads.reads]
            assert points
            assert {point.state for point in points} == {"no_load"}
        if step.does == "test":
            assert any(key.endswith(".disconnect-on") for key in behind(found, step.key))
    assert found.clock.interleaved_min <= found.clock.one_after_another_min + 0.1


def step(key: str, minutes: float, wait_s: float = 0, *needs: str) -> StartStep:
    return StartStep(key=key, about="a", phase="survey", text=key, minutes=minutes, wait_s=wait_s, needs=list(needs))


def test_the_clock_by_hand() -> None:
    """A: 2 minutes and 10 of waiting; B after it: 2; C, on another unit: 6.

    One after another 2 + 10 + 2 + 6 = 20. Interleaved: A to 2, C to 8, waited until 12, B to 14.
    """
    found = clock([step("A", 2, 600), step("B", 2, 0, "A"), step("C", 6)])
    assert (found.one_after_another_min, found.interleaved_min) == (20, 14)
    # Two waits side by side: A to 2, D to 4, both wait; B from 12 to 14, E from 14 to 16.
    found = clock([step("A", 2, 600), step("D", 2, 600), step("B", 2, 0, "A"), step("E", 2, 0, "D")])
    assert (found.one_after_another_min, found.interleaved_min) == (28, 16)
    # No way is shorter than the longest chain, waits included.
    assert clock([step("A", 2, 600), step("B", 2, 0, "A")]).interleaved_min == 14


def test_the_museums_waits_are_used(vault: StartUp) -> None:
    assert vault.clock.interleaved_min <= 0.75 * vault.clock.one_after_another_min


def test_a_lock_no_longer_holds_once_it_is_energised(vault: StartUp) -> None:
    by_key = vault.by_key()
    torque, dead = by_key["UH-2.torque"], frozenset({"UH-2.meter-after", "UH-2.capacitors"})
    assert unmet(torque, by_key, frozenset()) == [by_key[key] for key in torque.needs]
    assert unmet(torque, by_key, dead) == []
    assert unmet(torque, by_key, dead | {"UH-2.breaker-on"}) == [by_key[key] for key in torque.needs]


def test_what_is_asked_follows_the_kind(vault: StartUp) -> None:
    keys = {step.key for step in vault.steps}
    assert {"SH-1.steam", "RT-1.tubes", "RU-1.starter", "RU-1.learn", "AH-1.light", "AH-1.found"} <= keys
    assert not keys & {"UH-2.tubes", "UH-2.steam", "AH-1.learn", "UH-2.others", "UH-2.capacitors"}
    # Five starts of 30 s and four rests of five minutes: 1350 s.
    assert vault.by_key()["RU-1.learn"].wait_s == 1350
    assert {key.removesuffix(".rotation") for key in keys if key.endswith(".rotation")} == {"RT-1"}, "three phases"
    assert "devices/RT-1.detector" in behind(vault, "devices/RT-1.prove-smoke")
    assert "B-CP1, B-DH1 and B-SH1" in vault.by_key()["AH-1.others"].text


def test_what_the_authority_asks_is_asked_for_and_held(vault: StartUp) -> None:
    """A permit that is known is looked for at the site; where nobody said a word, the authority is asked."""
    steps = vault.by_key()
    assert steps["site.permit"].text.startswith("Permit B-2217 of 2026-11-02: posted")
    assert (steps["site.rough-in"].hold, steps["site.final"].hold) == (True, True)
    assert "UH-2.papers" in steps["site.final"].needs
    bare = started(merge(museum(), {"site": {"permit": None, "permit_date": None, "inspections": None}})).by_key()
    assert bare["site.permit"].text.startswith("Ask the authority")
    assert not {"site.rough-in", "site.final"} & bare.keys()


def test_insulation_and_power_are_read_where_the_job_asks(vault: StartUp) -> None:
    assert not any(point.unit in ("MΩ", "kW") for point in vault.readings)
    found = started(merge(museum(), {"site": {"measured": ["insulation", "power"]}}))
    line = "UH-1"  # two lines of 240 V, electric heat
    megohms = [point for point in found.readings if point.key.startswith(f"{line}.insulation")]
    assert [point.key.rpartition("insulation-")[2] for point in megohms] == ["L1-G", "L2-G", "L1-L2"]
    assert {say_bounds(point) for point in megohms} == {"at least 1 MΩ"}
    assert [judge_reading(megohms[0], value) for value in (0.99, 1)] == ["outside", "within"]
    # Before either end is landed, after it is proved dead; what is landed waits for it.
    assert f"{line}.insulation" in behind(found, f"{line}.torque")
    assert f"{line}.dead" in behind(found, f"{line}.insulation")
    by_key = {point.key: point for point in found.readings}
    amps, power = by_key[f"{line}.running"], by_key[f"{line}.power"]
    assert power.expected == pytest.approx((amps.expected or 0) * 240 / 1000, abs=0.001)
    assert f"{line}.power" in next(step for step in found.steps if step.key == f"{line}.full-call").reads


def test_steam_is_called_with_the_fan_that_carries_it(vault: StartUp) -> None:
    text = vault.by_key()["devices/AH-1.call-humidify"].text
    assert "with fan" in text
    assert "of SH-1" in text
    assert vault.by_key()["SH-1.full-call"].needs == ["devices/AH-1.call-humidify"]


def test_at_full_call_the_volts_are_less_by_what_the_run_loses() -> None:
    """1200 W at 120 V: 10 A. 100 ft of 12 AWG stranded, Table 8: 1.98 Ω in 1000 ft. 2 x 0.1 x 1.98 x 10 = 3.96 V."""
    run = {"order": 10, "method": "THWN-2", "raceway": "EMT", "conductor": "12", "material": "Cu", "length_ft": 100,
           "construction": "stranded", "current_carrying": 2, "terminations_c": 75, "ambient_c": 30}  # fmt: skip
    found = {
        point.key: point for point in started(merge(one_pole(), {"circuits": {"C0": {"run": {"s1": run}}}})).readings
    }
    assert (found["C0.L1-N"].expected, found["C0.L1-N"].state) == (120, "no_load")
    assert found["C0.running-L1-N"].expected == pytest.approx(116.04, abs=0.01)


def test_control_volts_are_what_the_solver_gives(vault: StartUp) -> None:
    """24 V at 6 % regulation: 24 x 208/208 less the share of 60 VA that hangs on it; heat pulls most."""
    found = {point.key: point for point in vault.readings}
    idle, loaded = found["AH-1.ctl-R.idle"], found["AH-1.ctl-R.loaded"]
    assert 22.5 < (loaded.expected or 0) < (idle.expected or 0) <= 24
    assert (idle.terminal_from, idle.terminal_to) == ("AH-1.ctl.R", "AH-1.ctl.C")
    signal = found["IU-2.unit-3.signal"]
    assert signal.dc
    assert signal.terminal_from == "IU-2.unit.3"


def test_what_a_signature_would_cover_unproved(vault: StartUp) -> None:
    ticked = frozenset(step.key for step in vault.steps)
    read = {point.key: "within" for point in vault.readings}
    tests, made = {test.key: "passed" for test in vault.tests}, frozenset(item.key for item in vault.set_up)
    landed = frozenset(item.key for item in vault.landings)
    started = {key: "started" for step in vault.steps for key in step.trials}
    whole = Recorded(ticked, read, tests, made, landed, started)  # type: ignore[arg-type]
    assert done_steps(vault, whole) == ticked
    assert not_proved(vault, whole) == []
    tripped = Recorded(ticked, read, tests, made, landed, started | {"GE": "tripped"})  # type: ignore[arg-type]
    assert ticked - done_steps(vault, tripped) == {"sources/GE.trial"}
    failed = Recorded(ticked, read, tests | {"RT-1/smoke/fan": "failed"}, made, landed)  # type: ignore[arg-type]
    assert [row.key for row in not_proved(vault, failed)] == ["devices/RT-1.prove-smoke"]
    high = Recorded(ticked, read | {"UH-2.L1-G": "outside"}, tests, made, landed)  # type: ignore[arg-type]
    assert [row.key for row in not_proved(vault, high)] == ["UH-2.line-side", "UH-2.L1-G"]
    asked = {row.key for row in not_proved(vault, Recorded())}
    assert asked >= {"UH-2.dead", "sources/MP.main-off", "devices/RT-1.prove-smoke"}
