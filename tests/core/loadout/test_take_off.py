"""What an install takes along: by hand for small ones, each thing once over changed plans, nothing that nobody asks."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from leitung_core.loadout.rows import LoadOut
from leitung_core.loadout.supports import supports
from leitung_core.loadout.take_off import load_out
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.lines import units_devices
from leitung_core.plant.plant import Plant
from leitung_core.sizing import size_all
from leitung_demo import kiosk, museum

from tests.core.result.plans import plans
from tests.core.wiring.plans import cable, changed, landed, two

Json = dict[str, Any]
BODY = ("breaker", "disconnect", "device")
WIRE = ("cable", "conductor")


def taken(plan: Json) -> LoadOut:
    plant = Plant(read_plan(plan))
    return load_out(plant, size_all(plant))


def amounts(found: LoadOut, group: str) -> dict[str, float]:
    return {row.item: row.quantity for row in found.rows if row.group == group}


def test_a_mini_split_by_hand() -> None:
    """22 ft of cable, 6 ft in the panel and 2 at the disconnect: 30. A whip of 5 ft, 2 at the disconnect and 3 at the
    outdoor unit: 10 for each of three conductors, in one stick of 10 ft. Staples within 1 ft of both ends and every
    4.5 ft: 20 ft between the ends are five spans, six staples.
    """
    found = taken(kiosk())
    assert amounts(found, "cable") == {"12-2 NM-B with ground": 30}
    assert amounts(found, "conductor") == {"12 AWG THWN-2": 20, "12 AWG THWN-2, green": 10}
    assert amounts(found, "raceway") == {"1/2 in LFNC": 10}
    assert amounts(found, "breaker") == {"15 A 2-pole breaker for Panel A": 1}
    assert amounts(found, "disconnect") == {"30 A 2-pole non-fused disconnect": 1}
    assert amounts(found, "support")["cable staple for NM-B (334.30)"] == 6
    assert not found.unknown


def test_the_museum_checked_by_hand() -> None:
    """The feeder: 76 ft and 6 at each panel, 88 for each of three conductors and for the green, 8 sticks.

    The rooftop unit's three stretches are one pull: 90 and 10 and 4 ft, 6 at the panel, 3 at the unit, 2 and 2 where
    the whip begins. The inter-unit cables: their lengths, 3 ft at the outdoor unit and 2 indoors each.
    """
    plan = museum()
    found = taken(plan)
    conductors, cables = amounts(found, "conductor"), amounts(found, "cable")
    assert (conductors["3 AWG THWN-2"], conductors["6 AWG THWN-2, green"]) == (264, 88)
    assert amounts(found, "raceway")["1-1/4 in EMT"] == 80
    assert amounts(found, "fitting")["1-1/4 in EMT coupling"] == 7
    length = {key: sum(part["length_ft"] for part in plan["cables"][key]["route"].values()) for key in ("IC-1", "IC-2")}
    assert cables["14-4 tray cable, stranded"] == sum(length.values()) + 2 * (3 + 2)
    rows = {row.item: row for row in found.rows}
    assert rows["80 A 3-pole breaker for Main panel"].for_ == ["circuits/FD-1/ocpd", "devices/B-FD1"]
    assert (rows["45 A 3-pole breaker for Main panel"].poles, rows["45 A 3-pole breaker for Main panel"].amps) == (
        3,
        45,
    )
    assert rows["soft starter for one compressor Gentlewick GS-15"].quantity == 2
    # Its old thermostat is taken out, its old cable stays: neither is taken along.
    assert not [row for row in found.rows if {"devices/TS-0", "cables/TC-1"} & set(row.for_)]


def test_a_crews_own_slack() -> None:
    """As by hand above, with 8 ft in the panel and 1 ft at every other end: 22 + 8 + 1 of cable, 5 + 1 + 3 of whip."""
    found = taken(merge(kiosk(), {"site": {"slack": {"panel_ft": 8, "other_ft": 1}}}))
    assert amounts(found, "cable") == {"12-2 NM-B with ground": 31}
    assert amounts(found, "conductor") == {"12 AWG THWN-2": 18, "12 AWG THWN-2, green": 9}


def test_what_an_end_needs_before_its_terminal_takes_it() -> None:
    """Strands under a screw: four conductors, both ends. 14 AWG where a thermostat's terminal takes 18: a pin."""
    split = two("split-outdoor-1", "split-indoor-wall", "tray", "14", 4)
    stranded = taken(landed(changed(split, cable(strands="stranded", a={"strip": "zone-a"}))))
    assert amounts(stranded, "terminal") == {"fork or ferrule, 14 AWG": 8}
    assert not amounts(taken(landed(two("breaker-2", "unit-heater", "nm-b", "12", 2, strands="solid"))), "terminal")
    thick = taken(landed(two("furnace-board", "stat-common", awg="14")))
    assert amounts(thick, "terminal")["reducing pin lug, 14 AWG to 16 AWG"] > 0


