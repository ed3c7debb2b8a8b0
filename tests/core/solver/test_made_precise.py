"""What the open form says in its last section, each case worked by hand.

The 24 V source behind its regulation: 24 V and r = 0.72 ohm, fed at 120 V. A load of P VA at 24 V is 576 / P ohm.
"""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.control.solved import StateAnswer, answer_all
from leitung_core.errors import InputError

from tests.core.solver.networks import LINE, board, coil, contact, device, load, network, stat, state, supply, wires


def answered(devices: list[dict[str, Any]], *pairs: str, states: list[dict[str, Any]] | None = None,
             **more: Any) -> list[StateAnswer]:  # fmt: skip
    return answer_all(network(devices, wires(*pairs, ohms=0.0), *(states or [state()]), **more))


def about(found: StateAnswer, code: str) -> set[tuple[str, ...]]:
    return {tuple(row.about) for row in found.hazard_details if row.code == code}


def test_what_an_interlock_may_stop_is_judged_neither_way() -> None:
    """The overflow opens the call of a yellow input as well: it may. Without `may_stop` its call does nothing."""
    devices = [
        supply(),
        board(load("YIN", "Y", "C")),
        stat(),
        device("OF", "1 2", contact("K", "1", "2", "cause:overflow", "closed")),
    ]
    pairs = (*LINE, "FB.R TS.R", "TS.Y OF.1", "OF.2 FB.Y")
    on = state("call:cool", "cause:overflow")
    intent = {"FB.YIN": "call:cool"}
    may = {"when": "cause:overflow", "must_stop": [], "may_stop": ["FB.YIN"]}
    (free,) = answered(devices, *pairs, states=[on], intent=intent, interlocks=[may])
    (asked,) = answered(devices, *pairs, states=[on], intent=intent)
    assert "CALL_WITHOUT_LOAD" not in free.hazards
    assert about(asked, "CALL_WITHOUT_LOAD") == {("FB.YIN",)}
    # It works all the same: still neither way.
    (bridged,) = answered(devices, *pairs, "OF.1 OF.2", states=[on], intent={"FB.YIN": "call:heat"}, interlocks=[may])
    assert "LOAD_WITHOUT_CALL" not in bridged.hazards


SIGNAL = {"type": "dc_source", "id": "D", "plus": "S", "minus": "M", "volts": 12, "ohms": 0}


@pytest.mark.parametrize(
    ("turned", "volts", "on", "crossed"),
    [(False, 12, True, False), (True, 12, False, True), (True, 7, False, True), (True, 5, False, False)],
)
def test_a_signal_input_hears_one_polarity(turned: bool, volts: float, on: bool, crossed: bool) -> None:
    """A 12 V input, plus at a: from half its rating the wrong way round it is crossed."""
    source = device("OU", "S M", SIGNAL | {"volts": volts})
    ends = ("OU.S IU.M", "OU.M IU.P") if turned else ("OU.S IU.P", "OU.M IU.M")
    (found,) = answered([supply(), source, device("IU", "P M", load("SIG", "P", "M", None, 12, data=True))], *ends)
    assert [part.energised for part in found.loads] == [on]
    assert (about(found, "DATA_CROSSED") == {("IU.SIG",)}) is crossed


def test_a_signal_drowned_in_alternating_current_is_not_heard() -> None:
    """12 V DC on an input rated 12 V through a 24 V secondary: the DC is there, and 24 V AC with it."""
    mixed = device("X", "P M", load("SIG", "P", "M", 1, 12, data=True))
    source = device("OU", "S M", SIGNAL)
    (found,) = answered([supply(), board(), source, mixed], *LINE, "FB.R X.P", "FB.C OU.S", "OU.M X.M")
    (row,) = found.loads
    assert abs(row.volts_dc or 0) == pytest.approx(12, rel=0.02)
    assert row.energised is False


def test_a_source_of_little_voltage_is_among_what_line_voltage_harms() -> None:
    source = device("OU", "S M", SIGNAL | {"ohms": 1000})
    (found,) = answered([supply(), source], "PS.L OU.S", "PS.N OU.M")
    assert ("OU.D",) in about(found, "LINE_ON_SIGNAL")


def test_a_lifted_secondary_is_seen_from_the_neutral_whatever_the_reference_is() -> None:
    for reference in ("PS.N", "PS.L", "FB.C", None):
        (found,) = answered([supply(), board(load("X", "R", "C"))], *LINE, "PS.L FB.C", reference=reference)
        assert ("FB.T1",) in about(found, "LINE_ON_SIGNAL"), reference


