"""The bench: the drawing holds every load once, frames come in order, and each load says why."""

from __future__ import annotations

import pytest
from leitung_core.bench.frames import bench_run
from leitung_core.bench.ladder import ladder
from leitung_core.bench.overview import overview
from leitung_core.control.system import System, systems_of
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
    """What a load is to do follows from its device: only a safety relay and signal inputs keep it to themselves."""
    for system in systems.values():
        names = {f"{d.id}.{p.id}" for d in system.network.devices for p in d.inside if p.type in ("load", "coil")}
        assert {name.split(".")[1] for name in names - set(system.intents)} <= {"SAFE", "SIG", "TEST"}
