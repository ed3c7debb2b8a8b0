"""The customer's page: what was installed, what to look at when it stops, what is due when.

What is seen when something stops is solved: each breaker, each switch and each cause opens in the network while each
call is made, and what goes dark or still tells under which heading it stands.
"""

from __future__ import annotations

import csv
from collections.abc import Iterator, Sequence
from functools import cache
from importlib.resources import files

import numpy as np
from pydantic import BaseModel, ConfigDict

from leitung_core.control.system import System
from leitung_core.control.trials import SETTLED_S
from leitung_core.elements.vocabulary import Load
from leitung_core.plan.model import Plan
from leitung_core.plant.fed import fed_from
from leitung_core.plant.plant import Plant
from leitung_core.solver.arrays import Bools
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Stretch, loads_of, settle
from leitung_core.units import in_a_row, say, sentence

DARK, STILL = "The display is dark", "The display is lit, and nothing runs"
BATTERIES = "The batteries of the thermostat: change them."
# Nobody is sent up a ladder.
OUT_OF_REACH = ("roof", "attic", "crawl_space")
TRIPPED = "If it has tripped, switch it on once; if it trips again, leave it off and call."


class _Frozen(BaseModel):
    model_config = ConfigDict(frozen=True)


class Installed(_Frozen):
    """A unit: what it is, where it is, and where its power comes from."""

    name: str
    kind: str
    place: str
    fed: str


class Sign(_Frozen):
    """What somebody sees when it stops, and what to look at, the likeliest first."""

    of: str
    sign: str
    looks: list[str]


class Interval(_Frozen):
    """What is due again, of which things, every so many months."""

    what: str
    of: list[str]
    months: int


def installed(plan: Plan) -> list[Installed]:
    """Every unit of a plan, in its order."""
    lines = {circuit.equipment: circuit for circuit in plan.circuits.values() if circuit.equipment}
    found = []
    for key, unit in plan.equipment.items():
        circuit, kind = lines.get(key), unit.kind.replace("_", " ")
        fed = fed_from(plan, circuit) if circuit else ""
        found.append(Installed(name=unit.name or key, kind=kind, place=unit.place or "", fed=fed))
    return found


def intervals(plan: Plan, plant: Plant) -> list[Interval]:
    """What is due again of what is there."""
    there: dict[str, list[str]] = {}
    for key, unit in plan.equipment.items():
        there.setdefault(unit.kind, []).append(unit.name or key)
    for key, device in plan.devices.items():
        if key in plant.types:
            there.setdefault(plant.types[key].group, []).append(device.name or key)
    found: dict[tuple[str, int], list[str]] = {}
    for row in _rows("intervals.csv"):
        if row["of"] in there:
            found.setdefault((row["what"], int(row["months"])), []).extend(there[row["of"]])
    return [Interval(what=what, of=list(dict.fromkeys(of)), months=months) for (what, months), of in found.items()]


@cache
def _rows(name: str) -> list[dict[str, str]]:
    text = files("leitung_core.handed").joinpath(name).read_text("utf-8")
    return list(csv.DictReader(line for line in text.splitlines() if not line.startswith("#")))


def when_it_stops(system: System) -> list[Sign]:
    """What to look at in a system, by what is seen: the display dark, nothing running, one thing still."""
    displays, loads = _displays(system), [name for names in system.effects.values() for name in names]
    calls = system.calls
    if not calls or not loads:
        return []
    opened = [name for name in (*system.hands, *system.causes) if _look(system, name)]
    on = _on(system, [*displays, *loads], opened, calls)
    lit, runs = on[: len(displays)], on[len(displays) :]
    found: dict[str, list[str]] = {}
    for number, name in enumerate(opened, 1):
        gone = runs[:, 0] & ~runs[:, number]
        if not gone.any() and (lit[:, number] | ~lit[:, 0]).all():
            continue
        found.setdefault(_sign(system, lit, runs, loads, number), []).append(_look(system, name))
    if any(system.plant.types[key].id == "stat-basic" for key in system.devices):
        found.setdefault(DARK, []).insert(0, BATTERIES)
    order = sorted(found, key=lambda sign: (sign != DARK, sign != STILL))
    return [Sign(of=system.title, sign=sign, looks=list(dict.fromkeys(found[sign]))) for sign in order]


def _displays(system: System) -> list[str]:
    return [
        f"{key}.{part.id}" for key in system.devices for part in system.plant.types[key].inside
        if system.plant.types[key].group == "thermostat" and isinstance(part, Load) and part.id == "BOARD"
    ]  # fmt: skip


def _on(system: System, names: Sequence[str], opened: Sequence[str], calls: Sequence[str]) -> Bools:
    """What is on (names, 1 + opened, calls): with nothing opened first, then with each opened."""
    net = Compiled(system.network)
    what = [frozenset[str](), *(frozenset({name}) for name in opened)]
    courses = [(Stretch(each | {call}, SETTLED_S),) for each in what for call in calls]
    state = settle(net, courses)
    known = loads_of(net).names
    rows = [known.index(name) for name in names]
    found: Bools = state.energised[rows].reshape(len(names), 1 + len(opened), len(calls))
    return found


def _sign(system: System, lit: Bools, runs: Bools, loads: Sequence[str], number: int) -> str:
    if lit.size and (lit[:, 0] & ~lit[:, number]).any():
        return DARK
    if not runs[:, number].any():
        return STILL if lit.size else "Nothing runs"
    gone = np.flatnonzero((runs[:, 0] & ~runs[:, number]).any(axis=1))
    names = list(dict.fromkeys(system.motor(loads[int(row)]) for row in gone))
    return sentence(f"{in_a_row(names)} {'stays' if len(names) == 1 else 'stay'} still, the rest runs")


def _look(system: System, name: str) -> str:
    """What somebody without tools looks at; empty for what is nobody's but a technician's."""
    if not name.startswith("hand:"):
        return next((row["look"] for row in _rows("looks.csv") if row["signal"] == name), "")
    key = name.removeprefix("hand:")
    kind, device = system.plant.types[key], system.plant.plan.devices[key]
    called = f"{device.name or key}{f' at {device.place}' if device.place else ''}"
    if kind.group == "panel":
        return sentence(f"{_breaker(system, key) or called}. {TRIPPED}")
    if kind.group == "disconnect" and "fuse" not in kind.id and device.spot not in OUT_OF_REACH:
        return sentence(f"{called}: is it in?")
    return ""


def _breaker(system: System, key: str) -> str:
    """`the 45 A breaker in Main panel, spaces 1, 3 and 5`, where the device is that of a line."""
    plan = system.plant.plan
    line = next((line for line, devices in system.plant.index.devices_of_line.items() if line and key in devices), None)
    circuit = plan.circuits.get(line or "")
    if circuit is None or circuit.ocpd is None:
        return ""
    rating = f"{say(circuit.ocpd.rating_a)} A " if circuit.ocpd.rating_a else ""
    return f"the {rating}breaker in {fed_from(plan, circuit) or 'the panel'}"


def signs(systems: Sequence[System]) -> Iterator[Sign]:
    """What to look at, system by system."""
    for system in systems:
        yield from when_it_stops(system)
