"""Lock-out as it is done: sources off, a line's breaker and disconnect locked, what else could feed it, proved dead."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from leitung_core.commissioning.steps import Asked, StartStep
from leitung_core.commissioning.waits import wait
from leitung_core.plan.model import Circuit, Ocpd
from leitung_core.plan.sources import Source
from leitung_core.plant.fed import spaces_said
from leitung_core.plant.lines import breaker_of
from leitung_core.plant.order import lines_of
from leitung_core.plant.plant import Plant
from leitung_core.plant.poles import poles_of
from leitung_core.supply.feeds import standing_in
from leitung_core.units import exact, in_a_row, say

DEAD_V = 5.0
ROOF = "Ladder tied, three points of contact; away from the roof's edge."
SUPPLY_LIVE = "The supply side stays live."
LINES_DEAD = "every line to every other line, every line to ground"
POLE_DEAD = "line to neutral, line to ground, neutral to ground"
OFF = {
    "generator": "stopped, its start switch off and locked, its cord pulled at the generator",
    "inverter": "off, the disconnect of its battery open and locked",
}


@dataclass(frozen=True)
class Main:
    """How a source is made dead while its cover is open, how it comes back, and what stays live all the same."""

    off: str
    on: str
    stays_live: str
    device: str | None = None


def main_of(plant: Plant, source_id: str) -> Main:
    """The main of a source, or what stands for one."""
    plan, source = plant.plan, plant.plan.sources[source_id]
    name, feeder = source.name or source_id, plant.index.fed_by.get(source_id)
    if source.main_a is None and feeder is not None:
        upstream = plan.sources.get(plan.circuits[feeder].source or "")
        at = upstream.name if upstream and upstream.name else plan.circuits[feeder].source or "the panel above"
        off = f"Feeder {feeder} to {name} off at {at} while its cover is open, locked and tagged."
        return Main(off, f"Feeder {feeder} on.", f"{at} stays live.", breaker_of(plant, feeder))
    if source.kind in OFF:
        return Main(f"{name} {OFF[source.kind]}.", f"{name} on.", "A battery and its cables stay live.")
    if source.kind in ("receptacle", "pedestal"):
        return Main(f"Breaker of {name} off, locked and tagged.", f"Breaker of {name} on.", SUPPLY_LIVE)
    off = f"Main of {name} off while its cover is open."
    return Main(off, f"Main of {name} on.", "The line side of the main stays live with the main off.")


def disconnect_of(plant: Plant, line: str) -> str | None:
    """The device that parts a line from its unit, where it is drawn: the last one before the unit."""
    drawn = [key for key in plant.index.devices_of_line.get(line, ())
             if key in plant.types and plant.types[key].group == "disconnect"
             and plant.plan.devices[key].state != "removed"]  # fmt: skip
    path = plant.lines[line].path
    return max(drawn, key=lambda key: path.index(key) if key in path else -1, default=None)


def breaker_words(plant: Plant, line: str) -> str:
    """`20 A breaker`."""
    ocpd = plant.lines[line].device or Ocpd()
    return f"{say(exact(ocpd.rating_a))} A {ocpd.type or 'device'}" if ocpd.rating_a else "device"


def source_off(plant: Plant, source_id: str) -> StartStep:
    """A source made dead, for work in it."""
    main = main_of(plant, source_id)
    return StartStep(
        key=f"sources/{source_id}.main-off", about=f"sources/{source_id}", phase="lock_out", text=main.off,
        caution=main.stays_live, hold=True, does="open", device=main.device, minutes=3,
        undone_by=f"sources/{source_id}.main-on",
    )  # fmt: skip


def line_dead(plant: Plant, line: str, others: Sequence[str], roof: bool, capacitors: bool) -> Iterator[StartStep]:
    """A line locked out and proved dead at its unit. `others` are breakers that feed the same control system."""
    circuit = plant.plan.circuits[line]
    source_id = circuit.source or ""
    source = plant.plan.sources[source_id]
    opened: list[str] = []

    def step(name: str, text: str, caution: str | None = None, **more: object) -> StartStep:
        made = StartStep.model_validate(
            {"key": f"{line}.{name}", "about": f"circuits/{line}", "phase": "lock_out", "text": text,
             "caution": caution, "undone_by": f"{line}.breaker-on", **more}
        )  # fmt: skip
        if made.does == "open":
            opened.append(made.key)
        return made

    yield step("breaker-locked", f"The {breaker_words(plant, line)} {_where(plant, line, source)}: off, locked, tagged "
               "with your name.", SUPPLY_LIVE, does="open", device=breaker_of(plant, line),
               minutes=2)  # fmt: skip
    for feed in other_feeds(plant, source_id):
        yield step(f"feed-{feed.source}", feed.off, feed.caution, does="open", minutes=2)
    yield step("disconnect-open", _opened(plant, line, circuit), ROOF if roof else None, does="open",
               device=disconnect_of(plant, line), minutes=1)  # fmt: skip
    if others:
        yield step("others", "What else keeps its control alive, as the lock-out names it, off and locked: of "
                   f"{in_a_row(others)}.", "Another breaker can keep the 24 V of this unit alive.", does="open",
                   minutes=2)  # fmt: skip
    yield step("meter-before", "Prove the meter on a source known to be live.", needs=list(opened))
    poles = poles_of(circuit, source, plant.plan.equipment[circuit.equipment or ""])
    yield step("dead", f"Prove dead: {POLE_DEAD if poles == 1 else LINES_DEAD}. Write down the highest.",
               "Unknown is live. If a reading is in doubt, stop here.",
               needs=[f"{line}.meter-before"], hold=True, does="hold", minutes=2,
               asks=Asked(unit="V", most=DEAD_V))  # fmt: skip
    yield step("meter-after", "Prove the meter again on the live source.", needs=[f"{line}.dead"], hold=True,
               does="hold")  # fmt: skip
    if capacitors:
        yield step("capacitors", "Wait as the unit's label says, then measure its capacitors before you reach in.",
                   "Capacitors hold a charge that can kill after the power is off.", needs=[f"{line}.meter-after"],
                   hold=True, does="hold", wait_s=wait("capacitors"))  # fmt: skip


def hands_in(line: str, capacitors: bool) -> str:
    """The last step of a line's lock-out: after it hands go in."""
    return f"{line}.capacitors" if capacitors else f"{line}.meter-after"


