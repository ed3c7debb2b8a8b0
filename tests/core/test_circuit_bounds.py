"""Where the rules of one circuit begin and end: each bound from both sides, by hand from its article (2023)."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.circuits import CircuitResult, size_document
from leitung_core.circuits.plate import SYSTEM_OF_PLATE, SYSTEMS
from leitung_core.circuits.wire_ohms import ohm_per_kft
from leitung_core.errors import InputError

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


@pytest.mark.parametrize(("continuous", "needed"), [(True, 11.25), (False, 9.0)])
def test_what_is_not_continuous_is_carried_as_it_is(continuous: bool, needed: float) -> None:
    """210.19(A)(1): 125 % of 9 A where it is on for three hours or more, 9 A where it is not."""
    plate = {"volts": "240", "phase": 1, "amps": 9.0, "continuous": continuous}
    doc = document(kind="dehumidifier")
    assert size_document(doc | {"equipment": {"kind": "dehumidifier", "nameplate": plate}}).min_ampacity_a == needed


@pytest.mark.parametrize(
    ("conductor", "ambient_c", "most", "article"),
    [
        ("12", 30, "20 A is the most", "240.4(D)(6)"),  # 20 A carried: both say 20, the small-conductor rule is cited
        (
            "10",
            58,
            "30 A is the most",
            "240.4(D)(8)",
        ),  # 40 x 0.71 = 28.4 A: next rating, its limit too
        ("10", 68, "25 A is the most", "240.4(B)"),  # 40 x 0.58 = 23.2 A
    ],
)
def test_the_most_that_protects_a_conductor_is_the_lesser_of_both_rules(
    conductor: str, ambient_c: float, most: str, article: str
) -> None:
    doc = heater(4800, wire={"conductor": conductor, "ambient_c": ambient_c}, proposed={"ocpd_a": 40})
    (found,) = [row for row in size_document(doc).findings if row.code == "conductor-not-protected"]
    assert most in found.message
    assert found.article == article


def test_plates_print_utilisation_volts_of_their_systems() -> None:
    """ANSI C84.1: 110 to 120 for 120, 200 for 208, 220 to 240 for 240, 265 for 277, 440 to 480 for 480 V."""
    by_system = {120: {110, 115, 120}, 208: {200, 208}, 240: {220, 230, 240}, 277: {265, 277}, 480: {440, 460, 480}}
    assert {system: {p for p, s in SYSTEM_OF_PLATE.items() if s == system} for system in SYSTEMS} == by_system


@pytest.mark.parametrize(("volts", "refused"), [(199.9, True), (200, False), (277, True), (480, False)])
def test_three_phases_begin_at_200_volts(volts: float, refused: bool) -> None:
    doc = document(plate={"phase": 3, "volts": None}, supply={"volts": volts, "phase": 3})
    if refused:
        with pytest.raises(InputError, match="three phases do not exist"):
            size_document(doc)
    else:
        size_document(doc)


def test_conductors_that_take_a_cables_place_count_three() -> None:
    (found,) = [
        row for row in size_document(document([segment(conductor="12", place="outdoor", length_ft=4,
                                                       current_carrying=None)])).findings if row.code == "nm-wet"
    ]  # fmt: skip
    assert found.fix is not None
    assert found.fix["run"][0]["current_carrying"] == 3


def test_a_stretch_without_a_method_leaves_the_drop_open() -> None:
    plate = {"compressors": [{"rla_a": 8.0, "lra_a": 40}]}
    result = size_document(document([segment(conductor="12"), segment(method=None)], plate))
    assert (result.voltage_drop_v, result.start_drop_v, result.conductor) == (None, None, None)


def test_a_choice_is_explained_where_there_is_one() -> None:
    def recommended(most: float) -> list[float | str | None]:
        steps = size_document(document(plate={"max_ocpd_a": most})).steps
        return [row.value for row in steps if row.what == "Recommended"]

    assert recommended(15) == []
    assert recommended(25) == [25], "15, 20 and 25 A will do; a compressor starts"


@pytest.mark.parametrize(("volts", "stopped"), [(197.9, True), (198, False), (242, False), (242.1, True)])
def test_a_printed_voltage_reaches_a_tenth_to_each_side(volts: float, stopped: bool) -> None:
    """A plate of 220 V: 198 to 242 V; figures that are no system's nominal volts, measured ones for instance."""
    found = size_document(document(plate={"volts": "220"}, supply={"volts": volts}))
    assert ("supply-volts" in [row.code for row in found.findings]) == stopped


def heated(**plate: Any) -> Json:
    """A unit heater by the figures of its plate alone."""
    doc = document([segment()], kind="unit_heater", proposed={"ocpd_a": None, "disconnect_a": 60})
    doc["equipment"]["nameplate"] = {"volts": "240", "phase": 1, **plate}
    return doc


def test_a_heaters_plain_watts_are_its_heat() -> None:
    """3000 / 240 x 1.25 = 15.625 A; on 120 V a quarter of the power."""
    assert size_document(heated(watts=3000)).min_ampacity_a == 15.625
    assert size_document(heated(heat={"watts": 3000, "rated_volts": 240}, watts=9000)).min_ampacity_a == 15.625


@pytest.mark.parametrize(("watts", "needed"), [(3936, 20.5), (3935.9, 20.0)])
def test_a_fraction_of_exactly_one_half_stays(watts: float, needed: float) -> None:
    """220.5(B), where that school is chosen: 3936 / 240 x 1.25 = 20.5 A; a little less is 20 A."""
    local = {
        "title": "x",
        "said_by": "an authority",
        "said_on": "2026-01-01",
        "choices": {"fractions": "drop-below-half"},
    }
    assert size_document(heated(watts=watts) | {"amendments": [local]}).min_ampacity_a == needed


@pytest.mark.parametrize(("number", "each_w", "stopped"), [(1, 8000, False), (2, 4000, True), (2, 2000, False)])
def test_two_heaters_on_one_branch_are_held_to_30_amperes(number: int, each_w: float, stopped: bool) -> None:
    """8 kW at 240 V is 41.67 A, on 45 A; 4 kW 20.8 A, on 25 A."""
    doc = heated(heat={"watts": each_w, "rated_volts": 240})
    doc["equipment"]["quantity"] = number
    assert ("heaters-together" in codes(size_document(doc), "stop")) == stopped


