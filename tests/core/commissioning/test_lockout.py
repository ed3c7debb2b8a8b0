"""What to open before a hand goes in: the least, that it is enough, that none of it can be left out."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from leitung_core.commissioning.live_ways import Isolator, Ways
from leitung_core.commissioning.lockout import DEAD_V, LockOut, lock_out, volts_with
from leitung_core.errors import InputError
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_demo import museum

from tests.core.result.plans import plans

Json = dict[str, Any]


def locked(*touch: str, **change: Any) -> LockOut:
    return lock_out(Plant(read_plan(merge(museum(), change))), touch)


def names(found: LockOut) -> list[tuple[str, str]]:
    return [(row.device, row.kind) for row in found.open]


def test_a_unit_by_itself_takes_its_own_disconnect_else_its_breaker() -> None:
    found = locked("UH-2")
    assert (names(found), found.also, found.proved) == ([("D-UH2", "disconnect")], [["B-UH2"]], True)
    # An indoor unit has no breaker of its own: the outdoor one's keeps its terminals alive.
    assert names(locked("IU-1")) == [("D-MS1", "disconnect")]
    far = locked("UH-2", circuits={"UH-2": {"disconnect": None}}, devices={"D-UH2": {"state": "removed"}})
    assert ("D-UH2", "disconnect") not in names(far)


def test_the_other_breaker_that_keeps_the_24_volts_alive() -> None:
    """The dehumidifier's own 24 V come into the air handler's joints: its own breaker does not make them dead."""
    own = [Isolator("B-AH1", "breaker")]
    plant = Plant(read_plan(museum()))
    assert volts_with(plant, ["AH-1"], own) <= DEAD_V
    assert volts_with(plant, ["AH-1", "JB-1"], own) > 20
    found = locked("AH-1", "JB-1")
    assert found.proved
    assert names(found) == [("B-FD1", "breaker")]  # one feeder in place of two breakers
    # Without the feeder's breaker in the plan both take theirs.
    bare = museum()
    bare["circuits"]["FD-1"]["ocpd"] = None
    two = lock_out(Plant(read_plan(merge(bare, {"devices": {"B-FD1": None}, "cables": {"P-FD1": None}}))), ["JB-1"])
    assert two.proved


def test_what_is_live_all_the_same_is_said() -> None:
    """The strip of the humidifier's limits is dead with its own breaker; the air handler's G comes in at the relay."""
    found = locked("IR-1.sw")
    assert found.proved
    assert names(found) == [("D-SH1", "disconnect")]
    (strip,) = found.stays_live
    assert (strip.at, strip.volts > 20) == ("IR-1.coil", True)
    assert any("bars" in caution for caution in locked("B-UH1").cautions)
    assert any("Capacitors" in caution for caution in locked("RU-1").cautions)


def test_a_source_in_place_of_another_feeds_its_bars_too() -> None:
    ways = Ways(Plant(read_plan(museum())))
    grid, others = Isolator("TP", "breaker"), [Isolator("GE", "source"), Isolator("IV", "source")]
    node = next(node for node in ways.near if node.startswith("D-RU1.line."))
    assert node in ways.live([grid])
    assert node in ways.live([grid, others[0]])
    assert node not in ways.live([grid, *others])


def test_what_is_not_known_is_live() -> None:
    """Without the volts of its panel nothing is solved behind it: that is no proof of anything."""
    found = locked("UH-2", sources={"OP": {"volts": None}})
    assert not found.proved
    assert any("volts of OP" in caution and "Take it as live" in caution for caution in found.cautions)


def test_a_short_to_neutral_proves_nothing() -> None:
    """The heater's hot leg on its ground: the meter reads nothing, and that is no reason to leave its breaker in."""
    landed = {"cables": {"W-UH2": {"conductors": {"black": {"b": {"terminal": "UH-2.power.GND"}}}}}}
    assert museum()["cables"]["W-UH2"]["conductors"]["black"]["b"]["terminal"].startswith("UH-2.")
    found = locked("UH-2", **landed)
    assert not found.proved
    assert {row.device for row in found.open} & {"D-UH2", "B-UH2"}
    assert any("joined to neutral or ground" in caution for caution in found.cautions)


def test_a_cord_is_dead_by_its_plug() -> None:
    found = locked("CP-1.plug")
    assert ("CP-1", "plug") in names(found) or ["CP-1"] in found.also


@pytest.mark.parametrize("touch", ["XX-9", "AH-1.nowhere", ""])
def test_what_is_not_there_is_refused_by_name(touch: str) -> None:
    with pytest.raises(InputError) as told:
        locked(touch)
    assert told.value.problems[0].field == "touch"


@settings(max_examples=12)
@given(plans(), st.data())
def test_the_chosen_are_enough_and_none_can_be_left_out(plan: Json, data: st.DataObject) -> None:
    """In every state that the solver runs; leave one out and some state puts a touched terminal under voltage."""
    plant = Plant(read_plan(plan))
    if not plant.types:
        return
    touch = [data.draw(st.sampled_from(sorted(plant.types)))]
    found = lock_out(plant, touch)
    open_end = any("Nothing in the plan parts" in row or "Take it as live" in row for row in found.cautions)
    assert found.proved or open_end
    chosen = [Isolator(row.device, row.kind) for row in found.open]
    for one in chosen:
        rest = [other for other in chosen if other != one]
        assert volts_with(plant, touch, rest) > DEAD_V, (touch, one)
