"""Trials worked by hand: from Ohm's law, the standard's points of a breaker, the source's own figures."""

from __future__ import annotations

import math

import pytest
from leitung_core.plan.patch import merge
from leitung_core.starting.open_form import starting

from tests.core.starting.trials import BATTERY, GENERATOR, INVERTER, Json, on, steady, trial, unit, verdict

MICROWAVE = steady("microwave", 12)
SOFT = {"aid": {"kind": "soft_starter", "peak_a": 20, "ramp_s": 2}}


def test_one_unit_and_the_oven_on_thirty_amperes() -> None:
    """At 3 s: V = 120 - 0.1 x (4 + 12 + 60 V / 120), so V = 118.4 / 1.05; I = 16 + V / 2. In the end 4 + 12 + 12 A."""
    volts = (120 - 0.1 * 16) / 1.05
    found, stop = starting(trial(unit(), MICROWAVE))
    (leg,) = found["legs"]
    assert (found["verdict"], stop, leg["breaker"]) == ("starts", False, "holds")
    assert (leg["peak_a"], leg["peak_at_s"]) == (pytest.approx(16 + volts / 2, abs=1e-3), 3)
    assert (leg["settled_a"], leg["left_a"]) == (28, 2)
    assert found["supply"]["least_v"] == pytest.approx(volts, abs=1e-3)
    assert found["trace"][0] == {"t_s": 0, "leg_a": [20]}
    assert [row["code"] for row in found["findings"]] == ["continuous-load"]


def test_the_trace_of_the_contract() -> None:
    """`starting-contract.md`: 72.6 A at 3 s with 114.2 V left, 27.5 A in the end, 2.5 A left."""
    front = unit(fan={"running_a": 3.5}, compressor={"start_s": 0.3, "power_factor": 0.85})
    found, _ = starting(trial(front, MICROWAVE, source_ohms=0.08))
    (leg,) = found["legs"]
    assert (round(leg["peak_a"], 1), leg["settled_a"], leg["left_a"]) == (72.6, 27.5, 2.5)
    assert round(found["supply"]["least_v"], 1) == 114.2
    assert (found["why"][0]["about"], found["why"][0]["limit"]) == ("breaker of leg 1", 150)


@pytest.mark.parametrize(
    ("amps", "lasts", "expected"),
    [
        # Molded-case breakers: 100 % for ever; 135 % within an hour up to 50 A; 200 % within 2 min up to 30 A.
        (30, None, "starts"), (30.1, None, "may_trip"), (40.4, None, "may_trip"), (40.5, None, "trips"),
        (40.5, 3599, "may_trip"), (40.5, 3600, "trips"), (60, 119, "may_trip"), (60, 120, "trips"),
        # Minutes at 150 % lie between: the straight line on logarithms gives 1446 s.
        (45, 600, "may_trip"), (45, 1500, "trips"),
        # The magnetic trip begins between 5 and 10 times.
        (149.9, 0.5, "starts"), (150, 0.5, "may_trip"), (299, 0.1, "may_trip"), (300, 0.1, "trips"),
    ],
)  # fmt: skip
def test_the_band_of_a_breaker(amps: float, lasts: float | None, expected: str) -> None:
    assert verdict(trial(steady("load", amps), calls=[on("load", 0, lasts)])) == expected


@pytest.mark.parametrize(("rating", "within"), [(30, 120), (31, 240), (50, 240), (51, 360), (100, 360), (101, 600)])
def test_twice_the_rating_by_size(rating: float, within: float) -> None:
    held = trial(steady("load", 2 * rating), calls=[on("load", 0, within - 1)], breaker_a=rating)
    gone = trial(steady("load", 2 * rating), calls=[on("load", 0, within)], breaker_a=rating)
    assert (verdict(held), verdict(gone)) == ("may_trip", "trips")


@pytest.mark.parametrize(
    ("known", "expected"), [(6, "trips"), (8, "starts"), ([6, 8], "may_trip"), ([7.5, 8], "starts")]
)
def test_a_magnetic_trip_that_is_known(known: object, expected: str) -> None:
    assert verdict(trial(steady("load", 30 * 7), calls=[on("load", 0, 0.2)], instant_x=known)) == expected


