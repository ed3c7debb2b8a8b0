"""Where each hazard begins: a little below its bound and a little above, each worked by Ohm's law.

The 24 V source behind its regulation: 24 V and r = 24² / 40 x 5 % = 0.72 ohm, fed at 120 V (its drop is below 0.1 %).
A load of P VA at 24 V is 576 / P ohm.
"""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.control.solved import answer_all

from tests.core.solver.networks import LINE, board, coil, contact, device, load, network, state, supply, wires


def found(devices: list[dict[str, Any]], *pairs: str, ohms: float = 0.0, **more: Any) -> set[str]:
    """The hazards of the state in which nothing is called."""
    (answer,) = answer_all(network(devices, wires(*LINE, *pairs, ohms=ohms), state(), **more))
    return set(answer.hazards)


@pytest.mark.parametrize(
    ("va", "over"),
    [
        (44, False),  # 13.09 ohm behind 0.72: 1.738 A, at its 24 V 41.7 VA of 40: within 5 %
        (45, True),  # 12.8 ohm: 1.775 A, 42.6 VA
    ],
)
def test_a_transformer_is_overloaded_from_five_percent_above_its_rating(va: float, over: bool) -> None:
    assert ("OVERLOAD_VA" in found([supply(), board(load("X", "R", "C", va))])) is over


@pytest.mark.parametrize(
    ("ohms", "shorted"),
    [
        (4.2, False),  # 24 / 4.92 = 4.88 A, below three times its 1.667 A
        (3.9, True),  # 24 / 4.62 = 5.19 A
    ],
)
def test_a_secondary_is_shorted_from_three_times_its_current(ohms: float, shorted: bool) -> None:
    assert ("SHORTED_SECONDARY" in found([supply(), board()], f"FB.R FB.C {ohms}")) is shorted


@pytest.mark.parametrize(("volts", "wrong"), [(111, True), (112.2, False), (128, False), (129, True)])
def test_a_tap_is_wrong_from_seven_percent_off(volts: float, wrong: bool) -> None:
    """120 V less and more 7 %: 111.6 and 128.4 V."""
    assert ("WRONG_TAP" in found([supply(volts), board(load("X", "R", "C"))])) is wrong


@pytest.mark.parametrize(
    ("volts", "rated", "line"),
    [
        (89, 24, False), (91, 24, True),  # line voltage from 90 V
        (120, 60, True), (120, 61, False),  # on what is made for 60 V and less
    ],
)  # fmt: skip
def test_line_voltage_begins_at_ninety_on_what_is_made_for_sixty(volts: float, rated: float, line: bool) -> None:
    devices = [supply(volts), device("FB", "L N", load("X", "L", "N", 1, volts=rated))]
    assert ("LINE_ON_SIGNAL" in found(devices)) is line


@pytest.mark.parametrize(
    ("volts", "lifted"),
    [
        (49.8, False),  # C on the line: R stands at 49.8 + 24 x 49.8 / 120 = 59.8 V
        (50.2, True),  # 60.2 V
    ],
)
def test_a_secondary_is_lifted_from_sixty_volts(volts: float, lifted: bool) -> None:
    devices = [supply(volts), board(load("X", "R", "C"))]
    assert ("LINE_ON_SIGNAL" in found(devices, "PS.L FB.C", reference="PS.N")) is lifted


@pytest.mark.parametrize(
    ("ohms", "low"),
    [
        (380, True),  # 24 x 57.6 / 438.3 = 3.15 V, above 12 % of 24 V: it hums
        (450, False),  # 24 x 57.6 / 508.3 = 2.72 V: dead
        (19.5, True),  # 24 x 57.6 / 77.8 = 17.8 V, below the 18 V at which it pulls in
        (18, False),  # 24 x 57.6 / 76.3 = 18.1 V
    ],
)
def test_too_little_voltage_is_told_between_dead_and_its_pull_in(ohms: float, low: bool) -> None:
    devices = [supply(), board(), device("X", "R C", coil("K", "R", "C"))]
    assert ("LOW_VOLTAGE" in found(devices, f"FB.R X.R {ohms}", "FB.C X.C")) is low


