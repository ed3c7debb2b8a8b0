"""Start-up of a plan (domain 5): lock-out, prove dead, before power, first energising, readings, with cautions."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache
from typing import Literal

from pydantic import BaseModel, ConfigDict

from leitung_core.circuits.loads import COOLING, running_currents
from leitung_core.circuits.loads.heat import heat_load
from leitung_core.circuits.plate import VoltsRange, plate_range
from leitung_core.circuits.result import CircuitResult
from leitung_core.commissioning.landed import LandingItem, landing_items
from leitung_core.commissioning.set_up import SetUpItem, set_up
from leitung_core.commissioning.tests import FunctionalTest, functional_tests
from leitung_core.control.system import System
from leitung_core.plan.model import Circuit, Ocpd, Unit
from leitung_core.plan.sources import Source
from leitung_core.plant.order import lines_of, sources_in_order
from leitung_core.plant.plant import Plant
from leitung_core.plant.poles import poles_of, supply_of
from leitung_core.plant.size_document import spec_of
from leitung_core.supply.feeds import standing_in
from leitung_core.units import exact, say

LINES_DEAD = "every line to every other line, every line to ground"
Phase = Literal["lock_out", "before_power", "energise", "readings"]


class _Frozen(BaseModel):
    model_config = ConfigDict(frozen=True)


class StartStep(_Frozen):
    """Something to do and tick. `key` is stable: records refer to it."""

    key: str
    circuit: str
    phase: Phase
    text: str
    caution: str | None = None


class ReadingPoint(_Frozen):
    """Something to measure. `low` and `high` bound what it should read; `basis` says why; None: cannot be judged.

    `near_low` and `near_high` bound what this supply should give. A current names the volts read with it: `volts_key`;
    what is `resistive` draws in proportion to them, from what it draws `at_volts`. `split`: two legs of 180°.
    """

    key: str
    circuit: str
    text: str
    terminal_from: str
    terminal_to: str
    unit: Literal["V", "A"]
    expected: float | None
    low: float | None
    high: float | None
    basis: str
    near_low: float | None = None
    near_high: float | None = None
    volts_key: str | None = None
    at_volts: float | None = None
    phases: int | None = None
    resistive: bool = False
    split: bool = False


class PhaseOfWork(_Frozen):
    """A phase of start-up: its name, and whether something is live in it."""

    id: Phase
    name: str
    live: bool


PHASES_OF_WORK = [
    PhaseOfWork(id="lock_out", name="Lock out, prove dead", live=False),
    PhaseOfWork(id="before_power", name="Before power", live=False),
    PhaseOfWork(id="energise", name="First energising", live=True),
    PhaseOfWork(id="readings", name="Readings", live=True),
]


class StartUp(_Frozen):
    """The start-up of a whole plan, in the order of the work: what to do, measure, try, set and tick."""

    phases: list[PhaseOfWork]
    steps: list[StartStep]
    readings: list[ReadingPoint]
    tests: list[FunctionalTest]
    set_up: list[SetUpItem]
    landings: list[LandingItem]


def start_up(plant: Plant, systems: Sequence[System], sized: Mapping[str, CircuitResult]) -> StartUp:
    """The start-up of a plant and of its control systems; `sized` are its lines."""
    plan = plant.plan
    steps: list[StartStep] = []
    readings: list[ReadingPoint] = []
    for circuit_id in (key for source_id in sources_in_order(plan) for key in lines_of(plan, source_id)):
        circuit = plan.circuits[circuit_id]
        unit, source = plan.equipment.get(circuit.equipment or ""), plan.sources.get(circuit.source or "")
        if unit is None or source is None:
            continue
        steps += _steps_of(plant, circuit_id, circuit, source)
        readings += _readings(plant, circuit_id, circuit, unit, source, sized.get(circuit_id))
    return StartUp(
        phases=PHASES_OF_WORK, steps=steps, readings=readings,
        tests=[row for system in systems for row in functional_tests(system)],
        set_up=[row for system in systems for row in set_up(system)],
        landings=landing_items(plant),
    )  # fmt: skip


def _steps_of(plant: Plant, circuit_id: str, circuit: Circuit, source: Source) -> tuple[StartStep, ...]:
    line = plant.lines[circuit_id]
    ocpd = line.device or Ocpd()
    spaces = " and ".join(str(space) for space in ocpd.spaces or [])
    panel = source.name or circuit.source or "the panel"
    breaker = f"{say(exact(ocpd.rating_a))} A {ocpd.type or 'device'}" if ocpd.rating_a else "device"
    where = f"in {panel}, spaces {spaces}" if spaces else f"in {panel}"
    if line.shares_device:
        too = [key for key in lines_of(plant.plan, circuit.source) if key != circuit_id]
        where = f"ahead of {panel}" + (f", which feeds {' and '.join(too)} too" if too else "")
    plug = bool(plant.plan.equipment[circuit.equipment or ""].cord_connected)
    white = any(segment.white_reidentified for _, segment in circuit.segments())
    main = None if line.shares_device else _main(plant, circuit.source or "", source)
    poles = poles_of(circuit, source, plant.plan.equipment[circuit.equipment or ""])
    dead = "line to neutral, line to ground, neutral to ground" if poles == 1 else LINES_DEAD
    dangers = _dangers(plant, circuit_id, circuit)
    feeds = tuple(other_feeds(plant, circuit.source or ""))
    return _steps(circuit_id, breaker, where, main, feeds, _opened(circuit, plug), dead, plug, white, dangers)


@lru_cache(maxsize=4096)
def _steps(
    circuit_id: str,
    breaker: str,
    where: str,
    main: tuple[str, str, str] | None,
    feeds: tuple[OtherFeed, ...],
    opened: str,
    dead: str,
    plug: bool,
    white: bool,
    dangers: frozenset[str],
) -> tuple[StartStep, ...]:
    """The steps of a line: how its source is made dead and alive again, its breaker, what is proved, its whites."""
    main_off, main_on, line_side = main or ("", "", "The supply side stays live.")
    rows: list[tuple[Phase, str, str, str | None]] = [
        ("lock_out", "main-off", main_off, line_side),
        ("lock_out", "breaker-locked", f"The {breaker} {where}: off, locked, tagged with your name.",
         None if main else line_side),
        *(("lock_out", f"feed-{feed.source}", feed.off, feed.caution) for feed in feeds),
        ("lock_out", "disconnect-open", opened, ROOF if "roof" in dangers else None),
        ("lock_out", "meter-before", "Prove the meter on a source known to be live.", None),
        ("lock_out", "dead", f"Prove dead: {dead}.",
         "Unknown is live. If a reading is in doubt, stop here."),
        ("lock_out", "meter-after", "Prove the meter again on the live source.", None),
        ("lock_out", "capacitors", "Wait as the unit's label says, then measure its capacitors before you reach in.",
         "Capacitors hold a charge that can kill after the power is off."),
        ("before_power", "torque", "Tighten every terminal with a calibrated tool to its marked value.", None),
        ("before_power", "ground", "Grounding conductor continuous from panel to unit.", None),
        ("before_power", "covers", "Covers on: panel, disconnect, unit.", None),
        ("energise", "thermostat", "Thermostat off or at its minimum; nobody at the unit.",
         "The unit may start by itself once it has power."),
        ("energise", "main-on", f"Locks off by those who set them. {main_on}",
         "Stand to the side of the panel."),
        ("energise", "breaker-on", f"The {breaker} on, then the {'plug' if plug else 'disconnect'}.",
         " ".join(words for danger, words in LIVE_DANGERS.items() if danger in dangers) or None),
    ]  # fmt: skip
    if "capacitors" not in dangers:
        rows = [row for row in rows if row[1] != "capacitors"]
    if main is None:
        rows = [row for row in rows if row[1] not in ("main-off", "main-on")]
    if plug:
        at = next(index for index, row in enumerate(rows) if row[1] == "torque")
        rows.insert(at + 1, ("before_power", "cord", CORD, None))
    if white:
        at = next(index for index, row in enumerate(rows) if row[1] == "torque")
        rows.insert(at + 1, ("before_power", "white", "White conductors re-identified at every termination.", None))
    return tuple(
        StartStep(key=f"{circuit_id}.{key}", circuit=circuit_id, phase=phase, text=text, caution=caution)
        for phase, key, text, caution in rows
    )


@dataclass(frozen=True)
class OtherFeed:
    """A source that can feed the line in its own source's place: how it is made dead, and what it may do by itself."""

    source: str
    off: str
    caution: str | None


