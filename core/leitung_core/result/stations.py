"""The stations of the work, each with its state: what is in order, what is open, where it is stuck, what is not begun.

Planning stands in the result of the plan; start-up and handover in what has been recorded since.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from leitung_core.control.system import System
from leitung_core.control.words import WORDINGS
from leitung_core.findings import STILL_TO_ENTER, Finding
from leitung_core.plan.model import Plan
from leitung_core.supply.judged import SupplyAt

Name = Literal["site", "lines", "landings", "bench", "supply", "load-out", "start-up", "handover"]
State = Literal["unknown", "open", "stop", "done"]
Progressed = Literal["lines", "start-up", "handover", "signed"]
NAMES: dict[Name, str] = {
    "site": "Site", "lines": "Lines", "landings": "Landings", "bench": "Bench", "supply": "Supply",
    "load-out": "Load-out", "start-up": "Start-up", "handover": "Handover",
}  # fmt: skip
OF_BENCH = {wording.code for wording in WORDINGS.values()} | {
    "interlock-untried", "interlock-waived", "bench-assumed", "bench-unfed",
}  # fmt: skip
OF_SUPPLY = {
    "start-fails", "start-may-trip", "start-unknown", "start-range", "start-factor-taken", "start-managed",
    "start-aid-not-landed", "start-aid-not-drawn", "manager-not-landed", "manager-not-drawn", "manager-set-otherwise",
    "manager-not-counted", "source-lacks-leg", "continuous-load",
}  # fmt: skip
# Notes that leave something to do all the same.
OPEN = frozenset(STILL_TO_ENTER) | {"device-not-wired", "interlock-untried", "bench-assumed"}


class StationAt(BaseModel):
    """A station and its state: unknown while there is nothing, open while something is left."""

    model_config = ConfigDict(frozen=True)

    id: Name
    name: str
    state: State
    says: str
    left: int = Field(0, description="stops, warnings and what is still to enter or to do")
    findings: list[str] = Field([], description="keys of what stands against it, gravest first")


def station_of(row: Finding) -> Name:
    """The station at which a finding is mended."""
    if row.code in OF_BENCH:
        return "bench"
    if row.code in OF_SUPPLY:
        return "supply"
    if row.about.startswith(("devices/", "cables/")):
        return "landings"
    of_site = row.about.startswith(("sources/", "site")) and row.code in STILL_TO_ENTER
    return "site" if of_site else "lines"


def planned(
    plan: Plan, systems: Sequence[System], supplies: Mapping[str, SupplyAt], findings: Iterable[Finding]
) -> list[StationAt]:
    """The stations of planning."""
    there: dict[Name, bool] = {
        "site": bool(plan.sources or plan.site.name), "lines": bool(plan.circuits),
        "landings": bool(plan.devices or plan.cables), "bench": bool(systems),
        "supply": bool(supplies),
    }  # fmt: skip
    told: dict[Name, list[Finding]] = {name: [] for name in there}
    for row in findings:
        told[station_of(row)].append(row)
    # What is packed is recorded, and nothing stands against it.
    some = bool(plan.circuits or plan.cables or plan.devices)
    packing = StationAt(
        id="load-out", name=NAMES["load-out"], state="open" if some else "unknown",
        says="to pack" if some else "nothing yet",
    )  # fmt: skip
    return [*(_at(name, told[name], begun) for name, begun in there.items()), packing]


def _at(name: Name, rows: Sequence[Finding], begun: bool) -> StationAt:
    stops = sum(row.severity == "stop" for row in rows)
    left = sum(row.severity != "note" or row.code in OPEN for row in rows)
    state: State = "stop" if stops else "open" if left else "done"
    if not begun and state == "done":
        state = "unknown"
    words = {
        "unknown": "nothing yet", "open": f"{left} open", "stop": f"{stops} {'stop' if stops == 1 else 'stops'}",
        "done": "in order",
    }  # fmt: skip
    return StationAt(
        id=name, name=NAMES[name], state=state, says=words[state], left=left, findings=[row.key for row in rows]
    )  # fmt: skip


def recorded(progressed: Progressed, stuck: bool) -> list[StationAt]:
    """The stations after planning, by how far the install has come and whether it is stuck."""
    start_up: dict[Progressed, State] = {
        "lines": "unknown", "start-up": "stop" if stuck else "open", "handover": "done", "signed": "done",
    }  # fmt: skip
    handover: dict[Progressed, State] = {
        "lines": "unknown", "start-up": "unknown", "handover": "open", "signed": "done",
    }  # fmt: skip
    words = {"unknown": "not yet", "open": "at hand", "stop": "stuck", "done": "done"}
    found: list[tuple[Name, State]] = [("start-up", start_up[progressed]), ("handover", handover[progressed])]
    return [StationAt(id=name, name=NAMES[name], state=state, says=words[state]) for name, state in found]