def test_two_loads_in_series_are_told_only_where_one_lacks_its_volts() -> None:
    """Two of 10 VA share 24 V half and half; one of 10 and one of 400 VA (1.44 ohm): 23.1 and 0.6 V."""

    def series(va: float) -> set[str]:
        chain = device("X", "R C", load("A", "R", "_m", 10), load("B", "_m", "C", va))
        return found([supply(), board(), chain], "FB.R X.R", "FB.C X.C")

    assert "SERIES_LOADS" in series(10)
    assert "SERIES_LOADS" in series(400), "the second of them gets a fortieth of its volts"


def test_what_hangs_between_two_loads_and_carries_nothing_is_in_series_with_none() -> None:
    """A and B in series; the sensor at their middle ends at a terminal that nothing is on."""
    chain = device("X", "R C D", load("A", "R", "_m", 10), load("B", "_m", "C", 10), load("S", "_m", "D", 10))
    (answer,) = answer_all(network([supply(), board(), chain], wires(*LINE, "FB.R X.R", "FB.C X.C"), state()))
    pairs = {tuple(row.about) for row in answer.hazard_details if row.code == "SERIES_LOADS"}
    assert pairs == {("X.A", "X.B")}


def test_a_contact_that_is_closed_for_nobody_ties_nothing() -> None:
    """Two supplies on one dry contact are told where its two ends are live from different sources."""
    two = board(name="FC")
    devices = [supply(), board(), two, device("X", "A B", contact("K", "A", "B", "cause:smoke", dry=True))]
    line = ("PS.L FC.L", "PS.N FC.N")
    assert "DRY_CONTACT_FED_TWICE" in found(devices, *line, "FB.R X.A", "FC.R X.B")
    assert "DRY_CONTACT_FED_TWICE" not in found(devices, *line, "FB.R X.A", "FB.Y X.B")


@pytest.mark.parametrize(
    ("volts", "hot", "weak"),
    [
        (53, False, True),  # a twentieth of its power is given at 240 x sqrt(0.05) = 53.67 V
        (54, True, True),
        (118, True, True),  # a quarter of its heat
        (179, True, True),
        (181, True, False),  # from three quarters of its volts it is fed as it should be
    ],
)
def test_a_heater_is_on_from_a_twentieth_of_its_power_and_weak_below_its_volts(
    volts: float, hot: bool, weak: bool
) -> None:
    devices = [supply(volts, ohms=0), device("FB", "L N", load("X", "L", "N", 800, volts=240, heater=True))]
    (answer,) = answer_all(network(devices, wires(*LINE, ohms=0), state()))
    (heater,) = answer.loads
    through = volts / (240**2 / 800 + 0.2)
    assert (heater.energised, "LOW_VOLTAGE" in answer.hazards) == (hot, weak)
    assert heater.amps == pytest.approx(through, rel=1e-3), "it takes what its ohms let through"


@pytest.mark.parametrize(("rated", "told"), [(60, True), (61, False)])
def test_loads_in_series_are_of_the_control_circuit(rated: float, told: bool) -> None:
    """Two alike on 115 V: 57 V each, and only what is made for 60 V or less is judged."""
    chain = device("FB", "L N", load("A", "L", "_m", 10, volts=rated), load("B", "_m", "N", 10, volts=rated))
    assert ("SERIES_LOADS" in found([supply(115), chain])) is told


@pytest.mark.parametrize(("va", "told"), [(5.2, True), (5, False)])
def test_a_load_in_series_is_felt_from_a_tenth_of_its_volts(va: float, told: bool) -> None:
    """10 VA at 24 V is 57.6 ohm. Behind 5.2 VA at 120 V, 2769 ohm, it has 2.445 V; behind 5 VA, 2880 ohm, 2.353 V."""
    chain = device("FB", "L N", load("A", "L", "_m", va, volts=120), load("B", "_m", "N", 10))
    assert ("SERIES_LOADS" in found([supply(120), chain])) is told


@pytest.mark.parametrize(("volts", "line"), [(90.01, True), (89.9, False)])
def test_line_voltage_on_a_direct_supply_begins_at_ninety(volts: float, line: bool) -> None:
    direct = {"type": "dc_source", "id": "X", "plus": "L", "minus": "N", "volts": 12, "ohms": 1e6}
    assert ("LINE_ON_SIGNAL" in found([supply(volts, ohms=0), device("FB", "L N", direct)])) is line


