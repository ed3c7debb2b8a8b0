"""One plant: a power conductor is one thing however it was drawn, and whatever is true of it is told once.

Figures are worked by hand: 8 kW on 240 V is 33.3 A, its conductors carry 41.7 A (424.4(B)).
"""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.catalogue.device import shipped_devices
from leitung_core.control.system import systems_of
from leitung_core.elements.vocabulary import Load
from leitung_core.findings import Finding
from leitung_core.plan.model import dump_plan, read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.result import PlanResult, check_and_brief, check_plan
from leitung_core.wiring.draw import draw_power, drawn_along
from leitung_demo import museum

from tests.core.wiring.plans import CAPPED, ends, landed, on, split_pair

Json = dict[str, Any]
PANEL = {"kind": "panel", "volts": 240, "phase": 1, "volts_to_ground": 120, "bus_a": 200, "main_a": 200, "spaces": 20,
         "measured_peak_a": 20, "measured_days": 365}  # fmt: skip


def run(**more: Any) -> Json:
    return {"order": 10, "method": "NM-B", "conductor": "6", "construction": "stranded", "terminations_c": 75,
            "ambient_c": 30, "current_carrying": 2, "length_ft": 40, "place": "interior",
            "white_reidentified": True} | more  # fmt: skip


def heater(watts: float = 8000, ocpd_a: float = 50, **more: Any) -> Json:
    """A heater behind its breaker, and a switch before it."""
    return {
        "format": "leitung-plan", "format_version": 2, "name": "one heater", "site": {"occupancy": "commercial"},
        "sources": {"P": {**PANEL}},
        "equipment": {"U": {"kind": "unit_heater", "nameplate": {
            "volts": "240", "phase": 1, "heat": {"watts": watts, "rated_volts": 240}}}},
        "circuits": {"H": {
            "source": "P", "equipment": "U", "ocpd": {"rating_a": ocpd_a, "type": "breaker", "spaces": [1, 3]},
            "run": {"s1": run()}, "disconnect": {"rating_a": 60, "type": "nonfused", "in_sight": True},
            "receptacle_distance_ft": 10}},
        "devices": {"D": {"type": "disconnect-2", "circuit": "H", "spot": "interior"},
                    "U": {"type": "unit-heater", "equipment": "U", "spot": "interior"}},
    } | more  # fmt: skip


def by_hand(awg: str, length_ft: float | None = 6, family: str = "nm-b", **more: Any) -> Json:
    """A power cable drawn on Landings from the switch to the heater, landed by the convention."""
    route = {"r1": {"order": 1, "spot": "interior", **({"length_ft": length_ft} if length_ft is not None else {})}}
    wire = {"a": {"device": "D", "strip": "load"}, "b": {"device": "U"}, "family": family, "awg": awg, "count": 3,
            "strands": "solid", "route": route, **more}  # fmt: skip
    return landed(merge(heater(), {"cables": {"W": wire}}), "W")


def told(plan: Json) -> PlanResult:
    return check_plan(read_plan(plan))


def of(result: PlanResult, code: str) -> list[Finding]:
    return [row for row in result.findings if row.code == code]


@pytest.mark.parametrize(("awg", "codes"), [("14", {"conductor-too-small", "conductor-not-protected"}), ("6", set())])
def test_a_power_cable_drawn_by_hand_is_a_stretch_of_the_line_it_extends(awg: str, codes: set[str]) -> None:
    result = told(by_hand(awg))
    stops = {row.code for row in result.findings if row.severity == "stop" and row.about.startswith("cables/W")}
    assert stops == codes
    parts = [(part.id, part.cable) for part in result.drawn["H"].parts if part.kind == "segment"]
    assert parts == [("run/s1", None), ("cable/W.r1", "W")]
    assert result.drawn["H"].cut == ("cable/W.r1" if codes else None)
    # The same piece planned as a stretch of the run is judged the same.
    as_run = told(heater() | {"circuits": merge(heater()["circuits"], {"H": {"run": {"s2": run(
        order=20, conductor=awg, length_ft=6, construction="solid")}}})})  # fmt: skip
    mine, other = result.circuits["H"], as_run.circuits["H"]
    assert mine.voltage_drop_v == other.voltage_drop_v
    assert [s.ampacity_a for s in mine.segments] == [s.ampacity_a for s in other.segments]
    planned = {row.code for row in as_run.findings if row.about.startswith("circuits/H/run/s2/conductor")}
    assert codes <= planned


