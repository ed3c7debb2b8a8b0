"""The control sheet of a system: its diagram with every landing, its matrix, its functional tests, its set-up."""

from __future__ import annotations

from typing import Any

from accounts.models import User
from bench.models import Analysis
from installs.actions import Checked
from leitung_core.bench.frames import SystemShown
from leitung_core.bench.ladder import Rung
from leitung_core.bench.overview import Overview, overview
from leitung_core.plant.plant import Plant
from problems import Refused
from records.actions import Recording
from records.out import RecordOut, record_out

from documents.drawings import draw_bench
from documents.paper import WIDTH_PX, Paper, heading

CAUTIONS = (
    "Live readings: line voltage stands behind the same covers as 24 V. One hand, insulated leads, proved meter.",
    "Never look into an ultraviolet lamp that is on; its door switch is tried from outside.",
)


def control_paper(found: Checked, user: User, *keys: str) -> Paper:
    """The sheet of one control system, or of several."""
    shown = [overview(Plant(found.plan), key, found.result.of_systems()) for key in keys]
    missing = next((key for key, one in zip(keys, shown, strict=True) if one.system is None), None)
    if missing is not None:
        raise Refused(404, "not-found", f"There is no control system with {missing} in this plan.")
    systems = [one.system for one in shown if one.system]
    # Two systems may be fed by one panel, and a rail of it be drawn in either with its own loads.
    rails = [rail.model_dump(mode="json") | {"key": f"{system.key} {rail.key}"}
             for system in systems for rail in system.ladder.rails]  # fmt: skip
    drawings = draw_bench(found, rails, WIDTH_PX)
    record = record_out(Recording(found.install, found.revision.brief))
    rows = [_system(found, record, one, one.system, drawings) for one in shown if one.system]
    context = heading(found, user) | {"systems": rows, "what": ", ".join(keys)}
    return Paper("control.html", context, "landings.css", "control.css")


def _system(
    found: Checked, record: RecordOut, shown: Overview, system: SystemShown, drawings: dict[str, str]
) -> dict[str, Any]:
    has_lamp = any(cell.effect == "lamp" for cell in shown.cells)
    return {
        "system": system, "cautions": CAUTIONS if has_lamp else CAUTIONS[:1],
        "rails": [
            {"rail": rail, "svg": drawings.get(f"{system.key} {rail.key}", ""),
             "ways": [_way(rung) for rung in rail.rungs]}
            for rail in system.ladder.rails if rail.rungs
        ],
        "matrix": _matrix(shown),
        "tests": [test for test in record.tests if test.system == system.key],
        "set_up": [row for row in record.set_up if row.system == system.key], "readings": _readings(found, system.key),
        "findings": [row for row in system.findings if row.severity != "note"],
    }  # fmt: skip


def _way(rung: Rung) -> dict[str, Any]:
    """A load with every terminal that each of its ways passes, conductor by conductor."""
    ways = [lane for lane in rung.lanes if not lane.sneaks]
    return {
        "load": rung.words,
        "ways": [
            [
                {"says": step.says, "to": " ".join(_named(step.to))}
                for step in lane.steps if not step.to.rpartition(".")[2].startswith("_")
            ]
            for lane in ways
        ],
    }  # fmt: skip


def _named(node: str) -> tuple[str, str]:
    device, _, rest = node.partition(".")
    return device, rest.rpartition(".")[2]


def _matrix(shown: Overview) -> dict[str, Any]:
    causes = list(dict.fromkeys(cell.cause_short for cell in shown.cells))
    effects = list(dict.fromkeys(cell.effect for cell in shown.cells))
    by = {(cell.cause_short, cell.effect): cell for cell in shown.cells}
    return {"effects": effects, "rows": [(cause, [by[(cause, effect)] for effect in effects]) for cause in causes]}


def _readings(found: Checked, key: str) -> list[dict[str, Any]]:
    """The tests that expose every single mistake, where they have been worked out for this revision."""
    done = Analysis.objects.filter(
        install=found.install, revision=found.install.revision, system=key, status=Analysis.Status.DONE
    ).first()
    return list(done.report["tests"]) if done is not None and done.report else []
