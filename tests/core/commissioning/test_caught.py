"""Every single mistake shows in a step of the start-up, and what power would not forgive before there is power."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.commissioning.caught import Caught, caught
from leitung_core.commissioning.ohms import ohm_readings
from leitung_core.control.system import System
from leitung_core.plan.model import read_plan
from leitung_core.result import check_and_brief
from leitung_core.slips import dead_tests as dead_tests_module
from leitung_core.slips.dead_tests import dead_tests

# Two stages that heat as one until their amps are read apart; contacts bridged whose sides are on together anyhow.
UNSEEN = {
    "AH-1": {
        "swap/TC-1/a/white/brown", "swap/TC-1/b/white/brown", "bridge/AH-1.ctl.W1/AH-1.ctl.W2",
        "bridge/TS-1.base.W1/TS-1.base.W2", "bridge/DH-1.ctl.DH/DH-1.ctl.FR", "bridge/JB-1.j.J2/JB-1.j.J3",
    },
}  # fmt: skip


@pytest.fixture(scope="module", params=["AH-1", "RT-1", "OU-1", "RU-1", "UH-1", "UH-2"])
def found(request: pytest.FixtureRequest, systems: dict[str, System]) -> tuple[System, list[Caught]]:
    return systems[request.param], caught(systems[request.param])


def test_what_shocks_or_destroys_shows_by_the_ohmmeter(found: tuple[System, list[Caught]]) -> None:
    system, every = found
    grave = [entry for entry in every if entry.harm in ("shock", "destroys")]
    assert grave
    assert {entry.step for entry in grave} == {f"devices/{system.key}.ohms"}


def test_any_other_harm_shows_before_the_system_is_left(found: tuple[System, list[Caught]]) -> None:
    system, every = found
    late = {entry.mistake.id for entry in every if not entry.in_time}
    assert late == UNSEEN.get(system.key, set())
    assert {entry.harm for entry in every if entry.mistake.id in late} <= {"runs", "wrong"}


def test_a_reading_says_what_its_test_is_to_find(systems: dict[str, System]) -> None:
    """Joined by copper reads under an ohm; anything else reads over two."""
    for system in systems.values():
        tests, points = dead_tests(system), ohm_readings(system)
        assert len({point.key for point in points}) == len(points) == len(tests)
        for test, point in zip(tests, points, strict=True):
            assert (point.low, point.high)[0 if test.joined else 1] == (0 if test.joined else 1e6)
            assert point.expected in ((0,) if test.joined else (None, 1e6))


def test_a_system_too_large_for_pairs_is_read_by_hand_and_still_holds(
    museum_plan: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(dead_tests_module, "MOST_ENDS", 50)
    startup = check_and_brief(read_plan(museum_plan))[1].start_up
    steps = startup.by_key()
    assert "devices/AH-1.ohms" not in steps
    assert steps["devices/AH-1.ohms-by-hand"].hold
    assert "devices/AH-1.ohms-by-hand" in steps["CP-1.covers"].needs
    assert steps["devices/UH-1.ohms"].reads