def test_its_fix_is_a_change_of_the_cable_and_clears_it() -> None:
    plan = by_hand("14")
    (small,) = of(told(plan), "conductor-too-small")
    assert small.fix == {"cables": {"W": {"awg": "6", "strands": "stranded"}}}, "6 AWG is not made solid (Table 8)"
    after = told(merge(plan, small.fix))
    assert not [row for row in after.findings if row.severity == "stop"]


def test_a_length_that_nobody_knows_is_one_finding_of_the_cable() -> None:
    found = [row for row in told(by_hand("6", None)).findings if "length" in row.code]
    assert [(row.code, row.severity, row.key) for row in found] == [("length-missing", "warning", "length:W")]


def test_a_cable_from_the_panel_is_the_run_and_not_one_more_of_it() -> None:
    plan = heater()
    plan["devices"] |= {"B": {"type": "breaker-2", "source": "P", "circuit": "H"}}
    wire = {"a": {"device": "B"}, "b": {"device": "D", "strip": "line"}, "family": "nm-b", "awg": "8", "count": 3}
    plan = landed(plan | {"cables": {"P1": wire}}, "P1")
    result = told(plan)
    (stretch,) = [part for part in result.drawn["H"].parts if part.kind == "segment"]
    assert (stretch.id, stretch.cable) == ("run/s1", "P1")
    # 8 AWG where it is landed, 6 AWG on the line: said, and the thinner judged (8 AWG NM-B carries 40 A).
    assert result.circuits["H"].segments[0].ampacity_a == 40
    (differs,) = of(result, "drawn-differently")
    assert all(not of(told(merge(plan, way.fix)), "drawn-differently") for way in differs.ways or [] if way.fix)


def lamp(awg: str = "14", ocpd_a: float = 50, fuse: bool = False, length_ft: float = 4) -> Json:
    """A lamp's transformer tapped off the heater's switch, through fuses of its own or not."""
    plan = merge(by_hand("6"), {"devices": {"L": {"type": "uv-lamp", "equipment": "U", "spot": "interior"}}})
    plan = merge(plan, {"circuits": {"H": {"ocpd": {"rating_a": ocpd_a}}}})
    make = {"family": "singles", "awg": awg, "count": 3, "strands": "stranded",
            "route": {"r1": {"order": 1, "spot": "interior", "raceway": "EMT", "length_ft": length_ft}}}  # fmt: skip

    def wire(a: str, b: str) -> Json:
        return {"a": {"terminal": a, "pigtail": True}, "b": {"terminal": b}}

    if fuse:
        plan["devices"]["F"] = {"type": "fuse-block-2", "spot": "interior"}
        ahead = {"black": wire("D.load.T1", "F.line.1"), "red": wire("D.load.T2", "F.line.2"),
                 "green": wire("D.gnd.G", "F.gnd.G")}  # fmt: skip
        plan["cables"]["T0"] = {"a": {"device": "D"}, "b": {"device": "F"}, **make, "conductors": ahead}
    at = ("F.load.1", "F.load.2", "F.gnd.G") if fuse else ("D.load.T1", "D.load.T2", "D.gnd.G")
    taps = {"black": wire(at[0], "L.pri.P240"), "red": wire(at[1], "L.pri.COM"), "green": wire(at[2], "L.pri.GND")}
    plan["cables"]["T1"] = {"a": {"device": at[0].split(".")[0]}, "b": {"device": "L"}, **make, "conductors": taps}
    return plan


