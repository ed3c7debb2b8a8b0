"""Every pattern on a plan that it suits: placed whole, sound, its matrix satisfied, its key conductor vital."""

from __future__ import annotations

from itertools import combinations
from typing import Any

import pytest
from leitung_core.commissioning.set_up import set_up
from leitung_core.control.hazards import hazards
from leitung_core.control.judgement import judge
from leitung_core.control.probes import pairs_of, signal_pairs
from leitung_core.control.simulate import simulate
from leitung_core.control.system import System, systems_of, whole
from leitung_core.control.trials import trials
from leitung_core.errors import InputError
from leitung_core.patterns.fit import Fitted, fit
from leitung_core.patterns.patterns import patterns
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import ENDS, Plant
from leitung_core.result import check_plan
from leitung_core.slips.harm import readings
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Stretch, loads_of, settle
from leitung_core.solver.network import Probe

from tests.core.wiring.plans import Json, changed, landed, two

ROUTE = {"r1": {"order": 10, "spot": "interior", "length_ft": 30}}


def line(key: str, poles: int = 2) -> Json:
    return {"circuits": {key: {"source": "P", "equipment": key, "poles": poles, "ocpd": {"rating_a": 30}}}}


def base(
    board: str = "air-handler-board", thermostat: str = "stat-universal", count: int = 10, volts: float = 240
) -> Json:
    """A board on its line with its thermostat, a condensing unit, a steam humidifier, a dehumidifier, a pump."""
    plan = two(board, thermostat, count=count)
    plan = changed(
        plan,
        {"cables": {"T": {"route": {**ROUTE}, "length_ft": None}}},
        {
            "sources": {"P": {"volts": volts, "phase": 1, "volts_to_ground": 120}},
            "equipment": {key: {"kind": kind} for key, kind in KINDS.items()},
            "devices": {"A": {"equipment": "A", "settings": {"tap": "240"} if board == "air-handler-board" else {}},
                        "B": {"equipment": "A"},
                        "CU": {"type": "condensing-unit", "equipment": "CU"},
                        "SH": {"type": "steam-humidifier", "equipment": "SH"},
                        "DH": {"type": "dehumidifier", "equipment": "DH"},
                        "CP": {"type": "condensate-pump", "equipment": "CP"}},
            "cables": {"U": {"a": {"device": "A"}, "b": {"device": "CU"}, "family": "thermostat", "awg": "18",
                             "count": 2, "route": ROUTE}},
        },
        *(line(key, 1 if key in ("DH", "CP") else 2) for key in KINDS),
    )  # fmt: skip
    return powered(landed(landed(plan), "U"), *KINDS)


STRIPS = {"DH": "plug", "CP": "plug"}


def powered(plan: Json, *keys: str, poles: int = 2) -> Json:
    """Each of the devices with a breaker of its own and its power cable landed."""
    for key in keys:
        one_leg = key in STRIPS or poles == 1
        family = {"family": "singles-neutral" if one_leg or poles == 3 else "singles", "count": 3 if poles < 3 else 4}
        if poles == 3:
            family = {"family": "singles", "count": 4}
        cable = {
            "a": {"device": f"M{key}"},
            "b": {"device": key, "strip": STRIPS.get(key, "power")},
            "awg": "10",
            "strands": "stranded",
            "route": {"r1": {**ROUTE["r1"], "raceway": "EMT"}},
            **family,
        }
        breaker = {"type": f"breaker-{1 if one_leg else poles}", "source": "P", "circuit": key}
        plan = landed(changed(plan, {"devices": {f"M{key}": breaker}, "cables": {f"P{key}": cable}}), f"P{key}")
    return plan


KINDS = {"A": "air_handler", "CU": "condensing_unit", "SH": "steam_humidifier", "DH": "dehumidifier",
         "CP": "condensate_pump"}  # fmt: skip
