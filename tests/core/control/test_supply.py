"""The legs of a source as phasors: volts between them, to the neutral, and by which space a pole meets which."""

from __future__ import annotations

import cmath
import math
from typing import Any

import pytest
from leitung_core.control.supply import breaker, bus, legs_of, pole_legs
from leitung_core.plan.model import Circuit, Plan, read_plan
from leitung_core.plan.sources import Source

Json = dict[str, Any]


def volts(source: Json) -> tuple[list[float], list[float]]:
    """Of each leg to the neutral, and between each leg and the next."""
    legs = legs_of(Source.model_validate({"kind": "panel", **source}))
    assert legs is not None
    at = [cmath.rect(amount, math.radians(angle)) for amount, angle in legs]
    between = [abs(at[i] - at[i - 1]) for i in range(len(at))] if len(at) > 1 else []
    return [abs(leg) for leg in at], between


@pytest.mark.parametrize(
    ("source", "to_neutral", "between"),
    [
        ({"volts": 240, "phase": 1, "volts_to_ground": 120}, [120] * 2, [240] * 2),
        ({"volts": 240, "phase": 1}, [120] * 2, [240] * 2),
        # Two legs of 208Y/120 lie 120 degrees apart.
        ({"volts": 208, "phase": 1, "volts_to_ground": 120}, [120] * 2, [208] * 2),
        ({"volts": 208, "phase": 3, "volts_to_ground": 120}, [208 / math.sqrt(3)] * 3, [208] * 3),
        ({"volts": 480, "phase": 3, "volts_to_ground": 277}, [480 / math.sqrt(3)] * 3, [480] * 3),
        ({"volts": 120, "phase": 1, "volts_to_ground": 120}, [120], []),
    ],
)
def test_the_legs_of_a_source(source: Json, to_neutral: list[float], between: list[float]) -> None:
    own, apart = volts(source)
    assert own == pytest.approx(to_neutral)
    assert apart == pytest.approx(between, rel=1e-3)


@pytest.mark.parametrize("source", [{}, {"volts": 240}, {"phase": 3}])
def test_without_its_volts_or_phases_a_source_has_no_legs(source: Json) -> None:
    assert legs_of(Source.model_validate({"kind": "panel", **source})) is None


@pytest.mark.parametrize(
    ("phase", "spaces", "poles", "legs"),
    [
        (1, [1, 3], 2, [1, 2]), (1, [2, 4], 2, [1, 2]), (1, [5], 1, [1]), (1, [7], 1, [2]), (1, [3, 5], 2, [2, 1]),
        (3, [1, 3, 5], 3, [1, 2, 3]), (3, [7, 9], 2, [1, 2]), (3, [11], 1, [3]), (3, [12, 10, 8], 3, [1, 2, 3]),
        (1, None, 2, [1, 2]), (3, None, 2, [1, 2]),  # no spaces yet: the first legs
        (1, [1], 2, [1, 2]),  # fewer spaces than poles say nothing
    ],
)  # fmt: skip
def test_a_pole_meets_the_leg_of_its_space(phase: int, spaces: list[int] | None, poles: int, legs: list[int]) -> None:
    """Spaces lie in two columns, odd and even; row by row the legs follow each other."""
    source = Source.model_validate(
        {"kind": "panel", "volts": 208 if phase == 3 else 240, "phase": phase, "volts_to_ground": 120}
    )
    circuit = Circuit.model_validate({"ocpd": {"spaces": spaces}} if spaces else {})
    assert pole_legs(circuit, source, poles) == legs


def test_a_panel_has_its_neutral_bonded_and_one_behind_a_feeder_has_not() -> None:
    plan: Plan = read_plan({
        "format": "leitung-plan", "format_version": 1, "name": "x",
        "sources": {"A": {"kind": "panel", "volts": 240, "phase": 1, "volts_to_ground": 120}, "B": {"kind": "panel"}},
    })  # fmt: skip
    own, fed = bus(plan, "A", False), bus(plan, "A", True)
    assert own is not None
    assert fed is not None
    assert [part["id"] for part in own["inside"]] == ["VL1", "VL2", "BOND"]
    assert fed["inside"] == []
    assert own["terminals"] == fed["terminals"] == ["L1", "L2", "N", "G"]
    assert bus(plan, "B", False) is None


@pytest.mark.parametrize(("rating", "kind"), [(20.0, "fuse"), (None, "jumper")])
def test_a_breaker_is_a_handle_and_a_trip_for_each_pole(rating: float | None, kind: str) -> None:
    parts = breaker("B-1", 2, rating)
    assert [part["type"] for part in parts] == ["contact", kind, "contact", kind]
    assert {part["operated_by"] for part in parts if part["type"] == "contact"} == {"hand:B-1"}
    assert {part.get("amps") for part in parts if part["type"] == kind} == {rating}
