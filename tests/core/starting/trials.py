"""Trials for the tests: one roof unit on a leg of 30 A, and what the cases change in it."""

from __future__ import annotations

from typing import Any

from leitung_core.plan.patch import merge
from leitung_core.starting.open_form import starting

Json = dict[str, Any]


def unit(name: str = "front", **more: Any) -> Json:
    """A roof unit: fan 4 A; compressor 12 A, 60 A locked for 0.4 s, 3 s after the call."""
    found = {
        "id": name, "leg": 1, "fan": {"running_a": 4, "inrush_a": 8, "inrush_s": 0.5},
        "compressor": {"running_a": 12, "locked_rotor_a": 60, "start_s": 0.4, "power_factor": 0.9},
        "compressor_after_s": 3,
    }  # fmt: skip
    return merge(found, more)


def steady(name: str, amps: float, leg: int | str = 1) -> Json:
    return {"id": name, "leg": leg, "steady_a": amps}


def trial(*loads: Json, calls: list[Json] | None = None, **supply: Any) -> Json:
    """A pedestal of one 30 A leg at 120 V with 0.1 ohm, every load called at once for ever."""
    feeds = {"kind": "pedestal", "volts": 120, "legs": 1, "breaker_a": 30, "source_ohms": 0.1}
    wanted = [{"at_s": 0, "load": load["id"]} for load in loads]
    return {"supply": merge(feeds, supply), "loads": list(loads), "calls": wanted if calls is None else calls}


def on(load: str, at: float, until: float | None = None) -> Json:
    return {"at_s": at, "load": load} | ({} if until is None else {"until_s": until})


def verdict(document: Json) -> str:
    return str(starting(document)[0]["verdict"])


GENERATOR = {"running_w": 2400, "surge_w": 3600, "surge_s": 5, "power_factor": 1.0, "economy": False}
BATTERY = {"nominal_v": 12.8, "full_v": 13.0, "cutoff_v": 10.5, "ohms": 0.01, "energy_wh": 2400, "usable": 0.9}
INVERTER = {"running_w": 2000, "surge_w": 4000, "surge_s": 1, "efficiency": 0.9, "idle_w": 20, "battery": BATTERY}
