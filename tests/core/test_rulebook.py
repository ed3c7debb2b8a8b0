"""The tables as published: spot values, what lies outside them, and the order that must hold within them.

Values are those of NEC 2023 as printed, entered here by hand from the tables named, not read back from the files.
"""

from __future__ import annotations

from decimal import Decimal
from itertools import pairwise

import pytest
from leitung_core.errors import InputError
from leitung_core.rulebook import Rulebook, rulebook
from leitung_core.rulebook.tables import read_table


@pytest.fixture
def book() -> Rulebook:
    return rulebook("us-2023")


@pytest.mark.parametrize(
    ("material", "size", "c60", "c75", "c90"),
    [
        ("Cu", "14", 15, 20, 25), ("Cu", "12", 20, 25, 30), ("Cu", "10", 30, 35, 40), ("Cu", "8", 40, 50, 55),
        ("Cu", "6", 55, 65, 75), ("Cu", "1", 110, 130, 145), ("Cu", "4/0", 195, 230, 260), ("Cu", "500", 320, 380, 430),
        ("Al", "12", 15, 20, 25), ("Al", "8", 35, 40, 45), ("Al", "1/0", 100, 120, 135), ("Al", "250", 170, 205, 230),
    ],
)  # fmt: skip
def test_table_310_16(book: Rulebook, material: str, size: str, c60: int, c75: int, c90: int) -> None:
    assert [book.ampacity_a(material, size, column) for column in (60, 75, 90)] == [c60, c75, c90]  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("ambient", "c60", "c75", "c90"),
    [
        ("-40", "1.29", "1.20", "1.15"), ("10", "1.29", "1.20", "1.15"), ("10.1", "1.22", "1.15", "1.12"),
        ("30", "1.00", "1.00", "1.00"), ("30.5", "0.91", "0.94", "0.96"), ("40", "0.82", "0.88", "0.91"),
        ("55", "0.41", "0.67", "0.76"), ("56", None, "0.58", "0.71"), ("70", None, "0.33", "0.58"),
        ("71", None, None, "0.50"), ("85", None, None, "0.29"), ("85.1", None, None, None),
    ],
)  # fmt: skip
def test_table_310_15_b_1_1(book: Rulebook, ambient: str, c60: str | None, c75: str | None, c90: str | None) -> None:
    found = [book.ambient_factor(Decimal(ambient), column) for column in (60, 75, 90)]
    assert found == [Decimal(factor) if factor else None for factor in (c60, c75, c90)]


@pytest.mark.parametrize(
    ("count", "percent"),
    [
        (1, 100),
        (3, 100),
        (4, 80),
        (6, 80),
        (7, 70),
        (9, 70),
        (10, 50),
        (20, 50),
        (21, 45),
        (31, 40),
        (41, 35),
        (900, 35),
    ],
)
def test_table_310_15_c_1(book: Rulebook, count: int, percent: int) -> None:
    assert book.adjustment(count) == Decimal(percent) / 100


@pytest.mark.parametrize(
    ("ocpd", "copper", "aluminium"),
    [
        ("15", "14", "12"), ("16", "12", "10"), ("20", "12", "10"), ("25", "10", "8"), ("60", "10", "8"),
        ("70", "8", "6"), ("100", "8", "6"), ("200", "6", "4"), ("600", "1", "2/0"), ("601", None, None),
    ],
)  # fmt: skip
def test_table_250_122(book: Rulebook, ocpd: str, copper: str | None, aluminium: str | None) -> None:
    assert (book.egc_size(Decimal(ocpd), "Cu"), book.egc_size(Decimal(ocpd), "Al")) == (copper, aluminium)


@pytest.mark.parametrize(
    ("size", "construction", "copper", "aluminium", "cmil"),
    [
        ("14", "solid", "3.07", "5.06", 4110), ("14", "stranded", "3.14", "5.17", 4110),
        ("12", "solid", "1.93", "3.18", 6530), ("10", "stranded", "1.24", "2.04", 10380),
        ("6", "stranded", "0.491", "0.808", 26240), ("4/0", "stranded", "0.0608", "0.100", 211600),
    ],
)  # fmt: skip
def test_chapter_9_table_8(
    book: Rulebook, size: str, construction: str, copper: str, aluminium: str, cmil: int
) -> None:
    assert book.ohm_per_kft(size, construction, "Cu") == Decimal(copper)
    assert book.ohm_per_kft(size, construction, "Al") == Decimal(aluminium)
    assert book.area_cmil(size) == cmil


def test_outside_the_tables_nothing_is_made_up(book: Rulebook) -> None:
    assert book.ampacity_a("Al", "14", 60) is None
    assert book.ampacity_a("Cu", "13", 60) is None
    assert book.ohm_per_kft("6", "solid", "Cu") is None
    assert book.ohm_per_kft("250", "solid", "Cu") is None
    assert book.area_cmil("13") is None
    assert book.small_conductor("Cu", "8") is None
    assert book.factory_egc("1/0") is None
    assert not book.not_thinner("13", than="14")
    with pytest.raises(InputError, match="not at hand"):
        Rulebook("us-1999")


def test_small_conductors_carry_their_paragraph_of_2023(book: Rulebook) -> None:
    """240.4(D)(4), (6), (8): the paragraphs moved by one in 2023."""
    found = {size: book.small_conductor("Cu", size) for size in ("14", "12", "10")}
    assert [(entry.max_ocpd_a, entry.article) for entry in found.values() if entry] == [
        (15, "240.4(D)(4)"), (20, "240.4(D)(6)"), (30, "240.4(D)(8)"),
    ]  # fmt: skip


def test_larger_conductors_carry_more_and_resist_less(book: Rulebook) -> None:
    for thinner, larger in pairwise(book.sizes):
        assert book.not_thinner(larger, than=thinner)
        assert not book.not_thinner(thinner, than=larger)
        for column in (60, 75, 90):
            assert (book.ampacity_a("Cu", larger, column) or 0) > (book.ampacity_a("Cu", thinner, column) or 0)
        before, after = (book.ohm_per_kft(size, "stranded", "Cu") for size in (thinner, larger))
        assert before is None or after is None or after < before
    for size in book.sizes_from("Al"):
        assert (book.ampacity_a("Al", size, 75) or 0) < (book.ampacity_a("Cu", size, 75) or 0)


def test_standard_ratings_rise_and_begin_at_15(book: Rulebook) -> None:
    assert book.standard_ratings_a[0] == 15
    assert all(lower < higher for lower, higher in pairwise(book.standard_ratings_a))
    assert {Decimal(rating) for rating in (15, 20, 25, 30, 35, 40, 45, 50, 60, 70, 80, 90, 100)} <= set(
        book.standard_ratings_a
    )


def test_every_table_says_what_it_is(book: Rulebook) -> None:
    for table in book.tables():
        assert table.table
        assert table.title
        assert table.edition
        assert table.range
        assert table.rows
    with pytest.raises(FileNotFoundError):
        read_table("no_such_table")