OFF = {
    "generator": "stopped, its start switch off and locked, its cord pulled at the generator",
    "inverter": "off, the disconnect of its battery open and locked",
}


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


ROOF = "Ladder tied, three points of contact; away from the roof's edge."
LIVE_DANGERS = {
    "steam": "Steam and a hot pipe: hands off hose and cylinder until they have cooled.",
    "ultraviolet": "Ultraviolet light harms eyes and skin: doors shut and panels on before it is lit.",
}
CORD = "Cord: strain relief holds, cut to length, no blade forced; the neutral left empty where the unit takes none."
# Kinds of unit whose motors or drives have capacitors, beside every one with a compressor or a motor on its plate.
WITH_CAPACITORS = {*COOLING, "air_handler", "dehumidifier"}


def _dangers(plant: Plant, circuit_id: str, circuit: Circuit) -> frozenset[str]:
    """What can hurt at this line beside the current: only what is there."""
    unit = plant.plan.equipment[circuit.equipment or ""]
    plate = unit.nameplate
    found = set()
    if unit.kind in WITH_CAPACITORS or (plate is not None and (plate.compressors or plate.motors)):
        found.add("capacitors")
    if any(segment.place == "roof" for _, segment in circuit.segments()):
        found.add("roof")
    if unit.kind == "steam_humidifier":
        found.add("steam")
    for key, device in plant.plan.devices.items():
        ours = device.circuit == circuit_id or (device.equipment is not None and device.equipment == circuit.equipment)
        if ours and key in plant.types and plant.types[key].group == "lamp":
            found.add("ultraviolet")
    return frozenset(found)


