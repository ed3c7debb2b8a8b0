"""What the company landed before, offered where the same two devices are landed again."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from accounts.models import User
from leitung_core.plan.model import dump_plan, read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.result import PlanResult, check_plan
from leitung_core.wiring.as_before import landed_as_before
from problems import not_found

from installs.actions import Checked
from installs.models import Install, Shelf
from installs.results import document_at
from installs.shelves import on_shelf

# Further back nobody remembers how it was done.
MOST_LOOKED_AT = 12


@dataclass(frozen=True)
class Before:
    """An install in which such a cable is landed, and the change that lands this one so."""

    install: Install
    patch: dict[str, Any]


def landed_before(user: User, found: Checked, cable: str) -> Before | None:
    """The newest install that lands such a cable otherwise than it hangs here, and well: without a stop that is new."""
    if cable not in found.plan.cables:
        raise not_found()
    plant, document = Plant(found.plan), dump_plan(found.plan)
    stopped = _stops(found.result)
    others = on_shelf(user, Shelf.OPEN).exclude(id=found.install.id).order_by("-changed_at")
    for install in others[:MOST_LOOKED_AT]:
        patch = landed_as_before(plant, cable, document_at(install, install.revision))
        if patch is not None and _stops(check_plan(read_plan(merge(document, patch)))) <= stopped:
            return Before(install, patch)
    return None


def _stops(result: PlanResult) -> set[tuple[str, str]]:
    """What stops a landing; what the bench says of a whole system is not this cable's doing."""
    return {(row.code, row.about) for row in result.findings
            if row.severity == "stop" and row.about.startswith("cables/")}  # fmt: skip
