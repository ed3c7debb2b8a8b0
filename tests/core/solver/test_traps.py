"""The traps of control wiring, each a network; the figures are worked by hand from Ohm's law, and stand beside it.

The 24 V source behind its regulation: 24 V and r = 24² / 40 x 5 % = 0.72 ohm, fed at 120 V (its drop is below 0.1 %).
A coil of P VA is 576 / P ohm.
"""

from __future__ import annotations

import pytest
from leitung_core.control.hazards import hazards
from leitung_core.control.solved import Moment, StateAnswer, answer_all
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Stretch, settle
from leitung_core.solver.network import Network

from tests.core.solver.networks import (
    LINE,
    board,
    coil,
    contact,
    device,
    load,
    network,
    stat,
    state,
    supply,
    transformer,
    wires,
)

R_SOURCE = 0.72


def on(found: Moment) -> set[str]:
    return {f"{part.device}.{part.element}" for part in found.loads if part.energised}


def volts(found: Moment, name: str) -> float:
    return next(part.volts for part in found.loads if f"{part.device}.{part.element}" == name)


def solved(net: Network) -> list[StateAnswer]:
    return answer_all(net)


def condenser(va: float = 10) -> dict:
    return device("CU", "Y C", coil("CC", "Y", "C", va))


PAIR = wires(*LINE, "FB.R TS.R", "FB.W TS.W", "FB.R CU.Y", "FB.W CU.C", ohms=0.0)


@pytest.mark.parametrize(("input_va", "runs_alone"), [(4, False), (2, True), (40, False)])
def test_a_condenser_pair_on_r_and_w_puts_the_contactor_in_series_with_the_heat_input(
    input_va: float, runs_alone: bool
) -> None:
    """A 10 VA contactor (57.6 ohm) and a heat input in series on 24 V: the larger resistance takes the volts."""
    heat = load("HEAT", "W", "C", input_va)
    idle, calling, after = solved(
        network(
            [supply(), board(heat), stat(), condenser()], PAIR, state(), state("call:heat"),
            state(after=[(["call:heat"], 60)]), intent={"FB.HEAT": "call:heat", "CU.CC": "call:cool"},
        )
    )  # fmt: skip
    total = 57.6 + 576 / input_va + R_SOURCE
    assert volts(idle, "FB.HEAT") == pytest.approx(24 * 576 / input_va / total, rel=2e-3)
    assert volts(idle, "CU.CC") == pytest.approx(24 * 57.6 / total, rel=2e-3)
    assert ("FB.HEAT" in on(idle)) is runs_alone
    assert ("CU.CC" in on(idle)) is (input_va == 40)  # 57.6 of 72 ohm: 19.2 V, above its pull-in
    assert "SERIES_LOADS" in idle.hazards
    assert ("LOAD_WITHOUT_CALL" in idle.hazards) is (runs_alone or input_va == 40)
    assert on(calling) == {"FB.HEAT"}, "the closed heat contact bridges the contactor"
    assert ("FB.HEAT" in on(after)) is runs_alone


def test_it_never_stops_where_the_heat_input_holds_low() -> None:
    """A 4 VA relay as the heat input: 144 of 202 ohm is 17.1 V, under its pull-in of 18 V and above its 12 V hold."""
    heat = coil("HEAT", "W", "C", 4)
    idle, after = solved(
        network([supply(), board(heat), stat(), condenser()], PAIR, state(), state(after=[(["call:heat"], 60)]))
    )
    assert on(idle) == set()
    assert on(after) == {"FB.HEAT"}
    assert volts(after, "FB.HEAT") == pytest.approx(24 * 144 / (144 + 57.6 + R_SOURCE), rel=2e-3)


def humidifier(*inside: dict) -> dict:
    return device("HU", "L N R C", transformer(), *inside)


def test_an_accessory_with_its_own_24_v_on_a_powered_terminal_ties_two_supplies() -> None:
    feeds = (*LINE, "PS.L HU.L", "PS.N HU.N")
    devices = [supply(), board(coil("FR", "G", "C")), humidifier(load("B", "R", "C", 5))]
    tied, one_wire = (
        solved(network(devices, wires(*feeds, *more), state()))[0]
        for more in (("FB.R HU.R", "FB.C HU.C"), ("FB.R HU.R",))
    )
    assert "SOURCES_TIED" in tied.hazards
    assert one_wire.hazards == []


