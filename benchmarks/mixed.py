"""Mixed circuits for measuring: every model of the catalogue in turn, over runs of every kind."""

from __future__ import annotations

from typing import Any

from leitung_core.catalogue import Model, shipped_models

PANELS = {
    120: {"volts": 120, "phase": 1, "volts_to_ground": 120},
    208: {"volts": 208, "phase": 3, "volts_to_ground": 120},
    240: {"volts": 240, "phase": 1, "volts_to_ground": 120},
    277: {"volts": 277, "phase": 1, "volts_to_ground": 277},
    480: {"volts": 480, "phase": 3, "volts_to_ground": 277},
}
NOMINAL = {"115": 120, "120": 120, "208": 208, "230": 240, "240": 240, "277": 277, "460": 480, "480": 480}
PLACES = ("interior", "attic", "outdoor", "roof")


def run(number: int) -> list[dict[str, Any]]:
    """One to three segments that differ from circuit to circuit."""
    return [
        {
            "method": "THWN-2",
            "raceway": "PVC" if (number + index) % 2 else "EMT",
            "material": "Cu",
            "ambient_c": 30 + (number + index) % 15,
            "current_carrying": 3,
            "length_ft": 10 + (number * 7 + index * 13) % 120,
            "place": PLACES[(number + index) % 4],
            **({"sunlit": True, "above_roof_in": 2} if PLACES[(number + index) % 4] == "roof" else {}),
        }
        for index in range(1 + number % 3)
    ]


def volts_of(model: Model) -> int:
    volts = NOMINAL[(model.nameplate.volts or "240").rpartition("/")[2]]
    return 208 if model.nameplate.phase == 3 and volts == 240 else volts


def size_documents(count: int) -> list[dict[str, Any]]:
    """Size documents of mixed circuits."""
    found = []
    for number in range(count):
        model = shipped_models()[number % len(shipped_models())]
        panel = PANELS[volts_of(model)]
        phase = model.nameplate.phase or 1
        found.append(
            {
                "occupancy": "commercial",
                "permit_date": "2026-11-02",
                "supply": panel | {"phase": phase},
                "equipment": model.model_dump(exclude={"maker", "model", "name"}, exclude_none=True),
                "run": run(number),
                "proposed": {"ocpd_type": "breaker"},
            }
        )
    return found


def plan(count: int) -> dict[str, Any]:
    """A plan of mixed circuits on five panels, every third circuit in a shared raceway."""
    equipment, circuits = {}, {}
    for number in range(count):
        model = shipped_models()[number % len(shipped_models())]
        volts = volts_of(model)
        segments = {f"s{index}": {"order": index, **segment} for index, segment in enumerate(run(number))}
        if number % 3 == 0:
            segments["s0"] |= {"raceway_id": f"R{number // 9}"}
        equipment[f"U{number}"] = model.model_dump(mode="json", exclude_none=True)
        poles = {"poles": 2} if PANELS[volts]["phase"] == 3 and (model.nameplate.phase or 1) == 1 else {}
        circuits[f"C{number}"] = {
            "source": f"P{volts}", "equipment": f"U{number}", "ocpd": {"type": "breaker"}, "run": segments, **poles,
        }  # fmt: skip
    sources = {
        f"P{volts}": {"kind": "panel", "bus_a": 600, "measured_peak_a": 20, "measured_days": 365, **panel}
        for volts, panel in PANELS.items()
    }
    return {
        "format": "leitung-plan", "format_version": 2, "name": f"{count} mixed circuits", "sources": sources,
        "equipment": equipment, "circuits": circuits,
    }  # fmt: skip


def wiring(pairs: int) -> dict[str, Any]:
    """Boards and thermostats, eight conductors between each two, landed by the convention: 8 conductors a pair."""
    devices: dict[str, Any] = {}
    cables: dict[str, Any] = {}
    landed = {"red": "R", "white": "W", "yellow": "Y", "green": "G", "blue": "C"}
    for n in range(pairs):
        devices |= {f"BD-{n}": {"type": "furnace-board"}, f"TS-{n}": {"type": "stat-common"}}
        conductors: dict[str, Any] = {
            colour: {"a": {"terminal": f"BD-{n}.ctl.{name}"}, "b": {"terminal": f"TS-{n}.base.{name}"}}
            for colour, name in landed.items()
        }
        conductors |= {spare: {"a": {"capped": True}, "b": {"capped": True}} for spare in ("brown", "orange", "black")}
        cables[f"TC-{n}"] = {
            "a": {"device": f"BD-{n}"}, "b": {"device": f"TS-{n}"}, "family": "thermostat", "awg": "18", "count": 8,
            "length_ft": 40, "route": {"r1": {"order": 1, "spot": "interior"}}, "conductors": conductors,
        }  # fmt: skip
    return {
        "format": "leitung-plan", "format_version": 2, "name": f"{8 * pairs} conductors", "devices": devices,
        "cables": cables,
    }  # fmt: skip
