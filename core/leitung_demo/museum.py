"""The museum: every unit on its source, a subpanel behind a feeder, an outbuilding, a trailer at its pedestal.

Honest mistakes in it: a breaker above the rooftop unit's maximum, indoor cable through an outdoor wall, a heater's
30 A on 12 AWG, and two roof units at once on a 30 A pedestal, beside an oven that nobody counted.
"""

from __future__ import annotations

from copy import deepcopy
from functools import cache
from typing import Any

from leitung_core.catalogue import shipped_models
from leitung_core.plan.model import FORMAT, FORMAT_VERSION

from leitung_demo.landings import wired
from leitung_demo.small import disconnect, interior, whip

# A roof unit on its soft starter, as its makers' sheets have it.
SOFTENED = {
    "compressor_after_s": 5,
    "power_factor": 0.9,
    "fan_inrush_a": 6,
    "fan_inrush_s": 0.5,
    "aid": {"kind": "soft_starter", "peak_a": 22, "ramp_s": 1, "lockout_s": 300},
}


def unit(model: str, name: str, place: str, **more: Any) -> dict[str, Any]:
    """A unit with the plate of a catalogue model."""
    found = next(entry for entry in shipped_models() if entry.model == model)
    known = found.model_dump(mode="json", exclude_none=True, exclude={"name"})
    return {**known, "name": name, "place": place, **more}


def wires(
    length_ft: float, conductor: str, raceway: str, size: str, order: int = 10, carrying: int | None = 2, **more: Any
) -> dict[str, Any]:
    """A stretch of single conductors in a raceway."""
    segment = {
        "order": order, "method": "THWN-2", "raceway": raceway, "raceway_size": size, "conductor": conductor,
        "material": "Cu", "construction": "stranded", "terminations_c": 75, "ambient_c": 30, "length_ft": length_ft,
        "place": "interior",
    }  # fmt: skip
    return segment | ({"current_carrying": carrying} if carrying else {}) | more


def breaker(rating_a: float, *spaces: int) -> dict[str, Any]:
    return {"rating_a": rating_a, "type": "breaker", "spaces": list(spaces)}


def line(
    source: str, equipment: str, name: str, ocpd: dict[str, Any], run: list[dict[str, Any]], **more: Any
) -> dict[str, Any]:
    return {
        "source": source, "equipment": equipment, "name": name, "ocpd": ocpd,
        "run": {f"s{number}": segment for number, segment in enumerate(run, 1)}, **more,
    }  # fmt: skip


def museum() -> dict[str, Any]:
    """The museum with every landing; a copy of its own for each caller."""
    return deepcopy(_museum())


@cache
def _museum() -> dict[str, Any]:
    return wired(lines())


def lines() -> dict[str, Any]:
    """Its sites, sources, units and lines, before any device is drawn."""
    return {
        "format": FORMAT,
        "format_version": FORMAT_VERSION,
        "rulebook": "us-2023",
        "name": "Museum plant",
        "site": {
            "name": "Orrinsay Museum of Instruments", "place": "whole house", "occupancy": "commercial",
            "permit_date": "2026-11-02",
            "permit": "B-2217",
            "inspections": ["rough-in", "final"],
        },
        "sources": sources(),
        "equipment": equipment(),
        "circuits": {**main_house(), **vault(), **outbuilding(), **trailer()},
        "questions": questions(),
    }  # fmt: skip


