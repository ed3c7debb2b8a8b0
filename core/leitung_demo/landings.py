"""The museum's devices and cables. Landings are proposed by the core, then changed where the demo has its mistakes.

Honest mistakes in it: 1 and 3 crossed at the workshop's first indoor unit, a joint in the cable to the second, three
conductors on one terminal of the vault's board, indoor cable over the gallery's roof, a sensing head's pair crossed,
an unmarked white in the van bay.
"""

from __future__ import annotations

from typing import Any

from leitung_core.plan.model import dump_plan, read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.wiring.propose import propose_landings

VAULT, ROOF, TRAILER = "string vault", "gallery roof", "exhibit trailer"
SPARES = ("orange", "yellow")


def device(type_: str, name: str, place: str, spot: str = "interior", **more: Any) -> dict[str, Any]:
    return {"type": type_, "name": name, "place": place, "spot": spot, **more}


def cable(a: str, b: str, family: str, awg: str, count: int, length_ft: float | None, **more: Any) -> dict[str, Any]:
    """A cable between two devices, written `device` or `device.strip`."""
    ends = [dict(zip(("device", "strip"), end.split("."), strict=False)) for end in (a, b)]
    found = {"a": ends[0], "b": ends[1], "family": family, "awg": awg, "count": count, **more}
    if length_ft is not None:
        found.setdefault("route", {"r1": {"order": 10, "spot": "interior", "length_ft": length_ft}})
    return found


def on_line(a: str, b: str, circuit: str, segments: list[str], count: int, family: str = "singles") -> dict[str, Any]:
    """A stretch of a line's run, landed."""
    ends = [dict(zip(("device", "strip"), end.split("."), strict=False)) for end in (a, b)]
    return {"a": ends[0], "b": ends[1], "circuit": circuit, "segments": segments, "family": family, "count": count}


