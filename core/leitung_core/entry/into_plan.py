"""What was said or brought, as a change of a plan: a line for each unit; a unit that is there already is updated."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Any

from leitung_core.entry.schedule import Schedule
from leitung_core.entry.sentence import UnitSaid
from leitung_core.plan.model import Plan
from leitung_core.plan.vocabulary import unit_kinds

Patch = dict[str, Any]
MOST_UNITS = 300
FALLBACK = "U"


@dataclass
class Brought:
    """The change, the lines that it draws, the units that it updates, and the units whose kind is not known."""

    patch: Patch = field(default_factory=dict)
    drawn: list[str] = field(default_factory=list)
    updated: list[str] = field(default_factory=list)
    of_no_kind: list[str] = field(default_factory=list)


class _Plan:
    """A plan as the change grows."""

    def __init__(self, plan: Plan) -> None:
        self.plan, self.found = plan, Brought()
        self.stems = {entry["kind"]: entry["unit"] for entry in unit_kinds()}
        self.taken = {*plan.equipment, *plan.circuits}

    def source(self, name: str | None) -> str | None:
        """The source of that name: one that is there, else a new one; unnamed, the first there is, or a new panel."""
        sources = self.plan.sources
        if name is None and sources:
            return next(iter(sources))
        said = (name or "New panel").strip()
        for key, source in sources.items():
            if said.casefold() in (key.casefold(), (source.name or "").casefold()):
                return key
        fresh: Patch = self.found.patch.setdefault("sources", {})
        for key, entry in fresh.items():
            if entry["name"].casefold() == said.casefold():
                return str(key)
        key = self.free("P", {*sources, *fresh})
        fresh[key] = {"kind": "pedestal" if "pedestal" in said.casefold() else "panel", "name": said[:200]}
        return key

    def free(self, stem: str, taken: Iterable[str]) -> str:
        used, number = set(taken), 1
        while f"{stem}-{number}" in used:
            number += 1
        return f"{stem}-{number}"

    def name_for(self, tag: str | None, kind: str) -> str:
        """The id of a new unit and of its line: its tag, where an id may be so and is not taken."""
        plain = re.sub(r"[^A-Za-z0-9_-]+", "-", tag or "").strip("-")[:28]
        if plain and plain not in self.taken:
            return plain
        return self.free(plain or self.stems.get(kind, FALLBACK), self.taken)

    def draw(self, tag: str | None, unit: Patch, source: str | None, run: Sequence[Patch]) -> None:
        key = self.name_for(tag, unit["kind"])
        self.taken.add(key)
        circuit: Patch = {"equipment": key, "ocpd": {"type": "breaker"}}
        if source is not None:
            circuit["source"] = source
        stretches = run or [{}]
        circuit["run"] = {
            f"s{number}": {"order": 10 * number, "material": "Cu", **stretch}
            for number, stretch in enumerate(stretches, 1)
        }
        self.found.patch.setdefault("equipment", {})[key] = unit
        self.found.patch.setdefault("circuits", {})[key] = circuit
        self.found.drawn.append(key)

    def update(self, key: str, unit: Patch) -> None:
        change = {name: value for name, value in unit.items() if name != "kind" and value}
        self.found.patch.setdefault("equipment", {})[key] = change
        self.found.updated.append(key)


def line_of(plan: Plan, said: UnitSaid) -> Brought:
    """The lines of a unit said in a sentence; none where its kind is not known."""
    work = _Plan(plan)
    if said.kind is None:
        work.found.of_no_kind.append(said.id or "the unit")
        return work.found
    unit: Patch = {"kind": said.kind}
    if said.nameplate:
        unit["nameplate"] = said.nameplate
    if said.cord_connected:
        unit["cord_connected"] = True
    source = work.source(said.source)
    for tag in _numbered(said.id, said.quantity or 1):
        work.draw(tag, dict(unit), source, said.run)
    return work.found


def lines_of_schedule(plan: Plan, schedule: Schedule) -> Brought:
    """The lines of a schedule's units; one whose tag is there already is updated, not doubled."""
    work = _Plan(plan)
    for row in schedule.units[:MOST_UNITS]:
        if row.kind is None:
            work.found.of_no_kind.append(row.id or f"row {row.row}")
            continue
        told = {"maker": row.maker, "model": row.model, "place": row.place, "name": row.name}
        unit: Patch = {"kind": row.kind, **{name: value[:200] for name, value in told.items() if value}}
        if row.nameplate:
            unit["nameplate"] = row.nameplate
        for tag in _numbered(row.id, row.quantity):
            if tag in plan.equipment:
                work.update(tag, unit)
            else:
                work.draw(tag, dict(unit), work.source(None), [])
    return work.found


def _numbered(tag: str | None, quantity: int) -> list[str | None]:
    """A tag for each of several like units: RT-1 x 3 is RT-1, RT-2, RT-3."""
    match = re.fullmatch(r"(.*?)(\d+)([A-Z]?)", tag or "")
    many = min(quantity, MOST_UNITS)
    if many <= 1 or match is None:
        return [tag] * max(many, 1)
    return [f"{match[1]}{int(match[2]) + more}{match[3]}" for more in range(many)]