def test_a_device_above_the_computed_ceiling_does_not_take_the_recommended_ones_place() -> None:
    """440.22(A): 10 A x 1.75 = 17.5 A, down to 15 A; 20 A is refused, 15 A recommended."""
    plate = {"mca_a": None, "max_ocpd_a": None, "max_ocpd_type": None, "compressors": [{"rla_a": 10.0}]}
    result = size_document(document([segment()], plate, kind="condensing_unit", proposed={"ocpd_a": 20}))
    assert (result.ocpd_a, "ocpd-above-ceiling" in codes(result, "stop")) == (15, True)


@pytest.mark.parametrize(("phase", "volts", "cord"), [(1, 240, "10"), (3, 208, "10"), (3, 240, "8")])
def test_a_cord_on_three_phases_has_three_current_carrying_conductors(phase: int, volts: float, cord: str) -> None:
    """Table 400.5(A)(1): 10 AWG carries 30 A with two, 25 A with three. 1 phase: 30 A device; 3 phases, 8 kW at 208 V:
    22.2 A x 1 on 25 A; at 240 V on 30 A."""
    amps = {(1, 240): 26.0, (3, 208): 22.2, (3, 240): 28.0}[phase, volts]
    plate = {"volts": str(volts), "phase": phase, "amps": amps, "continuous": False}
    doc = document([segment()], kind="dehumidifier", supply={"volts": volts, "phase": phase}, proposed={"ocpd_a": None})
    doc["equipment"] = {"kind": "dehumidifier", "cord_connected": True, "nameplate": plate}
    doc["proposed"]["ocpd_a"] = {(1, 240): 40, (3, 208): 30, (3, 240): 40}[phase, volts]
    doc["run"] = [segment(method="cord", factory_cord=True, conductor="6", current_carrying=None)]
    assert size_document(doc).cord == cord


@pytest.mark.parametrize(
    ("printed", "volts", "neutral"),
    [("115/230", 240, True), ("120/208", 208, True), ("230", 240, False), ("115", 120, False), ("110/220", 240, True)],
)
def test_a_unit_of_both_voltages_takes_a_neutral(printed: str, volts: float, neutral: bool) -> None:
    doc = document(plate={"volts": printed}, supply={"volts": volts})
    told = next(row for row in size_document(doc).steps if row.what == "Conductors")
    assert ("neutral beside its line conductors" in told.formula) == neutral


@pytest.mark.parametrize(("mca_a", "conductor", "capped"), [(11, "14", True), (29, "10", False)])
def test_the_cap_of_a_grounding_conductor_is_told_where_it_caps(mca_a: float, conductor: str, capped: bool) -> None:
    """250.122(A): behind 30 A Table 250.122 asks 10 AWG, and never more than the circuit conductors."""
    plate = {"mca_a": mca_a, "max_ocpd_a": 30}
    found = told(document([pipe(length_ft=10, conductor=conductor)], plate, proposed={"ocpd_a": 30}))
    steps = [row.value for row in found.steps if row.article == "250.122(A)"]
    assert steps == ([f"{conductor} AWG"] if capped else [])


@pytest.mark.parametrize(
    ("rated", "supply", "missing"), [(None, 240, "rated voltage"), (208, None, "supply's voltage")]
)
def test_what_keeps_the_heats_current_from_being_known_is_named(
    rated: float | None, supply: float | None, missing: str
) -> None:
    doc = heater(plate={"volts": None, "heat": {"watts": 5000, "rated_volts": rated}})
    doc["supply"]["volts"] = supply
    (found,) = [row for row in told(doc).findings if row.code == "heat-volts-missing"]
    assert missing in found.message


@pytest.mark.parametrize(("ambient_c", "together", "told_of"), [(30, 2, False), (31, 2, True), (30, 4, True)])
def test_a_correction_is_told_where_there_is_one(ambient_c: float, together: int, told_of: bool) -> None:
    """Table 310.15(B)(1)(1) is 1 from 26 to 30 °C, Table 310.15(C)(1) to three conductors."""
    steps = told(document([pipe(conductor="12", ambient_c=ambient_c, current_carrying=together)])).steps
    assert any("310.15(C)(1)" in row.article for row in steps if row.part == "run[0]") is told_of


def test_steps_and_messages_name_what_they_rest_on() -> None:
    three = heated(heat={"watts": 6000, "rated_volts": 208}) | {"supply": {"volts": 208, "phase": 3}}
    three["equipment"]["nameplate"] |= {"volts": "208", "phase": 3}
    assert "P / (√3 × V)" in [row.formula for row in size_document(three).steps]
    two = heated(heat={"watts": 2000, "rated_volts": 240})
    two["equipment"]["quantity"] = 2
    assert "heat + motors, × 2 units" in [row.formula for row in size_document(two).steps]
    fan = heated(heat={"watts": 2000, "rated_volts": 240}, motors=[{"fla_a": 0.5, "use": "blower"}])
    assert "heat + motors" in [row.formula for row in size_document(fan).steps]
    bare = size_document(document() | {"supply": {}})
    (missing,) = [row for row in bare.findings if row.code == "supply-missing"]
    assert missing.message.startswith("The supply's voltage and number of phases are not known")
    one = size_document(document(supply={"phase": None}))
    (missing,) = [row for row in one.findings if row.code == "supply-missing"]
    assert missing.message.startswith("The supply's number of phases is not known")


