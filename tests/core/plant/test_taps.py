"""What is tapped off a line, by hand: 240.4(D), 240.21(B), and Table 310.16 at 60 °C, to which nothing is marked here.

14 AWG carries 15 A and may stand behind 15 A, 12 AWG 20, 10 AWG 30, 8 AWG 40, 6 AWG 55 A behind 60 (240.4(B), 240.6).
"""

from __future__ import annotations

import pytest
from leitung_core.plan.patch import merge

from tests.core.plant.test_one_plant import Json, by_hand, lamp, of, told


def second_heater(awg: str, ocpd_a: float = 50) -> Json:
    """A heater of 5000 W at 240 V, 20.8 A, tapped off the switch of another."""
    plan = merge(lamp(awg=awg, ocpd_a=ocpd_a), {"devices": {"L": None}, "cables": {"T1": None}})
    wires = {
        "black": {"a": {"terminal": "D.load.T1", "pigtail": True}, "b": {"terminal": "H2.power.L1"}},
        "red": {"a": {"terminal": "D.load.T2", "pigtail": True}, "b": {"terminal": "H2.power.L2"}},
        "green": {"a": {"terminal": "D.gnd.G", "pigtail": True}, "b": {"terminal": "H2.power.GND"}},
    }
    cable = lamp(awg=awg)["cables"]["T1"] | {"b": {"device": "H2"}, "conductors": wires}
    return merge(plan, {"devices": {"H2": {"type": "unit-heater", "spot": "interior"}}, "cables": {"T2": cable}})


@pytest.mark.parametrize(
    ("awg", "ocpd_a", "codes"),
    [
        ("14", 50, {"conductor-too-small", "tap-not-protected"}),
        ("12", 50, {"conductor-too-small", "tap-not-protected"}),  # 20 A for 20.8
        ("10", 50, {"tap-not-protected"}),
        ("10", 30, set()),
        ("8", 50, {"tap-not-protected"}),
        ("8", 40, set()),
        ("6", 60, set()),
        ("6", 70, {"tap-not-protected"}),
    ],
)  # fmt: skip
def test_a_tap_carries_what_is_behind_it_and_is_protected(awg: str, ocpd_a: float, codes: set[str]) -> None:
    found = [row for row in told(second_heater(awg, ocpd_a)).findings if row.about.startswith("cables/T2/awg")]
    assert {row.code for row in found} == codes
    for row in found:
        assert "20.8 A is drawn behind it" in row.message or row.code == "tap-not-protected"


@pytest.mark.parametrize(("awg", "most", "larger"), [("14", 15, "6"), ("12", 20, "6"), ("10", 30, "6"), ("8", 40, "6")])
def test_the_way_out_is_the_thinnest_that_the_device_protects(awg: str, most: int, larger: str) -> None:
    plan = second_heater(awg)
    (row,) = of(told(plan), "tap-not-protected")
    assert f"may stand behind {most} A at most" in row.message
    assert row.fix == {"cables": {"T2": {"awg": larger}}}
    assert [way.message for way in row.ways or []] == [
        f"fuses of at most {most} A within 10 ft of the line", f"a breaker of at most {most} A in the panel"
    ]  # fmt: skip
    after = [entry for entry in told(merge(plan, row.fix)).findings if entry.about.startswith("cables/T2")]
    assert not [entry for entry in after if entry.severity == "stop"]


@pytest.mark.parametrize(
    ("change", "lacking"),
    [
        ({"circuits": {"H": {"ocpd": {"rating_a": None}}}}, "the device ahead of it"),
        ({"cables": {"T1": {"awg": None}}}, "its gauge or construction"),
        ({"cables": {"T1": {"family": None}}}, "its gauge or construction"),
    ],
)  # fmt: skip
def test_a_tap_of_which_something_is_not_known_is_not_judged_and_says_so(change: Json, lacking: str) -> None:
    result = told(merge(lamp(), change))
    (row,) = of(result, "tap-unknown")
    assert f"and {lacking} is not known" in row.message
    assert not of(result, "tap-not-protected")