def sources() -> dict[str, Any]:
    def old(name: str, rating_a: float, load_a: float, *spaces: int) -> dict[str, Any]:
        return {"name": name, "rating_a": rating_a, "existing_a": load_a, "spaces": list(spaces)}

    return {
        "MP": {
            "kind": "panel", "name": "Main panel", "place": "porter's room", "volts": 208, "phase": 3,
            "volts_to_ground": 120, "bus_a": 225, "main_a": 225, "spaces": 42, "measured_peak_a": 84,
            "measured_days": 365,
            "existing": {
                "X1": old("lift", 40, 22, 1, 3, 5), "X2": old("gallery lighting", 20, 11, 2),
                "X3": old("foyer lighting", 20, 9, 4),
                "X4": old("café range", 40, 18, 6, 8), "X5": old("receptacles, ground floor", 20, 7, 7),
                "X6": old("receptacles, first floor", 20, 6, 9), "X7": old("alarm", 15, 1, 10),
            },
        },
        "VP": {
            "kind": "subpanel", "name": "Vault panel", "place": "string vault", "volts": 208, "phase": 3,
            "volts_to_ground": 120, "bus_a": 100, "spaces": 18,
        },
        "OP": {
            "kind": "panel", "name": "Outbuilding panel", "place": "van bay", "volts": 240, "phase": 1,
            "volts_to_ground": 120, "bus_a": 125, "main_a": 100, "spaces": 24, "measured_peak_a": 14,
            "measured_days": 41,
            "existing": {
                "X1": old("lighting", 15, 4, 1), "X2": old("receptacles", 20, 6, 2), "X3": old("door drive", 15, 3, 4),
            },
        },
        "TP": {
            "kind": "pedestal", "name": "Trailer pedestal", "place": "north yard", "volts": 120, "phase": 1,
            "volts_to_ground": 120, "bus_a": 30, "ohms": 0.09,
            "existing": {"microwave": {"name": "microwave", "existing_a": 12, "often": "seldom"}},
        },
        "GE": {
            "kind": "generator", "name": "Generator", "place": "north yard", "volts": 120, "phase": 1,
            "volts_to_ground": 120, "main_a": 30, "in_place_of": "TP", "over_by": "cord", "starts_itself": False,
            "ohms": 0.06,
            "generator": {"running_w": 3600, "surge_w": 5000, "surge_s": 5, "power_factor": 1, "economy": True},
            "calls": {"RU-2": {"at_s": 20}, "microwave": {"off": True}},
        },
        "IV": {
            "kind": "inverter", "name": "Inverter and battery", "place": "under the bench", "volts": 120, "phase": 1,
            "volts_to_ground": 120, "main_a": 30, "in_place_of": "TP", "over_by": "transfer_switch",
            "starts_itself": True, "ohms": 0.03,
            "inverter": {
                "running_w": 2400, "surge_w": 4800, "surge_s": 2, "efficiency": 0.9, "idle_w": 30,
                "battery": {
                    "nominal_v": 12.8, "full_v": 13.3, "cutoff_v": 10.8, "ohms": 0.006, "energy_wh": 5120,
                    "usable": 0.9,
                },
            },
            "calls": {"RU-2": {"off": True}, "microwave": {"off": True}},
        },
    }  # fmt: skip


def equipment() -> dict[str, Any]:
    return {
        "RT-1": unit("VR-075-3", "rooftop unit", "gallery roof"),
        "OU-1": unit("TW-18D", "two-zone mini-split", "restorers’ workshop"),
        "UH-1": unit("HU-75", "unit heater", "crate room"),
        "UH-2": unit("HU-5", "unit heater", "van bay"),
        "AH-1": unit("FA-08", "air handler with strip heat", "string vault"),
        "SH-1": unit("MS-23E", "steam humidifier", "string vault"),
        "DH-1": unit("DB-130D", "dehumidifier", "string vault"),
        "CP-1": unit("SP-1", "condensate pump", "string vault"),
        "RU-1": unit("RR-135", "front roof unit", "exhibit trailer", start=SOFTENED),
        "RU-2": unit("RR-135", "rear roof unit", "exhibit trailer", start=SOFTENED),
    }


def main_house() -> dict[str, Any]:
    roof = {"place": "roof", "ambient_c": 40, "sunlit": True, "above_roof_in": 4}
    return {
        "RT-1": line(
            "MP", "RT-1", "rooftop unit, gallery", breaker(45, 11, 13, 15),
            [wires(58, "8", "EMT", "3/4", carrying=3), wires(34, "8", "EMT", "3/4", 20, 3, **roof),
             whip(5, "8", current_carrying=3)], disconnect=disconnect(rating_a=60), receptacle_distance_ft=18,
        ),
        "FD-1": {
            "source": "MP", "feeds": "VP", "name": "feeder, string vault", "ocpd": breaker(80, 12, 14, 16),
            "run": {"s1": wires(76, "3", "EMT", "1-1/4", carrying=3)},
        },
    }  # fmt: skip