def test_tied_in_opposition_both_are_shorted_through_each_other() -> None:
    """R to C and C to R: 48 V round 2 x 0.72 ohm and two wires of 0.1."""
    feeds = (*LINE, "PS.L HU.L", "PS.N HU.N", "FB.R HU.C", "FB.C HU.R")
    found = solved(network([supply(), board(), humidifier()], wires(*feeds), state()))[0]
    assert "SOURCES_TIED" in found.hazards
    assert found.transformers[0].secondary_amps == pytest.approx(48 / (2 * R_SOURCE + 0.2), rel=0.05)


def test_a_missing_common_is_named_and_the_open_end_reads_the_feed() -> None:
    devices = [supply(), board(coil("FR", "G", "C")), device("TS", "R C", load("BOARD", "R", "C", 4))]
    probe = ["TS.R FB.C", "TS.C FB.C", "TS.R TS.C"]
    found = solved(network(devices, wires(*LINE, "FB.R TS.R"), state(probes=probe), intent={"TS.BOARD": "true"}))[0]
    assert "MISSING_COMMON" in found.hazards
    assert [p.volts for p in found.probes] == pytest.approx([24, 24, 0], abs=0.1)
    sound = solved(network(devices, wires(*LINE, "FB.R TS.R", "FB.C TS.C"), state(), intent={"TS.BOARD": "true"}))[0]
    assert sound.hazards == []


def test_a_valve_conductor_on_common_is_a_short_when_called_and_the_board_keeps_what_the_cable_leaves() -> None:
    """74 ft of 18 AWG each way, 0.577 ohm: 24 V / (0.72 + 2 x 0.577 + 0.01) = 12.7 A; the board keeps 12.7 x 1.164."""
    cable = ("FB.R TS.R 0.577", "FB.C TS.O 0.577")
    devices = [supply(), board(coil("FR", "G", "C")), stat()]
    idle, called = solved(
        network(devices, wires(*LINE, *cable), state(), state("call:valve", probes=["FB.R FB.C"]))
    )  # fmt: skip
    amps = 24 / (R_SOURCE + 2 * 0.577 + 0.01)
    assert idle.hazards == []
    assert {"SHORTED_SECONDARY", "OVERLOAD_VA"} <= set(called.hazards)
    assert called.transformers[0].secondary_amps == pytest.approx(amps, rel=0.02)
    assert called.probes[0].volts == pytest.approx(amps * (2 * 0.577 + 0.01), rel=0.02)


def test_the_fuse_opens_and_what_it_leaves_behind() -> None:
    devices = [supply(), board(coil("FR", "G", "C"), fuse_a=3), stat()]
    joined = wires(*LINE, "FB.R TS.R 0.3", "FB.C TS.O 0.3", "FB.G TS.G 0.3")
    found = solved(network(devices, joined, state("call:valve", "call:fan", probes=["FB.R FB.C"])))[0]
    assert [fuse.opens for fuse in found.fuses] == [True]
    assert found.after_fuse is not None
    assert found.after_fuse.opened == ["FB.F1"]
    assert found.after_fuse.hazards == []
    assert found.after_fuse.probes[0].volts == 0, "joined to common by the cable, and no longer to the source"
    assert on(found.after_fuse) == set()


DETECTOR = device(
    "DD", "COM NC NO", contact("KNC", "COM", "NC", "cause:smoke", "closed"), contact("KNO", "COM", "NO", "cause:smoke")
)
MOTOR = (coil("FR", "G", "C"), contact("FRK", "L", "_m", "coil:FB.FR"), load("FAN", "_m", "N", 300, 120))


@pytest.mark.parametrize(("end", "jumper", "stops"), [("NC", False, True), ("NO", False, None), ("NC", True, False)])
def test_a_detector_stops_by_its_closed_contact_alone(end: str, jumper: bool, stops: bool | None) -> None:
    """On the open side nothing runs until there is smoke; with the factory jumper left in, smoke does nothing."""
    devices = [supply(), board(*MOTOR), stat(), DETECTOR]
    joined = wires(*LINE, "FB.R DD.COM", f"DD.{end} TS.R", "FB.G TS.G", *(["FB.R TS.R"] if jumper else []))
    quiet, smoke = solved(
        network(
            devices, joined, state("call:fan"), state("call:fan", "cause:smoke"),
            intent={"FB.FAN": "call:fan"}, interlocks=[{"when": "cause:smoke", "must_stop": ["FB.FAN"]}],
        )
    )  # fmt: skip
    assert ("FB.FAN" in on(quiet)) is (stops is not None)
    assert ("FB.FAN" in on(smoke)) is (stops is not True)
    assert ("INTERLOCK_INEFFECTIVE" in smoke.hazards) is (stops is not True)


