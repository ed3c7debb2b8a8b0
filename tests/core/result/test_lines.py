"""Where a finding stands on a line, and where a stop cuts it."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.findings import finding
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.result import check_plan
from leitung_core.result.lines import drawn_lines
from leitung_demo import museum, workshop


def placed(plan: dict[str, Any], line: str, about: str, code: str = "ocpd-above-max") -> list[str]:
    plant = Plant(read_plan(plan))
    row = finding(code, about, "It is wrong.").model_copy(update={"key": "one"})
    return [part.id for part in drawn_lines(plant, [row])[line].parts if part.findings == ("one",)]


@pytest.mark.parametrize(
    ("about", "part"),
    [
        ("circuits/MS-1/ocpd/rating_a", "ocpd"), ("circuits/MS-1/run/s2/method", "run/s2"),
        ("circuits/MS-1/run", "run/s1"), ("circuits/MS-1/egc", "run/s1"),
        ("circuits/MS-1/disconnect/in_sight", "disconnect"), ("circuits/MS-1/receptacle_a", "disconnect"),
        ("circuits/MS-1/receptacle_distance_ft", "unit"), ("circuits/MS-1/poles", "ocpd"),
        ("equipment/OU-1/nameplate/mca_a", "unit"), ("sources/PA/volts", "source"), ("circuits/MS-1/source", "source"),
    ],
)  # fmt: skip
def test_a_finding_stands_at_the_part_where_it_is_cleared(about: str, part: str) -> None:
    assert placed(workshop(), "MS-1", about) == [part]


def test_of_what_lies_above_only_a_stop_reaches_a_line() -> None:
    """The feeder of the vault's panel stops what the panel feeds; its warnings are its own."""
    assert placed(museum(), "AH-1", "circuits/FD-1/ocpd/rating_a") == ["source"]
    assert placed(museum(), "AH-1", "circuits/FD-1/ocpd/rating_a", "ocpd-below-mca") == []
    assert placed(museum(), "RT-1", "circuits/FD-1/ocpd/rating_a") == []


def test_the_disconnect_stands_before_a_whip_and_a_feeder_has_none() -> None:
    drawn = check_plan(read_plan(museum())).drawn
    assert [part.id for part in drawn["RT-1"].parts] == [
        "source", "ocpd", "run/s1", "run/s2", "disconnect", "run/s3", "unit"]  # fmt: skip
    assert "disconnect" not in {part.id for part in drawn["FD-1"].parts}
    hard = merge(workshop(), {"circuits": {"MS-1": {"run": {"s2": None, "s3": None}}}})
    assert [part.kind for part in check_plan(read_plan(hard)).drawn["MS-1"].parts][-2:] == ["disconnect", "unit"]


def test_the_cut_is_at_the_stop_nearest_to_the_source() -> None:
    plan = merge(museum(), {"circuits": {"RT-1": {"run": {"s1": {"conductor": "14"}}}}})
    drawn = check_plan(read_plan(plan)).drawn["RT-1"]
    assert [part.id for part in drawn.parts if part.worst == "stop"][:2] == ["ocpd", "run/s1"]
    assert drawn.cut == "ocpd"
