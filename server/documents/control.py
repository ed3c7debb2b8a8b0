"""The control sheet of a system: its diagram with every landing, its matrix, its functional tests, its set-up."""

from __future__ import annotations

from typing import Any

from accounts.models import User
from bench.models import Analysis
from config.problems import Refused
from django.utils import timezone
from installs.actions import State
from leitung_core.bench.ladder import Rung
from leitung_core.bench.overview import CellShown, Overview, overview
from leitung_core.plant.plant import Plant

from documents.drawings import draw_bench
from documents.paper import WIDTH_PX, pdf

CAUTIONS = (
    "Live readings: line voltage stands behind the same covers as 24 V. One hand, insulated leads, proved meter.",
    "Never look into an ultraviolet lamp that is on; its door switch is tried from outside.",
)


def control_pdf(found: State, user: User, key: str) -> bytes:
    """The sheet of one control system as PDF."""
    shown = overview(Plant(found.plan), key)
    system = shown.system
    if system is None:
        raise Refused(404, "not-found", f"There is no control system with {key} in this plan.")
    drawings = draw_bench(found, [rail.model_dump(mode="json") for rail in system.ladder.rails], WIDTH_PX)
    has_lamp = any(cell.effect == "lamp" for cell in shown.cells)
    context = {
        "plan": found.plan, "install": found.install, "company": user.company.name, "printed": timezone.now(),
        "system": system, "cautions": CAUTIONS if has_lamp else CAUTIONS[:1],
        "rails": [
            {"rail": rail, "svg": drawings.get(rail.key, ""), "ways": [_way(rung) for rung in rail.rungs]}
            for rail in system.ladder.rails if rail.rungs
        ],
        "matrix": _matrix(shown), "tests": [_test(cell) for cell in shown.cells if cell.wanted and cell.provoke],
        "set_up": shown.set_up, "readings": _readings(found, system.key),
        "findings": [row for row in system.findings if row.severity != "note"],
    }  # fmt: skip
    return pdf("control.html", context, "landings.css", "control.css")


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


def _test(cell: CellShown) -> dict[str, Any]:
    return {
        "cell": cell,
        "predicted": {"stops": "stops", "goes on": "goes on: mend it first"}.get(cell.outcome, "not shown"),
    }


def _readings(found: State, key: str) -> list[dict[str, Any]]:
    """The tests that expose every single mistake, where they have been worked out for this revision."""
    done = Analysis.objects.filter(
        install=found.install, revision=found.install.revision, system=key, status=Analysis.Status.DONE
    ).first()
    return list(done.report["tests"]) if done is not None and done.report else []