@pytest.mark.parametrize(("volts_fed", "tap", "secondary", "wrong"), [
    (208, 240, 20.8, True), (208, 208, 24.0, False), (240, 208, 27.69, True), (120, 240, 12.0, True),
    (208, 230, 21.70, True), (225, 240, 22.5, False),
])  # fmt: skip
def test_a_wrong_tap_gives_its_share_of_24_v(volts_fed: float, tap: float, secondary: float, wrong: bool) -> None:
    taps = [{"terminal": "L", "volts": tap}, {"terminal": "_other", "volts": 120}]
    found = solved(network([supply(volts_fed), board(primary_taps=taps)], wires(*LINE), state()))[0]
    assert found.transformers[0].secondary_terminal_volts == pytest.approx(secondary, rel=1e-3)
    assert ("WRONG_TAP" in found.hazards) is wrong


def test_two_like_coils_in_series_see_half_each() -> None:
    devices = [supply(), board(), device("A", "1 2", coil("K", "1", "2")), device("B", "1 2", coil("K", "1", "2"))]
    found = solved(network(devices, wires(*LINE, "FB.R A.1", "A.2 B.1", "B.2 FB.C"), state()))[0]
    assert [volts(found, name) for name in ("A.K", "B.K")] == pytest.approx([12, 12], rel=0.01)
    assert {"SERIES_LOADS", "LOW_VOLTAGE"} <= set(found.hazards)


RELAY = device("DR", "A1 A2 COM NO", load("K", "A1", "A2", 3), contact("KD", "COM", "NO", "coil:DR.K", delay_on_s=30))
DELAYED = ("FB.R TS.R", "TS.G DR.A1", "FB.C DR.A2", "FB.R DR.COM", "DR.NO FB.G")


def test_a_fan_delay_staggers() -> None:
    devices = [supply(), board(*MOTOR), stat(), RELAY]
    answers = solved(
        network(devices, wires(*LINE, *DELAYED), state("call:fan", at_s=29), state("call:fan", at_s=30),
                state(after=[(["call:fan"], 60)], at_s=1), state(after=[(["call:fan"], 20)], at_s=60))
    )  # fmt: skip
    assert ["FB.FAN" in on(found) for found in answers] == [False, True, False, False]


@pytest.mark.parametrize(("called_for", "missed"), [(10, False), (40, True)])
def test_what_is_due_later_counts_from_the_call_and_not_from_the_start(called_for: float, missed: bool) -> None:
    """Ten quiet minutes before, and a relay that is not there: the fan is missed 30 s after its call, not at once."""
    net = network(
        [supply(), board(*MOTOR), stat()], wires(*LINE, "FB.R TS.R"), intent={"FB.FAN": "call:fan and t >= 30"}
    )
    course = (Stretch(frozenset(), 600), Stretch(frozenset({"call:fan"}), called_for))
    codes = {hazard.code for hazard in hazards(settle(Compiled(net), [course]))}
    assert ("CALL_WITHOUT_LOAD" in codes) is missed


def test_a_fan_conductor_left_on_both_relay_and_board_latches_the_fan() -> None:
    devices = [supply(), board(*MOTOR), stat(), RELAY]
    joined = wires(*LINE, *DELAYED, "TS.G FB.G")
    before, after = solved(
        network(devices, joined, state(), state(after=[(["call:fan"], 60)]), intent={"FB.FAN": "call:fan"})
    )
    assert on(before) == set()
    assert {"FB.FAN", "DR.K"} <= on(after)
    assert "LOAD_WITHOUT_CALL" in after.hazards


def test_a_back_fed_transformer_puts_line_voltage_on_an_open_disconnect() -> None:
    """The second board's primary hangs on an open disconnect; its 24 V side on the first board's."""
    switch = device("D", "1 2", contact("P", "1", "2", "hand:D", "closed"))
    devices = [supply(), board(), board(name="F2"), switch]
    joined = wires(*LINE, "PS.L D.1", "D.2 F2.L", "PS.N F2.N", "FB.R F2.R", "FB.C F2.C")
    off = solved(network(devices, joined, state("hand:D", probes=["D.2 PS.N", "D.1 D.2"])))[0]
    assert off.probes[0].volts == pytest.approx(120, rel=0.01)
    assert "SOURCES_TIED" not in off.hazards, "the second is not a source of its own while its disconnect is open"