def test_what_is_there_already_or_not_known() -> None:
    there = merge(kiosk(), {"circuits": {"MS-1": {"run": {"s1": {"existing": True}}}}})
    assert amounts(taken(there), "cable") == {}
    unknown = taken(merge(kiosk(), {"circuits": {"MS-1": {"run": {"s1": {"length_ft": None}}}}}))
    assert amounts(unknown, "cable") == {}
    assert [(row.about, row.says) for row in unknown.unknown] == [("circuits/MS-1/run/s1", "length not known")]
    bare = taken(merge(kiosk(), {"circuits": {"MS-1": {"ocpd": None}}}))
    assert [row.about for row in bare.unknown] == ["circuits/MS-1/ocpd"]


def test_a_shared_raceway_is_bought_once() -> None:
    plan = museum()
    alone = amounts(taken(plan), "raceway")["1/2 in EMT"]
    run = {"run": {"s1": {"raceway_id": "R1"}}}
    shared = taken(merge(plan, {"circuits": {"DH-1": run, "CP-1": run}}))
    dh, cp = (plan["circuits"][key]["run"]["s1"]["length_ft"] for key in ("DH-1", "CP-1"))
    sizes = {name: feet for name, feet in amounts(shared, "raceway").items() if name.endswith("EMT")}
    before = sum(feet for name, feet in amounts(taken(plan), "raceway").items() if name.endswith("EMT"))
    assert alone == -(-dh // 10) * 10 + -(-cp // 10) * 10
    assert before - sum(sizes.values()) == -(-min(dh, cp) // 10) * 10


@pytest.mark.parametrize(("of", "length", "count"), [
    ("NM-B", 1, 1), ("NM-B", 2, 1), ("NM-B", 6.5, 2), ("NM-B", 6.6, 3), ("EMT", 6, 1), ("EMT", 16, 2), ("EMT", 16.1, 3),
    ("cord", 30, 0), ("LFMC", 0, 0),
])  # fmt: skip
def test_how_often_it_is_held(of: str, length: float, count: int) -> None:
    """NM-B: within 12 in of each end and every 4.5 ft between (334.30); EMT: within 3 ft and every 10 ft (358.30)."""
    assert supports()[of].holders(length) == count


@settings(max_examples=25, deadline=None)
@given(plans())
def test_every_thing_of_metal_once_and_nothing_else(plan: Json) -> None:
    plant = Plant(read_plan(plan))
    found = load_out(plant, size_all(plant))
    lacking = {row.about for row in found.unknown}
    asked = {group: [about for row in found.rows if row.group == group for about in row.for_] for group in BODY}
    bodies = [about for group in BODY for about in asked[group]]
    inside = {device for line in plan["circuits"].values() if line.get("equipment")
              for device in units_devices(plant, plant.plan.circuits[_key(plan, line)])}  # fmt: skip
    for key, device in plant.plan.devices.items():
        kind = plant.types[key]
        if device.state in ("existing", "removed") or key in inside or kind.kinds:
            assert f"devices/{key}" not in bodies
        elif not kind.id.startswith(("breaker", "disconnect")):
            assert bodies.count(f"devices/{key}") == 1
    for key in plan["equipment"]:
        assert bodies.count(f"equipment/{key}") == 1
    for key, line in plant.lines.items():
        for stretch in line.stretches:
            wire = [row for row in found.rows if row.group in WIRE and stretch.about in row.for_]
            green = [row for row in wire if row.item.endswith("green")]
            if stretch.about in lacking or stretch.segment.existing or stretch.segment.factory_cord:
                continue
            assert len(wire) - len(green) == 1, stretch.about
        if line.circuit.ocpd and line.circuit.ocpd.rating_a and not line.shares_device:
            assert bodies.count(f"circuits/{key}/ocpd") == 1
    known = {"devices", "equipment", "circuits", "cables"}
    for row in found.rows:
        assert row.quantity > 0
        for about in row.for_:
            group, name, *_ = about.split("/")
            assert group in known
            assert name in plan[group]


def _key(plan: Json, line: Json) -> str:
    return next(key for key, other in plan["circuits"].items() if other is line)