def devices() -> dict[str, Any]:
    def breaker(poles: int, source: str, circuit: str, place: str) -> dict[str, Any]:
        return device(f"breaker-{poles}", f"breaker of {circuit}", place, source=source, circuit=circuit)

    def off(kind: str, circuit: str, place: str, spot: str = "interior") -> dict[str, Any]:
        return device(kind, f"disconnect of {circuit}", place, spot, circuit=circuit)

    heads, other_taps = {"heads": "2"}, {"pri.P120": True, "pri.P240": True}
    on_starter = {"start-lead": "off", "start-gear": "removed"}
    roof_settings = {"stop-jumper": "out", "tap": "208"}
    return {
        "B-RT1": breaker(3, "MP", "RT-1", "porter's room"),
        "B-FD1": breaker(3, "MP", "FD-1", "porter's room"),
        "L-VP": device("feeder-lugs", "main lugs of the vault panel", VAULT, source="VP", circuit="FD-1"),
        "B-AH1": breaker(2, "VP", "AH-1", VAULT),
        "B-SH1": breaker(2, "VP", "SH-1", VAULT),
        "B-DH1": breaker(1, "VP", "DH-1", VAULT),
        "B-CP1": breaker(1, "VP", "CP-1", VAULT),
        "B-MS1": breaker(2, "OP", "MS-1", "van bay"),
        "B-UH1": breaker(2, "OP", "UH-1", "van bay"),
        "B-UH2": breaker(2, "OP", "UH-2", "van bay"),
        "B-RU1": breaker(1, "TP", "RU-1", "north yard"),
        "B-RU2": breaker(1, "TP", "RU-2", "north yard"),
        "D-RT1": off("disconnect-3", "RT-1", ROOF, "roof"),
        "D-AH1": off("disconnect-2", "AH-1", VAULT),
        "D-SH1": off("disconnect-2", "SH-1", VAULT),
        "D-MS1": off("disconnect-2", "MS-1", "workshop wall", "outdoor"),
        "D-UH1": off("disconnect-2", "UH-1", "crate room"),
        "D-UH2": off("disconnect-2", "UH-2", "van bay"),
        "D-RU1": off("disconnect-1-neutral", "RU-1", TRAILER, "vehicle"),
        "D-RU2": off("disconnect-1-neutral", "RU-2", TRAILER, "vehicle"),
        "R-DH1": device("receptacle", "receptacle of DH-1", VAULT, circuit="DH-1"),
        "R-CP1": device("receptacle", "receptacle of CP-1", VAULT, circuit="CP-1"),
        "OU-1": device("split-outdoor-2", "outdoor unit", "workshop wall", "outdoor", equipment="OU-1"),
        "IU-1": device("split-indoor-wall", "indoor unit, bench", "restorers’ workshop", equipment="OU-1",
                       settings={"zone": "A"}),
        "IU-2": device("split-indoor-wall", "indoor unit, store", "restorers’ workshop", equipment="OU-1",
                       settings={"zone": "B"}),
        "RT-1": device("rooftop-board", "rooftop unit", ROOF, "roof", equipment="RT-1", settings=roof_settings),
        "TS-2": device("stat-universal", "thermostat, gallery", "gallery", equipment="RT-1"),
        "DD-1": device("duct-detector", "duct smoke detector", "gallery loft", equipment="RT-1", settings=heads),
        "HD-1": device("sensing-head", "sensing head, return", "gallery loft", equipment="RT-1"),
        "HD-2": device("sensing-head", "sensing head, supply", "gallery loft", equipment="RT-1"),
        "UH-1": device("unit-heater-24", "unit heater", "crate room", equipment="UH-1"),
        "TS-3": device("stat-heat", "thermostat, crate room", "crate room", equipment="UH-1"),
        "UH-2": device("unit-heater", "unit heater", "van bay", equipment="UH-2"),
        "AH-1": device("air-handler-board", "air handler", VAULT, equipment="AH-1", settings={"tap": "208"}),
        "TS-0": device("stat-basic", "old thermostat", "corridor", equipment="AH-1", state="removed"),
        "TS-1": device(
            "stat-universal", "thermostat, corridor", "corridor", equipment="AH-1",
            settings={"accessory": "dehumidify", "fan-with-heat": "thermostat"},
        ),
        "JB-1": device("joint-box", "joints in the air handler", VAULT, equipment="AH-1"),
        "SH-1": device("steam-humidifier", "steam humidifier", VAULT, equipment="SH-1"),
        "HS-1": device("humidistat", "humidistat", VAULT, equipment="SH-1"),
        "HL-1": device("humidity-limit", "high-limit humidistat", "supply duct", equipment="SH-1"),
        "AF-1": device("airflow-switch", "airflow switch", "supply duct", equipment="SH-1"),
        "IR-1": device("relay", "isolation relay", VAULT, equipment="SH-1", capped={"sw.NC": True}),
        "DH-1": device("dehumidifier", "dehumidifier", VAULT, equipment="DH-1"),
        "CP-1": device("condensate-pump", "condensate pump", VAULT, equipment="CP-1", capped={"safe.NO": True}),
        "LU-1": device("uv-lamp", "ultraviolet lamp", VAULT, equipment="AH-1", capped=other_taps),
        "FU-1": device("fuse-block-2", "fuses of the lamp", VAULT, equipment="AH-1"),
        "DR-1": device("door-switch", "door switch of the lamp", VAULT, equipment="AH-1"),
        "RU-1": device("roof-unit", "front roof unit", TRAILER, "vehicle", equipment="RU-1", settings=on_starter),
        "RU-2": device("roof-unit", "rear roof unit", TRAILER, "vehicle", equipment="RU-2", settings=on_starter),
        "SS-1": device("soft-starter", "soft starter, front", TRAILER, "vehicle", equipment="RU-1"),
        "SS-2": device("soft-starter", "soft starter, rear", TRAILER, "vehicle", equipment="RU-2"),
        "TS-4": device("stat-basic", "thermostat, front", TRAILER, "vehicle", equipment="RU-1"),
        "TS-5": device("stat-basic", "thermostat, rear", TRAILER, "vehicle", equipment="RU-2"),
    }  # fmt: skip