@pytest.mark.parametrize(
    ("receptacle_a", "others", "fix"),
    [
        (20, True, None),
        (30, True, "Make it 30 A"),
        (30, False, "Make it 30 A"),
        (20, False, "Make it 30 A, 30 A receptacle"),
    ],
)
def test_a_larger_device_comes_with_a_receptacle_that_may_have_it_or_is_not_offered(
    receptacle_a: int, others: bool, fix: str | None
) -> None:
    """Table 210.21(B)(3): a 20 A receptacle stands on 20 A, a 30 A one on 30 A. (B)(1): alone, no less than
    its branch. 24 A x 1.25 = 30 A."""
    plate = {"volts": "240", "amps": 24.0}
    doc = document([segment(conductor="10")], kind="dehumidifier")
    doc["equipment"] = {"kind": "dehumidifier", "cord_connected": True, "nameplate": plate}
    doc["proposed"] |= {"ocpd_a": 20, "receptacle_a": receptacle_a, "other_outlets_on_branch": others}
    found = next(row for row in size_document(doc).findings if row.code in ("ocpd-below-mca", "ocpd-below-load"))
    assert found.fix_label == fix
    assert ("circuit of the unit's own" in found.message) == (fix is None)


@pytest.mark.parametrize(
    ("method", "ends_c", "ambient_c", "article"),
    [
        # Held to 60 °C by itself, whatever its ends are marked: 334.80, 340.80.
        ("NM-B", None, 30, "334.80"), ("NM-B", 75, 45, "334.80"), ("UF-B", 75, 30, "340.80"),
        # UF-B starts at 60 °C, so that any heat counts: 20 A x 0.71.
        ("UF-B", None, 45, "310.15(B)(1)"),
        # No limit of their own: the ends decide, 90 °C insulation carries 30 A x 0.87 and more.
        ("MC", None, 30, "110.14(C)(1)"), ("MC", 75, 45, "110.14(C)(1)"), ("THWN-2", None, 45, "110.14(C)(1)"),
        # 75 °C insulation: 25 A is no more than its ends take; 25 A x 0.82 is less.
        ("SER", 75, 30, "110.14(C)(1)"), ("SER", 75, 45, "310.15(B)(1)"), ("SER", None, 30, "110.14(C)(1)"),
        ("THWN-2", 75, 55, "310.15(B)(1)"),  # 30 A x 0.76 = 22.8 A
        ("cord", 75, 30, "400.5(A)(1)"),
    ],
)  # fmt: skip
def test_what_keeps_a_conductor_from_carrying_more_is_cited(
    method: str, ends_c: int | None, ambient_c: float, article: str
) -> None:
    raceway = "EMT" if method == "THWN-2" else None
    part = segment(
        method=method, raceway=raceway, conductor="12", ambient_c=ambient_c, terminations_c=ends_c, factory_cord=True
    )
    found = told(document([part], {"mca_a": 34, "max_ocpd_a": 40}, proposed={"ocpd_a": 35}))
    (row,) = [row for row in found.findings if row.code == "conductor-too-small"]
    assert row.article == f"440.4(B), {article}"


def test_insulation_that_may_not_be_there_carries_nothing_by_its_steps() -> None:
    """Table 310.15(B)(1)(1) ends at 85 °C for 90 °C insulation."""
    found = told(document([segment(conductor="12", ambient_c=95)]))
    (row,) = [row for row in found.steps if row.what == "Ambient"]
    assert (row.value, row.inputs) == (0, {"ambient_c": 95})
    assert found.segments[0].ampacity_a == 0


@pytest.mark.parametrize("poles", [0, 4])
def test_a_device_has_one_to_three_poles(poles: int) -> None:
    with pytest.raises(InputError, match=r"proposed\.poles"):
        told(document(proposed={"poles": poles}))


@pytest.mark.parametrize(
    ("places", "asked"), [(("outdoor", "interior"), False), (("interior", "outdoor"), True), (("interior",), False)]
)
def test_the_room_of_an_outlet_is_where_its_run_ends(places: tuple[str, ...], asked: bool) -> None:
    """210.8(A)(3), (B): outdoors; a run that only passes there ends elsewhere."""
    doc = document([segment(method="UF-B", conductor="12", place=place) for place in places], kind="dehumidifier",
                   supply={"volts": 120, "volts_to_ground": 120})  # fmt: skip
    doc["equipment"] = {"kind": "dehumidifier", "cord_connected": True, "nameplate": {"volts": "120", "amps": 8}}
    assert any(code.startswith("gfci-room") for code in codes(told(doc))) is asked


@pytest.mark.parametrize(
    ("ambient_c", "offered"), [(69, None), (70, "It is 70 °F, 21 °C"), (131, "It is 131 °F, 55 °C"), (134, None)]
)
def test_a_figure_that_no_air_has_is_offered_in_fahrenheit(ambient_c: float, offered: str | None) -> None:
    """Table 310.15(B)(1)(1) ends at 55 °C for the 60 °C of UF-B; air reaches 69 °C under a roof, and not 70 °C."""
    doc = document([segment(method="UF-B", conductor="8", ambient_c=ambient_c)])
    (found,) = [row for row in told(doc).findings if row.code == "ambient-too-hot"]
    assert found.fix_label == offered


def test_too_small_a_disconnect_becomes_the_next_that_is_made() -> None:
    """440.12: 115 % of 24 A is 27.6 A: 30 A; 430.57: a switch holds the fuses that it has."""
    plate = {"mca_a": 24, "max_ocpd_a": 40}
    small = told(document([pipe(conductor="10")], plate, proposed={"disconnect_a": 25, "ocpd_a": 30}))
    (row,) = [row for row in small.findings if row.code == "disconnect-small"]
    assert row.fix is not None
    assert (row.fix_label, row.fix["proposed"]["disconnect_a"]) == ("Make it 30 A", 30)
    fused = {"disconnect_a": 30, "disconnect_type": "fused", "ocpd_a": 40, "ocpd_type": "fuse"}
    (row,) = [row for row in told(document([pipe(conductor="8")], plate, proposed=fused)).findings
              if row.code == "disconnect-below-fuse"]  # fmt: skip
    assert row.fix is not None
    assert (row.fix_label, row.fix["proposed"]["disconnect_a"]) == ("Make it 60 A", 60)