def test_an_overflow_on_y_leaves_the_fan_on_and_on_r_stops_all() -> None:
    switch = device("OF", "1 2", contact("K", "1", "2", "cause:overflow", "closed"))
    devices = [supply(), board(*MOTOR), stat(), condenser(), switch]
    on_y = ("FB.R TS.R", "TS.Y OF.1", "OF.2 CU.Y", "FB.C CU.C", "TS.G FB.G")
    on_r = ("FB.R OF.1", "OF.2 TS.R", "TS.Y CU.Y", "FB.C CU.C", "TS.G FB.G")
    calls = ("call:cool", "call:fan")
    for joined, left in ((on_y, {"FB.FR", "FB.FAN"}), (on_r, set())):
        dry, full = solved(network(devices, wires(*LINE, *joined), state(*calls), state(*calls, "cause:overflow")))
        assert on(dry) == {"FB.FR", "FB.FAN", "CU.CC"}
        assert on(full) == left


def test_line_voltage_on_a_signal_input_and_a_24_v_side_lifted_by_it() -> None:
    signal = load("SIG", "S", "N", 0.25, 50, dc_signal=True)
    outdoor = device("OU", "L N S", {"type": "dc_source", "id": "D", "plus": "S", "minus": "N", "volts": 50,
                                     "ohms": 1000})  # fmt: skip
    devices = [supply(230), outdoor, device("IU", "L N S", signal, load("B", "L", "N", 60, 230))]
    feeds = ("PS.L OU.L", "PS.N OU.N")
    good, crossed = (
        solved(network(devices, wires(*feeds, *pair), state(probes=["IU.S IU.N"])))[0]
        for pair in (("OU.L IU.L", "OU.N IU.N", "OU.S IU.S"), ("OU.L IU.S", "OU.N IU.N", "OU.S IU.L"))
    )
    assert good.probes[0].volts_dc == pytest.approx(50 * 10_000 / 11_000, rel=1e-3)
    assert "IU.SIG" in on(good)
    assert good.hazards == []
    assert "LINE_ON_SIGNAL" in crossed.hazards
    lifted = solved(network([supply(), board()], wires(*LINE, "PS.L FB.C"), state()))[0]
    assert "LINE_ON_SIGNAL" in lifted.hazards


def test_a_crossed_data_pair_and_a_dry_contact_fed_twice() -> None:
    ends = [device(name, "P M", load("D", "P", "M", None, 12, data=True)) for name in ("A", "B")]
    turned, straight = (
        solved(network([supply(), *ends], wires(*pair), state()))[0].hazards
        for pair in (("A.P B.M", "A.M B.P"), ("A.P B.P", "A.M B.M"))
    )
    assert (turned, straight) == (["DATA_CROSSED"], [])
    dry = device("IR", "1 2", contact("K", "1", "2", "call:fan", dry=True))
    feeds = (*LINE, "PS.L HU.L", "PS.N HU.N")
    found = solved(network([supply(), board(), humidifier(), dry], wires(*feeds, "FB.R IR.1", "HU.R IR.2"), state()))
    assert found[0].hazards == ["DRY_CONTACT_FED_TWICE"]


def test_a_relay_that_opens_its_own_coil_chatters() -> None:
    own = (coil("K", "_k", "C"), contact("KNC", "R", "_k", "coil:FB.K", "closed"))
    found = solved(network([supply(), board(*own)], wires(*LINE), state()))[0]
    assert found.chatter
    assert "CHATTER" in found.hazards


def test_what_is_not_known_is_a_range_and_what_it_decides_is_not_said() -> None:
    """A relay of unknown VA in series with one of 10 VA: its share runs from 4 to 20 V, so neither is on or off."""
    devices = [
        supply(),
        board(),
        device("A", "1 2", coil("K", "1", "2", None)),
        device("B", "1 2", coil("K", "1", "2")),
    ]
    found = solved(network(devices, wires(*LINE, "FB.R A.1", "A.2 B.1", "B.2 FB.C"), state(probes=["A.1 A.2"])))[0]
    part = next(part for part in found.loads if part.device == "A")
    assert found.assumed == ["A.K"]
    assert (part.energised, part.va_known) == (None, False)
    assert (part.low, part.high) == pytest.approx((24 * 28.8 / 86.4, 24 * 288 / 345.6), rel=0.02)
    assert found.probes[0].low == pytest.approx(part.low or 0)
    plain = solved(network([supply(), board(coil("K", "R", "C", None))], wires(*LINE), state()))[0]
    assert on(plain) == {"FB.K"}, "on 24 V of its own it pulls in, whatever it draws"