def _main(plant: Plant, source_id: str, source: Source) -> tuple[str, str, str]:
    """How the source is made dead while its cover is open, how it comes back, and what stays live all the same."""
    plan, name = plant.plan, source.name or source_id
    feeder = plant.index.fed_by.get(source_id)
    if source.main_a is None and feeder is not None:
        upstream = plan.sources.get(plan.circuits[feeder].source or "")
        at = upstream.name if upstream and upstream.name else plan.circuits[feeder].source or "the panel above"
        off = f"Feeder {feeder} to {name} off at {at} while its cover is open, locked and tagged."
        return off, f"Feeder {feeder} on.", f"{at} stays live."
    if source.kind in OFF:
        return f"{name} {OFF[source.kind]}.", f"{name} on.", "A battery and its cables stay live."
    if source.kind in ("receptacle", "pedestal"):
        return f"Breaker of {name} off, locked and tagged.", f"Breaker of {name} on.", "The supply side stays live."
    off = f"Main of {name} off while its cover is open."
    return off, f"Main of {name} on.", "The line side of the main stays live with the main off."


def _opened(circuit: Circuit, plug: bool) -> str:
    if plug:
        return "Pull the plug and lock it out."
    rated = circuit.disconnect is not None and circuit.disconnect.rating_a is not None
    return "Open the disconnect and lock it." if rated else "Open the means of disconnect and lock it."


def _readings(
    plant: Plant, circuit_id: str, circuit: Circuit, unit: Unit, source: Source, sized: CircuitResult | None
) -> list[ReadingPoint]:
    """Line to line, line to ground, running current."""
    supply, lines = supply_of(circuit, source, unit), poles_of(circuit, source, unit) or 2
    book = plant.book
    allowed = plate_range(unit.nameplate, book)
    drop = sized.voltage_drop_v if sized is not None else None
    split = lines == 2 and supply.volts is not None and supply.volts == 2 * (supply.volts_to_ground or 0)
    near = float(book.factor("reading-near"))
    pairs = _PAIRS.get(lines, [])
    rows = [_line_to_line(circuit_id, pair, supply.volts, allowed, drop, near, split) for pair in pairs]
    around, words = book.factor("reading-volts"), book.percent("reading-volts")
    to_ground = supply.volts_to_ground
    rows += [_line_to_ground(circuit_id, f"L{line}", to_ground, around, words) for line in range(1, lines + 1)]
    rows.append(_running_current(plant, circuit_id, unit, rows[0].key if rows else None, supply.volts, lines))
    return rows


_PAIRS = {1: [("L1", "N")], 2: [("L1", "L2")], 3: [("L1", "L2"), ("L2", "L3"), ("L3", "L1")]}