def power() -> dict[str, Any]:
    inside = {"route": {"r1": {"order": 10, "spot": "interior", "raceway": "LFNC", "length_ft": 3}}}
    vehicle = {"route": {"r1": {"order": 10, "spot": "vehicle", "raceway": "FMC", "length_ft": 3}}}
    return {
        "P-RT1": on_line("B-RT1", "D-RT1.line", "RT-1", ["s1", "s2"], 4),
        "W-RT1": on_line("D-RT1.load", "RT-1.power", "RT-1", ["s3"], 4),
        "W-DH1": cable("R-DH1.slot", "DH-1.plug", "cord", "14", 3, 6, factory_cord=True),
        "W-CP1": cable("R-CP1.slot", "CP-1.plug", "cord", "16", 3, 6, factory_cord=True),
        "P-FD1": on_line("B-FD1", "L-VP", "FD-1", ["s1"], 5, "singles-neutral"),
        "P-AH1": on_line("B-AH1", "D-AH1.line", "AH-1", ["s1"], 3),
        "W-AH1": cable("D-AH1.load", "AH-1.power", "singles", "8", 3, None, strands="stranded", **inside),
        "P-SH1": on_line("B-SH1", "D-SH1.line", "SH-1", ["s1"], 3),
        "W-SH1": cable("D-SH1.load", "SH-1.power", "singles", "10", 3, None, strands="stranded", **inside),
        "P-DH1": on_line("B-DH1", "R-DH1.scr", "DH-1", ["s1"], 3, "singles-neutral"),
        "P-CP1": on_line("B-CP1", "R-CP1.scr", "CP-1", ["s1"], 3, "singles-neutral"),
        "P-MS1": on_line("B-MS1", "D-MS1.line", "MS-1", ["s1", "s2"], 3, "nm-b"),
        "W-MS1": on_line("D-MS1.load", "OU-1.power", "MS-1", ["s3"], 3),
        "P-UH1": on_line("B-UH1", "D-UH1.line", "UH-1", ["s1"], 3, "nm-b"),
        "W-UH1": cable("D-UH1.load", "UH-1.power", "singles", "8", 3, None, strands="stranded", **inside),
        "P-UH2": on_line("B-UH2", "D-UH2.line", "UH-2", ["s1"], 3, "nm-b"),
        "W-UH2": cable("D-UH2.load", "UH-2.power", "nm-b", "10", 3, 4, strands="solid"),
        "P-RU1": on_line("B-RU1", "D-RU1.line", "RU-1", ["s1"], 3, "singles-neutral"),
        "W-RU1": cable("D-RU1.load", "RU-1.power", "singles-neutral", "12", 3, None, strands="stranded", **vehicle),
        "P-RU2": on_line("B-RU2", "D-RU2.line", "RU-2", ["s1"], 3, "singles-neutral"),
        "W-RU2": cable("D-RU2.load", "RU-2.power", "singles-neutral", "12", 3, None, strands="stranded", **vehicle),
    }  # fmt: skip


def control() -> dict[str, Any]:
    """Cables of which the convention says every landing."""
    over_roof = {
        "r1": {"order": 10, "spot": "interior", "length_ft": 46},
        "r2": {"order": 20, "spot": "roof", "raceway": "EMT", "length_ft": 22},
    }
    outside = {
        "r1": {"order": 10, "spot": "outdoor", "raceway": "LFNC", "length_ft": 9},
        "r2": {"order": 20, "spot": "interior", "length_ft": 53},
    }
    trailer = {"route": {"r1": {"order": 10, "spot": "vehicle", "length_ft": 11}}}
    return {
        "IC-1": cable("OU-1.zone-a", "IU-1", "tray", "14", 4, None, route=outside),
        "IC-2": cable("OU-1.zone-b", "IU-2", "tray", "14", 4, None, route=outside),
        "TC-2": cable("RT-1.ctl", "TS-2.base", "thermostat", "18", 8, None, route=over_roof),
        "HC-1": cable("DD-1.heads", "HD-1", "data", "18", 2, 24),
        "TC-3": cable("UH-1.stat", "TS-3", "thermostat", "18", 2, 31),
        "TC-4": cable("RU-1.ctl", "TS-4", "thermostat", "18", 4, None, system="cooling_only", **trailer),
        "TC-5": cable("RU-2.ctl", "TS-5", "thermostat", "18", 4, None, system="cooling_only", **trailer),
        "SC-1": cable("RU-1.comp", "SS-1", "tray", "12", 4, 3),
        "SC-2": cable("RU-2.comp", "SS-2", "tray", "12", 4, 3),
        "SK-1": cable("RU-1.cap", "SS-1", "tray", "12", 2, 3),
        "SK-2": cable("RU-2.cap", "SS-2", "tray", "12", 2, 3),
        "TC-1": cable("AH-1.ctl", "TS-1.base", "thermostat", "18", 7, 74, system="heating_only", state="existing"),
    }