def test_heat_of_earlier_starts_adds_up() -> None:
    """4.8 times for 0.5 s from full load takes 22 x (1 - e^(-0.5/48)) of the 0.3 that are left: once holds; again a
    second later it does not, and after five minutes at rest it does."""
    inrush = steady("load", 144)

    def starts(*at: float) -> str:
        return verdict(trial(inrush, calls=[on("load", time, time + 0.5) for time in at]))

    assert (starts(0), starts(0, 1.5), starts(0, 300)) == ("starts", "may_trip", "starts")


def test_two_units_together_and_one_after_the_other() -> None:
    """At once 2 x 16 A in the end and a start of 8 + 120 V / 120 A; 40 A hold it, 30 A not for ever; staggered, the
    second starts against 16 A: I = (16 + 4 + 60 x 118 / 126 ...) A."""
    both = [unit(), unit("rear")]
    found, _ = starting(trial(*both, breaker_a=40))
    volts = (120 - 0.1 * 8) / 1.1
    assert (found["verdict"], found["legs"][0]["settled_a"]) == ("starts", 32)
    assert found["legs"][0]["peak_a"] == pytest.approx(8 + volts, abs=1e-3)
    later, _ = starting(trial(*both, breaker_a=40, calls=[on("front", 0), on("rear", 10)]))
    alone = (120 - 0.1 * 20) / 1.05
    assert later["legs"][0]["peak_a"] == pytest.approx(20 + alone / 2, abs=1e-3)
    assert later["legs"][0]["peak_at_s"] == 13
    assert verdict(trial(*both)) == "may_trip"


def test_one_leg_against_two_and_between_them() -> None:
    apart = trial(unit(), unit("rear", leg=2), legs=2)
    found, _ = starting(apart)
    volts = (120 - 0.1 * 4) / 1.05
    assert [leg["peak_a"] for leg in found["legs"]] == [pytest.approx(4 + volts / 2, abs=1e-3)] * 2
    assert [leg["left_a"] for leg in found["legs"]] == [14, 14]
    # Between the legs 240 V feed it: 30 A locked, both legs fall alike: V = 120 - 0.1 x 30 V / 120.
    between = unit(leg="both", fan=None, compressor={"locked_rotor_a": 30})
    found, _ = starting(trial(between, legs=2))
    assert [leg["peak_a"] for leg in found["legs"]] == [pytest.approx(30 / 1.025, abs=1e-3)] * 2
    assert found["supply"]["settled_w"] == pytest.approx(12 * 240 * 0.9)
    # Beside 40 A on leg 1 the volts differ: I = 30 (V1 + V2) / 240 with V1 = 116 - 0.1 I and V2 = 120 - 0.1 I.
    found, _ = starting(trial(between, steady("oven", 40), legs=2, breaker_a=60))
    assert found["legs"][1]["peak_a"] == pytest.approx(30 * 236 / 240 / 1.025, abs=1e-3)


def test_a_long_cord_stalls() -> None:
    """0.5 ohm: V = 118 / 1.25 = 94.4 V, below 96; with 0.45 ohm 118.2 / 1.225 = 96.49 V it comes up."""
    found, stop = starting(trial(unit(), source_ohms=0.5))
    assert (found["verdict"], stop, found["why"][0]["about"]) == ("stalls", True, "compressor of front")
    assert (found["why"][0]["value"], found["why"][0]["limit"]) == (pytest.approx(118 / 1.25, abs=1e-3), 96)
    assert verdict(trial(unit(), source_ohms=0.45)) == "starts"
    assert any("source_ohms" in way["change"].get("supply", {}) for way in found["ways_out"])


def generator(**more: object) -> Json:
    return {"kind": "generator", "generator": GENERATOR | more}