@pytest.mark.parametrize(("fed", "wrong"), [(32, False), (36, True)])
def test_a_transformer_may_be_fed_between_two_taps(fed: float, wrong: bool) -> None:
    """Taps of 208 and 240 V: 32 V between them give 24 V; 36 V give 27 V, 12.5 % too much."""
    taps = [{"terminal": "L", "volts": 240}, {"terminal": "T", "volts": 208}]
    devices = [supply(fed), device("FB", "L T N R C", {**board(primary_taps=taps)["inside"][0]})]
    (found,) = answered(devices, "PS.L FB.L", "PS.N FB.T", states=[state(probes=["FB.R FB.C"])])
    assert found.probes[0].volts == pytest.approx(24 * fed / 32, rel=0.01)
    assert ("WRONG_TAP" in found.hazards) is wrong


@pytest.mark.parametrize("ends", [("FB.R X.A", "FC.R X.B"), ("FB.R X.A", "FC.R X.A")])
def test_a_dry_contact_is_fed_twice_from_two_ends_or_from_one(ends: tuple[str, str]) -> None:
    devices = [supply(), board(), board(name="FC"), device("X", "A B", contact("K", "A", "B", "cause:smoke", dry=True))]
    (found,) = answered(devices, *LINE, "PS.L FC.L", "PS.N FC.N", *ends)
    assert about(found, "DRY_CONTACT_FED_TWICE") == {("X.K",)}


@pytest.mark.parametrize(
    ("other_va", "told"),
    [
        (10, True),  # 12 V each
        (90, True),  # 57.6 and 6.4 ohm: 2.4 V and 21.6 V: each a tenth or more
        (600, True),  # 57.6 and 0.96 ohm: 23.3 V and 0.4 V: the first is well supplied, and still in series
    ],
)
def test_loads_in_one_path_are_told_whoever_gets_the_volts(other_va: float, told: bool) -> None:
    chain = device("X", "R C", load("A", "R", "_m", 10), load("B", "_m", "C", other_va))
    (found,) = answered([supply(), board(), chain], *LINE, "FB.R X.R", "FB.C X.C")
    assert ("SERIES_LOADS" in found.hazards) is told


def test_two_supplies_in_series_are_too_many_volts_and_against_each_other_none() -> None:
    """24 and 24 V in one sense: 48 V on a 24 V coil, less what 1.44 ohm take: 46.8 V; in the other sense nothing."""

    def of(plus: str, minus: str) -> StateAnswer:
        second = device("FC", "L N R C", board()["inside"][0] | {"secondary_plus": plus, "secondary_minus": minus})
        feeds = (*LINE, "PS.L FC.L", "PS.N FC.N")
        relay = device("X", "1 2", coil("K", "1", "2"))
        (found,) = answered([supply(), board(), second, relay], *feeds, "FB.R X.1", "FB.C FC.R", "FC.C X.2")
        return found

    added, cancelled = of("R", "C"), of("C", "R")
    assert added.loads[0].volts == pytest.approx(48 * 57.6 / (57.6 + 1.44), rel=2e-3)
    assert about(added, "OVER_VOLTAGE") == {("X.K",)}
    assert cancelled.loads[0].volts == pytest.approx(0, abs=0.05)
    assert "OVER_VOLTAGE" not in cancelled.hazards


@pytest.mark.parametrize(("volts", "over"), [(142, False), (146, True)])
def test_too_many_volts_begin_at_a_fifth_above(volts: float, over: bool) -> None:
    """24 V at 120: 142 V give 28.4 V, 146 V 29.2 V; less 1.2 % in the winding: 28.05 and 28.84 V of 28.8."""
    (found,) = answered([supply(volts), board(coil("K", "R", "C"))], *LINE)
    assert ("OVER_VOLTAGE" in found.hazards) is over


def heater(delay_s: float = 0, fan: str = "call:heat") -> list[dict[str, Any]]:
    inside = (
        contact("HK", "L1", "_h", "call:heat"), load("HEAT", "_h", "L2", 5000, 240),
        contact("FK", "L1", "_f", fan, delay_on_s=delay_s), load("BLOWER", "_f", "L2", 500, 240),
    )  # fmt: skip
    return [supply(240), device("AH", "L1 L2", *inside)]


AIR = [{"load": "AH.HEAT", "from": "AH.BLOWER", "within_s": 30}]


@pytest.mark.parametrize(
    ("delay_s", "fan", "at_s", "hot"),
    [
        (0, "call:heat", 600, False), (20, "call:heat", 600, False), (20, "call:heat", 10, False),
        (60, "call:heat", 25, False), (60, "call:heat", 40, True),  # 40 s without air, 30 are allowed
        (0, "call:fan", 30, False), (0, "call:fan", 30.1, True),
    ],
)  # fmt: skip
def test_heat_without_air_is_told_after_its_time(delay_s: float, fan: str, at_s: float, hot: bool) -> None:
    (found,) = answered(heater(delay_s, fan), "PS.L AH.L1", "PS.N AH.L2", states=[state("call:heat", at_s=at_s)],
                        needs_air=AIR)  # fmt: skip
    assert (about(found, "HEAT_WITHOUT_AIR") == {("AH.HEAT", "AH.BLOWER")}) is hot