def by_hand() -> dict[str, Any]:
    """Cables whose conductors go where no convention says: accessories, safety contacts, the lamp."""

    def wire(a: str | None, b: str | None, **more: Any) -> dict[str, Any]:
        return {end: {"terminal": ref} if ref else {"capped": True} for end, ref in (("a", a), ("b", b))} | more

    pair: dict[str, Any] = {"family": "thermostat", "awg": "18", "count": 2}
    spare = wire(None, None)

    def two(a: str, b: str, length_ft: float, red: dict[str, Any], white: dict[str, Any]) -> dict[str, Any]:
        return cable(a, b, **pair, length_ft=length_ft) | {"conductors": {"red": red, "white": white}}

    conduit: dict[str, Any] = {"route": {"r1": {"order": 10, "spot": "interior", "raceway": "EMT", "length_ft": 9}}}
    short: dict[str, Any] = {"route": {"r1": {"order": 10, "spot": "interior", "raceway": "EMT", "length_ft": 1}}}
    lamp: dict[str, Any] = {"family": "singles", "awg": "14", "count": 3, "length_ft": None, "strands": "stranded"}
    return {
        "DC-1": cable("AH-1", "DH-1", "thermostat", "18", 5, 16) | {"conductors": {
            "red": wire("AH-1.ctl.R", "DH-1.ctl.FR"), "green": wire("AH-1.ctl.G", "DH-1.ctl.FG"),
            "white": wire("JB-1.j.J1", "DH-1.ctl.DH", note="white calls the dehumidifier"),
            "blue": wire("JB-1.j.J2", "DH-1.ctl.R", note="blue is the dehumidifier's own 24 V"), "yellow": spare,
        }},
        "CC-1": two("AH-1", "CP-1.safe", 8, wire("AH-1.ctl.R", "CP-1.safe.COM"), wire("JB-1.j.J3", "CP-1.safe.NC")),
        "HC-2": cable("DD-1.heads", "HD-2", "data", "18", 2, 36) | {"conductors": {
            "black": wire("DD-1.heads.H2P", "HD-2.head.M"), "white": wire("DD-1.heads.H2M", "HD-2.head.P"),
        }},
        "DC-2": cable("RT-1", "DD-1", "thermostat-wet", "18", 4, None, strands="solid") | {
            "route": {"r1": {"order": 10, "spot": "roof", "raceway": "LFNC", "length_ft": 7},
                      "r2": {"order": 20, "spot": "interior", "length_ft": 12}},
            "conductors": {
                "red": wire("RT-1.stop.S1", "DD-1.sup.P"), "white": wire("RT-1.ctl.C", "DD-1.sup.M"),
                "green": wire("RT-1.stop.S1", "DD-1.alarm.COM"), "blue": wire("RT-1.stop.S2", "DD-1.alarm.NC"),
            },
        },
        "SL-1": two("SH-1.ctl", "HS-1", 12, wire("SH-1.ctl.24", "HS-1.sw.1"), wire("SH-1.ctl.H", "HS-1.sw.2")),
        "SL-2": two("SH-1.ctl", "HL-1", 18, wire("SH-1.ctl.SL1", "HL-1.sw.1"), spare),
        "SL-3": two("HL-1", "AF-1", 4, wire("HL-1.sw.2", "AF-1.sw.COM"), spare),
        "SL-4": two("AF-1", "IR-1.sw", 14, wire("AF-1.sw.NO", "IR-1.sw.COM"), spare),
        "SL-5": two("IR-1.sw", "SH-1.ctl", 10, wire("IR-1.sw.NO", "SH-1.ctl.SL2"), spare),
        "SL-6": two("AH-1.ctl", "IR-1.coil", 7, wire("AH-1.ctl.G", "IR-1.coil.A1"), wire("AH-1.ctl.C", "IR-1.coil.A2")),
        "LC-0": cable("D-AH1.load", "FU-1.line", **lamp, **short) | {"conductors": {
            "black": wire("D-AH1.load.T1", "FU-1.line.1"), "red": wire("D-AH1.load.T2", "FU-1.line.2"),
            "green": wire("D-AH1.gnd.G", "FU-1.gnd.G"),
        }},
        "LC-1": cable("FU-1.load", "DR-1", **lamp, **conduit) | {"conductors": {
            "black": wire("FU-1.load.1", "DR-1.sw.1"), "red": spare, "green": spare,
        }},
        "LC-2": cable("FU-1.load", "LU-1", **lamp, **conduit) | {"conductors": {
            "black": wire("DR-1.sw.2", "LU-1.pri.P208"), "red": wire("FU-1.load.2", "LU-1.pri.COM"),
            "green": wire("FU-1.gnd.G", "LU-1.pri.GND"),
        }},
    }  # fmt: skip