def drop_of(supply_v: float, amps: float, length_ft: float, **plate: Any) -> Json:
    """14 AWG solid: Chapter 9 Table 8, 3.07 ohm a thousand feet: 2 x length x 3.07 / 1000 x amps."""
    doc = document([pipe(conductor="14", construction="solid", length_ft=length_ft)], kind="dehumidifier",
                   supply={"volts": supply_v})  # fmt: skip
    doc["equipment"]["nameplate"] = {"phase": 1, "amps": amps, "continuous": False, **plate}
    return doc


@pytest.mark.parametrize(("supply_v", "found"), [(204.14, False), (204.13, True)])
def test_under_load_a_unit_may_see_just_what_its_plate_asks_for(supply_v: float, found: bool) -> None:
    """A plate of 220 V reaches down to 198 V; 100 ft and 10 A take 6.14 V."""
    result = told(drop_of(supply_v, 10, 100, volts="220"))
    assert result.voltage_drop_v == pytest.approx(6.14)
    assert any("Running, the unit would see" in row.message for row in result.findings) is found


@pytest.mark.parametrize(("amps", "roomy"), [(10, False), (9.9, True)])
def test_another_way_may_drop_just_as_much_as_is_advised(amps: float, roomy: bool) -> None:
    """3 % of 204.6666… V and no less: 6.14 V at 10 A is 3.00 % of 204.66 V and a little more."""
    result = told(drop_of(204.66, amps, 100))
    assert ("voltage-drop" in codes(result)) is not roomy
    assert ("14" in {row.conductor for row in result.alternatives}) is roomy


def test_three_percent_exactly_is_advised_against_by_nothing() -> None:
    """12 A over 100 ft: 7.368 V, 3 % of 245.6 V to the last digit."""
    result = told(drop_of(245.6, 12, 100))
    assert result.voltage_drop_pct == 3
    assert "voltage-drop" not in codes(result)
    assert "14" in {row.conductor for row in result.alternatives}


@pytest.mark.parametrize(("length_ft", "stopped"), [(6, False), (6.1, True)])
def test_a_stub_of_sheathed_cable_where_it_is_accepted(length_ft: float, stopped: bool) -> None:
    """A local practice against 334.12(B)(4): at most 6 ft, in a raceway."""
    local = {"title": "x", "said_by": "an authority", "said_on": "2026-01-01", "choices": {"nm-b-stub": "short-stub"}}
    part = segment(conductor="12", place="outdoor", raceway="LFNC", length_ft=length_ft)
    assert ("nm-wet" in codes(told(document([part]) | {"amendments": [local]}))) is stopped


@pytest.mark.parametrize(
    ("fla", "needed", "article"),
    [((10.0,), 12.5, "430.22"), ((10.0, 6.0), 18.5, "430.24"), ((6.0, 10.0, 2.0), 20.5, "430.24")],
)
def test_motors_alone_are_carried_with_a_quarter_of_the_largest_more(
    fla: tuple[float, ...], needed: float, article: str
) -> None:
    """430.22: 1.25 x 10 A. 430.24: 1.25 x 10 A + 6 A; + 2 A."""
    doc = document([pipe()], kind="air_handler", proposed={"ocpd_a": None, "disconnect_a": 60})
    doc["equipment"]["nameplate"] = {
        "volts": "240",
        "phase": 1,
        "motors": [{"fla_a": amps, "use": "blower"} for amps in fla],
    }
    found = told(doc)
    assert found.min_ampacity_a == needed
    assert next(row.article for row in found.steps if row.what == "Conductors must carry") == article


def test_stretches_of_one_cable_are_bought_as_one_length() -> None:
    """20 ft and 30.5 ft of the same cable are 50.5 ft of it."""
    result = told(document([segment(length_ft=20), segment(length_ft=30.5)]))
    assert "14-2 NM-B with ground, 50.5 ft" in {words for row in result.alternatives for words in row.material}


@pytest.mark.parametrize(("length_ft", "thicker"), [(20, False), (200, True)])
def test_a_conductor_made_thicker_for_the_drop_is_told_with_its_reason(length_ft: float, thicker: bool) -> None:
    """11 A over 3.07 ohm a thousand feet: 20 ft drop 0.6 %, 200 ft 5.6 % of 240 V."""
    result = told(document([segment(length_ft=length_ft)]))
    assert (result.conductor != result.conductor_before_drop) is thicker
    assert [row.what for row in result.steps].count("For the drop") == thicker


@pytest.mark.parametrize(("most", "choices"), [(15, [15]), (20, [15, 20]), (25, [15, 20, 25])])
def test_of_several_lawful_ratings_the_one_recommended_is_told(most: float, choices: list[float]) -> None:
    """240.6(A) from 11 A up; 440.22(C)."""
    result = told(document(plate={"max_ocpd_a": most}))
    assert result.ocpd_choices_a == choices
    recommended = [row.value for row in result.steps if row.what == "Recommended"]
    assert recommended == ([choices[-1]] if len(choices) > 1 else [])


@pytest.mark.parametrize(("rla", "told_of"), [(24.0, [40]), (10.0, [])])
def test_of_an_unmarked_compressors_lawful_ratings_too(rla: float, told_of: list[float]) -> None:
    """440.22(A), by hand: 24 A: 30 A to 42 A, down to 40 A. 10 A: 12.5 A to 17.5 A leaves 15 A alone."""
    doc = document(proposed={"ocpd_a": None})
    plate = {"volts": "240", "phase": 1, "compressors": [{"rla_a": rla}]}
    doc["equipment"] = {"kind": "condensing_unit", "nameplate": plate}
    assert [row.value for row in told(doc).steps if row.what == "Recommended"] == told_of


def test_several_marked_units_are_told_as_such_not_as_a_wrong_plate() -> None:
    """Two of 20 A on a device of 30 A at most: each plate is right for itself."""
    doc = document(plate={"mca_a": 20, "max_ocpd_a": 30}, proposed={"ocpd_a": 30})
    doc["equipment"]["quantity"] = 2
    assert "several-marked" in codes(told(doc))
    assert "plate-contradiction" not in codes(told(doc))


