"""At the ends of every family: supply, disconnect, receptacle, branch, neutral, white."""

from typing import Any

import pytest
from leitung_core.circuits import size_document

from tests.core.documents import codes, document, heater, segment


def cooling(volts: str, supply: dict[str, Any], **plate: Any) -> list[str]:
    return codes(size_document(document(plate={"volts": volts} | plate, supply=supply)))


@pytest.mark.parametrize(
    ("volts", "supply", "found"),
    [
        ("208/230", {"volts": 208}, "transformer-tap"),
        ("208/230", {"volts": 240}, None),
        ("230", {"volts": 208}, "supply-volts"),
        ("115", {"volts": 120}, None),
        ("115", {"volts": 240}, "supply-volts"),
        ("460", {"volts": 480, "volts_to_ground": 277}, None),
        ("277", {"volts": 277, "volts_to_ground": 277}, None),
        ("208", {"volts": 240}, "supply-volts"),
    ],
)
def test_the_supply_must_suit_the_plate(volts: str, supply: dict[str, Any], found: str | None) -> None:
    seen = set(cooling(volts, supply)) & {"supply-volts", "transformer-tap"}
    assert seen == ({found} if found else set())


@pytest.mark.parametrize(
    ("volts", "code"), [(240, None), (208, "heat-reduced"), (277, "supply-volts"), (216, None), (215, "heat-reduced")]
)
def test_a_heater_takes_less_voltage_with_less_heat_and_no_more_than_ten_percent_above(volts: float, code: str) -> None:
    doc = heater(5000, supply={"volts": volts, "volts_to_ground": 120}, proposed={"ocpd_a": None})
    assert set(codes(size_document(doc))) & {"heat-reduced", "supply-volts"} == ({code} if code else set())


def steps_of(doc: dict[str, Any], what: str) -> list[Any]:
    return [(step.value, step.formula) for step in size_document(doc).steps if step.what == what]


@pytest.mark.parametrize(
    ("volts", "supply", "value", "words"),
    [
        ("240", {"volts": 240}, "2 plus ground", "no neutral"),
        ("120/240", {"volts": 240}, "3 plus ground", "takes a neutral"),
        ("115", {"volts": 120}, "2 plus ground", "one line conductor and the neutral"),
        ("208/230", {"volts": 208, "phase": 3}, "3 plus ground", "no neutral"),
    ],
)
def test_whether_the_load_takes_a_neutral(volts: str, supply: dict[str, Any], value: str, words: str) -> None:
    plate = {"volts": volts, "phase": supply.get("phase", 1)}
    ((found, formula),) = steps_of(document(plate=plate, supply=supply), "Conductors")
    assert found == value
    assert words in formula


@pytest.mark.parametrize(
    ("supply", "asked"),
    [({"volts": 240}, True), ({"volts": 120}, False), ({"volts": 277, "volts_to_ground": 277}, False)],
)
def test_white_is_re_identified_only_between_two_lines(supply: dict[str, Any], asked: bool) -> None:
    doc = document([segment(conductor="12", white_reidentified=None)], {"volts": None}, supply=supply)
    assert ("white-reidentify" in codes(size_document(doc))) == asked


@pytest.mark.parametrize(
    ("kind", "article"),
    [
        ("unit_heater", "424.19"), ("mini_split_outdoor", "440.14"), ("condensate_pump", "430.102(B)"),
        ("steam_humidifier", "422.31"),
    ],
)  # fmt: skip
def test_the_disconnect_is_asked_for_by_the_article_of_the_family(kind: str, article: str) -> None:
    doc = document(kind=kind, proposed={"disconnect_a": None})
    (found,) = [finding for finding in size_document(doc).findings if finding.code == "disconnect-missing"]
    assert found.article == article


def test_a_plug_is_the_disconnect_and_a_feeder_has_none() -> None:
    plug = document(kind="dehumidifier", proposed={"disconnect_a": None, "receptacle_a": 15})
    plug["equipment"] |= {"cord_connected": True}
    feeder = document(kind="feeder", proposed={"disconnect_a": None})
    for doc in (plug, feeder):
        assert not [code for code in codes(size_document(doc)) if code.startswith("disconnect")]


@pytest.mark.parametrize(
    ("kind", "asked"),
    [("unit_heater", True), ("packaged_rooftop", True), ("steam_humidifier", False), ("roof_unit_120v", False)],
)
def test_a_receptacle_for_service_is_asked_for_at_heating_and_cooling_equipment(kind: str, asked: bool) -> None:
    doc = document(kind=kind, proposed={"receptacle_distance_ft": None})
    assert ("receptacle-missing" in codes(size_document(doc))) == asked


def shared(amps: float, branch: float, cord: bool, others: bool, kind: str = "dehumidifier") -> bool:
    doc = document(kind=kind, supply={"volts": 120}, proposed={"ocpd_a": branch, "receptacle_a": branch})
    doc["proposed"] |= {"other_outlets_on_branch": others}
    plate = {"volts": "115", "phase": 1, "amps": amps, "continuous": False}
    doc["equipment"] = {"kind": kind, "cord_connected": cord, "nameplate": plate}
    return "branch-share" in codes(size_document(doc), "stop")


@pytest.mark.parametrize(
    ("amps", "branch", "cord", "others", "too_much"),
    [
        (12.0, 15, True, False, False), (12.01, 15, True, False, True), (16.0, 20, True, True, False),
        (7.5, 15, False, True, False), (7.51, 15, False, True, True), (14.0, 15, False, False, False),
    ],
)  # fmt: skip
def test_eighty_percent_plugged_in_fifty_fastened_in_place(
    amps: float, branch: float, cord: bool, others: bool, too_much: bool
) -> None:
    assert shared(amps, branch, cord, others) == too_much


def test_cooling_on_cord_and_plug_takes_half_beside_other_outlets() -> None:
    """440.62(C)."""
    assert not shared(7.5, 15, True, True, "roof_unit_120v")
    assert shared(7.6, 15, True, True, "roof_unit_120v")
    assert not shared(12.0, 15, True, False, "roof_unit_120v")
