"""Where the rules of one circuit begin and end: each bound from both sides, by hand from its article (2023)."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.circuits import CircuitResult, size_document

from tests.core.documents import codes, document, heater, segment

Json = dict[str, Any]


def told(doc: Json) -> CircuitResult:
    return size_document(doc)


def pipe(**more: Any) -> Json:
    return segment(method="THWN-2", raceway="EMT", white_reidentified=None) | more


@pytest.mark.parametrize(
    ("proposed", "supply", "code", "found"),
    [
        # 440.12: 115 % of 11 A is 12.65 A.
        ({"disconnect_a": 12.65}, {}, "disconnect-small", False),
        ({"disconnect_a": 12.64}, {}, "disconnect-small", True),
        # Article 100: visible and at most 50 ft away.
        ({"disconnect_distance_ft": 50}, {}, "disconnect-out-of-sight", False),
        ({"disconnect_distance_ft": 50.1}, {}, "disconnect-out-of-sight", True),
        # 110.26(A)(1): 36 in to 150 V to ground, 42 in above (condition 2); 110.26(A)(2): 30 in wide.
        ({"working_depth_in": 36}, {}, "working-space", False),
        ({"working_depth_in": 35.9}, {}, "working-space", True),
        ({"working_depth_in": 36}, {"volts_to_ground": 150}, "working-space", False),
        ({"working_depth_in": 41.9}, {"volts_to_ground": 151}, "working-space", True),
        ({"working_depth_in": 42}, {"volts_to_ground": 151}, "working-space", False),
        ({"working_width_in": 30}, {}, "working-space", False),
        ({"working_width_in": 29.9}, {}, "working-space", True),
        # 210.63: a receptacle within 25 ft.
        ({"receptacle_distance_ft": 25}, {}, "receptacle-far", False),
        ({"receptacle_distance_ft": 25.1}, {}, "receptacle-far", True),
    ],
)  # fmt: skip
def test_what_stands_at_the_end_of_a_circuit(proposed: Json, supply: Json, code: str, found: bool) -> None:
    assert (code in codes(told(document(proposed=proposed, supply=supply)))) is found


@pytest.mark.parametrize(
    ("number", "factor"),
    [(1, 1), (3, 1), (4, 0.8), (6, 0.8), (7, 0.7), (9, 0.7), (10, 0.5), (20, 0.5), (21, 0.45), (30, 0.45),
     (31, 0.4), (40, 0.4), (41, 0.35)],
)  # fmt: skip
def test_conductors_together_carry_less(number: int, factor: float) -> None:
    """Table 310.15(C)(1)."""
    (part,) = told(document([pipe(current_carrying=number)])).segments
    assert part.factors["adjustment"] == factor


@pytest.mark.parametrize(("length_ft", "factor"), [(2, 1), (2.1, 0.8)])
def test_a_nipple_needs_no_adjustment(length_ft: float, factor: float) -> None:
    """310.15(C)(1)(2): a raceway of 24 in at most."""
    (part,) = told(document([pipe(current_carrying=4, length_ft=length_ft)])).segments
    assert part.factors["adjustment"] == factor


@pytest.mark.parametrize(
    ("ambient_c", "factor"),
    [(10, 1.15), (11, 1.12), (15, 1.12), (20, 1.08), (25, 1.04), (26, 1.0), (30, 1.0), (31, 0.96), (35, 0.96),
     (40, 0.91), (45, 0.87), (50, 0.82), (55, 0.76), (60, 0.71), (70, 0.58), (80, 0.41), (85, 0.29)],
)  # fmt: skip
def test_heat_and_cold_correct_at_ninety_degrees(ambient_c: float, factor: float) -> None:
    """Table 310.15(B)(1)(1), 90 °C column."""
    (part,) = told(document([pipe(ambient_c=ambient_c, current_carrying=3)])).segments
    assert part.factors["ambient"] == factor


@pytest.mark.parametrize(
    ("mca", "least"),
    [
        # Table 310.16, 60 °C, and 240.4(D): 14 AWG 15 A, 12 AWG 20, 10 AWG 30, 8 AWG 40, 6 AWG 55, 4 AWG 70.
        (15, "14"), (15.1, "12"), (20, "12"), (20.1, "10"), (30, "10"), (30.1, "8"), (40, "8"), (40.1, "6"), (55, "6"),
        (55.1, "4"), (70, "4"), (70.1, "3"), (85, "3"), (85.1, "2"), (95, "2"), (95.1, "1"),
        # Above 100 A terminations count at 75 °C (110.14(C)(1)(b)): 2 AWG 115 A, 1 AWG 130 A.
        (100, "1"), (100.1, "2"), (115, "2"), (115.1, "1"), (130, "1"), (130.1, "1/0"),
    ],
)  # fmt: skip
def test_the_least_conductor_by_the_table(mca: float, least: str) -> None:
    plate = {"mca_a": mca, "max_ocpd_a": 150}
    assert told(document([pipe(length_ft=10)], plate, proposed={"ocpd_a": None})).conductor_before_drop == least


@pytest.mark.parametrize(("mca", "least"), [(25, "12"), (25.1, "10"), (35, "10"), (35.1, "8"), (50, "8"), (50.1, "6")])
def test_ends_marked_seventy_five_degrees_carry_more(mca: float, least: str) -> None:
    """Table 310.16, 75 °C, where both ends are marked so (110.14(C)(1)(a)(3)); cooling is not tied to 240.4(D)."""
    plate = {"mca_a": mca, "max_ocpd_a": 60}
    doc = document([pipe(length_ft=10, terminations_c=75)], plate, proposed={"ocpd_a": None})
    assert told(doc).conductor_before_drop == least


@pytest.mark.parametrize(
    ("ocpd_a", "egc"),
    [(15, "14"), (20, "12"), (25, "10"), (30, "10"), (40, "10"), (60, "10"), (70, "8"), (100, "8"), (110, "6"),
     (200, "6"), (225, "4"), (300, "4")],
)  # fmt: skip
def test_the_grounding_conductor_by_its_device(ocpd_a: float, egc: str) -> None:
    """Table 250.122, with circuit conductors large enough that its cap says nothing."""
    plate = {"mca_a": 11, "max_ocpd_a": ocpd_a}
    doc = document([pipe(length_ft=10, conductor="3/0")], plate, proposed={"ocpd_a": ocpd_a, "disconnect_a": 400})
    steps = [row.value for row in told(doc).steps if "250.122" in row.article and row.value in (egc, f"{egc} AWG")]
    assert steps, [row for row in told(doc).steps if "250.122" in row.article]


@pytest.mark.parametrize(
    ("amps", "device"),
    [
        (12, 15),
        (12.1, 20),
        (16, 20),
        (16.1, 25),
        (20, 25),
        (24, 30),
        (24.1, 35),
        (28, 35),
        (32, 40),
        (36, 45),
        (40, 50),
    ],
)
def test_a_continuous_load_takes_a_quarter_more_and_an_exact_tie_is_exact(amps: float, device: float) -> None:
    """210.20(A), 240.6(A): 1.25 x 16 A is 20 A, and no more."""
    doc = document([pipe(length_ft=10)], kind="steam_humidifier", proposed={"ocpd_a": None, "disconnect_a": 60})
    doc["equipment"]["nameplate"] = {"volts": "240", "phase": 1, "amps": amps, "continuous": True}
    assert told(doc).ocpd_a == device


@pytest.mark.parametrize(
    ("watts", "amps", "device"),
    [
        (3840, 20.0, 20),  # 16 A x 1.25 (424.4(B)): an exact tie
        (3841, 20.005, 25),
        (5760, 30.0, 30), (9600, 50.0, 50), (9601, 50.005, 60),
    ],
)  # fmt: skip
def test_electric_heat_takes_a_quarter_more(watts: float, amps: float, device: float) -> None:
    doc = heater(watts, proposed={"ocpd_a": None, "disconnect_a": 100}, wire={"conductor": None, "method": "THWN-2"})
    doc["run"][0] |= {"raceway": "EMT"}
    found = told(doc)
    assert found.min_ampacity_a == pytest.approx(amps, abs=1e-3)
    assert found.ocpd_a == device


@pytest.mark.parametrize(
    ("rla", "most", "raised"),
    [
        (20, 35, 45),  # 175 % is 35 A, an exact tie; 225 % is 45 A
        (19.9, 30, 40),  # 34.8 and 44.8 A: the standard rating below
        (20.1, 35, 45),
        (8, 15, 15),  # 14 A: never below 15 A; 18 A
        (10, 15, 20),  # 17.5 A; 22.5 A
    ],
)
def test_a_compressor_without_a_marked_device_has_a_ceiling(rla: float, most: float, raised: float) -> None:
    """440.22(A): 175 % of the RLA, 225 % where that does not start it, which the plan has to say why."""
    plate = {"mca_a": None, "max_ocpd_a": None, "max_ocpd_type": None, "compressors": [{"rla_a": rla}]}
    plain = told(document([pipe(length_ft=10)], plate, proposed={"ocpd_a": None}))
    why = told(document([pipe(length_ft=10)], plate, proposed={"ocpd_a": raised, "ocpd_reason": "does not start"}))
    assert plain.max_ocpd_a == most
    assert plain.min_ampacity_a == pytest.approx(1.25 * rla)
    assert "ocpd-above-ceiling" not in codes(why)
    above = told(
        document([pipe(length_ft=10)], plate, proposed={"ocpd_a": raised + 5, "ocpd_reason": "does not start"})
    )
    assert "ocpd-above-ceiling" in codes(above)


@pytest.mark.parametrize(
    ("length_ft", "found"),
    [
        (152, None),
        (153, "drop-marginal"),  # 0.9 x 7.2 V: 152.6 ft
        (169.5, "drop-marginal"),
        (169.7, "voltage-drop"),  # 2 x 169.57 ft x 1.93 ohm/kft x 11 A = 7.2 V, 3 % of 240 V
    ],
)
def test_the_drop_is_advised_against_from_three_percent(length_ft: float, found: str | None) -> None:
    """Chapter 9 Table 8: 12 AWG solid 1.93 ohm a thousand feet; the plate gives no running current, so 11 A."""
    result = told(document([segment(conductor="12", construction="solid", length_ft=length_ft)]))
    assert set(codes(result)) & {"drop-marginal", "voltage-drop"} == ({found} if found else set())
    assert result.voltage_drop_v == pytest.approx(2 * length_ft * 1.93 * 11 / 1000, rel=1e-6)


@pytest.mark.parametrize(
    ("plug_a", "branch_a", "found"), [(16, 20, False), (16.1, 20, True), (12, 15, False), (12.1, 15, True)]
)
def test_a_plugged_in_load_takes_four_fifths_of_its_branch(plug_a: float, branch_a: float, found: bool) -> None:
    """210.23(A)(1)."""
    doc = document([segment(conductor="12", white_reidentified=None)], kind="dehumidifier",
                   supply={"volts": 120}, proposed={"ocpd_a": branch_a})  # fmt: skip
    doc["equipment"] |= {"cord_connected": True}
    doc["equipment"]["nameplate"] = {"volts": "115", "phase": 1, "amps": plug_a, "continuous": False}
    assert bool([code for code in codes(told(doc)) if code.startswith("branch-")]) is found
