"""What a signature covers: the content of the plan and of every record that stands with it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

from installs.models import Install, PlanRevision
from leitung_core.result.signed import FORMAT, VERSION

from records.models import (
    LandingEntry,
    OpenItem,
    OpenItemClosing,
    Reading,
    Record,
    SettingEntry,
    Signature,
    StepEntry,
    TestEntry,
    TrialEntry,
)

KINDS: dict[str, tuple[type[Record], tuple[str, ...]]] = {
    "steps": (StepEntry, ("key", "done", "reason")),
    "tests": (TestEntry, ("key", "outcome", "reason")),
    "settings": (SettingEntry, ("key", "value", "done", "reason")),
    "landings": (LandingEntry, ("key", "done")),
    "readings": (Reading, ("key", "value", "unit", "low", "high", "basis", "verdict", "corrects_id", "reason")),
    "open_items": (OpenItem, ("text", "owner", "due")),
    "closings": (OpenItemClosing, ("item_id", "note")),
    "trials": (TrialEntry, ("key", "outcome", "on", "measured", "expected", "note")),
}
# Since which version of the content a kind of record, or a further field of one, is in it.
SINCE = {"trials": 2}
FURTHER: dict[str, tuple[str, ...]] = {
    "steps": ("value", "unit", "passed"), "tests": ("passed",), "readings": ("passed",),
}  # fmt: skip
FURTHER_SINCE = 3
SINCE_4: dict[str, tuple[str, ...]] = {
    "trials": ("passed",), "readings": ("meter", "wiring"), "open_items": ("temporary", "about"),
    "landings": ("passed", "reason"), "tests": ("wiring",),
}  # fmt: skip


def content(
    install: Install, revision: int, until: datetime | None = None, version: int = VERSION,
    reasons: Sequence[Mapping[str, str]] = (),
) -> dict[str, Any]:  # fmt: skip
    """The plan as it was written at a revision and every record, each with who, when and at which revision.

    reasons: why it is signed with something not proved. until, version: records made up to then only, and of the kinds
    that it covered, for a signature that is there.
    """
    plan = PlanRevision.objects.values_list("document", flat=True).get(install=install, number=revision)
    records: dict[str, list[dict[str, Any]]] = {}
    for name, (model, fields) in KINDS.items():
        if SINCE.get(name, 1) > version:
            continue
        if version >= FURTHER_SINCE:
            fields += (*FURTHER.get(name, ()), "noted_at")
        if version >= 4:
            fields += SINCE_4.get(name, ())
        rows = model._default_manager.filter(install=install).select_related("author").order_by("at", "id")
        if until is not None:
            rows = rows.filter(at__lte=until)
        records[name] = [
            {"id": str(row.id), "revision": row.revision, "by": row.by, "at": row.at.isoformat(),
             **{field: _plain(getattr(row, field)) for field in fields}}
            for row in rows
        ]  # fmt: skip
    why = {"reasons": list(reasons)} if version >= FURTHER_SINCE else {}
    return {"format": FORMAT, "version": version, "install": str(install.id), "revision": revision, "plan": plan,
            "records": records, **why}  # fmt: skip


def covered_by(signature: Signature) -> dict[str, Any] | None:
    """The content that a signature covers; None for one of the first kind, which covers the plan alone."""
    if signature.covers == 0:
        return None
    return content(signature.install, signature.revision, signature.at, signature.covers, signature.reasons)


def _plain(value: Any) -> Any:
    return value if value is None or isinstance(value, str | int | float | bool | list | dict) else str(value)