@pytest.mark.parametrize(("length_ft", "label"), [(400, "Make it 8 AWG"), (40000, None)])
def test_too_few_volts_at_a_unit_are_mended_by_a_thicker_conductor_where_one_mends_it(
    length_ft: float, label: str | None
) -> None:
    """A plate of 220 V asks for 198 V. 10 A over 400 ft of 14 AWG take 24.6 V of 210 V; 12 AWG (1.93) 15.4 V, above
    the 6.3 V advised; 10 AWG (1.21) 9.7 V; 8 AWG (0.764) 6.1 V. Over 40 000 ft no size of the tables keeps the limit.
    """
    result = told(drop_of(210, 10, length_ft, volts="220"))
    (row,) = [row for row in result.findings if "Running, the unit would see" in row.message]
    assert row.fix_label == label


def test_three_poles_on_one_phase_become_two() -> None:
    result = told(document(proposed={"poles": 3}))
    (row,) = [row for row in result.findings if row.code == "poles-too-many"]
    assert row.severity == "stop"
    assert row.fix is not None
    assert row.fix["proposed"]["poles"] == 2


def test_a_grounding_conductor_does_not_grow_with_a_device_that_asks_for_the_conductor_itself() -> None:
    """Table 250.122: 60 A, 10 AWG. 6 AWG carries 55 A at 60 °C and stands behind 60 A by 240.4(B): it was not made
    thicker for anything, so 250.122(B) asks for no more, though 15 A is what 2 kW of heat takes. Behind 15 A it is
    thicker than 14 AWG by 26240 / 4110, and so the grounding conductor is as thick as itself."""
    wire = {"conductor": "6", "construction": "stranded"}
    result = told(heater(2000, wire=wire, proposed={"ocpd_a": 60, "egc": "10", "disconnect_a": 60}))
    assert "egc-too-small" not in codes(result)
    assert "egc-too-small" in codes(told(heater(2000, wire=wire, proposed={"ocpd_a": 15, "egc": "10"})))


@pytest.mark.parametrize(
    ("volts", "asked"), [(120, False), (208, True), (230, True), (240, True), (277, False), (480, True)]
)
def test_a_white_between_two_lines_is_marked_though_the_volts_to_ground_are_not_said(volts: float, asked: bool) -> None:
    """200.7(C)(1): on these volts of one phase both conductors are hot; on 120 and 277 one is the neutral."""
    wire = segment(conductor="12", construction="solid", white_reidentified=None)
    result = told(document([wire], supply={"volts": volts, "volts_to_ground": None}))
    assert ("white-reidentify" in codes(result)) is asked


def test_a_heater_on_less_says_what_it_gives_of_what() -> None:
    """5 kW at 240 V on 208 V: (208 / 240)² = 0.751, 3.76 kW."""
    result = told(heater(5000, supply={"volts": 208}))
    (row,) = [row for row in result.findings if row.code == "heat-reduced"]
    assert "3.76 kW of its 5 kW" in row.message


@pytest.mark.parametrize(("mca", "wrong"), [(26.62, False), (26.6, True)])
def test_a_plate_that_asks_for_less_than_its_own_heat_and_motor(mca: float, wrong: bool) -> None:
    """424.4(B): (5000 / 240 + 0.5) x 1.25 = 26.667 A; a plate prints a tenth, so a twentieth is forgiven."""
    doc = heater(5000, proposed={"ocpd_a": 30})
    doc["equipment"]["nameplate"] |= {"mca_a": mca, "max_ocpd_a": 30, "motors": [{"fla_a": 0.5, "use": "blower"}]}
    assert ("plate-contradiction" in codes(told(doc))) is wrong


def test_a_maximum_beyond_every_rating_says_what_there_is() -> None:
    """240.6(A), as far as the table goes here."""
    (row,) = [row for row in told(document(plate={"max_ocpd_a": 14})).findings if row.code == "no-standard-device"]
    assert "15 to 600 A" in row.message


@pytest.mark.parametrize(("limit", "refused"), [(0, True), (0.5, False), (20, False), (20.1, True)])
def test_a_limit_of_drop_is_above_nothing_and_at_most_a_fifth(limit: float, refused: bool) -> None:
    doc = document(proposed={"voltage_drop_limit_pct": limit})
    if refused:
        with pytest.raises(InputError, match="voltage_drop_limit_pct"):
            told(doc)
    else:
        assert told(doc).voltage_drop_v is not None


def test_heat_and_blower_stand_in_the_step_that_adds_them() -> None:
    """424.4(B): 2000 / 240 = 8.33 A of heat and 1.5 A of blower, beside a compressor of 3 A."""
    doc = document(proposed={"ocpd_a": None})
    doc["equipment"] = {"kind": "packaged_rooftop", "heat_with_cooling": False, "nameplate": {
        "volts": "240", "phase": 1, "compressors": [{"rla_a": 3}], "motors": [{"fla_a": 1.5, "use": "blower"}],
        "heat": {"watts": 2000, "rated_volts": 240},
    }}  # fmt: skip
    (row,) = [row for row in told(doc).steps if row.what == "Heating asks for"]
    assert row.inputs["blower_a"] == 1.5
    assert row.value == pytest.approx((2000 / 240 + 1.5) * 1.25, abs=0.01)


def test_the_metal_of_a_line_is_weighed() -> None:
    """12 AWG, 6530 cmil: three conductors of 100 ft at 3.027e-6 lb a cmil and foot are 5.93 lb; 14 AWG, 4110: 3.73."""
    result = told(document([segment(conductor="12", construction="solid", length_ft=100)]))
    assert {row.conductor: row.metal_lb for row in result.alternatives} == {"14": 3.73, "12": 5.93}


@pytest.mark.parametrize(("volts", "told_of"), [(215.9, True), (216, False), (264, False), (264.1, True)])
def test_an_appliances_heat_alone_gives_its_range(volts: float, told_of: bool) -> None:
    """A humidifier's heat rated at 240 V, a tenth to each side: 216 to 264 V."""
    doc = document(supply={"volts": volts}, proposed={"ocpd_a": 20})
    heat = {"watts": 3000, "rated_volts": 240}
    doc["equipment"] = {"kind": "steam_humidifier", "nameplate": {"phase": 1, "heat": heat}}
    assert ("supply-volts" in codes(told(doc))) is told_of


