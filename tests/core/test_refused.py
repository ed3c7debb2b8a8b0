"""What cannot be read or is not computed with is refused with field, value and remedy."""

from typing import Any

import pytest
from leitung_core.circuits import size_document
from leitung_core.errors import InputError
from leitung_core.plan.model import read_plan
from leitung_core.validation import parse_json

from tests.core.documents import document, segment


@pytest.mark.parametrize(
    ("doc", "field"),
    [
        (document(supply={"volts": 0}), "supply.volts"),
        (document([segment(length_ft=-1)]), "run.0.length_ft"),
        (document([segment(conductor="13")]), "run.0.conductor"),
        (document([segment(terminations_c=90)]), "run.0.terminations_c"),
        (document(plate={"mca_a": True}), "equipment.nameplate.mca_a"),
        (document(plate={"mca_a": "11"}), "equipment.nameplate.mca_a"),
        (document(plate={"mca_a": float("nan")}), "equipment.nameplate.mca_a"),
        (document(plate={"mca_a": 10**400}), "equipment.nameplate.mca_a"),
        (document(plate={"volts": "two hundred"}), "equipment.nameplate.volts"),
        (document(location="\x00"), "location"),
        (document(permit_date="yesterday"), "permit_date"),
        (document(surprise=1), "surprise"),
        (document(supply={"volts": 120, "phase": 3}), "supply.phase"),
        (document(supply={"volts": 277, "phase": 3}), "supply.phase"),
        (document(supply={"volts": 120, "volts_to_ground": 277}), "supply.volts_to_ground"),
        (document(rulebook="us-1999"), "rulebook"),
        (document(amendments=["nowhere-1"]), "amendments[0]"),
        (
            document(
                amendments=[
                    {"title": "x", "said_by": "y", "said_on": "2026-01-01", "choices": {"fuse-only": "sometimes"}}
                ]
            ),
            "amendments.0.amendment.choices",
        ),
        (document([segment(raceway_size="5/8")]), "run.0.raceway_size"),
        ({}, "equipment"),
    ],
)
def test_impossible_is_refused(doc: dict[str, Any], field: str) -> None:
    with pytest.raises(InputError) as caught:
        size_document(doc)
    assert field in [problem.field for problem in caught.value.problems]
    assert all(problem.message and problem.remedy for problem in caught.value.problems)


@pytest.mark.parametrize(
    "raw",
    [b"", b"{", b"[" * 100_000, b'{"a":' * 500 + b"1" + b"}" * 500, b'{"a": NaN}', b'{"a": "\\ud800"}', b"\xff\xfe"],
)  # fmt: skip
def test_unreadable_json_is_a_message(raw: bytes) -> None:
    with pytest.raises(InputError):
        read_plan(parse_json(raw, "plan"))


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"format": "other"}, "format"),
        ({"format_version": 99}, "format_version"),
        ({"format_version": "1"}, "format_version"),
        ({"name": ""}, "name"),
        ({"sources": []}, "sources"),
        ({"sources": {"a b": {}}}, "sources.a b"),
        ({"sources": {"P": {"volts": 120, "phase": 3}}}, "sources.P.phase"),
        (
            {
                "sources": {"P": {}, "Q": {}},
                "circuits": {"F": {"source": "P", "feeds": "Q"}, "G": {"source": "Q", "feeds": "P"}},
            },
            "sources.P",
        ),
        (
            {
                "sources": {"P": {}},
                "equipment": {"U": {"kind": "unit_heater"}},
                "circuits": {"F": {"equipment": "U", "feeds": "P"}},
            },
            "circuits.F.feeds",
        ),
        ({"amendments": {"nowhere": "shipped"}}, "amendments.nowhere"),
        ({"questions": {"Q": {"ask": "heat", "equipment": "U"}}}, "questions.Q.equipment"),
        ({"questions": {"Q": {"ask": "weather"}}}, "questions.Q"),
        ({"circuits": {"C": {"source": "nowhere"}}}, "circuits.C.source"),
        ({"circuits": {"C": {"run": {"s": {"method": "NM-B"}}}}}, "circuits.C.run.s.order"),
        ({"equipment": {f"U{i}": {"kind": "mini_split_outdoor"} for i in range(501)}}, "equipment"),
    ],
)
def test_a_plan_that_is_none_is_refused(change: dict[str, Any], field: str) -> None:
    with pytest.raises(InputError) as caught:
        read_plan({"format": "leitung-plan", "format_version": 2, "name": "x"} | change)
    assert field in [problem.field for problem in caught.value.problems]


@pytest.mark.parametrize("typed", ["{tag:>20000000}", "{", "}{", "{0}", "{error.__class__}", "x" * 200_000])
@pytest.mark.parametrize(
    "place",
    [
        lambda text: {"questions": {"Q": {"ask": text}}},
        lambda text: {"name": {text: 1}},
        lambda text: {"site": {"occupancy": text}},
        lambda text: {"sources": {"P": {text: 1}}},
        lambda text: {"amendments": {"a": {"title": "t", "said_by": "b", "said_on": "2026-01-01",
                                           "choices": {text: "x"}}}},
    ],
)  # fmt: skip
def test_what_was_typed_is_never_a_template(typed: str, place: Any) -> None:
    with pytest.raises(InputError) as caught:
        read_plan({"format": "leitung-plan", "format_version": 2, "name": "x"} | place(typed))
    assert len(str(caught.value)) < 5000
    assert all(problem.message and problem.remedy for problem in caught.value.problems)