ROOFTOP = powered(
    changed(
        landed(two("rooftop-board", "stat-universal", count=8)),
        {
            "sources": {"P": {"volts": 208, "phase": 3, "volts_to_ground": 120}},
            "equipment": {"A": {"kind": "packaged_rooftop"}},
            "circuits": {"A": {"source": "P", "equipment": "A", "ocpd": {"rating_a": 40}}},
            "devices": {"A": {"equipment": "A", "settings": {"tap": "208"}}, "B": {"equipment": "A"}},
        },
    ),
    "A",
    poles=3,
)
HEATER = {
    "format": "leitung-plan", "format_version": 2, "name": "heater",
    "sources": {"P": {"volts": 240, "phase": 1, "volts_to_ground": 120}},
    "equipment": {"A": {"kind": "unit_heater"}}, **line("A"),
    "devices": {"A": {"type": "unit-heater-24", "equipment": "A"}},
}  # fmt: skip
TRAILER = landed({
    "format": "leitung-plan", "format_version": 2, "name": "trailer",
    "sources": {"P": {"volts": 120, "phase": 1, "volts_to_ground": 120}},
    "equipment": {"A": {"kind": "roof_unit_120v"}}, **line("A", 1),
    "devices": {"A": {"type": "roof-unit", "equipment": "A", "spot": "vehicle"},
                "B": {"type": "stat-basic", "equipment": "A", "spot": "vehicle"}},
    "cables": {"T": {"a": {"device": "A", "strip": "ctl"}, "b": {"device": "B"}, "family": "thermostat", "awg": "18",
                     "count": 4, "strands": "stranded",
                     "route": {"r1": {"order": 10, "spot": "vehicle", "length_ft": 8}}}},
})  # fmt: skip
SPLIT = powered(
    {
        "format": "leitung-plan", "format_version": 2, "name": "mini-split",
        "sources": {"P": {"volts": 240, "phase": 1, "volts_to_ground": 120}},
        "equipment": {"A": {"kind": "mini_split_outdoor"}}, **line("A"),
        "devices": {"A": {"type": "split-outdoor-1", "equipment": "A", "spot": "outdoor"},
                    "B": {"type": "split-indoor-wall", "equipment": "A", "spot": "interior"}},
    }, "A",
)  # fmt: skip
SPLIT = landed(changed(SPLIT, {"cables": {"IC": {
    "a": {"device": "A", "strip": "zone-a"}, "b": {"device": "B", "strip": "unit"},
    "family": "tray", "count": 4, "awg": "14", "strands": "stranded",
    "route": {"r1": {"order": 10, "spot": "outdoor", "length_ft": 30}},
}}}), "IC")  # fmt: skip
BARE = {**base(), "devices": {**base()["devices"], "B": None}, "cables": {"U": base()["cables"]["U"]}}
BARE["devices"] = {key: value for key, value in BARE["devices"].items() if value is not None}
ONE_HEAT = changed(base(), {"cables": {"T": {"conductors": {"brown": {end: {"terminal": None, "capped": True}
                                                                      for end in ENDS}}}}})  # fmt: skip
BASES: dict[str, Json] = {
    "high-limit": ONE_HEAT,
    "dehumidifier-damper": base(),
    "detector-loop": ROOFTOP, "fire-panel-loop": ROOFTOP, "pump-split": SPLIT,
    "heater-thermostat": powered(HEATER, "A"), "adapter": BARE,
    "soft-starter": powered(TRAILER, "A", poles=1), "hard-start": powered(TRAILER, "A", poles=1),
    "load-manager": powered(TRAILER, "A", poles=1),
}  # fmt: skip


def suited(name: str) -> Json:
    """A plan that a pattern suits; the limit and the airflow switch need something that calls the steam."""
    if name == "limit-airflow":
        return placed(base(), "humidistat")[0]
    if name == "key-station":
        return placed(base(), "detector-r")[0]
    return BASES.get(name, base())


def placed(plan: Json, name: str, **more: Any) -> tuple[Json, Fitted]:
    found = fit(Plant(read_plan(plan)), patterns()[name], "A", **more)
    return merge(plan, found.patch), found


def systems(plan: Json) -> list[System]:
    return systems_of(Plant(read_plan(plan)))


def bench(plan: Json) -> set[tuple[str, str]]:
    return {(row.code, row.about) for one in systems(plan) for row in judge(one).findings}


def stops(plan: Json) -> set[tuple[str, str]]:
    return {(row.code, row.about) for row in check_plan(read_plan(plan)).findings if row.severity == "stop"} | {
        (row.code, row.about) for one in systems(plan) for row in judge(one).findings if row.severity == "stop"
    }


def outcomes(plan: Json) -> dict[tuple[str, str], str]:
    return {(e.cell.cause, e.cell.effect): e.outcome for one in systems(plan) for e in judge(one).cells}


def without(plan: Json, ref: str) -> Json:
    """The plan with every conductor on a terminal taken off at both ends."""
    capped = {"terminal": None, "capped": True, "connector": None, "pigtail": None}
    patches = [
        {"cables": {wire.cable_id: {"conductors": {wire.id: dict.fromkeys(ENDS, capped)}}}}
        for wire, _ in Plant(read_plan(plan)).on.get(ref, [])
    ]
    assert patches, f"nothing on {ref}"
    return changed(plan, *patches)


