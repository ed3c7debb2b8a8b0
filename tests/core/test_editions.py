"""Editions and local amendments: what differs between them, and that a difference changes what it should."""

from typing import Any

import pytest
from leitung_core.circuits import size_document
from leitung_core.rulebook import EDITIONS, rulebook, schools

from tests.core.documents import codes, document, segment


def on_the_roof(edition: str, above_in: float) -> Any:
    run = [segment(method="THWN-2", raceway="EMT", place="roof", ambient_c=40, sunlit=True, above_roof_in=above_in)]
    return size_document(document(run, {"mca_a": 21.0, "max_ocpd_a": 30}, rulebook=edition, proposed={"ocpd_a": 30}))


def test_the_roof_counts_as_hot_up_to_seven_eighths_of_an_inch_in_2017() -> None:
    """40 + 33 = 73 °C, factor 0.50: 10 AWG carries 20 A, 8 AWG 27.5 A; without the sun 12 AWG 30 x 0.91, ends 20 A."""
    assert [on_the_roof(edition, 0.8).conductor for edition in EDITIONS] == ["8", "10", "10"]
    assert on_the_roof("us-2017", 0.875).conductor == "10"
    assert on_the_roof("us-2023", 0.74).conductor == "8"


def test_citations_are_those_of_the_edition() -> None:
    cited = {edition: " ".join(step.article for step in on_the_roof(edition, 0.5).steps) for edition in EDITIONS}
    assert "Table 310.15(B)(16)" in cited["us-2017"]
    assert "Table 310.16" in cited["us-2020"]
    assert "310.15(B)(2)(a)" in cited["us-2017"]
    assert "310.16" not in cited["us-2017"]
    assert rulebook("us-2017").cite("424.4(B), Table 310.16") == "424.3(B), Table 310.15(B)(16)"
    assert rulebook("us-2020").cite("240.4(D)(8)") == "240.4(D)(7)"
    assert rulebook("us-2023").cite("310.160") == rulebook("us-2017").cite("310.160") == "310.160"


@pytest.mark.parametrize(
    ("edition", "permit", "asked"),
    [
        ("us-2017", "2026-10-01", False), ("us-2020", "2022-08-31", False), ("us-2020", "2022-09-01", True),
        ("us-2023", "2026-08-31", False), ("us-2023", "2026-09-01", True),
    ],
)  # fmt: skip
def test_ground_fault_protection_by_edition_and_permit_date(edition: str, permit: str, asked: bool) -> None:
    result = size_document(document(occupancy="dwelling", rulebook=edition, permit_date=permit))
    assert ("gfci-outdoor" in codes(result)) == asked


def amended(choices: dict[str, str], doc: dict[str, Any], **days: str) -> Any:
    local = {"title": "a local rule", "said_by": "an authority", "said_on": "2025-01-01", "choices": choices, **days}
    return size_document(doc | {"amendments": [local]})