def test_a_generator_by_watts_and_by_its_alternator() -> None:
    """Locked: 60 A x 114.3 / 120, at a power factor of 0.5. With 4 A of the fan, 120 V x (4 + 0.5 x 56.9) W."""
    volts = (120 - 0.1 * 4) / 1.05
    locked = volts / 2
    found, _ = starting(trial(unit(), **generator(surge_w=8000, surge_s=1)))
    assert (found["verdict"], found["supply"]["settled_w"]) == ("starts", pytest.approx(4 * 120 + 12 * 120 * 0.9))
    assert found["supply"]["peak_w"] == pytest.approx(120 * (4 + 0.5 * locked), abs=0.01)
    # 3600 W do in watts (3896 do not), 7200 VA do not in amperes: 3600 / 120 = 30 A against 61.
    found, stop = starting(trial(unit(), **generator(surge_w=4200, surge_s=1)))
    assert (found["verdict"], stop, found["why"][0]["about"]) == ("overloads", True, "alternator")
    assert (found["why"][0]["limit"], found["why"][0]["unit"]) == (35, "A")
    found, _ = starting(trial(unit(), **generator(surge_w=4200, surge_s=1, max_a=65)))
    # 2400 W / 120 V are 20 A for ever; 16 A flow in the end. The breaker would leave 14.
    assert (found["verdict"], found["legs"][0]["left_a"]) == ("starts", 4)
    # The 0.4 s above 2400 W are longer than a surge of 0.3 s may last.
    assert verdict(trial(unit(), **generator(surge_w=9000, surge_s=0.3))) == "overloads"


def test_a_generator_on_economy_may_not_come_up_in_time() -> None:
    assert verdict(trial(unit(), **generator(surge_w=8000, economy=True))) == "may_trip"
    assert verdict(trial(steady("lamp", 10), **generator(economy=True))) == "starts"


def inverter(battery: Json | None = None, **more: object) -> Json:
    return {"kind": "inverter", "inverter": INVERTER | more | {"battery": BATTERY | (battery or {})}}


def test_an_inverter_by_its_surge_seconds() -> None:
    """20 A in the ramp and 4 A of the fan: 2880 VA for 2 s, above 2000 VA for longer than 1 s."""
    stiff = {"ohms": 0.003}
    soft = unit(**SOFT, fan={"running_a": 4, "inrush_a": 4})
    found, _ = starting(trial(soft, **inverter(stiff)))
    assert (found["verdict"], found["why"][0]["at_s"], found["why"][0]["value"]) == ("overloads", 4, 2880)
    assert verdict(trial(soft, **inverter(stiff, surge_s=2))) == "starts"
    assert verdict(trial(unit(), **inverter(stiff, surge_s=2))) == "overloads"


def test_a_battery_sags_and_how_long_it_lasts() -> None:
    """1500 W and 20 W idle at 0.9: 1688.9 W. V = (13 + sqrt(169 - 4 x 0.01 x 1688.9)) / 2 = 11.54 V at 146 A."""
    found, _ = starting(trial(steady("load", 12.5), **inverter()))
    drawn = 1520 / 0.9
    volts = (13 + math.sqrt(169 - 0.04 * drawn)) / 2
    assert found["supply"]["battery_least_v"] == pytest.approx(volts, abs=1e-3)
    assert found["supply"]["battery_peak_a"] == pytest.approx(drawn / volts, abs=1e-3)
    assert found["supply"]["runs_h"] == pytest.approx(2400 * 0.9 * 0.9 / 1520, abs=1e-4)
    # At the cut-off of 10.5 V: 10.5 x 2.5 / 1688.9 = 0.01554 ohm.
    assert verdict(trial(steady("load", 12.5), **inverter({"ohms": 0.0155}))) == "starts"
    found, _ = starting(trial(steady("load", 12.5), **inverter({"ohms": 0.0156})))
    assert (found["verdict"], found["why"][0]["about"]) == ("overloads", "battery")


def test_where_no_single_change_starts_two_together_do() -> None:
    """Two units and the oven on the inverter: 28 A x 120 V in the end are 3360 VA, and a start is far above 4000."""
    document = trial(unit(), unit("rear"), MICROWAVE, **inverter({"ohms": 0.003}))
    found, _ = starting(document)
    assert found["verdict"] == "overloads"
    assert found["ways_out"]
    assert all(len(way["change"]) >= 2 or way["says"].count(".") >= 2 for way in found["ways_out"])
    assert [verdict(merge(document, way["change"])) for way in found["ways_out"]] == ["starts"] * len(found["ways_out"])


