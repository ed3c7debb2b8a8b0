"""A cable landed as the crew landed one before: between devices of the same types, whole, or not at all."""

from __future__ import annotations

from copy import deepcopy
from typing import Any

import pytest
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.wiring.as_before import landed_as_before
from leitung_demo import museum

Json = dict[str, Any]
ENDS = ("terminal", "capped")


def bare(cable: str) -> Json:
    """The museum with nothing of a cable landed."""
    plan = deepcopy(museum())
    wires = plan["cables"][cable]["conductors"]
    plan["cables"][cable]["conductors"] = {colour: {"a": {}, "b": {}} for colour in wires}
    return plan


def hangs(plan: Json, cable: str) -> Json:
    return {
        colour: {end: {name: wire[end].get(name) for name in ENDS} for end in ("a", "b")}
        for colour, wire in plan["cables"][cable]["conductors"].items()
    }


@pytest.mark.parametrize("cable", ["DC-1", "TC-1", "CC-1", "SL-1"])
def test_it_hangs_as_it_hung_there(cable: str) -> None:
    plan = bare(cable)
    patch = landed_as_before(Plant(read_plan(plan)), cable, museum())
    assert patch is not None
    after = merge(plan, patch)
    assert hangs(after, cable) == hangs(museum(), cable)
    assert landed_as_before(Plant(read_plan(after)), cable, museum()) is None


def test_pulled_the_other_way_it_is_the_same_cable() -> None:
    plan = bare("DC-1")
    cable = plan["cables"]["DC-1"]
    cable["a"], cable["b"] = cable["b"], cable["a"]
    patch = landed_as_before(Plant(read_plan(plan)), "DC-1", museum())
    assert patch is not None
    turned = {colour: {"a": wire["b"], "b": wire["a"]} for colour, wire in hangs(museum(), "DC-1").items()}
    assert hangs(merge(plan, patch), "DC-1") == turned


def test_half_of_it_is_not_offered() -> None:
    """A conductor that hangs loose there, one that is not there, another type of device: nothing is taken over."""
    plant = Plant(read_plan(bare("DC-1")))
    loose = merge(museum(), {"cables": {"DC-1": {"conductors": {"white": {"a": {"terminal": None}}}}}})
    fewer = merge(museum(), {"cables": {"DC-1": {"conductors": {"white": None}}}})
    other = merge(museum(), {"devices": {"DH-1": {"type": "condensate-pump"}}})
    assert [landed_as_before(plant, "DC-1", there) for there in (loose, fewer, other)] == [None] * 3