@pytest.mark.parametrize("name", patterns())
def test_alone_it_fits_works_and_satisfies_its_matrix(name: str) -> None:
    plan = suited(name)
    after, found = placed(plan, name)
    assert found.obstacles == []
    assert stops(after) <= stops(plan), stops(after) - stops(plan)
    shown = outcomes(after)
    for cause, effect in found.pattern.stops:
        assert shown[(cause, effect)] == "stops"
    assert set(found.parts) == set(found.pattern.parts)
    assert read_plan(after).patterns[f"{name}-1"].parts == found.parts


@pytest.mark.parametrize("name", patterns())
def test_without_its_key_conductor_it_breaks_visibly(name: str) -> None:
    """A finding appears, or what a meter reads and what runs in some trial is no longer the same."""
    after, found = placed(suited(name), name)
    part, _, rest = found.pattern.key.partition(".")
    cut = without(after, f"{found.parts[part]}.{rest}")
    fresh = bench(cut) - bench(after)
    if name == "hard-start":
        # It does nothing beside a motor that runs: the lead that is not landed tells it.
        fresh = stops(cut) - stops(after)
    assert fresh or _differs(after, cut)


def _differs(one: Json, other: Json) -> bool:
    """Whether a meter on some pair, or what runs, tells the two plans apart in some state."""
    nets = [Compiled(whole(Plant(read_plan(plan))).network) for plan in (one, other)]
    sure = systems(one)
    pairs = [pair for entry in sure for pair in pairs_of(entry) if set(pair) <= set(nets[1].index)]
    courses = [trial.course for entry in sure for trial in trials(entry)]
    signals = [pair for entry in sure for pair in signal_pairs(entry)]
    found = [readings(settle(net, courses), pairs, signals) for net in nets]
    return bool((abs(found[0] - found[1]) > 1).any())


SENSIBLE = [
    ("overflow-y", "fan-delay"), ("overflow-y", "lamp-door"), ("detector-r", "overflow-y"),
    ("detector-r", "fire-panel"), ("detector-r", "key-station"),
    ("detector-loop", "fire-panel-loop"), ("fire-panel-loop", "detector-loop"),
    ("detector-r", "pump-r"), ("fan-delay", "lamp-fan"), ("limit-airflow", "isolation-relay"),
    ("humidistat", "limit-airflow"), ("isolation-relay", "humidistat"), ("isolation-relay", "humidity-by-thermostat"),
    ("dehumidifier-spare", "isolation-relay"), ("dehumidifier-spare", "overflow-y"), ("limit-airflow", "pump-y"),
    ("lamp-door", "fan-delay"), ("overflow-r", "lamp-fan"), ("overflow-y", "load-manager"),
    ("load-manager", "hard-start"),
]  # fmt: skip


@pytest.mark.parametrize("pair", SENSIBLE, ids=["+".join(pair) for pair in SENSIBLE])
def test_two_together_still_satisfy_both(pair: tuple[str, str]) -> None:
    plan = suited(pair[0])
    before = stops(plan)
    wanted = []
    for name in pair:
        plan, found = placed(plan, name)
        assert found.obstacles == []
        wanted += found.pattern.stops
    assert stops(plan) <= before, stops(plan) - before
    shown = outcomes(plan)
    assert {cell: shown[cell] for cell in map(tuple, wanted)} == dict.fromkeys(map(tuple, wanted), "stops")


def test_every_pattern_stands_in_a_pair_or_has_a_plan_of_its_own() -> None:
    assert {name for pair in SENSIBLE for name in pair} | set(BASES) == set(patterns())
    assert len(set(SENSIBLE)) == len(SENSIBLE) <= len(list(combinations(patterns(), 2)))


def test_no_spare_conductor_is_said_with_the_larger_cable_as_way_out() -> None:
    plan = base(count=6)
    _, found = placed(plan, "dehumidifier-spare")
    assert found.patch == {}
    (obstacle,) = found.obstacles
    assert obstacle.says == "No conductor is spare in T."
    larger = merge(plan, obstacle.ways[0].fix)
    after, again = placed(larger, "dehumidifier-spare")
    assert again.obstacles == []
    assert stops(after) <= stops(plan)


def test_what_is_not_there_is_asked_for() -> None:
    _, found = placed(HEATER, "overflow-y")
    assert [entry.says for entry in found.obstacles] == ["No board with cool-1 is in the plan. Put it in first."]
    bare = changed(base(), {"cables": {"T": None, "U": None}})
    assert "nothing to break" in placed(bare, "overflow-y")[1].obstacles[0].says
    unknown = changed(base(), {"sources": {"P": {"volts": None}}})
    assert "no tap for a supply of unknown volts" in placed(unknown, "lamp-door")[1].obstacles[0].says


