"""The stand-in meter: what start-up predicts is what it reads, and what is hidden in a plan it reads otherwise."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.commissioning.steps import StartUp
from leitung_core.control.system import System, whole
from leitung_core.instruments.stand_in import StandIn, outside
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.result import check_and_brief
from leitung_core.slips.mistakes import mistakes


@pytest.fixture(scope="module")
def startup(museum_plan: dict[str, Any]) -> StartUp:
    return check_and_brief(read_plan(museum_plan))[1].start_up


def test_every_prediction_lies_in_its_band_where_nothing_is_hidden(
    systems: dict[str, System], startup: StartUp, museum_plan: dict[str, Any]
) -> None:
    read = set()
    # A feeder's lugs belong to no control system: the plan as a whole has them.
    for system in (*systems.values(), whole(Plant(read_plan(museum_plan)))):
        meter = StandIn(system, startup)
        points = [point for point in meter.points() if point.key not in read]
        assert outside(points, meter) == []
        read |= {point.key for point in points}
    # A thermometer is none of them.
    assert read == {point.key for point in startup.readings if point.unit != "°F"}


@pytest.mark.parametrize(
    ("system", "mistake", "shown"),
    [
        ("AH-1", "open/W-AH1/green", "AH-1.power.GND-VP.G.ohms"),
        ("AH-1", "bridge/AH-1.ctl.R/AH-1.ctl.C", "AH-1.ctl.R-AH-1.ctl.C.ohms"),
        ("AH-1", "open/W-AH1/black", "AH-1.running"),
    ],
)
def test_a_hidden_mistake_is_read(
    systems: dict[str, System], startup: StartUp, system: str, mistake: str, shown: str
) -> None:
    hidden = next(entry for entry in mistakes(systems[system]) if entry.id == mistake)
    meter = StandIn(systems[system], startup, hidden)
    assert shown in {point.key for point in outside(list(meter.points()), meter)}


def test_a_meter_is_off_by_no_more_than_its_class(systems: dict[str, System], startup: StartUp) -> None:
    """1 % and 0.3 V on volts, 2 % and 0.05 A on a clamp."""
    system = systems["UH-1"]
    meter = StandIn(system, startup)
    for point in meter.points():
        if point.unit == "Ω":
            continue
        share, digits = {"V": (0.01, 0.3), "A": (0.02, 0.05)}[point.unit]
        there = meter.true(point)
        found = {StandIn(system, startup, seed=seed).read(point) for seed in range(8)}
        assert len(found) > 1
        assert all(abs(read - there) <= share * there + digits for read in found)
