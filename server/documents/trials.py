"""The trial sheet: source by source, what is to be on, what is expected and drawn, what was measured or is to be."""

from __future__ import annotations

from typing import Any

from accounts.models import User
from installs.actions import Checked
from leitung_core.starting.open_form import drawn
from leitung_core.supply.judged import SupplyAt, left_over
from problems import Refused
from records.actions import Recording
from records.out import record_out

from documents.drawings import draw_starts
from documents.paper import WIDTH_PX, Paper, heading

CAUTIONS = (
    "Grid first, then generator, then inverter; the next only when the last one started. A breaker is no way to find "
    "out.",
    "A generator stands outdoors, away from windows, watched while it runs. A battery's cables cannot be switched off.",
)
TO_MEASURE = {
    "peak_a": ("peak", "A"), "settled_a": ("settled", "A"), "least_v": ("least", "V"), "settled_v": ("settled", "V"),
    "ac_w": ("AC", "W"), "dc_v": ("DC", "V"), "dc_a": ("DC", "A"), "idle_w": ("idle", "W"),
    "cooling_w": ("cooling", "W"),
}  # fmt: skip
OF_BATTERY = ("dc_v", "dc_a", "idle_w")


def trials_paper(found: Checked, user: User) -> Paper:
    """The trials of an install as PDF: their predictions and drawings, with what was recorded or room to write it."""
    record = record_out(Recording(found.install, found.revision.brief))
    if not record.trials:
        raise Refused(404, "no-trials", "No start is judged in this plan: add what feeds it, and its volts.")
    answers = {trial.key: drawn(found.result.supplies[trial.key].document) for trial in record.trials}
    pictures = {
        key: {"picture": picture.model_dump(mode="json"), "loads": _rows(found.result.supplies[key])}
        for key, (_, picture) in answers.items()
    }
    drawings = draw_starts(found, pictures, WIDTH_PX)
    rows = []
    for trial in record.trials:
        at = found.result.supplies[trial.key]
        asked = [name for name in TO_MEASURE if trial.kind == "inverter" or name not in OF_BATTERY]
        rows.append({
            "trial": trial, "svg": drawings.get(trial.key, ""), "left": left_over(at),
            "fields": [", ".join(TO_MEASURE[name]) for name in asked],
            "why": answers[trial.key][0]["why"][:3],
            "entries": [{"entry": entry, "figures": _figures(entry.measured.model_dump(exclude_none=True))}
                        for entry in trial.entries],
        })  # fmt: skip
    context = {**heading(found, user), "cautions": CAUTIONS, "rows": rows}
    return Paper("trials.html", context, "landings.css", "control.css", "trials.css")


def _rows(at: SupplyAt) -> list[dict[str, Any]]:
    calls = {call["load"]: call["at_s"] for call in (at.document or {}).get("calls", [])}
    return [{"id": load.id, "name": load.name, "at": calls.get(load.id)} for load in at.loads]


def _figures(measured: dict[str, float]) -> list[str]:
    named = ((*TO_MEASURE[name], value) for name, value in measured.items())
    return [f"{what} {value:g} {unit}" for what, unit, value in named]
