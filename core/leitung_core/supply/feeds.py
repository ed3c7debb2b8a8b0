"""Which sources are judged by their starts, and which stand in for which: grid first, then generator, then inverter."""

from __future__ import annotations

from leitung_core.plan.model import Plan
from leitung_core.plan.sources import Source

# What a start may bring down. A building's panel is judged by its demand (220.87), not by one unit's start.
WEAK = ("receptacle", "pedestal", "generator", "inverter")
ORDER = ("panel", "subpanel", "receptacle", "pedestal", "generator", "inverter")


def base_of(plan: Plan, source_id: str) -> str:
    """The source whose lines these are: itself, or the one for which it stands in."""
    return plan.sources[source_id].in_place_of or source_id


def behind(plan: Plan, source_id: str) -> list[str]:
    """A source and every panel that it feeds through its feeders, the nearest first."""
    found = [source_id]
    for key in found:
        fed = [line.feeds for line in plan.circuits.values() if line.source == key and line.feeds]
        found += [feeds for feeds in fed if feeds not in found]
    return found


def standing_in(plan: Plan, source_id: str) -> list[str]:
    """The sources that can feed the lines of a source in its place, in the order in which they are tried."""
    found = [key for key, source in plan.sources.items() if source.in_place_of == source_id]
    return sorted(found, key=lambda key: (ORDER.index(plan.sources[key].kind), key))


def groups(plan: Plan) -> list[list[str]]:
    """Every source that can be asked for a start, with those that stand in for it behind it."""
    bases = [key for key, source in plan.sources.items() if source.in_place_of is None]
    found = [[key, *standing_in(plan, key)] for key in bases]
    return [group for group in found if len(group) > 1 or is_judged(plan, group[0])]


def is_judged(plan: Plan, source_id: str) -> bool:
    """Whether starts are judged on a source: a weak one with a motor that may start, or one whose calls are planned."""
    source = plan.sources[source_id]
    lines = lines_on(plan, base_of(plan, source_id))
    if source.kind == "receptacle":
        return bool(source.calls)
    return bool(lines) and (source.kind in WEAK or bool(source.calls))


def lines_on(plan: Plan, base: str) -> list[str]:
    """The lines that end at a unit and hang on a source, through feeders too."""
    there = behind(plan, base)
    return [key for key, circuit in sorted(plan.circuits.items()) if circuit.source in there and circuit.equipment]


def name_of(source_id: str, source: Source) -> str:
    return source.name or source_id
