"""Raceway fill against cases worked by hand, and what holds for every raceway."""

import json
from decimal import Decimal
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.circuits import size_document
from leitung_core.rulebook import rulebook

from tests.core.documents import codes, document, segment

CASES = json.loads((Path(__file__).parent.parent / "published" / "raceways.json").read_text())
BOOK = rulebook("us-2023")


def in_raceway(case: dict[str, Any]) -> dict[str, Any]:
    part = segment(
        method=case.get("method", "THWN-2"), raceway=case["raceway"], conductor=case["conductor"],
        length_ft=case.get("length_ft", 40), current_carrying=3,
    )  # fmt: skip
    part |= {name: case[name] for name in ("together", "raceway_size") if name in case}
    supply = {"volts": 208, "phase": case["phase"]}
    return document([part], {"phase": case["phase"]}, supply=supply, proposed={"egc": case["egc"]})


@pytest.mark.parametrize("case", CASES, ids=[case["source"][:60] for case in CASES])
def test_trade_size_by_hand(case: dict[str, Any]) -> None:
    assert size_document(in_raceway(case)).segments[0].raceway_size == case["expect"]


@pytest.mark.parametrize("case", CASES, ids=[case["source"][:60] for case in CASES])
def test_the_size_that_is_told_is_not_full_and_the_one_below_it_is(case: dict[str, Any]) -> None:
    sizes = list(BOOK.raceway_areas_in2[case["raceway"]])
    told = size_document(in_raceway(case | {"raceway_size": case["expect"]}))
    assert "raceway-full" not in codes(told)
    below = sizes.index(case["expect"]) - 1
    if below >= 0:
        full = size_document(in_raceway(case | {"raceway_size": sizes[below]}))
        assert "raceway-full" in codes(full, "stop")


SIZES = st.sampled_from(["14", "12", "10", "8", "6", "4", "2", "1/0"])


@given(SIZES, SIZES, st.integers(1, 20), st.sampled_from(sorted(BOOK.raceway_areas_in2)))
def test_more_conductors_never_need_a_smaller_raceway(size: str, other: str, count: int, raceway: str) -> None:
    case = {"raceway": raceway, "phase": 1, "conductor": size, "egc": "10"}
    sizes = [*BOOK.raceway_areas_in2[raceway], None]
    alone = size_document(in_raceway(case)).segments[0].raceway_size
    together = size_document(in_raceway(case | {"together": [{"conductor": other, "count": count}]}))
    assert sizes.index(together.segments[0].raceway_size) >= sizes.index(alone)


def test_the_tables_rise() -> None:
    for areas in BOOK.raceway_areas_in2.values():
        assert all(smaller < larger for smaller, larger in pairwise(areas.values()))
    for insulation in ("THWN-2", "XHHW-2"):
        found = [BOOK.conductor_area_in2(insulation, size) or Decimal(0) for size in BOOK.sizes]
        assert all(thin < thick for thin, thick in pairwise(found))


@pytest.mark.parametrize(
    ("number", "nipple", "percent"), [(1, False, 53), (2, False, 31), (3, False, 40), (30, False, 40), (2, True, 60)]
)
def test_chapter_9_table_1(number: int, nipple: bool, percent: int) -> None:
    assert BOOK.fill_allowed(number, nipple) == Decimal(percent) / 100


@pytest.mark.parametrize(
    ("size", "three", "two"), [("18", 7, 10), ("16", 10, 13), ("14", 15, 18), ("12", 20, 25), ("10", 25, 30)]
)
def test_cords(size: str, three: int, two: int) -> None:
    """Table 400.5(A)(1), columns A and B."""
    assert (BOOK.cord_ampacity_a(size, 3), BOOK.cord_ampacity_a(size, 2)) == (three, two)
    assert BOOK.cord_ampacity_a(size, 4) is None