def test_a_board_elsewhere_is_not_taken_unasked(museum_plan: Json) -> None:
    """The heater of the van bay has no blower board: which of the four elsewhere is meant is for a person to say."""
    plant = Plant(read_plan(museum_plan))
    found = fit(plant, patterns()["fan-delay"], "UH-2")
    (says,) = [obstacle.says for obstacle in found.obstacles]
    assert says == "Nothing at UH-2 takes this part. Choose: AH-1, RT-1, RU-1, RU-2."
    assert "board" not in found.parts
    assert fit(plant, patterns()["fan-delay"], "TS-1").parts["board"] == "AH-1"
    assert fit(plant, patterns()["fan-delay"], "UH-2", {"board": "RT-1"}).parts["board"] == "RT-1"


def test_too_much_for_the_transformer_is_found_on_the_bench() -> None:
    plan = base("air-handler-board")
    plan = changed(plan, {"device_types": {"small": {**_type("air-handler-board"), "id": "small"}},
                          "devices": {"A": {"type": "small"}}})  # fmt: skip
    plan["device_types"]["small"]["inside"][0]["va"] = 12
    after, _ = placed(plan, "fan-delay")
    assert "transformer-overloaded" in {code for code, _ in bench(after)}


def _type(name: str) -> Json:
    from leitung_core.catalogue.device import shipped_devices

    return shipped_devices()[name].model_dump(mode="json", exclude_none=True)


@pytest.mark.parametrize("spot", [None, "outdoor"])
@pytest.mark.parametrize("name", patterns())
def test_its_cables_suit_their_place_and_pull_nothing_needless(name: str, spot: str | None) -> None:
    plan = suited(name)
    if spot is not None:
        plan = changed(plan, {"devices": {key: {"spot": spot} for key in plan["devices"]}})
    after, found = placed(plan, name)
    assert found.obstacles == []
    plant = Plant(read_plan(after))
    unfit = {"cable-not-wet", "cable-sunlight", "ground-colour", "green-ungrounded", "cable-route-missing"}
    told = {(row.code, row.about) for row in check_plan(plant.plan).findings if row.code in unfit}
    assert not {row for row in told if row[1].split("/")[1].startswith("AC-")}
    for key in found.patch.get("cables", {}):
        if not key.startswith("AC-"):
            continue
        idle = [wire for wire in plant.wires[key] if not any(wire.end(end).terminal for end in ENDS)]
        built = plant.makes[key]
        landed_on = max(2, len(plant.wires[key]) - len(idle))
        smallest = built.family is not None and built.count == min(
            count for count in built.family.counts() if count >= landed_on
        )
        assert not idle or smallest


def test_the_key_of_a_detector_stops_the_fan_as_smoke_does() -> None:
    plan = placed(suited("key-station"), "key-station")[0]
    system = next(entry for entry in systems(plan) if "KS-1" in entry.devices)
    net = Compiled(system.network)
    fan = next(name for name in system.effects["fan"])
    for turned, runs in ((False, True), (True, False)):
        on = {"call:fan"} | ({"hand:KS-1"} if turned else set())
        state = settle(net, [(Stretch(frozenset(on), 600),)])
        assert bool(state.energised[loads_of(net).names.index(fan), 0]) is runs


@pytest.mark.parametrize(
    ("kind", "set_to", "allowed", "seconds"),
    [("relay-delay", "45", True, 45), ("relay-delay", "9", False, 0), ("relay-delay", "61", False, 0),
     ("relay-delay-short", "0", True, 0), ("relay-delay-short", "7.5", True, 7.5), ("relay-delay", "soon", False, 0)],
)  # fmt: skip
def test_a_knob_is_set_within_its_span_and_delays_the_fan_by_it(
    kind: str, set_to: str, allowed: bool, seconds: float
) -> None:
    """The fan runs from then on and not before, and waiting for it is no fault."""
    plan, found = placed(base(), "fan-delay")
    plan = merge(plan, {"devices": {found.parts["relay"]: {"type": kind, "settings": {"delay": set_to}}}})
    if not allowed:
        with pytest.raises(InputError, match=r"is not on the knob|knob"):
            read_plan(plan)
        return
    system = next(entry for entry in systems(plan) if "A" in entry.devices)
    net = Compiled(system.network)
    fan = loads_of(net).names.index(system.effects["fan"][0])
    for at_s in (seconds - 1, seconds + 1):
        if at_s > 0:
            state = settle(net, [(Stretch(frozenset({"call:fan"}), at_s),)])
            assert bool(state.energised[fan, 0]) is (at_s > seconds)
            named = {hazard.code for hazard in hazards(state) if hazard.holds.any()}
            assert not named & {"CALL_WITHOUT_LOAD", "LOAD_WITHOUT_CALL"}, at_s