@pytest.mark.parametrize(("ocpd_a", "above"), [(25, False), (30, True)])
def test_a_device_of_just_what_the_plate_allows_is_lawful(ocpd_a: float, above: bool) -> None:
    """440.22(C): at most 25 A is 25 A too; the conductors then stand behind it, not behind another."""
    result = told(document(plate={"max_ocpd_a": 25, "mca_a": 16}, proposed={"ocpd_a": ocpd_a}))
    assert ("ocpd-above-max" in codes(result)) is above


@pytest.mark.parametrize(("distance_ft", "moved"), [(50, False), (51, True)])
def test_a_disconnect_brought_into_sight_is_brought_near_only_from_afar(distance_ft: float, moved: bool) -> None:
    """Article 100: 50 ft at most."""
    result = told(document(proposed={"disconnect_distance_ft": distance_ft, "disconnect_in_sight": False}))
    (row,) = [row for row in result.findings if row.code == "disconnect-out-of-sight"]
    assert row.fix is not None
    assert row.fix["proposed"].get("disconnect_distance_ft", distance_ft) == (50 if moved else distance_ft)
    assert row.fix["proposed"]["disconnect_in_sight"] is True


@pytest.mark.parametrize(
    ("printed", "volts", "phase", "number"),
    [("120/208", 208, 3, 5), ("208", 208, 3, 4), ("115/230", 240, 1, 4), ("230", 240, 1, 3)],
)
def test_a_neutral_and_the_grounding_conductor_lie_in_the_raceway_too(
    printed: str, volts: float, phase: int, number: int
) -> None:
    """Chapter 9 Table 1 counts every conductor: phases, neutral, grounding conductor."""
    plate = {"volts": printed, "phase": phase}
    doc = document([pipe(conductor="12")], plate, supply={"volts": volts, "phase": phase})
    (row,) = [row for row in told(doc).steps if row.what == "EMT at least"]
    assert row.formula.startswith(f"{number} conductors")


@pytest.mark.parametrize(("together", "cord"), [(2, "10"), (3, "8")])
def test_what_is_said_of_the_cord_counts_for_the_cord(together: int, cord: str) -> None:
    """Table 400.5(A)(1): 10 AWG carries 30 A with two, 25 A with three; 26 A are asked for."""
    doc = document(kind="dehumidifier", proposed={"ocpd_a": None})
    doc["equipment"] = {"kind": "dehumidifier", "cord_connected": True,
                        "nameplate": {"volts": "240", "phase": 1, "amps": 26, "continuous": False}}  # fmt: skip
    doc["run"] = [pipe(conductor="8", current_carrying=9),
                  segment(method="cord", factory_cord=True, conductor="6", current_carrying=together)]  # fmt: skip
    assert told(doc).cord == cord


@pytest.mark.parametrize(
    ("motors", "needed", "article"), [([], 25.0, "440.32"), ([{"fla_a": 2.0, "use": "blower"}], 27.0, "440.33")]
)
def test_one_compressor_alone_takes_a_quarter_more_and_beside_a_fan_the_largest_does(
    motors: list[Json], needed: float, article: str
) -> None:
    """440.32: 1.25 x 20 A; 440.33: 20 + 2 + 0.25 x 20 A."""
    doc = document([pipe(conductor="10")], kind="condensing_unit", proposed={"ocpd_a": 30})
    doc["equipment"]["nameplate"] = {"volts": "230", "phase": 1, "compressors": [{"rla_a": 20.0}], "motors": motors}
    found = told(doc)
    assert found.min_ampacity_a == needed
    assert any(row.article == article for row in found.steps)


@pytest.mark.parametrize(
    ("sun", "told_of"),
    [({"sunlit": None}, True), ({"sunlit": True}, True), ({"sunlit": False}, False),
     ({"sunlit": True, "above_roof_in": 12}, False)],
)  # fmt: skip
def test_on_a_roof_sun_and_height_are_asked_for_while_they_matter(sun: Json, told_of: bool) -> None:
    """310.15(B)(2): close above a sunlit roof the air is 33 °C hotter; what lies in the shade needs no height."""
    assert ("roof-sun-missing" in codes(told(document([pipe(place="roof", **sun)])))) is told_of


def test_a_maximum_between_two_ratings_goes_down_to_the_one_below() -> None:
    """Table 240.6(A): 38 A lie between 35 and 40 A; 110.3(B): a maximum is never rounded up."""
    (row,) = [row for row in told(document(plate={"mca_a": 22, "max_ocpd_a": 38})).steps
              if row.what == "Down to a standard rating"]  # fmt: skip
    assert row.value == 35


@pytest.mark.parametrize(("supply_v", "told_of"), [(228.8, None), (229, "5.45 kW of its 4.5 kW"), (187.1, None)])
def test_a_heater_takes_a_tenth_more_than_its_rating_and_no_more(supply_v: float, told_of: str | None) -> None:
    """Heat goes with the square: 4.5 kW at 208 V is 4.5 x (229 / 208)^2 = 5.45 kW at 229 V; a tenth is 228.8 V."""
    doc = heater(4500, plate={"volts": None, "heat": {"watts": 4500, "rated_volts": 208}}, supply={"volts": supply_v})
    del doc["equipment"]["nameplate"]["volts"]
    found = [row.message for row in told(doc).findings if row.code == "supply-volts"]
    assert bool(found) is (told_of is not None)
    assert all((told_of or "") in message for message in found)


@pytest.mark.parametrize(("ground_v", "ocpd_a", "asked"), [
    (150, 50, True), (151, 50, False), (150, 50.1, False), (120, 15, True),
])  # fmt: skip
def test_an_outdoor_outlet_of_a_dwelling_up_to_fifty_amperes_and_150_volts(
    ground_v: float, ocpd_a: float, asked: bool
) -> None:
    """210.8(F), 2023: 150 V to ground or less, 50 A or less."""
    doc = document([pipe(conductor="6")], {"mca_a": 12, "max_ocpd_a": 60}, occupancy="dwelling",
                   supply={"volts_to_ground": ground_v}, proposed={"ocpd_a": ocpd_a})  # fmt: skip
    assert ("gfci-outdoor" in codes(told(doc))) is asked