LARGE_DEVICE = document(
    [segment(method="THWN-2", raceway="EMT", conductor="12")],
    {"mca_a": 18.0, "max_ocpd_a": 30},
    proposed={"ocpd_a": 30},
)
HEAT_PUMP = document([segment(conductor="6")], kind="packaged_heat_pump", proposed={"ocpd_a": None})
HEAT_PUMP["equipment"] |= {
    "heat_with_cooling": False,
    "nameplate": {
        "volts": "240",
        "phase": 1,
        "compressors": [{"rla_a": 10.0}],
        "heat": {"watts": 8000, "rated_volts": 240},
    },
}
RLA_ONLY = document(kind="condensing_unit", proposed={"ocpd_a": None})
RLA_ONLY["equipment"]["nameplate"] = {"volts": "208/230", "phase": 1, "compressors": [{"rla_a": 16.0}]}
FUSE_PLATE = document(plate={"max_ocpd_type": "fuse"})
STUB = document([segment(conductor="12", place="outdoor", raceway="LFNC", length_ft=4)])
DWELLING = document(occupancy="dwelling", permit_date="2026-09-02")
CORD_HEATER = document(kind="unit_heater", proposed={"receptacle_a": 30, "ocpd_a": 30})
CORD_HEATER["equipment"] |= {
    "cord_connected": True, "nameplate": {"volts": "240", "phase": 1, "heat": {"watts": 4000, "rated_volts": 240}}
}  # fmt: skip
TOGETHER = document([segment(conductor="3")], kind="packaged_heat_pump", proposed={"ocpd_a": None})
TOGETHER["equipment"] |= {
    "heat_with_cooling": True,
    "nameplate": {"volts": "240", "phase": 1, "compressors": [{"rla_a": 10.0}, {"rla_a": 8.0}],
                  "heat": {"watts": 8000, "rated_volts": 240}},
}  # fmt: skip
LONG = document(
    [segment(method="THWN-2", raceway="EMT", conductor="12", length_ft=120)], {"compressors": [{"rla_a": 8.0}]}
)
GROWN = document(
    [segment(method="THWN-2", raceway="EMT", conductor="6")], {"mca_a": 30.0, "max_ocpd_a": 40}, proposed={"ocpd_a": 40}
)
CHANGED: dict[str, tuple[str, dict[str, Any], Any]] = {
    "compressor-device": ("next-up", RLA_ONLY, lambda r: r.max_ocpd_a),
    "small-conductor-440": ("matched", LARGE_DEVICE, lambda r: codes(r, "stop")),
    "egc-cap": ("table", LARGE_DEVICE, lambda r: r.egc),
    "egc-base": ("matched", GROWN, lambda r: r.proposed_egc),
    "fuse-only": ("breaker", FUSE_PLATE, lambda r: codes(r, "stop")),
    "heat-with-compressor": ("per-article", TOGETHER, lambda r: r.min_ampacity_a),
    "cooling-limit-below-heat": ("plate-only", HEAT_PUMP, lambda r: r.ocpd_a),
    "cord-heater": ("by-listing", CORD_HEATER, lambda r: codes(r, "warning")),
    "gfci-outdoor": ("required", DWELLING, lambda r: codes(r, "stop")),
    "drop-resistance": ("table-9", LONG, lambda r: r.voltage_drop_v),
    "drop-current": ("ampacity", LONG, lambda r: r.voltage_drop_v),
    "nm-b-stub": ("short-stub", STUB, lambda r: codes(r, "stop")),
    "fractions": ("drop-below-half", RLA_ONLY | {"equipment": RLA_ONLY["equipment"] | {
        "nameplate": {"volts": "208/230", "phase": 1, "compressors": [{"rla_a": 16.3}]}}}, lambda r: r.min_ampacity_a),
}  # fmt: skip


OF_THE_WIRING = {"control-cable-outdoors", "inter-unit-cable"}  # tests/core/wiring/test_findings.py


def test_every_school_has_a_test() -> None:
    assert set(CHANGED) | OF_THE_WIRING == set(schools())


@pytest.mark.parametrize("question", CHANGED)
def test_each_school_changes_what_it_is_about(question: str) -> None:
    answer, doc, figure = CHANGED[question]
    default = schools()[question].default
    assert answer != default
    before, stated, after = size_document(doc), amended({question: default}, doc), amended({question: answer}, doc)
    assert figure(stated) == figure(before)
    assert figure(after) != figure(before)


def test_an_amendment_holds_between_its_days() -> None:
    late = document(permit_date="2028-01-01") | {"run": STUB["run"]}
    choice = {"nm-b-stub": "short-stub"}
    held = amended(
        choice, late | {"permit_date": "2026-05-01"}, **{"holds_from": "2026-05-01", "holds_until": "2026-05-01"}
    )
    assert codes(held, "stop") == []
    passed = amended(choice, late, **{"holds_from": "2026-05-01", "holds_until": "2027-12-31"})
    assert {"nm-wet", "amendment-not-in-force"} <= set(codes(passed))
