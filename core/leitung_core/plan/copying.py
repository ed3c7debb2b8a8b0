"""A plan as the beginning of another: what was planned goes along, what was found or measured at one place does not."""

from __future__ import annotations

from typing import Any

FOUND = ("was_a", "was_b")
MEASURED = ("measured_peak_a", "measured_days")
Document = dict[str, Any]


def begun_like(document: Document) -> Document:
    """The document without its site, without what was taken out there, as found there, and measured there."""
    cables = {key: _as_planned(cable) for key, cable in document.get("cables", {}).items() if not _removed(cable)}
    touched = {cable[end]["device"] for cable in cables.values() for end in ("a", "b")}
    devices = {
        key: device for key, device in document.get("devices", {}).items() if key in touched or not _removed(device)
    }  # fmt: skip
    sources = {key: _without(source, MEASURED) for key, source in document.get("sources", {}).items()}
    groups = {"cables": cables, "devices": devices, "sources": sources}
    return _without(document, ("site",)) | {name: rows for name, rows in groups.items() if name in document}


def _as_planned(cable: Document) -> Document:
    rows = {key: _without(row, FOUND) for key, row in cable.get("conductors", {}).items()}
    return cable | ({"conductors": rows} if rows else {})


def _removed(part: Document) -> bool:
    return part.get("state") == "removed"


def _without(part: Document, names: tuple[str, ...]) -> Document:
    return {name: value for name, value in part.items() if name not in names}