def test_a_soft_starter_lies_in_series_and_what_came_out_is_recorded() -> None:
    """Four leads by role: without the one in series the compressor stands; nothing is read live at its start."""
    plan, found = placed(suited("soft-starter"), "soft-starter")

    def runs(plan: Json) -> bool:
        net = Compiled(systems(plan)[0].network)
        state = settle(net, [(Stretch(frozenset({"call:cool"}), 600),)])
        return bool(state.energised[loads_of(net).names.index("A.RUN"), 0])

    open_lead = without(plan, f"{found.parts['starter']}.leads.CAP")
    left_on = {"devices": {"A": {"settings": {"start-lead": "capacitor"}}}}
    assert (runs(plan), runs(open_lead), runs(merge(open_lead, left_on))) == (True, False, True)
    (told,) = [row for row in judge(systems(open_lead)[0]).findings if row.code == "motor-stalls"]
    assert "does not turn: its start winding does nothing." in told.message
    assert "call-does-nothing" not in {row.code for row in judge(systems(open_lead)[0]).findings}
    (system,) = systems(plan)
    rows = {row.key: (row.value, row.as_planned) for row in set_up(system)}
    assert rows["A/start-lead"] == ("taken off the run capacitor, on the soft starter", True)
    assert rows["A/start-gear"] == ("taken out, their leads capped, kept with the unit", True)
    (wrong,) = [row for row in set_up(systems(merge(plan, left_on))[0]) if row.key == "A/start-lead"]
    assert (wrong.value, wrong.as_planned) == (rows["A/start-lead"][0], False)
    starts = {"A.comp.S", "A.cap.HERM", f"{found.parts['starter']}.leads.START"}
    assert not [pair for pair in pairs_of(system) if starts & set(pair)]
    asked = simulate(system, ["call:cool"], 600, [Probe(a="A.comp.S", b="A.comp.C")])
    assert any("above line voltage: not to be taken live" in note for note in asked.notes)


@pytest.mark.parametrize("name", sorted(patterns()))
def test_one_control_cable_is_pulled_between_two_things_and_none_only_for_a_joint(name: str) -> None:
    """A joint lies beside the device whose conductor it takes: what leads on from there is in that device's cable."""
    plan, found = placed(suited(name), name)
    new = [cable for cable in found.patch.get("cables", {}).values() if "a" in cable and "count" in cable]
    joints = {key for key, device in plan["devices"].items() if device["type"] == "joint-box"}
    ends = [frozenset((cable["a"]["device"], cable["b"]["device"])) for cable in new]
    assert len(ends) == len(set(ends))
    assert not joints & {device for pair in ends for device in pair}
    for cable in new:
        landed = sum("terminal" in ends["a"] for ends in cable["conductors"].values())
        assert cable["family"] == "jumper" or cable["count"] <= max(2, landed + 1)


@pytest.mark.parametrize("drawn", [True, False], ids=["its power drawn", "not drawn"])
@pytest.mark.parametrize(("name", "part", "unit"), [
    ("isolation-relay", "humidifier", "SH"), ("humidistat", "humidifier", "SH"),
    ("humidity-by-thermostat", "humidifier", "SH"), ("dehumidifier-spare", "dehumidifier", "DH"),
])  # fmt: skip
def test_a_unit_of_which_only_the_line_is_known_becomes_what_the_pattern_needs(
    name: str, part: str, unit: str, drawn: bool
) -> None:
    plan = base()
    known = placed(plan, name)[0]
    kind = plan["devices"][unit]["type"]
    if drawn:
        bare = {"type": "unit-2" if unit == "SH" else "unit-1-neutral", "equipment": unit}
        landings = {
            wire: {"b": {"terminal": entry["b"]["terminal"].replace(".plug.", ".power.")}}
            for wire, entry in plan["cables"][f"P{unit}"]["conductors"].items() if entry["b"].get("terminal")
        }  # fmt: skip
        plan = changed(plan, {"devices": {unit: bare}, "cables": {f"P{unit}": {"conductors": landings}}})
    else:
        plan = changed(plan, {"devices": {unit: None}, "cables": {f"P{unit}": None}})
    found, fitted = placed(plan, name)
    assert (fitted.parts[part], found["devices"][unit]["type"]) == (unit, kind)
    if drawn:
        assert found["cables"][f"P{unit}"]["conductors"] == known["cables"][f"P{unit}"]["conductors"]
        assert stops(found) == stops(known)
