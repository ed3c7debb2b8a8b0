"""Further units as one that is there: their lines are as its own, and nothing that is its alone goes with them."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.entry.like import read_like
from leitung_core.errors import InputError
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_plan
from leitung_demo.museum import museum

Json = dict[str, Any]
MUSEUM = museum()


@pytest.mark.parametrize(
    ("text", "drawn"),
    [
        ("like UH-1", ["UH-3"]),  # UH-2 is there
        ("Like uh-1 x 3.", ["UH-3", "UH-4", "UH-5"]),
        ("2 more like RT-1", ["RT-2", "RT-3"]),
        ("same as RT-1 × 2", ["RT-2", "RT-3"]),
    ],
)
def test_the_next_free_tags_are_drawn(text: str, drawn: list[str]) -> None:
    found = read_like(read_plan(MUSEUM), text)
    assert found is not None
    assert found.drawn == drawn
    plan = merge(MUSEUM, found.patch)
    like = found.drawn[0].split("-")[0] + "-1"
    for tag in drawn:
        assert plan["equipment"][tag]["nameplate"] == MUSEUM["equipment"][like]["nameplate"]
        assert plan["circuits"][tag]["run"] == MUSEUM["circuits"][like]["run"]
        assert plan["circuits"][tag]["equipment"] == tag
        assert "spaces" not in plan["circuits"][tag]["ocpd"]


def test_a_line_like_another_is_sized_as_it() -> None:
    found = read_like(read_plan(MUSEUM), "like UH-2")
    assert found is not None
    circuits = check_plan(read_plan(merge(MUSEUM, found.patch))).circuits
    for figure in ("min_ampacity_a", "max_ocpd_a", "ocpd_a", "conductor"):
        assert getattr(circuits["UH-3"], figure) == getattr(circuits["UH-2"], figure)


@pytest.mark.parametrize("text", ["MS-1 mini-split MCA 22", "I like RT-1", "like", "like RT-1 x many"])
def test_other_words_are_left_to_the_sentence(text: str) -> None:
    assert read_like(read_plan(MUSEUM), text) is None


@pytest.mark.parametrize(
    ("text", "says"),
    [("like ZZ-9", r"ZZ-9.*Units here: AH-1"), ("like RT-1 x 0", "Write 1 to 300"), ("like RT-1 x 301", "Write 1 to")],
)
def test_what_is_not_there_is_named_with_what_is(text: str, says: str) -> None:
    with pytest.raises(InputError, match=says):
        read_like(read_plan(MUSEUM), text)
