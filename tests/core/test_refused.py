"""What cannot be read or is not computed with is refused with field, value and remedy."""

from typing import Any

import pytest
from leitung_core.circuits import size_document
from leitung_core.errors import InputError, NotHandledYet
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
        ({}, "equipment"),
    ],
)
def test_impossible_is_refused(doc: dict[str, Any], field: str) -> None:
    with pytest.raises(InputError) as caught:
        size_document(doc)
    assert field in [problem.field for problem in caught.value.problems]
    assert not isinstance(caught.value, NotHandledYet)


@pytest.mark.parametrize(
    ("doc", "field"),
    [
        (document(kind="unit_heater"), "equipment.kind"),
        (document(rulebook="us-2017"), "rulebook"),
        (document(amendments=["local-1"]), "amendments"),
        (document(plate={"heat": {"watts": 5000}}), "equipment.nameplate.heat"),
        (document(plate={"mca_a": None, "compressors": [{"rla_a": 9}]}), "equipment.nameplate.compressors"),
        (document([segment(method="cord")]), "run[0].method"),
        (document(proposed={"receptacle_a": 20}), "proposed.receptacle_a"),
    ],
)
def test_what_is_not_computed_with_is_refused_not_ignored(doc: dict[str, Any], field: str) -> None:
    with pytest.raises(NotHandledYet) as caught:
        size_document(doc)
    assert field in [problem.field for problem in caught.value.problems]


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
        ({"circuits": {"C": {"source": "nowhere"}}}, "circuits.C.source"),
        ({"circuits": {"C": {"run": {"s": {"method": "NM-B"}}}}}, "circuits.C.run.s.order"),
        ({"equipment": {f"U{i}": {"kind": "mini_split_outdoor"} for i in range(501)}}, "equipment"),
    ],
)
def test_a_plan_that_is_none_is_refused(change: dict[str, Any], field: str) -> None:
    with pytest.raises(InputError) as caught:
        read_plan({"format": "leitung-plan", "format_version": 1, "name": "x"} | change)
    assert field in [problem.field for problem in caught.value.problems]
