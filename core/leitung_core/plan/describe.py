"""A change in words, for the history: `MS-1 breaker rating 15 A, was 20 A`; `added the line of MS-2`."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

MOST = 4
Leaf = tuple[tuple[str, ...], Any, Any]
_WORDS = {
    "rating_a": "rating", "in_sight": "in sight", "distance_ft": "distance", "length_ft": "length",
    "mca_a": "MCA", "max_ocpd_a": "maximum fuse or breaker", "min_ocpd_a": "minimum fuse or breaker",
    "max_ocpd_type": "maximum is for",
    "volts_min": "lowest volts", "volts_max": "highest volts", "ambient_c": "ambient",
    "ocpd": "breaker", "egc": "grounding conductor", "nameplate": "plate", "white_reidentified": "white re-identified",
    "terminations_c": "terminations", "current_carrying": "current-carrying conductors",
    "bus_a": "bus", "main_a": "main", "measured_peak_a": "measured peak", "existing_a": "load",
    "raceway_id": "shares raceway", "rla_a": "RLA", "bcsc_a": "BCSC", "lra_a": "LRA", "fla_a": "FLA",
    "air_changes_per_hour": "air changes an hour", "price_per_kwh": "price of a kWh", "other_outlets": "other outlets",
    "receptacle_distance_ft": "receptacle distance", "voltage_drop_limit_pct": "drop limit",
}  # fmt: skip
_UNITS = {
    "a": "A", "w": "W", "wh": "Wh", "s": "s", "ohms": "ohm",
    "ft": "ft", "in": "in", "c": "°C", "pct": "%", "v": "V", "f": "°F", "ft2": "ft²", "ft3": "ft³",
}  # fmt: skip
# What a whole element is called where it comes or goes.
_ELEMENTS = {
    "circuits": "the line of {}", "equipment": "unit {}", "sources": "source {}", "cables": "cable {}",
    "devices": "device {}", "questions": "the question of {}", "work": "task {}",
}  # fmt: skip
_SILENT = ("circuits", "equipment", "sources", "run", "questions", "cables", "devices", "conductors", "work")


def describe(before: dict[str, Any], patch: dict[str, Any]) -> str:
    """One line for a merge patch against the document it was applied to."""
    leaves = _leaves(before, patch, ())
    whole = [leaf for leaf in leaves if len(leaf[0]) == 2 and leaf[0][0] in _ELEMENTS]
    rest = [leaf for leaf in leaves if leaf not in whole]
    lines = [*_elements(whole), *_landings(before, rest), *_calls(before, rest)]
    lines += _fields(before, [leaf for leaf in rest if not _end(leaf[0]) and not _call(leaf[0])])
    more = f", and {len(lines) - MOST} more" if len(lines) > MOST else ""
    return (", ".join(lines[:MOST]) + more) or "nothing changed"


def _elements(leaves: list[Leaf]) -> list[str]:
    """Whole elements that came and went, each kind in one phrase; a unit goes without saying beside its line."""
    found = []
    for verb, came in (("added", True), ("took out", False)):
        rows = [(path, new if came else old) for path, old, new in leaves if isinstance(new, dict) is came]
        with_line = {value.get("equipment") for path, value in rows if path[0] == "circuits" and value}
        named = [
            _ELEMENTS[path[0]].format(path[1])
            for path, _ in rows
            if not (path[0] == "equipment" and path[1] in with_line)
        ]
        found += [f"{verb} {' and '.join(named)}"] if named else []
    return found


def _fields(before: dict[str, Any], leaves: list[Leaf]) -> list[str]:
    """Each field with its value; what several fields belong to is named once."""
    lines: list[str] = []
    owner: tuple[str, ...] = ()
    for path, old, new in leaves:
        named = _named(before, path)
        lines.append(_line(named[len(owner) :] if owner and named[:-1] == owner else named, old, new))
        owner = named[:-1] if len(named) > 2 else ()
    return lines


def _end(path: tuple[str, ...]) -> bool:
    """Whether a path is the place of a conductor's end: `cables/T/conductors/red/b/terminal`."""
    return len(path) == 6 and path[0] == "cables" and path[5] in ("terminal", "capped", "pigtail")


def _call(path: tuple[str, ...]) -> bool:
    """Whether a path is the call of a load in a start: `sources/GE/calls/RU-2`, or a field of it."""
    return len(path) >= 4 and path[0] == "sources" and path[2] == "calls"