@pytest.mark.parametrize(("volts", "hot"), [(50, False), (58, True)])
def test_a_heater_heats_from_a_twentieth_of_its_power(volts: float, hot: bool) -> None:
    """5 % of its power is 22.4 % of its 240 V: 53.7 V. Nobody calls that off."""
    devices = [supply(volts), *heater(fan="call:fan")[1:]]
    (found,) = answered(devices, "PS.L AH.L1", "PS.N AH.L2", states=[state("call:heat")], needs_air=AIR)
    assert ("HEAT_WITHOUT_AIR" in found.hazards) is hot


@pytest.mark.parametrize(("feed", "dead"), [("FB.R DD.P", False), ("DD.B DD.P", True), ("FB.Y DD.P", True)])
def test_a_safety_device_counts_only_while_it_is_fed_when_it_acts(feed: str, dead: bool) -> None:
    """A detector fed from R, from behind its own contact, and from nowhere."""
    detector = device("DD", "P M A B", load("BOARD", "P", "M", 5), contact("K", "A", "B", "cause:smoke", "closed"))
    devices = [supply(), board(load("FAN", "G", "C")), stat(), detector]
    lock = [{"when": "cause:smoke", "must_stop": ["FB.FAN"], "proved_by": "DD"}]
    pairs = (*LINE, "FB.R DD.A", "DD.B TS.R", "TS.G FB.G", "FB.C DD.M", feed)
    quiet, smoke = answered(
        devices, *pairs, states=[state("call:fan"), state("call:fan", "cause:smoke")], interlocks=lock
    )
    assert "DEAD_SAFETY" not in quiet.hazards, "it has not to act"
    assert (about(smoke, "DEAD_SAFETY") == {("DD", "cause:smoke")}) is dead
    assert "INTERLOCK_INEFFECTIVE" not in smoke.hazards


def test_chatter_is_of_the_state_that_is_asked_for() -> None:
    own = (coil("K", "_k", "C"), contact("KNC", "W", "_k", "coil:FB.K", "closed"))
    chatters, rests = answered([supply(), board(*own), stat()], *LINE, "FB.R TS.R", "TS.W FB.W", states=[
        state("call:heat"), state(after=[(["call:heat"], 60)])])  # fmt: skip
    assert (chatters.chatter, "CHATTER" in chatters.hazards) == (True, True)
    assert (rests.chatter, rests.hazards) == (False, [])


def test_a_missing_common_is_not_told_of_a_shorted_source() -> None:
    """The relay's return is cut off; with R and C joined at the board nobody can say so."""
    relay = device("X", "1 2", coil("K", "1", "2"))
    pairs = (*LINE, "FB.R X.1")
    intent = {"X.K": "true"}
    (cut,) = answered([supply(), board(), relay], *pairs, intent=intent)
    (shorted,) = answered([supply(), board(), relay], *pairs, "FB.R FB.C", intent=intent)
    assert "MISSING_COMMON" in cut.hazards
    assert "MISSING_COMMON" not in shorted.hazards


def test_an_end_that_comes_back_to_its_own_live_side_is_a_missing_common_too() -> None:
    """Both ends on R: whatever closes, there is no way back to C."""
    (found,) = answered([supply(), board(), device("X", "1 2", coil("K", "1", "2"))], *LINE, "FB.R X.1", "FB.R X.2",
                        intent={"X.K": "true"})  # fmt: skip
    assert "MISSING_COMMON" in found.hazards


def test_a_transformer_is_reckoned_by_its_amperes() -> None:
    """45 VA: 1.775 A and 22.72 V: 40.3 VA given, and 106.5 % of its rating."""
    (found,) = answered([supply(), board(load("X", "R", "C", 45))], *LINE)
    (core,) = found.transformers
    assert core.va_out == pytest.approx(24 / (12.8 + 0.72) * 24 * 12.8 / (12.8 + 0.72), rel=3e-3)
    assert core.percent_of_rating == pytest.approx(24 / (12.8 + 0.72) * 24 / 40 * 100, rel=3e-3)


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"interlocks": [{"when": "cause:smoke", "may_stop": ["NO.X"]}]}, "interlocks.may_stop"),
        ({"interlocks": [{"when": "cause:smoke", "proved_by": "NO"}]}, "interlocks.proved_by"),
        ({"needs_air": [{"load": "FB.X", "from": "FB.NO", "within_s": 1}]}, "needs_air"),
        ({"needs_air": [{"load": "FB.X", "within_s": 1}]}, "needs_air.0.from"),
    ],
)  # fmt: skip
def test_a_name_that_leads_nowhere_is_refused(more: dict[str, Any], field: str) -> None:
    with pytest.raises(InputError) as refused:
        answered([supply(), board(load("X", "R", "C"))], *LINE, **more)
    assert [problem.field for problem in refused.value.problems] == [field]