def _where(plant: Plant, line: str, source: Source) -> str:
    circuit = plant.plan.circuits[line]
    panel = source.name or circuit.source or "the panel"
    if plant.lines[line].shares_device:
        too = [key for key in lines_of(plant.plan, circuit.source) if key != line]
        return f"ahead of {panel}" + (f", which feeds {in_a_row(too)} too" if too else "")
    spaces = spaces_said(circuit)
    return f"in {panel}, {spaces}" if spaces else f"in {panel}"


def _opened(plant: Plant, line: str, circuit: Circuit) -> str:
    if plant.plan.equipment[circuit.equipment or ""].cord_connected:
        return "Pull the plug and lock it out."
    rated = circuit.disconnect is not None and circuit.disconnect.rating_a is not None
    return "Open the disconnect and lock it." if rated else "Open the means of disconnect and lock it."


@dataclass(frozen=True)
class OtherFeed:
    """A source that can feed the line in its own source's place: how it is made dead, and what it may do by itself."""

    source: str
    off: str
    caution: str | None


def other_feeds(plant: Plant, source_id: str) -> Iterator[OtherFeed]:
    """Every source that can stand in for that of a line."""
    plan = plant.plan
    for key in standing_in(plan, source_id):
        source = plan.sources[key]
        off = OFF.get(source.kind, "its breaker off, locked and tagged")
        over = "; the transfer switch locked" if source.over_by == "transfer_switch" else ""
        yield OtherFeed(key, f"{source.name or key} can feed this line too: {off}{over}.", _by_itself(source))


def _by_itself(source: Source) -> str | None:
    if source.kind not in OFF or source.starts_itself is False:
        return None
    if source.starts_itself:
        return "It can start by itself: its automatic start off before anything is opened."
    return "Whether it can start by itself is not known: take it that it does."
