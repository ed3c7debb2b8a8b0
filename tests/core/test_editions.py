"""Editions and local amendments: what differs between them, and that a difference changes what it should."""

import json
from decimal import Decimal
from pathlib import Path
from typing import Any

import pytest
from leitung_core.circuits import size_document
from leitung_core.plan.model import read_plan
from leitung_core.result import check_plan
from leitung_core.rulebook import editions, rulebook, schools
from leitung_core.rulebook.tables import read_table
from leitung_demo import museum

from tests.core.documents import codes, document, heater, segment


def on_the_roof(edition: str, above_in: float) -> Any:
    run = [segment(method="THWN-2", raceway="EMT", place="roof", ambient_c=40, sunlit=True, above_roof_in=above_in)]
    return size_document(document(run, {"mca_a": 21.0, "max_ocpd_a": 30}, rulebook=edition, proposed={"ocpd_a": 30}))


def test_the_roof_counts_as_hot_up_to_seven_eighths_of_an_inch_in_2017() -> None:
    """40 + 33 = 73 °C, factor 0.50: 10 AWG carries 20 A, 8 AWG 27.5 A; without the sun 12 AWG 30 x 0.91, ends 20 A."""
    assert [on_the_roof(edition, 0.8).conductor for edition in editions()] == ["8", "10", "10"]
    assert on_the_roof("us-2017", 0.875).conductor == "10"
    assert on_the_roof("us-2023", 0.74).conductor == "8"


def test_citations_are_those_of_the_edition() -> None:
    cited = {edition: " ".join(step.article for step in on_the_roof(edition, 0.5).steps) for edition in editions()}
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


CHANGED["duct-detector-side"] = (
    "return", document(plate={"supply_cfm": 2400.0}), lambda r: [f.message for f in r.findings if "cfm" in f.message],
)  # fmt: skip
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


PUBLISHED = Path(__file__).resolve().parents[1] / "published"
FACTORS = json.loads((PUBLISHED / "factors.json").read_text("utf-8"))


def test_every_factor_is_what_its_article_says() -> None:
    """A second transcription by hand, apart from the code: a slip in either shows."""
    book = rulebook("us-2023")
    assert FACTORS["factors"].keys() == {row["key"] for row in read_table("factors").rows}
    wrong = {key: (book.factor(key), said) for key, said in FACTORS["factors"].items()
             if abs(book.factor(key) - Decimal(str(said))) > Decimal("1e-9")}  # fmt: skip
    assert wrong == {}


def test_a_local_figure_changes_what_it_is_about_and_says_so() -> None:
    """A jurisdiction that accepts a stub of 2 ft, and wants detectors from 1500 cfm on."""
    choices = {"nm-b-stub": "short-stub"}
    local = {"title": "local figures", "said_by": "an authority", "said_on": "2026-01-01", "choices": choices,
             "figures": {"sheathed-stub": 2.0, "duct-detector": 1500.0}}  # fmt: skip
    assert codes(amended(choices, STUB), "stop") == []
    assert "nm-wet" in codes(size_document(STUB | {"amendments": [local]}), "stop")
    air = document(plate={"supply_cfm": 1600.0})
    assert "duct-detectors" not in codes(size_document(air))
    found = size_document(air | {"amendments": [local]})
    assert "1600 cfm is above 1500 cfm" in next(f.message for f in found.findings if f.code == "duct-detectors")


INVENTED = {
    "edition.json": json.dumps({"id": "zz-2031", "title": "Code of nowhere 2031", "from_day": "2031-01-01",
                                "source": "made up for this test"}),
    "articles.csv": "# table: articles\n# title: x\n# edition: 2031\n# range: x\n# key: rule\nrule,article,uncertain\n"
    "424.4(B),711.3,\nTable 310.16,Table Z.9,\n250.122,812.1,\n725.136,640.2,\n",
    "factors.csv": "# table: factors\n# title: x\n# edition: 2031\n# range: x\n# key: key\n"
    "key,value,unit,article,source,says,uncertain\nheat,1.5,x,424.4(B),code,x,\ndrop-branch,2,%,x,advice,x,\n"
    "receptacle,40,ft,210.63,code,x,\nsight,20,ft,x,code,x,\n",
    "240_6A.csv": "# table: ratings\n# title: x\n# edition: 2031\n# range: x\nrating_A\n16\n25\n40\n63\n",
    "rooftop_310_15_B_2.csv": "# table: roof\n# title: x\n# edition: 2031\n# range: x\n"
    "below_in,adder_c,exempt_method,uncertain\n1,10,none,\n",
}  # fmt: skip


@pytest.fixture
def invented(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> str:
    folder = tmp_path / "zz-2031"
    folder.mkdir()
    for name, text in INVENTED.items():
        (folder / name).write_text(text)
    monkeypatch.setenv("LEITUNG_EDITIONS", str(tmp_path))
    return "zz-2031"


def test_an_edition_is_added_by_files_alone(invented: str) -> None:
    """5 kW on 240 V is 20.83 A: 150 % is 31.25 A, next of its ratings 40 A; 2023: 26.04 A, 30 A."""
    doc = heater(
        rulebook=invented,
        proposed={
            "ocpd_a": None,
            "disconnect_distance_ft": 25,
            "disconnect_in_sight": None,
            "receptacle_distance_ft": 35,
        },
        wire={"conductor": "8", "length_ft": 90},
    )
    new, old = size_document(doc), size_document(doc | {"rulebook": "us-2023"})
    assert (new.min_ampacity_a, new.ocpd_a) == (31.25, 40.0)
    assert (old.min_ampacity_a, old.ocpd_a) == (26.041667, 30.0)
    cited = " ".join(step.article for step in new.steps)
    assert all(article in cited for article in ("711.3", "Table Z.9", "812.1"))
    assert not [article for article in ("424.4(B)", "310.16") if article in cited]
    assert any("150 % of heat" in step.formula for step in new.steps)
    assert {"disconnect-out-of-sight", "disconnect-small"} == set(codes(new)) - set(codes(old))
    assert {"receptacle-far"} == set(codes(old)) - set(codes(new)) - {"disconnect-sight-unknown", "egc-too-small"}
    assert on_the_roof(invented, 0.8).conductor != on_the_roof("us-2023", 0.7).conductor


def test_every_finding_of_a_plan_is_cited_by_its_edition(invented: str) -> None:
    beside = {"cables": {"TC-1": {"route": {"r1": {"order": 1, "spot": "interior", "with_power": True}}}}}
    plan = museum() | {"rulebook": invented}
    plan["cables"]["TC-1"] |= beside["cables"]["TC-1"]
    result = check_plan(read_plan(plan))
    assert result.edition == "Code of nowhere 2031"
    articles = " ".join(
        [f.article for f in result.findings] + [s.article for p in result.panels.values() for s in p.steps]
    )
    assert next(f.article for f in result.findings if f.code == "control-with-power") == "640.2"
    assert not [article for article in ("725.136", "424.4(B)") if article in articles]
