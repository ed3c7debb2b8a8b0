"""Two indoor units on one outdoor unit: whose cable is on whose zone shows in whose valve opens."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.commissioning.set_up import set_up
from leitung_core.control.system import System, systems_of
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.slips.harm import Slip, slips
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Stretch, loads_of, settle

LANDED_RIGHT = {"cables": {"IC-1": {"conductors": {
    "black": {"b": {"terminal": "IU-1.unit.1"}}, "red": {"b": {"terminal": "IU-1.unit.3"}},
}}}}  # fmt: skip


def split_of(plan: dict[str, Any], patch: dict[str, Any]) -> System:
    """The demo's two-zone system, with a change."""
    changed = merge(merge(plan, LANDED_RIGHT), patch)
    return next(system for system in systems_of(Plant(read_plan(changed))) if "IU-1" in system.devices)


def zones(*values: str | None) -> dict[str, Any]:
    return {"devices": {f"IU-{n}": {"settings": {"zone": value}} for n, value in enumerate(values, 1)}}


@pytest.fixture(scope="module")
def sound(museum_plan: dict[str, Any]) -> System:
    return split_of(museum_plan, {})


@pytest.fixture(scope="module")
def found(sound: System) -> list[Slip]:
    return list(slips(sound).slips)


@pytest.mark.parametrize(
    ("called", "runs"),
    [
        ([], set()),
        (["call:cool"], {"VALVE-A", "COMP"}),
        (["call:cool-zone-b"], {"VALVE-B", "COMP"}),
        (["call:cool", "call:cool-zone-b"], {"VALVE-A", "VALVE-B", "COMP"}),
    ],
)
def test_the_zone_that_asks_is_served_and_both_talk_all_the_time(
    sound: System, called: list[str], runs: set[str]
) -> None:
    """By hand: idle 50 V over 1000 + 500 + 10 000 ohms gives the sensor 2.17 V, asked (15 000 beside 10 000 ohms)
    3.33 V; it pulls in at 0.16 x 17 = 2.7 V. The signal input keeps 43.5 and 40 V of the 37.5 V that it needs."""
    net = Compiled(sound.network)
    state = settle(net, [(Stretch(frozenset(called), 600),)])
    on = {name for name, there in zip(loads_of(net).names, state.energised[:, 0], strict=True) if there}
    assert {f"OU-1.{name}" for name in runs} == {n for n in on if n.split(".")[1] in ("VALVE-A", "VALVE-B", "COMP")}
    assert {"IU-1.SIG", "IU-2.SIG"} <= on


def test_cables_exchanged_between_zones_open_the_other_zones_valve(found: list[Slip]) -> None:
    (exchanged,) = [slip for slip in found if slip.mistake.id.startswith("exchanged/OU-1")]
    assert exchanged.harm == "runs"
    assert exchanged.about == ("OU-1.VALVE-B",)
    assert exchanged.mistake.says == "IC-1 and IC-2 are exchanged at OU-1: zone A and zone B."


def test_the_exchange_landed_in_the_plan_is_judged_alike(museum_plan: dict[str, Any], found: list[Slip]) -> None:
    """The change that the mistake carries, made, and then pipes exchanged too: whoever exchanges both is right."""
    (exchanged,) = [slip for slip in found if slip.mistake.id.startswith("exchanged/OU-1")]
    patch = exchanged.mistake.patch or {}
    both = split_of(museum_plan, merge(patch, zones("B", "A")))
    (back,) = [slip for slip in slips(both).slips if slip.mistake.id.startswith("exchanged/OU-1")]
    assert back.harm == "runs"
    assert not [row for row in set_up(both) if row.as_planned is False]


def test_a_unit_whose_zone_is_not_said_is_named_and_judged_by_nothing(museum_plan: dict[str, Any]) -> None:
    system = split_of(museum_plan, zones("A", None))
    open_ = [row for row in set_up(system) if row.value == "not said"]
    assert [row.device for row in open_] == ["IU-2"]
    assert "call:cool-zone-b" not in system.calls
