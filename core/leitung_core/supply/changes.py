"""From a trial as it was changed on paper back to the plan: the merge patch (RFC 7386) that makes the plan so."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from leitung_core.errors import InputError, Problem
from leitung_core.findings import Path
from leitung_core.plan.model import Plan
from leitung_core.starting.document import read_trial
from leitung_core.supply.judged import SupplyAt

Change = tuple[Path, Any]
OF_COMPRESSOR = {"locked_rotor_a": "locked_rotor_a", "start_s": "start_s", "power_factor": "power_factor"}
OF_FAN = {"inrush_a": "fan_inrush_a", "inrush_s": "fan_inrush_s"}


def kept(plan: Plan, at: SupplyAt, after: dict[str, Any]) -> dict[str, Any]:
    """What of the plan changes where the start on a source becomes `after`; empty where nothing does.

    Raises InputError where `after` cannot be read, or changes what the plan says in another place: a plate, a run.
    """
    read_trial(after)
    before = at.document or {"supply": {}, "loads": [], "calls": []}
    changes = [*_supply(plan, at, before, after), *_loads(plan, at, before, after), *_calls(plan, at, before, after)]
    return _patch(changes)


def _supply(plan: Plan, at: SupplyAt, before: dict[str, Any], after: dict[str, Any]) -> Iterator[Change]:
    source = plan.sources[at.source]
    rating = "bus_a" if source.main_a is None and source.kind in ("pedestal", "receptacle") else "main_a"
    fields = {"breaker_a": rating, "instant_x": "instant_x", "source_ohms": "ohms"}
    old, new = before["supply"], after["supply"]
    for name in sorted(old.keys() | new.keys()):
        if old.get(name) == new.get(name):
            continue
        if name in ("generator", "inverter"):
            for path, value in _differences(old.get(name) or {}, new.get(name) or {}):
                yield ("sources", at.source, name, *path), value
        elif name == "manager":
            yield ("sources", at.source, "manager"), _whole(old.get(name), new[name]) if name in new else None
        elif name in fields:
            yield ("sources", at.source, fields[name]), new.get(name)
        else:
            yield from _elsewhere(f"supply.{name}", new.get(name))


def _loads(plan: Plan, at: SupplyAt, before: dict[str, Any], after: dict[str, Any]) -> Iterator[Change]:
    old = {load["id"]: load for load in before["loads"]}
    about = {load.id: load.about.split("/") for load in at.loads}
    for load in after["loads"]:
        key = load["id"]
        if key not in old:
            yield from _elsewhere(f"loads.{key}", key)
            continue
        for name in sorted(old[key].keys() | load.keys()):
            was, now = old[key].get(name), load.get(name)
            if was != now:
                yield from _of_load(plan, about[key], name, was, now)


def _of_load(plan: Plan, about: list[str], name: str, was: Any, now: Any) -> Iterator[Change]:
    if name == "leg":
        yield (*about, "leg"), now
        return
    if about[0] == "sources":
        yield ((*about, "existing_a"), now) if name == "steady_a" else _not_here(f"loads.{about[-1]}.{name}", now)
        return
    unit: Path = ("equipment", plan.circuits[about[1]].equipment or "", "start")
    if name in ("aid", "compressor_after_s"):
        yield (*unit, name), _whole(was, now) if isinstance(now, dict) else now
        return
    known = {"compressor": OF_COMPRESSOR, "fan": OF_FAN}.get(name, {})
    for (field, *_), value in _differences(was or {}, now or {}):
        yield ((*unit, known[field]), value) if field in known else _not_here(f"loads.{about[1]}.{name}.{field}", value)


def _whole(was: Any, now: dict[str, Any]) -> dict[str, Any]:
    """A block that takes the place of another: what is no longer in it goes."""
    return dict.fromkeys(was or {}) | now


def _calls(plan: Plan, at: SupplyAt, before: dict[str, Any], after: dict[str, Any]) -> Iterator[Change]:
    """The first call of each load: a plan has one of each."""
    named = {load.id: load.about.split("/")[-1] for load in at.loads}
    old, new = _first_calls(before), _first_calls(after)
    for load, key in named.items():
        if old.get(load) == new.get(load):
            continue
        value = {"off": True, "at_s": None} if load not in new else {"at_s": new[load], "off": None}
        yield ("sources", at.source, "calls", key), value


def _first_calls(document: dict[str, Any]) -> dict[str, float]:
    found: dict[str, float] = {}
    for call in sorted(document["calls"], key=lambda call: call["at_s"]):
        found.setdefault(call["load"], call["at_s"])
    return found


def _differences(old: dict[str, Any], new: dict[str, Any]) -> Iterator[Change]:
    for name in sorted(old.keys() | new.keys()):
        was, now = old.get(name), new.get(name)
        if isinstance(was, dict) and isinstance(now, dict):
            for path, value in _differences(was, now):
                yield (name, *path), value
        elif was != now:
            yield (name,), now


def _elsewhere(field: str, value: Any) -> Iterator[Change]:
    yield _not_here(field, value)


def _not_here(field: str, value: Any) -> Change:
    message = "is said in another place of the plan: at its plate, its line or its source"
    raise InputError(Problem(field, value, message, "Change it there."))


def _patch(changes: list[Change]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for path, value in changes:
        target = found
        for part in path[:-1]:
            target = target.setdefault(str(part), {})
        target[str(path[-1])] = value
    return found