@pytest.mark.parametrize(
    ("plan", "codes"),
    [
        (lamp(), {"T1": "tap-not-protected"}),  # 14 AWG: 15 A at most (240.4(D)(3)), 50 A ahead
        (lamp(ocpd_a=15), {}),
        # 14 AWG at 60 °C is 15 A: within 10 ft a tenth of 50 A is enough (240.21(B)(1)).
        (lamp(fuse=True), {"T0": "tap-by-length"}),
        # Within 25 ft a third: 15 of 45 A is just that, 15 of 50 A is less (240.21(B)(2)).
        (lamp(fuse=True, length_ft=11, ocpd_a=45), {"T0": "tap-by-length"}),
        (lamp(fuse=True, length_ft=11), {"T0": "tap-not-protected"}),
        (lamp(fuse=True, length_ft=26, ocpd_a=45), {"T0": "tap-not-protected"}),
        (lamp(awg="6"), {}),
    ],
)  # fmt: skip
def test_a_tap_is_judged_by_what_stands_ahead_of_it(plan: Json, codes: dict[str, str]) -> None:
    result = told(plan)
    found = {row.about.split("/")[1]: row.code for row in result.findings if row.code.startswith("tap-")}
    assert {name: code for name, code in found.items() if name.startswith("T")} == codes
    assert set(result.drawn["H"].taps) >= {"T1"}
    for row in of(result, "tap-not-protected"):
        if row.fix:
            assert row.key not in {other.key for other in told(merge(plan, row.fix)).findings}


def test_a_tap_of_which_nothing_is_known_is_said_so() -> None:
    plan = merge(lamp(), {"circuits": {"H": {"ocpd": {"rating_a": None}}}})
    assert {row.about for row in of(told(plan), "tap-unknown")} == {"cables/T1/awg"}


def test_a_unit_fed_by_its_line_is_fed_on_every_screen() -> None:
    """Planned on Lines and drawn on no terminal: the bench feeds it by its line, and Landings does not stop it."""
    plan = heater()
    del plan["devices"]["D"]
    plan["devices"]["U"] |= {"type": "unit-heater-24"}
    plan["devices"]["T"] = {"type": "stat-heat", "equipment": "U"}
    plan["cables"] = {"C": {"a": {"device": "U", "strip": "stat"}, "b": {"device": "T"}, "family": "thermostat",
                            "awg": "18", "count": 2, "length_ft": 20}}  # fmt: skip
    result = told(landed(plan, "C"))
    assert not [row for row in result.findings if row.severity == "stop"], result.findings
    (note,) = of(result, "power-not-drawn")
    drawn = told(merge(landed(plan, "C"), note.fix or {}))
    assert not of(drawn, "power-not-drawn")
    assert not [row for row in drawn.findings if row.severity == "stop"]


def test_a_cable_from_another_breaker_is_said() -> None:
    plan = merge(by_hand("6"), {
        "devices": {"B": {"type": "breaker-2", "source": "P", "circuit": "X"}},
        "circuits": {"X": {"source": "P", "name": "another"}},
        "cables": {"P1": {"a": {"device": "B"}, "b": {"device": "D", "strip": "line"}, "family": "nm-b", "awg": "6",
                          "count": 3, "length_ft": 9}},
    })  # fmt: skip
    (row,) = of(told(landed(plan, "P1")), "fed-otherwise")
    assert (row.severity, row.about) == ("stop", "circuits/H")


