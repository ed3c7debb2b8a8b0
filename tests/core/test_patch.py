"""Merge patches: the published examples, inversion, and who touches what."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.plan.describe import describe, differences
from leitung_core.plan.patch import clash, diff, merge, touched

# RFC 7386, appendix A, those that concern objects.
RFC_7386 = [
    ({"a": "b"}, {"a": "c"}, {"a": "c"}),
    ({"a": "b"}, {"b": "c"}, {"a": "b", "b": "c"}),
    ({"a": "b"}, {"a": None}, {}),
    ({"a": "b", "b": "c"}, {"a": None}, {"b": "c"}),
    ({"a": ["b"]}, {"a": "c"}, {"a": "c"}),
    ({"a": "c"}, {"a": ["b"]}, {"a": ["b"]}),
    ({"a": {"b": "c"}}, {"a": {"b": "d", "c": None}}, {"a": {"b": "d"}}),
    ({"a": [{"b": "c"}]}, {"a": [1]}, {"a": [1]}),
    (["a", "b"], ["c", "d"], ["c", "d"]),
    ({"a": "b"}, ["c"], ["c"]),
    ({"a": "foo"}, None, None),
    ({"e": None}, {"a": 1}, {"e": None, "a": 1}),
    ([1, 2], {"a": "b", "c": None}, {"a": "b"}),
    ({}, {"a": {"bb": {"ccc": None}}}, {"a": {"bb": {}}}),
]

values = st.recursive(
    st.integers() | st.text(max_size=3), lambda v: st.dictionaries(st.sampled_from("abcd"), v), max_leaves=8
)
objects = st.dictionaries(st.sampled_from("abcd"), values)


@pytest.mark.parametrize(("document", "patch", "expected"), RFC_7386)
def test_published_examples(document: Any, patch: Any, expected: Any) -> None:
    assert merge(document, patch) == expected


@given(objects, objects)
def test_a_difference_is_a_patch_and_has_an_inverse(before: dict[str, Any], after: dict[str, Any]) -> None:
    assert merge(before, diff(before, after)) == after
    assert merge(merge(before, diff(before, after)), diff(after, before)) == before


@pytest.mark.parametrize(
    ("patch", "elements"),
    [
        ({"name": "x"}, {"name"}),
        ({"site": {"place": "x"}}, {"site/place"}),
        ({"sources": {"PA": {"volts": 208}}}, {"sources/PA/volts"}),
        ({"equipment": {"OU-1": {"nameplate": {"mca_a": 9}}}}, {"equipment/OU-1/nameplate"}),
        ({"circuits": {"MS-1": {"ocpd": {"rating_a": 20}}}}, {"circuits/MS-1/ocpd"}),
        ({"circuits": {"MS-1": {"run": {"s1": {"length_ft": 9}, "s2": None}}}},
         {"circuits/MS-1/run/s1", "circuits/MS-1/run/s2"}),
        ({"circuits": {"MS-1": None}}, {"circuits/MS-1"}),
    ],
)  # fmt: skip
def test_elements_touched(patch: dict[str, Any], elements: set[str]) -> None:
    assert touched(patch) == elements


def test_clash_is_the_same_part_or_what_holds_it() -> None:
    breaker = touched({"circuits": {"MS-1": {"ocpd": {"rating_a": 20}}}})
    segment = touched({"circuits": {"MS-1": {"run": {"s1": {"length_ft": 9}}}}})
    removed = touched({"circuits": {"MS-1": None}})
    assert not clash(breaker, segment)
    assert clash(breaker, removed) == breaker
    assert clash(removed, segment) == removed


def test_a_change_in_words() -> None:
    before = {
        "circuits": {"MS-1": {"ocpd": {"rating_a": 20.0}, "run": {"s1": {"length_ft": 38.0, "place": "crawl_space"}}}}
    }
    patch = {"circuits": {"MS-1": {"ocpd": {"rating_a": 15.0}, "run": {"s1": {"length_ft": None}}, "gfci": True}}}
    assert describe(before, patch) == (
        "MS-1 breaker rating 15 A, was 20 A, MS-1 crawl space length no longer known, was 38 ft, MS-1 gfci yes"
    )


def test_what_came_and_went_in_words() -> None:
    before = {"circuits": {"RT-1": {"equipment": "RT-1"}}, "equipment": {"RT-1": {}}, "cables": {"T": {}, "U": {}}}
    patch = {
        "circuits": {"MS-1": {"equipment": "MS-1"}, "RT-1": None},
        "equipment": {"MS-1": {"name": "north"}, "RT-1": None, "AH-1": {}},
        "cables": {"T": {"length_ft": 30, "awg": "18"}, "U": None},
    }
    assert describe(before, patch) == (
        "added the line of MS-1 and unit AH-1, took out the line of RT-1 and cable U, T length 30 ft, awg 18"
    )


def test_calls_of_a_start_and_ranges_in_words() -> None:
    before = {"sources": {"GE": {"calls": {"RU-2": {"at_s": 20}}, "generator": {"running_w": 3600}}}}
    calls = {"RU-2": {"at_s": 12.5, "off": None}, "RU-1": {"off": True, "at_s": None}}
    patch = {"sources": {"GE": {"calls": calls, "generator": {"running_w": [1800, 2400]}}}}
    assert describe(before, patch) == (
        "RU-2 called at 12.5 s on GE, was 20 s, RU-1 left off on GE, GE generator running 1800 to 2400 W, was 3600 W"
    )


def test_two_versions_side_by_side() -> None:
    standing = {
        "circuits": {"MS-1": {"disconnect": {"in_sight": True}, "run": {"s1": {"name": "whip", "length_ft": 3}}}}
    }
    patch = {"circuits": {"MS-1": {"disconnect": {"in_sight": None, "rating_a": 60}, "run": {"s1": {"length_ft": 6}}}}}
    assert [(c.what, c.yours, c.stands) for c in differences(standing, patch)] == [
        ("MS-1 disconnect in sight", "not known", "yes"),
        ("MS-1 disconnect rating", "60 A", "not known"),
        ("MS-1 whip length", "6 ft", "3 ft"),
    ]


def test_changes_to_panels_questions_and_lists_in_words() -> None:
    before = {
        "sources": {"MP": {"measured_peak_a": 84}},
        "questions": {"bay": {"ask": "heat", "area_ft2": 640}},
        "equipment": {"CU-1": {"nameplate": {"compressors": [{"rla_a": 12.2}]}}},
    }
    patch = {
        "sources": {"MP": {"measured_peak_a": 90, "existing": {"X1": {"spaces": [1, 3]}}}},
        "questions": {"bay": {"area_ft2": 700}},
        "equipment": {"CU-1": {"nameplate": {"compressors": [{"rla_a": 13.7, "lra_a": 79}]}}},
    }
    assert describe(before, patch) == (
        "MP measured peak 90 A, was 84 A, existing added, bay area 700 ft², was 640 ft², "
        "CU-1 plate compressors RLA 13.7 A, LRA 79 A, was RLA 12.2 A"
    )