@pytest.mark.parametrize(
    ("length_ft", "ocpd_a", "code"),
    [
        (10, 60, "tap-by-length"), (10.1, 60, "tap-not-protected"),  # a tenth of 60 A is 6
        (25, 45, "tap-by-length"), (25.1, 45, "tap-not-protected"), (25, 50, "tap-not-protected"),
        (10, 150, "tap-by-length"), (10, 175, "tap-not-protected"),  # a tenth of 175 A is more than 15
    ],
)  # fmt: skip
def test_a_tap_by_length_ends_at_ten_and_at_twenty_five_feet(length_ft: float, ocpd_a: float, code: str) -> None:
    result = told(lamp(fuse=True, length_ft=length_ft, ocpd_a=ocpd_a))
    assert [row.code for row in result.findings if row.about.startswith("cables/T0") and "tap" in row.code] == [code]


def test_without_its_length_a_tap_has_no_rule_by_length() -> None:
    plan = merge(lamp(fuse=True), {"cables": {"T0": {"route": {"r1": {"length_ft": None}}}}})
    assert [row.about for row in of(told(plan), "tap-not-protected")] == ["cables/T0/awg"]


def test_a_line_without_taps_has_none() -> None:
    result = told(by_hand("6"))
    assert not [row for row in result.findings if row.code.startswith("tap-")]
    assert result.drawn["H"].taps == ()


@pytest.mark.parametrize(("ambient_c", "small"), [(70, False), (71, True)])
def test_a_tap_is_corrected_for_the_heat_of_its_way(ambient_c: float, small: bool) -> None:
    """10 AWG at 90 °C is 40 A: x 0.58 to 70 °C is 23.2, x 0.50 to 75 °C is 20 A, for 20.8 (Table 310.15(B)(1))."""
    plan = merge(second_heater("10", 30), {"cables": {"T2": {"route": {"r1": {"ambient_c": ambient_c}}}}})
    assert bool([row for row in of(told(plan), "conductor-too-small") if row.about == "cables/T2/awg"]) is small


def own_behind(awg: str, *parts: Json) -> Json:
    """A device of one's own where the second heater was: 240 V, 30 A ahead."""
    strip = {"id": "power", "name": "power", "awg_min": "14", "awg_max": "4", "terminals": [
        {"id": "L1", "function": "line-1"}, {"id": "L2", "function": "line-2"}, {"id": "GND", "function": "ground"},
        {"id": "R", "function": "hot"}, {"id": "C", "function": "common"}]}  # fmt: skip
    kind = {"id": "own", "name": "own", "group": "board", "strips": [strip], "inside": [*parts]}
    return merge(second_heater(awg, 30), {"device_types": {"own": kind}, "devices": {"H2": {"type": "own"}}})


def of_va(va: float | None, volts: float = 240, name: str = "X") -> Json:
    return {"type": "load", "id": name, "a": "power.L1", "b": "power.L2", "va": va, "rated_volts": volts}


def transformer(va: float | None, *taps: float) -> Json:
    return {"type": "transformer", "id": "T", "primary_common": "power.L2", "secondary_plus": "power.R",
            "secondary_minus": "power.C", "secondary_volts": 24, "va": va,
            "primary_taps": [{"terminal": "power.L1" if n == 0 else f"_t{n}", "volts": volts}
                             for n, volts in enumerate(taps)]}  # fmt: skip


@pytest.mark.parametrize(
    ("parts", "drawn"),
    [
        ([of_va(7200)], None), ([of_va(7224)], "30.1"),  # 10 AWG carries 30 A at 60 °C
        ([of_va(3600), of_va(3720, name="Y")], "30.5"),
        ([of_va(9000, 60)], None), ([of_va(9000, 61)], "147.5"),  # control volts stand behind a transformer
        ([of_va(None)], None), ([transformer(None, 240)], None),
        ([transformer(7320, 240)], "30.5"),
        ([transformer(4000, 240, 120)], "33.3"),  # the lowest of its taps is the worst
        ([transformer(3600, 240), of_va(3720)], "30.5"),
    ],
)  # fmt: skip
def test_what_a_tapped_device_draws_is_the_sum_of_its_ratings(parts: list[Json], drawn: str | None) -> None:
    found = [row for row in of(told(own_behind("10", *parts)), "conductor-too-small") if row.about == "cables/T2/awg"]
    assert [f"{drawn} A is drawn behind it" in row.message for row in found] == ([True] if drawn else [])