def test_an_accessory_may_be_fed_from_the_line_terminals_of_an_indoor_unit() -> None:
    plan = split_pair()
    plan["devices"]["C"] = {"type": "condensate-pump", "spot": "interior"}
    plan["cables"]["A"] = {
        "a": {"device": "B"}, "b": {"device": "C", "strip": "plug"}, "family": "tray", "awg": "14", "count": 3,
        "length_ft": 4, "conductors": {"black": {"a": {"terminal": "B.unit.1"}, "b": {"terminal": "C.plug.L"}},
                                       "white": {"a": {"terminal": "B.unit.2"}, "b": {"terminal": "C.plug.N"}},
                                       "green": {"a": {"terminal": "B.unit.GND"}, "b": {"terminal": "C.plug.GND"}}},
    }  # fmt: skip
    assert not {"two-meanings", "line-on-low", "pole-crossed"} & {row.code for row in told(plan).findings}


def test_one_and_two_crossed_are_told_once_and_the_same_on_wiring_and_bench() -> None:
    plan = museum()
    plan = merge(plan, ends("IC-1", black={"b": on("IU-1.unit.2")}, white={"b": on("IU-1.unit.1")},
                            red={"b": on("IU-1.unit.3")}))  # fmt: skip
    rows = [row for row in told(plan).findings if "IC-1" in row.about or "IU-1" in row.about]
    assert [row.code for row in rows if row.severity == "stop"] == ["signal-crossed"]
    (crossed,) = [row for row in rows if row.code == "signal-crossed"]
    assert any("signal input of IU-1" in text for text in crossed.follows)


def test_a_white_that_is_marked_where_it_lands_is_marked_on_its_line() -> None:
    """The run says nothing of its white, the landings mark it: no engine asks for it once more."""
    plan = museum()
    plan["circuits"]["UH-1"]["run"]["s1"] |= {"white_reidentified": False}
    marked = {row.code for row in told(plan).findings if "UH1" in row.about or "UH-1" in row.about}
    assert not marked & {"white-reidentify", "white-not-marked"}
    bare = merge(plan, ends("P-UH1", white={"a": {"reidentified": None}, "b": {"reidentified": None}}))
    rows = [row for row in told(bare).findings if row.code in ("white-reidentify", "white-not-marked")]
    assert [(r.code, r.severity) for r in rows if r.key == "white:P-UH1"] == [("white-not-marked", "warning")]


@pytest.mark.parametrize(("setting", "codes"), [("208", []), ("240", [("tap-wrong", "stop")])])
def test_the_tap_is_one_fact_set_right_or_wrong(setting: str, codes: list[tuple[str, str]]) -> None:
    plan = merge(museum(), {"devices": {"RT-1": {"settings": {"tap": setting}}}})
    rows = [row for row in told(plan).findings if row.key == "tap:RT-1"]
    assert [(row.code, row.severity) for row in rows] == codes


def test_the_plate_comes_before_the_catalogue() -> None:
    """A 3 kW plate on a device that the catalogue knows with 7.5 kW: the bench solves 3 kW at 240 V, 12.5 A."""
    plan = museum()
    plan["equipment"]["UH-1"]["nameplate"] = {"volts": "240", "phase": 1, "heat": {"watts": 3000, "rated_volts": 240}}
    shipped = {part.id: part for part in shipped_devices()["unit-heater-24"].inside}
    assert shipped["HEAT"].va == 7500  # type: ignore[union-attr]
    plant = Plant(read_plan(plan))
    (heat,) = [part for part in plant.types["UH-1"].inside if isinstance(part, Load) and part.effect == "heat"]
    assert (heat.va, heat.rated_volts) == (3000, 240)
    system = next(system for system in systems_of(plant) if "UH-1" in system.devices)
    assert any(part.id == "HEAT" and part.va == 3000 for d in system.network.devices for part in d.inside)