def vault() -> dict[str, Any]:
    together: dict[str, Any] = {"raceway_id": "R1", "carrying": None}
    return {
        "AH-1": line(
            "VP", "AH-1", "air handler, string vault", breaker(40, 1, 3), [wires(22, "8", "EMT", "1", **together)],
            poles=2, disconnect=disconnect(rating_a=60), receptacle_distance_ft=9,
        ),
        "SH-1": line(
            "VP", "SH-1", "steam humidifier", breaker(20, 5, 7), [wires(24, "10", "EMT", "1", **together)],
            poles=2, disconnect=disconnect(),
        ),
        "DH-1": line(
            "VP", "DH-1", "dehumidifier", breaker(15, 2), [wires(28, "12", "EMT", "1/2")], poles=1, receptacle_a=15,
        ),
        "CP-1": line(
            "VP", "CP-1", "condensate pump", breaker(15, 4), [wires(20, "12", "EMT", "1/2")],
            poles=1, receptacle_a=15, other_outlets=True,
        ),
    }  # fmt: skip


def outbuilding() -> dict[str, Any]:
    wall = interior(4, order=20, place="outdoor", name="through the wall", ambient_c=40)
    return {
        "MS-1": line(
            "OP", "OU-1", "mini-split, restorers’ workshop", breaker(15, 6, 8), [interior(38), wall, whip(3)],
            disconnect=disconnect(), receptacle_distance_ft=12,
        ),
        "UH-1": line(
            "OP", "UH-1", "unit heater, crate room", breaker(40, 5, 7), [interior(46, "8", construction="stranded")],
            disconnect=disconnect(rating_a=60), receptacle_distance_ft=14,
        ),
        "UH-2": line(
            "OP", "UH-2", "unit heater, van bay", breaker(30, 9, 11), [interior(31, "12")], disconnect=disconnect(),
            receptacle_distance_ft=20,
        ),
    }  # fmt: skip


def trailer() -> dict[str, Any]:
    def roof_unit(equipment: str, name: str, length_ft: float) -> dict[str, Any]:
        return line(
            "TP",
            equipment,
            name,
            {"rating_a": 20, "type": "breaker"},
            [wires(length_ft, "12", "FMC", "1/2")],
            disconnect=disconnect(rating_a=30),
        )

    return {"RU-1": roof_unit("RU-1", "front roof unit", 6), "RU-2": roof_unit("RU-2", "rear roof unit", 6)}


def questions() -> dict[str, Any]:
    return {
        "crate-room": {
            "ask": "heat", "name": "Crate room", "equipment": "UH-1", "area_ft2": 900, "height_ft": 12,
            "insulation": "fair", "mass": "medium", "outdoor_f": 8, "start_f": 40, "target_f": 62,
            "price_per_kwh": 0.19,
        },
        "van-bay": {
            "ask": "heat", "name": "Van bay", "equipment": "UH-2", "area_ft2": 640, "height_ft": 14,
            "insulation": "poor", "mass": "medium", "outdoor_f": 8, "start_f": 8, "target_f": 50, "price_per_kwh": 0.19,
        },
        "vault-air": {
            "ask": "steam", "name": "String vault", "equipment": "SH-1", "volume_ft3": 16800,
            "air_changes_per_hour": 0.35,
            "outdoor_f": 15, "outdoor_rh_pct": 60, "indoor_f": 68, "indoor_rh_pct": 48, "run_ft": 24,
            "options": [
                {"volts": 120, "phase": 1, "amps": 11.5}, {"volts": 208, "phase": 1, "amps": 16},
                {"volts": 240, "phase": 1, "amps": 16},
            ],
        },
        "van-receptacle": {
            "ask": "branch", "name": "Van bay receptacle", "branch_a": 50,
            "loads": [
                {"name": "vehicle charger", "amps": 40, "plugged_in": True, "continuous": True},
                {"name": "spare heater", "amps": 20.8, "plugged_in": True, "continuous": True},
            ],
        },
    }  # fmt: skip