def test_a_soft_starter_waits_out_its_lockout() -> None:
    """Off at 20 s with 60 s of lock-out: called again at 30 s, its fan starts at once and the compressor at 80 s."""
    soft = unit(aid={"kind": "soft_starter", "peak_a": 20, "ramp_s": 2, "lockout_s": 60})
    found, _ = starting(trial(soft, calls=[on("front", 0, 20), on("front", 30)]))
    assert [row["t_s"] for row in found["trace"]] == [0, 0.5, 3, 5, 20, 30, 30.5, 80, 82]
    assert [row["leg_a"][0] for row in found["trace"]] == [8, 4, 24, 16, 0, 8, 4, 24, 16]


def test_called_while_it_is_on_nothing_happens_and_after_it_it_starts_again() -> None:
    kettle = steady("kettle", 10)
    found, _ = starting(trial(kettle, calls=[on("kettle", 0, 10), on("kettle", 5), on("kettle", 10, 20)]))
    assert found["trace"] == [{"t_s": 0, "leg_a": [10]}, {"t_s": 10, "leg_a": [10]}, {"t_s": 20, "leg_a": [0]}]


@pytest.mark.parametrize(
    ("document", "named"),
    [
        (trial(unit(), source_ohms=None), "Ohms of the source"),
        (trial(unit(compressor={"locked_rotor_a": None})), "locked-rotor current"),
        (trial(unit(compressor={"start_s": None})), "how long the compressor takes"),
        (trial(unit(fan={"inrush_a": None})), "inrush of the fan"),
        (trial(unit(), kind="generator"), "What the generator gives"),
        (trial(steady("load", 25), calls=[on("load", 0, 3)], **generator(surge_w=None)), "Surge watts"),
        (trial(steady("load", 5), kind="inverter", inverter=INVERTER | {"battery": None}), "Ohms of the battery"),
    ],
)
def test_what_is_not_known_is_named_and_never_starts(document: Json, named: str) -> None:
    found, stop = starting(document)
    assert (found["verdict"], stop) == ("unknown", False)
    assert any(row["code"] == "start-unknown" and named in row["message"] for row in found["findings"])
    assert found["why"] == []


def test_what_fails_by_another_figure_fails_though_something_is_unknown() -> None:
    assert verdict(trial(unit(), steady("oven", 41), source_ohms=None)) == "trips"
    assert verdict(trial(unit(compressor={"locked_rotor_a": None}), steady("oven", 15))) == "may_trip"


def test_a_steady_load_needs_no_ohms_and_no_surge() -> None:
    found, _ = starting(trial(steady("lamp", 10), source_ohms=None))
    assert (found["verdict"], found["supply"]["least_v"]) == ("starts", None)
    assert verdict(trial(steady("lamp", 10), **generator(surge_w=None, surge_s=None))) == "starts"


@pytest.mark.parametrize(
    ("change", "expected"),
    [
        ({"source_ohms": [0.05, 0.2]}, "starts"),
        ({"source_ohms": [0.1, 0.6]}, "stalls"),
        ({"breaker_a": [15, 40]}, "may_trip"),
    ],
)
def test_the_worst_of_a_range_is_the_verdict(change: Json, expected: str) -> None:
    found, _ = starting(trial(unit(), **change))
    assert found["verdict"] == expected
    assert any(row["code"] == "start-range" for row in found["findings"])


def test_the_earliest_certain_failure_is_told_first() -> None:
    """At 3 s (120 - 0.25 x 68) / 1.125 = 91.6 V are left of 120; 80 A in the end would trip after 120 x (60/80)^2 s."""
    found, _ = starting(trial(unit(), steady("oven", 64), source_ohms=0.25))
    assert found["verdict"] == "stalls"
    assert (found["why"][0]["at_s"], found["why"][1]["at_s"]) == (3, pytest.approx(120 * (60 / 80) ** 2, abs=1))
