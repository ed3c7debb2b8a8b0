"""What is set at a thermostat, as it counts: stages, and who controls humidity, from what is landed."""

from __future__ import annotations

import pytest
from leitung_core.commissioning.set_up import set_up

from tests.core.control.test_air_and_intent import heat_pump, split
from tests.core.patterns.test_patterns import HEATER, base, placed, powered, systems
from tests.core.wiring.plans import CAPPED, Json, ends

CUT = {"a": CAPPED, "b": CAPPED}
STAGES = ("stages-of-heat", "stages-of-cooling")


def values(system: object, *names: str) -> list[str | None]:
    rows = {row.key.partition("/")[2]: row.value for row in set_up(system)}  # type: ignore[arg-type]
    return [rows.get(name) for name in names]


@pytest.mark.parametrize(
    ("made", "patches", "stages"),
    [
        (split, [ends("T", brown=CUT)], ["1", "1"]),
        (split, [], ["2", "1"]),
        # A compressor that heats, and one strip.
        (heat_pump, [ends("T", brown=CUT)], ["2", "1"]),
        (split, [ends("T", brown=CUT, white=CUT)], [None, "1"]),
    ],
)
def test_stages_are_counted_as_the_thermostat_counts_them(
    made: object, patches: list[Json], stages: list[str | None]
) -> None:
    assert values(made(*patches), *STAGES) == stages  # type: ignore[operator]


def test_heat_alone_has_no_line_for_cooling() -> None:
    plan, _ = placed(powered(HEATER, "A"), "heater-thermostat")
    (system,) = systems(plan)
    assert values(system, *STAGES) == ["1", None]


def test_humidity_is_controlled_by_what_is_wired_to_call_it() -> None:
    """The thermostat calls the humidifier over its accessory contact; before that it says nothing of humidity."""
    assert values(split(), "humidity-by") == [None]
    plan, _ = placed(base(), "humidity-by-thermostat")
    assert [found for system in systems(plan) if (found := values(system, "humidity-by")[0])] == ["the thermostat"]