@pytest.mark.parametrize("kind", ["pedestal", "receptacle", "subpanel"])
@pytest.mark.parametrize(("there_a", "stopped"), [(10, False), (25, True)])
def test_what_is_there_already_counts_on_every_kind_of_source(kind: str, there_a: float, stopped: bool) -> None:
    """18 A new on 30 A: with 10 A there 28 A, with 25 A there 43 A."""
    plan = {
        "format": "leitung-plan", "format_version": 2, "name": "yard",
        "sources": {"S": {"kind": kind, "volts": 120, "phase": 1, "volts_to_ground": 120, "bus_a": 30,
                          "existing": {"M": {"name": "microwave", "existing_a": there_a}}}},
        "equipment": {"U": {"kind": "steam_humidifier", "nameplate": {"volts": "120", "phase": 1, "amps": 18}}},
        "circuits": {"C": {"source": "S", "equipment": "U", "run": {"s1": run(conductor="10")}}},
    }  # fmt: skip
    result = told(plan)
    panel = result.panels["S"]
    assert panel.demand_a == 18 + there_a
    assert [(load.name, load.amps, load.there_already) for load in panel.loads] == [
        ("C", 18, False), ("microwave", there_a, True)
    ]  # fmt: skip
    over = of(result, "panel-overloaded")
    assert bool(over) == stopped
    if stopped:
        assert "25 A of it is there already" in over[0].message
        assert result.drawn["C"].cut == "source"


def test_what_is_there_already_counts_through_the_feeder() -> None:
    """The vault's loads and 30 A more on one of its legs: the feeder carries them, and so does what feeds it."""
    before = told(museum())
    plan = merge(museum(), {"sources": {"VP": {"existing": {"X1": {"name": "lift motor", "existing_a": 30}}}}})
    after = told(plan)
    running = [result.circuits["FD-1"].running_a or 0 for result in (before, after)]
    assert running[1] == pytest.approx(running[0] + 30)
    added = [new - old for new, old in zip(after.panels["MP"].new_a, before.panels["MP"].new_a, strict=True)]
    assert added == pytest.approx([30, 30, 30])


def test_a_load_that_nobody_knows_leaves_the_sum_open() -> None:
    plan = merge(museum(), {"sources": {"TP": {"existing": {"X": {"name": "awning"}}}}})
    result = told(plan)
    assert result.panels["TP"].demand_a is None
    assert "awning" in of(result, "load-incomplete")[0].message


@pytest.mark.parametrize("phase", [1, 3])
@pytest.mark.parametrize("kind", ["mini_split_outdoor", "unit_heater", "dehumidifier"])
def test_drawing_a_line_makes_its_cables_and_landings(phase: int, kind: str) -> None:
    plan = heater()
    plan["sources"]["P"] |= {"volts": 208, "phase": 3} if phase == 3 else {}
    plan["equipment"]["U"] = {"kind": kind, "cord_connected": kind == "dehumidifier" or None}
    plan["circuits"]["H"]["poles"] = 1 if kind == "dehumidifier" else None
    plan["circuits"]["H"]["run"]["s2"] = run(order=20, method="THWN-2", raceway="LFNC", length_ft=4, place="outdoor")
    plan = merge({key: value for key, value in plan.items() if key != "devices"}, {"x": None})
    patch = draw_power(Plant(read_plan(plan)), "H") or {}
    drawn = merge(plan, patch)
    result = told(drawn)
    line = Plant(read_plan(drawn)).lines["H"]
    assert [line.path[0].partition("-")[0], len(line.cables)] == ["B", 1 if kind == "dehumidifier" else 2] or (
        kind == "dehumidifier"
    )
    wiring = {row.code for row in result.findings if row.about.split("/")[0] in ("cables", "devices")}
    assert not {row.code for row in result.findings if row.severity == "stop"} & wiring
    assert all(part.cable for part in result.drawn["H"].parts if part.kind == "segment")
    # Drawn once, nothing more is drawn.
    assert draw_power(Plant(read_plan(drawn)), "H") is None


