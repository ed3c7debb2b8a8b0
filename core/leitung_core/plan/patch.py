"""JSON merge patches (RFC 7386) on plans: apply, invert, and tell whether two of them touch the same element."""

from __future__ import annotations

from typing import Any

Json = Any
# How many names below a group tell one element from another; elsewhere the element is the group's first name.
_ELEMENT_DEPTH = {"circuits": 3, "equipment": 3, "sources": 3, "devices": 3, "cables": 3}
_MAPS_OF_PARTS = ("run", "existing", "conductors", "route", "joints", "settings")


def merge(document: Json, patch: Json) -> Json:
    """`document` after `patch`: a null removes, an object merges, anything else replaces. Inputs stay as they are."""
    if not isinstance(patch, dict):
        return patch
    merged = dict(document) if isinstance(document, dict) else {}
    for name, value in patch.items():
        if value is None:
            merged.pop(name, None)
        else:
            merged[name] = merge(merged.get(name), value)
    return merged


def joined(one: dict[str, Json], two: dict[str, Json]) -> dict[str, Json]:
    """Two merge patches as one: what the second says wins, and its nulls stay."""
    found = dict(one)
    for name, value in two.items():
        old = found.get(name)
        found[name] = joined(old, value) if isinstance(old, dict) and isinstance(value, dict) else value
    return found


def diff(before: Json, after: Json) -> Json:
    """The merge patch that turns `before` into `after`. Plans hold no nulls, so one always exists."""
    if not isinstance(before, dict) or not isinstance(after, dict):
        return after
    patch: dict[str, Json] = {name: None for name in before if name not in after}
    for name, value in after.items():
        if name not in before:
            patch[name] = value
        elif before[name] != value:
            patch[name] = diff(before[name], value)
    return patch


def touched(patch: Json) -> frozenset[str]:
    """The elements that a patch touches, as slash paths: `circuits/MS-1/run/s1`, `equipment/OU-1/nameplate`."""
    found: set[str] = set()
    _collect(patch, (), found)
    return frozenset(found)


def _collect(patch: Json, path: tuple[str, ...], found: set[str]) -> None:
    limit = _ELEMENT_DEPTH.get(path[0], 2) if path else 1
    if len(path) > 2 and path[2] in _MAPS_OF_PARTS:
        limit += 1
    if not isinstance(patch, dict) or not patch or len(path) >= limit:
        if path:
            found.add("/".join(path))
        return
    for name, value in patch.items():
        _collect(value, (*path, name), found)


def clash(first: frozenset[str], second: frozenset[str]) -> frozenset[str]:
    """The elements of `first` that lie at, above or below an element of `second`."""
    return frozenset(one for one in first if any(_related(one, other) for other in second))


def _related(one: str, other: str) -> bool:
    return one == other or one.startswith(other + "/") or other.startswith(one + "/")