def two_boards() -> list[dict[str, Any]]:
    """Two supplies, and between them a dry contact that is closed at rest."""
    dry = device("X", "A B", contact("K", "A", "B", "cause:smoke", normally="closed", dry=True))
    return [supply(), board(), board(name="FC"), dry]


@pytest.mark.parametrize(
    ("pairs", "told"),
    [
        (("FB.R X.A", "FC.R X.B"), True),
        (("FB.R X.A", "FB.R X.B"), False),  # one supply on both ends
        (("FB.R X.A", "FC.R X.A"), True),  # both on one end
        (("FB.R X.A",), False), (("FB.R X.A", "FC.C X.B"), False),
    ],
)  # fmt: skip
def test_a_closed_dry_contact_is_judged_as_if_it_were_open(pairs: tuple[str, ...], told: bool) -> None:
    assert ("DRY_CONTACT_FED_TWICE" in found(two_boards(), "PS.L FC.L", "PS.N FC.N", *pairs)) is told


def test_an_open_dry_contact_is_judged_by_whichever_end_each_supply_is_on() -> None:
    dry = device("X", "A B", contact("K", "A", "B", "cause:smoke", dry=True))
    devices, line = [supply(), board(), board(name="FC"), dry], ("PS.L FC.L", "PS.N FC.N")
    for one, two in (("A", "B"), ("B", "A"), ("A", "A"), ("B", "B")):
        assert "DRY_CONTACT_FED_TWICE" in found(devices, *line, f"FB.R X.{one}", f"FC.R X.{two}")
        assert "DRY_CONTACT_FED_TWICE" not in found(devices, *line, f"FB.R X.{one}", f"FB.R X.{two}")


@pytest.mark.parametrize(("rated", "lifted"), [(60, True), (61, False)])
def test_a_secondary_of_sixty_volts_is_a_control_supply(rated: float, lifted: bool) -> None:
    """Its common on the line: what is made for more than 60 V may stand there."""
    devices = [supply(120), board(load("X", "R", "C", volts=rated), secondary_volts=rated)]
    assert ("LINE_ON_SIGNAL" in found(devices, "PS.L FB.C")) is lifted


@pytest.mark.parametrize("leads", ["M.S", "M.CAP"])
def test_a_motor_that_has_its_volts_and_no_turning_field_stalls(leads: str) -> None:
    """Its start winding open, or in phase with the run winding; behind its capacitor it turns; without volts it only
    stands."""
    parts = [
        {"type": "winding", "id": "SW", "a": "S", "b": "N", "ohms": 6, "reactance_ohms": 40},
        {"type": "capacitor", "id": "CAP", "a": "CAP", "b": "S", "microfarads": 35},
        load("RUN", "L", "N", 1500, volts=115, start_winding="M.SW"),
    ]
    motor = device("M", "L N S CAP", *parts)
    feed = ("PS.L M.L 0.1", "PS.N M.N 0.1")

    def told(*pairs: str, volts: float = 115) -> set[str]:
        (answer,) = answer_all(network([supply(volts), motor], wires(*pairs), state()))
        return set(answer.hazards)

    assert "STALLED" not in told(*feed, "M.L M.CAP")
    assert "STALLED" in told(*feed), "open"
    assert ("STALLED" in told(*feed, f"M.L {leads}")) is (leads == "M.S"), "in phase"
    assert "STALLED" not in told("PS.L M.L 0.1"), "it has no volts"
    assert "STALLED" not in told(*feed, volts=80), "below 75 % of its volts it is low, and that is told"


@pytest.mark.parametrize(
    ("pairs", "crossed"),
    [
        (("A.P B.M", "A.M B.P"), True), (("A.P B.M",), True), (("A.M B.P",), True),
        (("A.P B.P", "A.M B.M"), False), (("A.P B.P",), False), ((), False),
    ],
)  # fmt: skip
def test_a_data_pair_is_crossed_by_one_conductor_too(pairs: tuple[str, ...], crossed: bool) -> None:
    ends = [device(name, "P M", load("D", "P", "M", 1, volts=12, data=True)) for name in "AB"]
    (answer,) = answer_all(network([supply(), *ends], wires(*pairs), state()))
    assert ("DATA_CROSSED" in answer.hazards) is crossed