def _calls(before: dict[str, Any], leaves: list[Leaf]) -> list[str]:
    """Each call that moves, in one phrase: `RU-2 called at 12 s on GE, was 0 s`."""
    after: dict[tuple[str, str], dict[str, Any]] = {}
    for path, _, new in leaves:
        if _call(path):
            change = {path[4]: new} if len(path) > 4 else new or {}
            after.setdefault((path[1], path[3]), {}).update(change)
    found = []
    for (source, load), change in after.items():
        was = before.get("sources", {}).get(source, {}).get("calls", {}).get(load, {})
        now = {name: value for name, value in (was | change).items() if value is not None}
        said = "left off" if now.get("off") else f"called at {now.get('at_s', 0):g} s"
        then = f", was {was['at_s']:g} s" if was.get("at_s") is not None and not now.get("off") else ""
        found.append(f"{load} {said} on {source}{then}")
    return found


def _landings(before: dict[str, Any], leaves: list[Leaf]) -> list[str]:
    """Each end that is landed, capped or taken off, in one phrase: `T red at TS-1 on base.R, was base.W`."""
    ends: dict[tuple[str, ...], dict[str, tuple[Any, Any]]] = {}
    for path, old, new in leaves:
        if _end(path):
            ends.setdefault(path[:5], {})[path[5]] = (old, new)
    return [_landing(before, path, change) for path, change in ends.items()]


def _landing(before: dict[str, Any], path: tuple[str, ...], change: dict[str, tuple[Any, Any]]) -> str:
    cable = before.get("cables", {}).get(path[1], {})
    standing = cable.get("conductors", {}).get(path[3], {}).get(path[4], {})
    was = standing.get("terminal")
    now = change["terminal"][1] if "terminal" in change else was
    capped = change["capped"][1] if "capped" in change else standing.get("capped")
    device = (now or was or f"{cable.get(path[4], {}).get('device', path[4])}.").split(".")[0]
    place = f"on {now.split('.', 1)[1]}" if now else "capped" if capped else "loose"
    if change.get("pigtail", (None, None))[1]:
        place += " by a pigtail"
    found = f"{path[1]} {path[3]} at {device} {place}"
    return found + (f", was {was.split('.', 1)[1]}" if was and was != now else "")


@dataclass(frozen=True)
class Choice:
    """One value on which two people differ: what it is, what the second one entered, what stands."""

    what: str
    yours: str
    stands: str


def differences(standing: dict[str, Any], patch: dict[str, Any]) -> list[Choice]:
    """Every value of a patch beside the one that stands in the document."""
    return [
        Choice(_name(_named(standing, path)), _say_or_unknown(path[-1], new), _say_or_unknown(path[-1], old))
        for path, old, new in _leaves(standing, patch, ())
    ]


def _leaves(before: Any, patch: Any, path: tuple[str, ...]) -> list[Leaf]:
    found = []
    for name, value in patch.items():
        old = before.get(name) if isinstance(before, dict) else None
        if value is None and old is None:
            continue
        if isinstance(value, dict) and isinstance(old, dict):
            found += _leaves(old, value, (*path, name))
        else:
            found.append(((*path, name), old, value))
    return found


def _named(before: dict[str, Any], path: tuple[str, ...]) -> tuple[str, ...]:
    """The path with a segment of a run called by its name or its place, as people do."""
    if len(path) < 4 or path[0] != "circuits" or path[2] != "run":
        return path
    segment = before.get("circuits", {}).get(path[1], {}).get("run", {}).get(path[3], {})
    return (*path[:3], segment.get("name") or segment.get("place") or path[3], *path[4:])


def _name(path: tuple[str, ...]) -> str:
    return " ".join(_WORDS.get(part) or _plain(part) for part in path if part not in _SILENT)


def _plain(part: str) -> str:
    """A field's name without its unit, which stands at the figure: `area_ft2` is the area."""
    stem, _, unit = part.rpartition("_")
    return (stem if stem and unit in _UNITS else part).replace("_", " ")


def _say_or_unknown(field: str, value: Any) -> str:
    if value is None:
        return "not known"
    return "added" if isinstance(value, dict) else _say(field, value)


def _line(path: tuple[str, ...], old: Any, new: Any) -> str:
    name = _name(path)
    if isinstance(new, dict):
        return f"{name} added"
    if new is None:
        return f"{name} removed" if isinstance(old, dict) else f"{name} no longer known, was {_say(path[-1], old)}"
    return f"{name} {_say(path[-1], new)}" + ("" if old is None else f", was {_say(path[-1], old)}")


def _say(field: str, value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, (int, float)):
        unit = _UNITS.get(field.rsplit("_", 1)[-1], "")
        return f"{value:g} {unit}".strip()
    if isinstance(value, list) and field.rsplit("_", 1)[-1] in _UNITS:
        return " to ".join(f"{part:g}" for part in value) + f" {_UNITS[field.rsplit('_', 1)[-1]]}"
    if isinstance(value, list):
        return " and ".join(_say("", item) for item in value)
    if isinstance(value, dict):
        return ", ".join(f"{_name((name,))} {_say(name, inner)}" for name, inner in value.items())
    return str(value)
