"""`like RT-1 x 6`: further units as one that is there, each with a line of its own as that one's.

What belongs to one unit alone is left out: its name and that of its line, and its spaces in the panel.
"""

from __future__ import annotations

import re
from typing import Any

from leitung_core.entry.into_plan import MOST_UNITS, Brought
from leitung_core.errors import InputError, Problem
from leitung_core.plan.model import Plan, dump_plan

SAID = re.compile(
    r"\s*(?:(?P<many>\d+) more )?(?:like|same as)\s+(?P<unit>[\w-]+?)(?:\s*(?:x|×|times)\s*(?P<times>\d+))?[.\s]*",
    re.IGNORECASE,
)


def read_like(plan: Plan, text: str) -> Brought | None:
    """The lines of further units; None where the text does not say so. Raises InputError for a unit that is not there
    or a number that no install has."""
    match = SAID.fullmatch(text)
    if match is None:
        return None
    said = match["unit"]
    lines = {key.casefold(): key for key, line in plan.circuits.items() if line.equipment}
    units = {(plan.circuits[key].equipment or "").casefold(): key for key in lines.values()}
    circuit_id = units.get(said.casefold()) or lines.get(said.casefold())
    if circuit_id is None:
        there = ", ".join(sorted(lines.values())[:6]) or "none yet"
        raise InputError(Problem("text", said, "is no unit with a line here", f"Units here: {there}."))
    count = int(match["many"] or match["times"] or 1)
    if not 1 <= count <= MOST_UNITS:
        problem = Problem("text", str(count), "is no number of units", f"Write 1 to {MOST_UNITS}.")
        raise InputError(problem)
    return _copies(plan, circuit_id, count)


def _copies(plan: Plan, circuit_id: str, count: int) -> Brought:
    document, found = dump_plan(plan), Brought()
    circuit = _without(document["circuits"][circuit_id], "name")
    unit = _without(document["equipment"][circuit["equipment"]], "name")
    if "ocpd" in circuit:
        circuit["ocpd"] = _without(circuit["ocpd"], "spaces")
    own = circuit["equipment"]
    taken = {*document["equipment"], *document["circuits"]}
    lines = _next(circuit_id, taken, count)
    units = lines if own == circuit_id else _next(own, {*taken, *lines}, count)
    for line, key in zip(lines, units, strict=True):
        found.patch.setdefault("equipment", {})[key] = unit
        found.patch.setdefault("circuits", {})[line] = circuit | {"equipment": key}
        found.drawn.append(line)
    return found


def _without(entry: dict[str, Any], name: str) -> dict[str, Any]:
    return {key: value for key, value in entry.items() if key != name}


def _next(tag: str, taken: set[str], count: int) -> list[str]:
    """The next free tags after one: behind RT-1 come RT-2 and on; behind MS, MS-2."""
    match = re.fullmatch(r"(.*?)(\d+)", tag)
    stem, number = (match[1], int(match[2])) if match else (f"{tag}-", 1)
    found: list[str] = []
    while len(found) < count:
        number += 1
        if f"{stem}{number}" not in taken:
            found.append(f"{stem}{number}")
    return found
