"""The bench: the drawing holds every load once, frames come in order, and each load says why."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from leitung_core.bench.frames import bench_run
from leitung_core.bench.ladder import StepOf, ladder
from leitung_core.bench.overview import overview
from leitung_core.control.system import System, systems_of
from leitung_core.control.trials import trials
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.solver.contacts import Stretch

from tests.core.control.test_bench_findings import PAIR
from tests.core.wiring.plans import Json


def on(*signals: str, for_s: float = 0) -> Stretch:
    return Stretch(frozenset(signals), for_s)


def test_every_load_of_every_system_is_drawn_once(systems: dict[str, System]) -> None:
    for system in systems.values():
        drawn = ladder(system)
        names = [rung.load for rail in drawn.rails for rung in rail.rungs] + [rung.load for rung in drawn.loose]
        loads = [f"{d.id}.{p.id}" for d in system.network.devices for p in d.inside if p.type in ("load", "coil")]
        assert sorted(names) == sorted(loads)


def test_a_way_runs_from_the_live_spine_to_the_load_and_on_to_the_return(systems: dict[str, System]) -> None:
    for system in systems.values():
        for rail in ladder(system).rails:
            for rung in rail.rungs:
                for lane in rung.lanes:
                    assert rung.start == rail.live
                    assert (lane.steps[-1].to if lane.steps else rail.live) == rung.a
                assert rung.back is None or (rung.back[-1].to if rung.back else rung.b) == rail.back


def test_cool_starts_the_fan_and_the_frames_tell_the_order(systems: dict[str, System]) -> None:
    found = bench_run(systems["AH-1"], [on("call:cool", "call:humidify")])
    moved = {name: number for number, frame in enumerate(found.frames) for name in frame.moved}
    assert moved["TS-1.KGC"] <= moved["AH-1.FR"] < moved["AH-1.BLOWER"] <= moved["SH-1.SAFE"] < moved["SH-1.STEAM"]
    last = found.frames[-1].loads
    assert last["AH-1.FR"].on
    assert "cool, TS-1" in last["AH-1.FR"].why
    assert not last["AH-1.HR1"].on
    assert last["AH-1.HR1"].why == "Open at heat, TS-1."


def test_what_was_pressed_before_counts(systems: dict[str, System]) -> None:
    found = bench_run(systems["AH-1"], [on("call:heat", for_s=60), on()])
    assert "AH-1.HEAT" in {name for frame in found.frames for name in frame.moved}
    assert not found.frames[-1].loads["AH-1.HEAT"].on


def test_a_breaker_that_is_off_leaves_its_side_dead(systems: dict[str, System]) -> None:
    frame = bench_run(systems["AH-1"], [on("hand:B-AH1", "call:fan")]).frames[-1]
    assert not frame.loads["AH-1.BLOWER"].on
    assert frame.loads["CP-1.PUMP"].on
    assert not frame.nodes["AH-1.ctl.R"].fed


def test_loads_in_series_are_drawn_through_each_other(systems: dict[str, System]) -> None:
    (system,) = systems_of(Plant(read_plan(PAIR)))
    rungs = {rung.load: rung for rail in ladder(system).rails for rung in rail.rungs}
    assert [step.name for step in rungs["C.CC"].back or [] if step.kind == "load"] == ["A.HEATIN"]


def test_the_overview_names_the_systems_and_the_budgets(museum_plan: Json) -> None:
    found = overview(Plant(read_plan(museum_plan)), "IR-1", {})
    assert found.system is not None
    assert found.system.key == "AH-1", "a device leads to the system that it is in"
    budget = next(b for b in found.budgets if b.name == "AH-1.T1")
    # Amperes at the rated 24 V, and the loads at the volts that they get.
    drawn = sum(load.va for load in budget.loads)
    assert budget.worst_va == pytest.approx(drawn * 24 / budget.secondary_volts, rel=0.04)
    assert max(state.va for state in budget.states) == budget.worst_va
    assert found.system.calls[0].short == "cool"


def test_loads_without_an_intent_are_few(systems: dict[str, System]) -> None:
    """What a load is to do follows from its device: only a safety relay, signal inputs and their sensors keep it
    to themselves."""
    for system in systems.values():
        names = {f"{d.id}.{p.id}" for d in system.network.devices for p in d.inside if p.type in ("load", "coil")}
        assert {name.split(".")[1] for name in names - set(system.intents)} <= {
            "SAFE",
            "SIG",
            "TEST",
            "ASKED-A",
            "ASKED-B",
        }


@settings(max_examples=40)
@given(st.data())
def test_what_the_drawing_says_of_a_load_is_what_the_solver_found(systems: dict[str, System], data: Any) -> None:
    """Whatever is pressed: a load with a closed way and a closed return is on, and one with neither is off."""
    system = data.draw(st.sampled_from(sorted(systems.values(), key=lambda entry: entry.key)))
    signals = sorted(
        {name for trial in trials(system) for name in trial.on} | {f"hand:{key}" for key in system.devices}
    )
    pressed = data.draw(st.sets(st.sampled_from(signals), max_size=3))
    frame = bench_run(system, [on(*pressed)]).frames[-1]
    opened = {*frame.opened}

    def whole(steps: Sequence[StepOf]) -> bool:
        return all(frame.closed.get(step.name, True) and step.name not in opened for step in steps)

    if frame.chatter or opened:
        return
    for rail in ladder(system).rails:
        for rung in rail.rungs:
            shown = frame.loads[rung.load]
            drawn = any(whole(lane.steps) for lane in rung.lanes) and rung.back is not None and whole(rung.back)
            straight = not any(step.kind == "load" for lane in rung.lanes for step in [*lane.steps, *(rung.back or [])])
            if straight and frame.nodes[rail.live].fed:
                assert shown.on is drawn or "not enough" in shown.why or "by a way" in shown.why, (rung.load, pressed)
            assert shown.says == "on" if shown.on else shown.says != "on"
            assert (shown.amps > 0) or not shown.on or (rung.rated_va in (None, 0))