def _running_current(
    plant: Plant, circuit_id: str, unit: Unit, volts_key: str | None, at_volts: float | None, lines: int
) -> ReadingPoint:
    """The current at full call: heat within 10 % of what it draws at the supply; compressors and fans by their marks,
    never above the MCA.
    """
    plate = unit.nameplate
    mca = plate.mca_a if plate else None
    book = plant.book
    around = book.factor("reading-heat")
    expected = low = high = None
    basis = "it draws current, and never above the marked MCA" if mca else "the plate's MCA is not known"
    marks = sum(running_currents(plate), Decimal(0)) * (unit.quantity or 1) if plate else Decimal(0)
    if marks:
        expected = float(marks)
        low, high = 0.1, mca or float(marks * (1 + around))
        basis = f"{say(marks, 1)} A by the plate's marks" + (", and never above its MCA" if mca else " and a tenth")
    elif mca:
        low, high = 0.1, mca
    elif plate is not None and plate.amps:
        expected, high = (
            plate.amps * (unit.quantity or 1),
            float(exact(plate.amps) * (unit.quantity or 1) * (1 + around)),
        )
        low, basis = 0.1, "the plate's amps and a tenth"
    resistive = False
    if plate is not None and plate.heat is not None and not plate.compressors:
        spec = spec_of(plant, circuit_id)
        drawn = heat_load(spec, plate, book).running_a if spec is not None else None
        if drawn is not None:
            expected, basis = (
                float(drawn),
                f"heat and motors at the supply's voltage ± {book.percent('reading-heat')}; "
                "at other volts in proportion",
            )
            low, high = float(drawn * (1 - around)), float(drawn * (1 + around))
            resistive = True
    return ReadingPoint(
        key=f"{circuit_id}.running",
        circuit=circuit_id,
        text="Running current at full call, one line conductor",
        terminal_from=f"{circuit_id}.disconnect.T1",
        terminal_to=f"{plant.plan.circuits[circuit_id].equipment}.power.L1",
        unit="A",
        expected=expected,
        low=low,
        high=high,
        basis=basis,
        volts_key=volts_key,
        at_volts=at_volts,
        phases=3 if lines == 3 else 1,
        resistive=resistive,
    )


@lru_cache(maxsize=4096)
def _line_to_line(
    circuit_id: str,
    pair: tuple[str, str],
    volts: float | None,
    allowed: VoltsRange | None,
    drop: float | None,
    near: float,
    split: bool,
) -> ReadingPoint:
    """Expected: the source's volts less the drop at full call; near it within the range that supplies keep."""
    first, second = pair
    expected = volts - (drop or 0) if volts is not None else None
    return ReadingPoint(
        key=f"{circuit_id}.{first}-{second}",
        circuit=circuit_id,
        text=f"{first} to {second} at the disconnect",
        terminal_from=f"{circuit_id}.disconnect.{first}",
        terminal_to=f"{circuit_id}.disconnect.{second}",
        unit="V",
        expected=round(expected, 2) if expected is not None else None,
        low=float(allowed.low) if allowed else None,
        high=float(allowed.high) if allowed else None,
        basis=allowed.source if allowed else "the plate's voltage is not known",
        near_low=round(expected * (1 - near), 2) if expected is not None else None,
        near_high=round(volts * (1 + near), 2) if volts is not None else None,
        split=split,
    )


@lru_cache(maxsize=4096)
def _line_to_ground(circuit_id: str, line: str, volts: float | None, around: Decimal, percent: str) -> ReadingPoint:
    within = f"the supply's volts to ground ± {percent}"
    return ReadingPoint(
        key=f"{circuit_id}.{line}-G",
        circuit=circuit_id,
        text=f"{line} to ground at the disconnect",
        terminal_from=f"{circuit_id}.disconnect.{line}",
        terminal_to=f"{circuit_id}.disconnect.G",
        unit="V",
        expected=volts,
        low=float(exact(volts) * (1 - around)) if volts else None,
        high=float(exact(volts) * (1 + around)) if volts else None,
        basis=within if volts else "the supply's volts to ground are not known",
    )


def is_live(startup: StartUp, step: StartStep) -> bool:
    """Whether something is energised when a step is done."""
    return any(phase.live for phase in startup.phases if phase.id == step.phase)
