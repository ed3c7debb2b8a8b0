"""What start-up asks of a line by its poles, and what each reading should be, by hand."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.commissioning.judge import judge_reading
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_and_brief

from tests.core.test_panels import heaters

Json = dict[str, Any]


def started(plan: Json) -> Any:
    return check_and_brief(read_plan(plan))[1].start_up


def one_pole() -> Json:
    unit = {
        "kind": "unit_heater",
        "nameplate": {"volts": "120", "phase": 1, "heat": {"watts": 1200, "rated_volts": 120}},
    }
    return merge(heaters([1]), {"equipment": {"U0": unit}, "circuits": {"C0": {"poles": 1}}})


@pytest.mark.parametrize(
    ("plan", "pairs", "dead"),
    [
        (one_pole(), ["L1-N", "L1-G"], "Prove dead: line to neutral, line to ground, neutral to ground."),
        (heaters([1, 3]), ["L1-L2", "L1-G", "L2-G"],
         "Prove dead: every line to every other line, every line to ground."),
        (merge(heaters([1, 3], legs=3), {"circuits": {"C0": {"poles": None}}}), ["L1-L2", "L1-G", "L2-G"],
         "Prove dead: every line to every other line, every line to ground."),
        (merge(heaters([1, 3, 5], legs=3), {"circuits": {"C0": {"poles": None}},
                                            "equipment": {"U0": {"nameplate": {"phase": 3}}}}),
         ["L1-L2", "L2-L3", "L3-L1", "L1-G", "L2-G", "L3-G"],
         "Prove dead: every line to every other line, every line to ground."),
    ],
)  # fmt: skip
def test_what_is_read_and_proved_dead_follows_the_poles(plan: Json, pairs: list[str], dead: str) -> None:
    found = started(plan)
    assert [row.key.removeprefix("C0.") for row in found.readings] == [*pairs, "running"]
    assert [row.text for row in found.steps if row.key == "C0.dead"] == [dead]


def test_a_one_pole_line_reads_its_volts_to_neutral_and_to_ground() -> None:
    """120 V nominal; the plate's 120 V less and more a tenth: 108 to 132 V."""
    to_neutral, to_ground, running = started(one_pole()).readings
    assert (to_neutral.expected, to_neutral.low, to_neutral.high) == (120, 108, 132)
    assert (to_ground.expected, to_ground.low, to_ground.high) == (120, 108, 132)
    assert to_neutral.terminal_to == "C0.disconnect.N"
    assert (running.expected, running.low, running.high) == pytest.approx((10, 9, 11))


@pytest.mark.parametrize(
    ("value", "verdict"), [(107.9, "outside"), (108, "within"), (120, "within"), (132, "within"), (132.1, "outside")]
)
def test_a_reading_is_within_up_to_its_bounds(value: float, verdict: str) -> None:
    assert judge_reading(started(one_pole()).readings[0], value) == verdict


def test_a_white_that_is_marked_is_looked_at_before_power() -> None:
    run = {"run": {"s1": {"order": 10, "method": "NM-B", "white_as_ungrounded": True, "white_reidentified": True}}}
    keys = [row.key for row in started(merge(heaters([1, 3]), {"circuits": {"C0": run}})).steps]
    assert keys.index("C0.white") == keys.index("C0.torque") + 1
    assert "C0.white" not in [row.key for row in started(heaters([1, 3])).steps]


@pytest.mark.parametrize(
    ("patch", "text"),
    [
        ({"circuits": {"C0": {"disconnect": {"rating_a": 30}}}}, "Open the disconnect and lock it."),
        ({}, "Open the means of disconnect and lock it."),
        ({"equipment": {"U0": {"cord_connected": True}}}, "Pull the plug and lock it out."),
    ],
)  # fmt: skip
def test_how_the_unit_is_cut_off_follows_what_is_there(patch: Json, text: str) -> None:
    found = started(merge(heaters([1, 3]), patch))
    assert [row.text for row in found.steps if row.key == "C0.disconnect-open"] == [text]


def test_a_subpanel_without_a_main_is_made_dead_at_its_feeder() -> None:
    plan = merge(heaters([1, 3]), {
        "sources": {"S": {"kind": "subpanel", "name": "loft panel", "volts": 240, "phase": 1, "volts_to_ground": 120,
                          "bus_a": 100, "spaces": 8}, "P": {"name": "main panel"}},
        "circuits": {"F": {"source": "P", "feeds": "S", "ocpd": {"spaces": [5, 7]}}, "C0": {"source": "S"}},
    })  # fmt: skip
    rows = {row.key: row for row in started(plan).steps}
    off = rows["C0.main-off"]
    assert off.text == "Feeder F to loft panel off at main panel while its cover is open, locked and tagged."
    assert off.caution == "main panel stays live."
    assert rows["C0.main-on"].text == "Locks off by those who set them. Feeder F on."
    own = started(merge(plan, {"sources": {"S": {"main_a": 60}}})).steps
    assert "Main of loft panel off while its cover is open." in {row.text for row in own}


def test_nothing_is_live_before_first_energising_and_everything_after() -> None:
    found = started(heaters([1, 3]))
    live = {phase.id: phase.live for phase in found.phases}
    assert live == {"lock_out": False, "before_power": False, "energise": True, "readings": True}
    phases = [row.phase for row in found.steps]
    assert phases == sorted(phases, key=["lock_out", "before_power", "energise"].index), "in the order of the work"