@pytest.mark.parametrize(("device_a", "stopped"), [(30, False), (35, True)])
def test_two_heaters_may_stand_on_thirty_amperes_itself(device_a: float, stopped: bool) -> None:
    """424.4(A): at most 30 A. Two of 2 kW at 240 V take 16.7 A."""
    doc = heater(2000, proposed={"ocpd_a": device_a})
    doc["equipment"]["quantity"] = 2
    assert ("heaters-together" in codes(told(doc), "stop")) is stopped


@pytest.mark.parametrize(
    ("plate", "article"),
    [
        ({"mca_a": 20, "compressors": [{"rla_a": 20}]}, "440.33, 110.3(B)"),
        ({"mca_a": 20, "heat": {"watts": 4800, "rated_volts": 240}}, "424.4(B), 110.3(B)"),
    ],
)
def test_an_mca_below_its_own_parts_cites_the_rule_of_those_parts(plate: Json, article: str) -> None:
    """20 A of compressor ask for 25 A (440.32), 20 A of heat as well (424.4(B))."""
    doc = document([pipe(conductor="10")], {"max_ocpd_a": 40, "volts": "240", **plate}, kind="air_handler")
    (row,) = [row for row in told(doc).findings if row.code == "plate-contradiction"]
    assert row.article == article


@pytest.mark.parametrize(("watts", "needed"), [(5240, 27.0), (5336, 27.79)])
def test_a_small_fraction_falls_off_odd_amperes_as_off_even_ones(watts: float, needed: float) -> None:
    """220.5(B), where that school is chosen: 5240 / 240 x 1.25 = 27.29 A; 5336 / 240 x 1.25 = 27.79 A stays."""
    local = {"title": "x", "said_by": "an authority", "said_on": "2026-01-01",
             "choices": {"fractions": "drop-below-half"}}  # fmt: skip
    found = told(heater(watts) | {"amendments": [local]})
    assert found.min_ampacity_a == pytest.approx(needed, abs=0.005)


def test_a_humidifiers_marked_amps_outrank_its_heat() -> None:
    """An electrode humidifier is no fixed resistance: 16 A marked and a quarter more, not the 20 A of 4800 W."""
    plate = {"volts": "240", "phase": 1, "amps": 16, "continuous": False, "heat": {"watts": 4800, "rated_volts": 240}}
    doc = document([pipe(conductor="10")], kind="steam_humidifier", proposed={"ocpd_a": 20})
    doc["equipment"]["nameplate"] = plate
    assert told(doc).min_ampacity_a == 20


@pytest.mark.parametrize(("awg", "ohms"), [("14", 3.07), ("18", 7.77), ("20", 12.3163), ("22", 19.6065)])
def test_below_the_table_resistance_grows_as_the_area_falls(awg: str, ohms: float) -> None:
    """Chapter 9 Table 8, solid: 3.07 and 7.77 ohm; 20 AWG has 1022 of 18 AWG's 1620 circular mils, 22 AWG 642."""
    assert float(ohm_per_kft(awg, "solid") or 0) == pytest.approx(ohms, abs=1e-3)


@pytest.mark.parametrize(("volts", "phase", "factor"), [(240, 1, "2 ×"), (208, 3, "1.732 ×")])
def test_a_drop_names_the_factor_of_its_phases(volts: float, phase: int, factor: str) -> None:
    """There and back on one phase; the square root of three on three."""
    doc = document([pipe(conductor="12")], {"volts": str(volts), "phase": phase},
                   supply={"volts": volts, "phase": phase})  # fmt: skip
    (row, *_) = [row for row in told(doc).steps if "12 AWG over" in row.what]
    assert row.formula.startswith(factor)


@pytest.mark.parametrize(("number", "motors", "summed"), [(1, [], False), (2, [], True), (1, [{"fla_a": 1}], True)])
def test_a_heater_alone_is_no_sum(number: int, motors: list[Json], summed: bool) -> None:
    doc = heater(4800)
    doc["equipment"]["quantity"] = number
    doc["equipment"]["nameplate"]["motors"] = [{**row, "use": "blower"} for row in motors]
    assert any(row.formula.startswith("heat + motors") for row in told(doc).steps) is summed


@pytest.mark.parametrize(("most", "outside"), [(600, False), (601, True)])
def test_a_maximum_reaches_up_to_the_largest_rating_of_the_table(most: float, outside: bool) -> None:
    """Table 240.6(A), as far as it is kept here, ends at 600 A."""
    found = [row.message for row in told(document(plate={"mca_a": 11, "max_ocpd_a": most})).findings]
    assert any("lies outside the standard ratings" in message for message in found) is outside


@pytest.mark.parametrize(
    ("proposed_a", "fix"),
    [
        # 5 kW at 240 V: 20.83 A x 1.25 = 26.04 A: 30 A, behind which 14 AWG may not stay (240.4(D)).
        (20, "Make it 30 A, 10 AWG"),
        # A smaller device asks nothing more of the conductor than stands against it already.
        (60, "Make it 30 A"),
    ],
)
def test_a_larger_device_comes_with_its_conductor_a_smaller_one_alone(proposed_a: float, fix: str) -> None:
    found = size_document(
        heater(wire={"conductor": "14"}, proposed={"ocpd_a": proposed_a, "disconnect_a": 60})
    ).findings
    assert [row.fix_label for row in found if row.about.endswith("ocpd_a")] == [fix]


@pytest.mark.parametrize(("asked", "kind"), [("fuse", "fuse"), ("breaker", "breaker"), ("fuse_or_breaker", "breaker")])
def test_a_device_that_is_chosen_for_one_is_of_the_kind_that_the_plate_asks_for(asked: str, kind: str) -> None:
    found = size_document(document(plate={"max_ocpd_type": asked}, proposed={"ocpd_a": None, "ocpd_type": None}))
    (fix,) = [row.fix for row in found.findings if row.code == "ocpd-not-chosen"]
    assert fix is not None
    assert fix["proposed"]["ocpd_type"] == kind