def test_cables_keep_in_step_with_the_run() -> None:
    empty = read_plan({key: value for key, value in heater().items() if key in ("format", "format_version", "name")})
    plan = heater()
    del plan["devices"]
    whole = read_plan(plan)
    drawn = merge(plan, drawn_along(empty, whole))
    assert {name: cable["segments"] for name, cable in drawn["cables"].items()} == {"P-H": ["s1"], "W-H": []}
    more = merge(drawn, {"circuits": {"H": {"run": {"s0": run(order=1), "s9": run(order=90)}}}})
    along = merge(more, drawn_along(read_plan(drawn), read_plan(more)))
    assert along["cables"]["P-H"]["segments"] == ["s0", "s1", "s9"]
    fewer = merge(along, {"circuits": {"H": {"run": {"s1": None}}}})
    along = merge(fewer, drawn_along(read_plan(along), read_plan(fewer)))
    assert along["cables"]["P-H"]["segments"] == ["s0", "s9"]
    again = read_plan(along)
    assert drawn_along(again, again) == {}
    # An older plan with nothing drawn stays as it is.
    assert drawn_along(whole, read_plan(merge(dump_plan(whole), {"name": "other"}))) == {}


def test_a_capped_conductor_is_no_power() -> None:
    plan = merge(by_hand("14"), ends("W", **{name: {"a": CAPPED, "b": CAPPED} for name in ("black", "white", "bare")}))
    parts = [part.id for part in told(plan).drawn["H"].parts if part.kind == "segment"]
    assert "run/s1" in parts


def test_the_cord_of_a_listed_unit_is_protected_with_it_however_it_is_drawn() -> None:
    """240.5(A): a 16 AWG cord carries 13 A and is not protected at 15 A; 240.5(B)(1): one of a listed unit is."""
    plan = museum()
    about = "cables/W-CP1/awg"
    assert not [row for row in told(plan).findings if row.about == about]
    site_made = merge(plan, {"cables": {"W-CP1": {"factory_cord": False}}})
    assert [row.code for row in told(site_made).findings if row.about == about] == ["conductor-not-protected"]


def on_receptacle(**units: float) -> Json:
    """Units with a plug, by their amperes, on one 120 V receptacle behind 20 A."""
    unit = {"kind": "dehumidifier", "cord_connected": True}
    return {
        "format": "leitung-plan", "format_version": 2, "name": "pantry",
        "sources": {"R": {"kind": "receptacle", "name": "pantry receptacle", "volts": 120, "phase": 1,
                          "volts_to_ground": 120, "main_a": 20}},
        "equipment": {key: unit | {"nameplate": {"volts": "120", "amps": amps, "max_ocpd_a": 25 - amps}}
                      for key, amps in units.items()},
        "circuits": {key: {"source": "R", "equipment": key, "receptacle_a": 20} for key in units},
    }  # fmt: skip


def test_units_on_one_receptacle_share_its_breaker() -> None:
    """Nobody is asked for a second breaker, and one unit's plate does not shrink what the other hangs on."""
    result = told(on_receptacle(A=5, B=7))
    assert not of(result, "ocpd-not-chosen")
    (row,) = of(result, "ocpd-above-max")
    assert (row.about, row.fix, row.severity) == ("sources/R/main_a", None, "stop")
    assert "20 A is above the 18 A that the plate allows." in row.message
    assert "a circuit of its own" in row.message
    assert [result.drawn[key].cut for key in "AB"] == ["ocpd", "ocpd"], "what stands at the breaker stops both"
    assert [entry.rating_a for entry in result.panels["R"].directory] == [20, 20]
    steps = {row.key: row.text for row in check_and_brief(read_plan(on_receptacle(A=5, B=7)))[1].start_up.steps}
    assert "ahead of pantry receptacle, which feeds B too: off, locked" in steps["A.breaker-locked"]
    assert "A.main-off" not in steps


def test_alone_on_its_receptacle_a_unit_may_ask_for_a_smaller_breaker() -> None:
    plan = on_receptacle(B=7)
    (row,) = of(told(plan), "ocpd-above-max")
    assert row.fix == {"sources": {"R": {"main_a": 15.0}}}
    assert not of(told(merge(plan, row.fix)), "ocpd-above-max")
