"""Every number explains itself: each figure of a result is the value of a step, with its article."""

from __future__ import annotations

import re
from dataclasses import FrozenInstanceError
from typing import Any

import pytest
from leitung_core.circuits import CircuitResult, size_document
from leitung_core.units import say, say_size

from tests.core.documents import document, segment

RUN = [
    segment(conductor="12", construction="solid"),
    segment(
        method="THWN-2",
        raceway="LFNC",
        conductor="12",
        construction="stranded",
        place="outdoor",
        ambient_c=40,
        length_ft=4,
    ),
]


@pytest.fixture
def result() -> CircuitResult:
    return size_document(document(RUN, {"max_ocpd_a": 22, "min_ocpd_a": 15}))


def values(result: CircuitResult, part: str) -> list[Any]:
    return [step.value for step in result.steps if step.part == part]


def test_every_figure_is_the_value_of_a_step(result: CircuitResult) -> None:
    assert result.min_ampacity_a in values(result, "load")
    assert result.running_a in values(result, "load")
    assert result.max_ocpd_a in values(result, "ocpd")
    assert result.ocpd_a in values(result, "ocpd")
    assert result.disconnect_min_a in values(result, "disconnect")
    assert result.disconnect_a in values(result, "disconnect")
    assert result.voltage_drop_pct in values(result, "drop")
    assert say_size(result.conductor or "") in values(result, "run")
    assert say_size(result.proposed_egc or "") in values(result, "egc")
    for index, found in enumerate(result.segments):
        assert found.ampacity_a in values(result, f"run[{index}]")
        assert found.drop_v in values(result, "drop")


def test_every_step_says_what_how_and_by_which_article(result: CircuitResult) -> None:
    parts = {"load", "ocpd", "run", "run[0]", "run[1]", "egc", "disconnect", "drop"}
    assert {step.part for step in result.steps} == parts
    for step in result.steps:
        assert step.what
        assert step.formula
        assert re.search(r"\d{3}\.\d|Chapter 9", step.article), step


def test_the_drop_adds_up(result: CircuitResult) -> None:
    assert result.voltage_drop_v == pytest.approx(sum(found.drop_v or 0 for found in result.segments), abs=1e-6)


def test_exactly_one_segment_decides_and_it_carries_least(result: CircuitResult) -> None:
    deciding = [found for found in result.segments if found.decides]
    assert len(deciding) == 1
    assert deciding[0].ampacity_a == min(found.ampacity_a or 0 for found in result.segments)


def test_correction_and_adjustment_show_their_factors() -> None:
    hot = [segment(method="THWN-2", raceway="EMT", conductor="10", ambient_c=45, current_carrying=8)]
    found = size_document(document(hot))
    (step,) = [step for step in found.steps if step.what.startswith("Corrected")]
    # 10 AWG at 90 °C 40 A; 41 to 45 °C 0.87; 7 to 9 conductors 0.70: 40 x 0.87 x 0.70 = 24.36 A.
    assert step.inputs == {"ambient_c": 45.0, "ambient_factor": 0.87, "adjustment": 0.7}
    assert step.value == 24.36


def test_a_result_cannot_be_altered(result: CircuitResult) -> None:
    with pytest.raises(ValueError, match="frozen"):
        result.ocpd_a = 99  # type: ignore[misc]
    with pytest.raises(FrozenInstanceError):
        result.steps[0].value = 99  # type: ignore[misc]


@pytest.mark.parametrize(
    ("figure", "places", "text"),
    [
        (11.0, 1, "11"), (12.65, 1, "12.7"), (12.65, 2, "12.65"), (0.5, 1, "0.5"), (0.05, 1, "0.1"), (100, 0, "100"),
        (2.0, 2, "2"), (20.01, 2, "20.01"), (-0.25, 1, "-0.3"),
    ],
)  # fmt: skip
def test_figures_as_people_say_them(figure: float, places: int, text: str) -> None:
    assert say(figure, places) == text


def test_sizes_as_people_say_them() -> None:
    assert [say_size(size) for size in ("12", "1/0", "250", "4/0")] == ["12 AWG", "1/0 AWG", "250 kcmil", "4/0 AWG"]


def test_alternatives_name_the_least_the_matched_and_the_roomy() -> None:
    """12 AWG carries 20 A at 60 °C; a 30 A device matches 10 AWG (240.4(D)(8)); one size up is 8 AWG."""
    run = [segment(method="THWN-2", raceway="EMT", length_ft=10)]
    found = size_document(document(run, {"mca_a": 20.0, "max_ocpd_a": 30})).alternatives
    at_30 = [(row.title, row.conductor, row.margin_a, row.egc) for row in found if row.ocpd_a == 30]
    assert at_30 == [("least", "12", 0.0, "12"), ("matched", "10", 10.0, "10"), ("roomy", "8", 20.0, "8")]
    assert sorted({row.ocpd_a for row in found}) == [20, 25, 30]
    assert not any(row.chosen for row in found)


def test_a_result_is_plain_data(result: CircuitResult) -> None:
    assert CircuitResult.model_validate_json(result.model_dump_json()) == result