@pytest.mark.parametrize(("watts", "told_of"), [(3120, False), (3121, True)])
def test_a_cooling_device_that_just_carries_the_heat_is_not_raised(watts: float, told_of: bool) -> None:
    """440.22(B): 1.75 x 10 + 3 = 20.5 A, down to 20 A. 424.4(B): (3120 W / 240 V + 3 A) x 1.25 = 20 A."""
    plate = {"volts": "240", "phase": 1, "compressors": [{"rla_a": 10.0}], "motors": [{"fla_a": 3.0, "use": "blower"}]}
    doc = document([segment(conductor="10")], kind="packaged_heat_pump", proposed={"ocpd_a": 20})
    doc["equipment"] = {"kind": "packaged_heat_pump", "heat_with_cooling": False,
                        "nameplate": plate | {"heat": {"watts": watts, "rated_volts": 240}}}  # fmt: skip
    assert ("heat-above-cooling-limit" in codes(size_document(doc))) is told_of


@pytest.mark.parametrize(("number", "carries"), [(3, 25), (4, 20), (6, 20), (7, 17.5)])
def test_a_cord_carries_less_with_more_conductors_at_sixty_degrees(number: int, carries: float) -> None:
    """Table 400.5(A)(1), column A: 10 AWG 25 A; Table 400.5(A)(3): 80 % for four to six, 70 % for seven to nine."""
    doc = document([segment(method="cord", factory_cord=True, conductor="10", current_carrying=number)])
    (part,) = size_document(doc).segments
    assert (part.ampacity_a, part.column_c) == (carries, 60)


@pytest.mark.parametrize(("places", "concealed"), [(["attic"], []), (["attic", "interior"], ["run[0]"])])
def test_only_the_last_piece_of_a_run_is_the_units_own_cord(places: list[str], concealed: list[str]) -> None:
    """400.10(A), 400.12: the cord of a unit, from it to its receptacle; any other one is fixed wiring."""
    doc = document([segment(method="cord", conductor="12", place=place) for place in places], kind="dehumidifier")
    doc["equipment"] = {"kind": "dehumidifier", "cord_connected": True, "nameplate": {"volts": "240", "amps": 8}}
    found = [row.about.removesuffix(".method") for row in size_document(doc).findings if row.code == "cord-concealed"]
    assert found == concealed


@pytest.mark.parametrize(("more", "size", "over"), [({}, "3/4", False), ({"count": 7}, "1", True)])
def test_a_raceway_may_be_filled_to_its_limit_and_no_further(more: Json, size: str, over: bool) -> None:
    """Chapter 9, Table 1: 40 %; Table 4: 3/4 EMT 0.533 in², 0.2132 in² of it. Table 5, THWN-2, the unit's own two
    14 AWG and the rest: 2 x 0.0097 + 6 x 0.0133 + 3 x 0.0211 + 0.0507 = 0.2132 in² exactly.
    """
    others = [("12", 5), ("10", 3), ("6", 1)]
    together = [{"conductor": size_, "count": count, "insulation": "THWN-2"} for size_, count in others]
    together[0] |= {"count": 5} | more
    run = [pipe(conductor="14", raceway_size="3/4", together=together, current_carrying=3)]
    result = size_document(document(run, {"mca_a": 11}, proposed={"egc": "12"}))
    assert result.segments[0].fill_pct == (pytest.approx(40.0) if not over else pytest.approx(45.0, abs=0.1))
    assert (result.segments[0].raceway_size, "raceway-full" in codes(result)) == (size, over)


def test_the_hottest_piece_decides_and_it_alone() -> None:
    run = [segment(conductor="12"), segment(conductor="12", ambient_c=70, place="attic"), segment(conductor="12")]
    assert [part.decides for part in size_document(document(run)).segments] == [False, True, False]


@pytest.mark.parametrize(("asked", "kind"), [("fuse", "fuse"), ("breaker", "breaker"), ("fuse_or_breaker", "breaker")])
def test_a_device_of_no_known_kind_is_offered_as_the_plate_asks(asked: str, kind: str) -> None:
    found = size_document(document(plate={"max_ocpd_type": asked}, proposed={"ocpd_type": None})).findings
    (fix,) = [row.fix for row in found if row.code == "ocpd-type-missing"]
    assert fix == {"proposed": {"ocpd_type": kind}}


@pytest.mark.parametrize(("mca", "marks", "device"), [(15.5, (15, 16), 15), (28, (20, 29), 25), (28, (26, 29), None)])
def test_a_device_just_at_the_plates_least_is_taken_rounded_down(
    mca: float, marks: tuple[float, float], device: float | None
) -> None:
    """240.6(A): at most 16 A is 15 A, at most 29 A is 25 A: under the MCA, yet by the plate. 26 to 29 A holds none."""
    low, high = marks
    doc = document(plate={"mca_a": mca, "min_ocpd_a": low, "max_ocpd_a": high}, proposed={"ocpd_a": None})
    assert size_document(doc).ocpd_a == device


def test_a_cord_of_unknown_conductors_is_offered_three() -> None:
    doc = document([segment(method="cord", factory_cord=True, conductor="10", current_carrying=None)])
    (fix,) = [row.fix for row in size_document(doc).findings if row.code == "current-carrying-missing"]
    assert fix == {"run": [{**doc["run"][0], "current_carrying": 3}]}


@pytest.mark.parametrize(
    ("printed", "supply", "says"),
    [
        ("208/230", {"volts": 277, "volts_to_ground": 277}, "allowed are 187.2 to 253 V"),
        ("120/240", {"volts": 208, "phase": 1}, "is not the one that a 120/240 V plate is meant for"),
    ],
)
def test_a_supply_is_refused_for_its_volts_or_for_its_system(printed: str, supply: Json, says: str) -> None:
    found = size_document(document(plate={"volts": printed}, supply=supply)).findings
    assert [says in row.message for row in found if row.code == "supply-volts"] == [True]