def wired(plan: dict[str, Any]) -> dict[str, Any]:
    """The plan with its devices, its cables, and the landings that the convention proposes, mistakes included."""
    plan = merge(plan, {"devices": devices(), "cables": {**power(), **control()}})
    for key in (*power(), *control()):
        plan = merge(plan, propose_landings(Plant(read_plan(plan)), key).patch)
    for patch in ({"cables": by_hand()}, _sound(), _mistakes()):
        plan = merge(plan, patch)
    return dump_plan(read_plan(plan))


def _sound() -> dict[str, Any]:
    """What the convention leaves open: the dehumidifier on spares, the thermostat that was there."""
    old = {
        "red": ("AH-1.ctl.R", "TS-0.base.R"), "white": ("AH-1.ctl.W1", "TS-0.base.W"),
        "green": ("AH-1.ctl.G", "TS-0.base.G"),
    }  # fmt: skip
    was = {
        name: {"was_a": {"terminal": old[name][0]}, "was_b": {"terminal": old[name][1]}}
        if name in old else {"was_a": {"capped": True}, "was_b": {"capped": True}}
        for name in ("red", "white", "yellow", "green", "blue", "brown", "orange")
    }  # fmt: skip
    to_spare: dict[str, Any] = {
        "red": {"a": {"terminal": "JB-1.j.J3"}},
        "orange": {"a": {"terminal": "JB-1.j.J1", "capped": None}, "b": {"terminal": "TS-1.acc.A1", "capped": None}},
        "yellow": {"a": {"terminal": "JB-1.j.J2", "capped": None}, "b": {"terminal": "TS-1.acc.A2", "capped": None}},
    }
    pigtail: dict[str, Any] = {"a": {"pigtail": True}}
    vault = {
        key: was[key] | to_spare.get(key, {}) | ({"note": f"{key} calls the dehumidifier"} if key in SPARES else {})
        for key in was
    }
    return {"cables": {
        "TC-1": {"conductors": vault},
        "W-AH1": {"conductors": {"black": pigtail, "red": pigtail}},
        "LC-0": {"conductors": {"black": pigtail, "red": pigtail}},
    }}  # fmt: skip


def _mistakes() -> dict[str, Any]:
    return {"cables": {
        "IC-1": {"conductors": {
            "black": {"b": {"terminal": "IU-1.unit.3"}}, "red": {"b": {"terminal": "IU-1.unit.1"}},
        }},
        "W-UH2": {"conductors": {"white": {"a": {"reidentified": None}, "b": {"reidentified": None}}}},
        "IC-2": {"joints": {"j1": {"spot": "attic", "connector": "twist_on", "taped": True}}},
    }}  # fmt: skip
