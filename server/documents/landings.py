"""The landing sheets: for each device what lands where, for each cable both its ends, and the moves."""

from __future__ import annotations

import re
from typing import Any

from accounts.models import User
from installs.actions import Checked
from leitung_core.plant.plant import Plant
from leitung_core.wiring.lists import labels
from leitung_core.wiring.view import CableView, DeviceView
from problems import Refused

from documents.drawings import draw_landings
from documents.paper import WIDTH_PX, Paper, heading

# Short cautions by what lands on a device, printed where the hands are.
CAUTIONS = {
    "line": "Line voltage: lock out, prove dead, and wait for stored charge before a hand goes in.",
    "signal": "The signal conductor of a mini-split carries up to 150 V DC.",
}


# A drawing has this many millimetres to its unit, so that all are read alike; in a package they stand closer.
SCALE, CLOSE = 0.2, 0.136
# What of the page's width a cable takes, by the millimetres of its drawing.
VIEW_BOX = re.compile(r'viewBox="0 0 ([\d.]+) ([\d.]+)')
PAGE_MM, SHARES = 185.0, (("third", 60.0), ("half", 91.0))


def landings_paper(found: Checked, user: User, device: str | None, cable: str | None, close: bool = False) -> Paper:
    """The sheets of one device, of one cable's both ends, or of everything.

    close: among many sheets; of a strip what lands on it and what is to stay empty, not what is merely free; drawings
    are smaller and name the terminals alone.
    """
    wiring = found.result.wiring
    if (device and device not in wiring.devices) or (cable and cable not in wiring.cables):
        raise Refused(404, "not-found", f"There is no {device or cable} in this plan.")
    keys = [cable] if cable else [] if device else list(wiring.cables)
    chosen = wiring.cables[cable] if cable else None
    devices = [device] if device else _ends(found, chosen) if chosen else _wired(wiring.devices)
    drawings = draw_landings(found, WIDTH_PX, keys, bare=close)
    cables = [_cable(found, wiring.cables[key], drawings.get(key, ""), CLOSE if close else SCALE) for key in keys]
    context = {
        **heading(found, user),
        # Those of many conductors first: the others stand side by side without a gap.
        "cables": sorted(cables, key=lambda entry: ("full", "half", "third").index(entry["share"])),
        "devices": [_device(found, wiring.devices[key], cable, close) for key in devices],
        "moves": [move for move in wiring.moves if cable in (None, move.cable) and device in (None, move.device)],
        "what": device or cable or "all landings",
    }  # fmt: skip
    return Paper("landings.html", context, "landings.css")


def _ends(found: Checked, view: CableView) -> list[str]:
    """The devices on which a cable's conductors land: those at its ends first, then any other terminal's."""
    cable = found.plan.cables[view.id]
    refs = [end.terminal for wire in view.conductors for end in (wire.a, wire.b) if end.terminal]
    return list(dict.fromkeys([cable.a.device, cable.b.device, *(ref.split(".")[0] for ref in refs)]))


def _wired(devices: dict[str, DeviceView]) -> list[str]:
    return [key for key, view in devices.items() if view.cables and view.state != "removed"]


def _cable(found: Checked, view: CableView, svg: str, scale: float) -> dict[str, Any]:
    size = VIEW_BOX.search(svg)
    wide, high = (float(size[1]), float(size[2])) if size else (1.0, 1.0)
    scale = min(scale, PAGE_MM / wide)
    wide *= scale
    return {
        "view": view, "svg": svg, "wide": f"{wide:.1f}", "high": f"{high * scale:.1f}",
        "share": next((share for share, room in SHARES if wide <= room), "full"),
        "findings": [row for row in found.result.at(f"cables/{view.id}") if row.severity != "note"],
    }  # fmt: skip


def _device(found: Checked, view: DeviceView, cable: str | None, close: bool) -> dict[str, Any]:
    """A device's rows: every terminal in the order in which it is seen, then what is capped or loose there."""
    about = [f"devices/{view.id}", *(f"cables/{key}" for key in view.cables if cable in (None, key))]
    against = {row.key: row for address in about for row in found.result.at(address)}
    stops = [row for row in against.values() if row.severity == "stop"]
    strips: list[dict[str, Any]] = []
    for strip in view.strips:
        rows = [
            (terminal, landed, index == 0)
            for terminal in strip.terminals
            for index, landed in enumerate([row for row in terminal.landed if cable in (None, row.cable)] or [None])
            if landed or terminal.empty or not close
        ]
        if any(landed for _, landed, _ in rows) or (rows and cable is None):
            strips.append({"view": strip, "rows": rows})
    kinds = {terminal.kind for strip in strips for terminal, landed, _ in strip["rows"] if landed}
    return {
        "view": view, "strips": strips, "stops": stops,
        "spare": [row for row in view.spare if cable in (None, row.cable)],
        "loose": [row for row in view.loose if cable in (None, row.cable)],
        "cautions": [text for kind, text in CAUTIONS.items() if kind in kinds],
    }  # fmt: skip


def conductor_labels_paper(found: Checked, user: User) -> Paper:
    """A label for every landed or capped end of a conductor."""
    context = heading(found, user) | {"labels": labels(Plant(found.plan))}
    return Paper("conductor_labels.html", context, "landings.css")
