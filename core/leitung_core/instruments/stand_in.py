"""A meter that reads a system as it was built, where none is at hand: what the solver says, as far off as its class."""

from __future__ import annotations

import csv
import random
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files

from leitung_core.commissioning.called import called, state_of
from leitung_core.commissioning.judge import OPEN_OHMS
from leitung_core.commissioning.running import full_calls
from leitung_core.commissioning.steps import ReadingPoint, StartUp
from leitung_core.control.system import System
from leitung_core.instruments.as_built import AsBuilt
from leitung_core.instruments.classes import MeterClass, Unit
from leitung_core.slips.mistakes import Mistake


@dataclass(frozen=True)
class Meter:
    """A class of meter: it is off by at most a share of what it reads and some digits, in the unit that it reads."""

    name: str
    unit: Unit
    share: float
    digits: float


@cache
def meters() -> dict[str, Meter]:
    """The meters by the unit that they read."""
    text = files("leitung_core.instruments").joinpath("meters.csv").read_text()
    rows = csv.DictReader(text.splitlines())
    return {
        row["unit"]: Meter(row["name"], row["unit"], float(row["share"]), float(row["digits"]))  # type: ignore[arg-type]
        for row in rows
    }


# What one instrument of the trade reads, by the unit for which it is bought.
READS: dict[Unit, tuple[Unit, ...]] = {"MΩ": ("MΩ",), "kW": ("V", "A", "kW")}
MULTIMETER: tuple[Unit, ...] = ("V", "A", "Ω")


def usual(reads: Unit | None = None) -> dict[Unit, MeterClass]:
    """The classes of a meter of the trade: of a multimeter, or of what is bought for a unit that one does not read."""
    units = READS.get(reads, MULTIMETER) if reads else MULTIMETER
    return {unit: MeterClass(share=meters()[unit].share, digits=meters()[unit].digits) for unit in units}


@dataclass
class StandIn:
    """Reads the points of a start-up that lie in a system. The same seed gives the same readings."""

    system: System
    startup: StartUp
    mistake: Mistake | None = None
    seed: int = 0
    _built: AsBuilt = field(init=False)

    def __post_init__(self) -> None:
        self._built = AsBuilt(self.system, self.mistake)

    def points(self) -> Iterator[ReadingPoint]:
        """The points whose terminals are drawn in this system."""
        ends = self.system.built_ends | {f"{piece['id']}.bar.G" for piece in self.system.built.pieces}
        yield from (
            point for point in self.startup.readings
            if point.unit in MULTIMETER and {point.terminal_from, point.terminal_to} <= ends
        )  # fmt: skip

    def read(self, point: ReadingPoint) -> float:
        """What the meter shows at a point, in its unit, in the state in which start-up reads it."""
        return self._as_shown(point, self.true(point))

    def true(self, point: ReadingPoint) -> float:
        """What is there, before the meter adds its own; between parts that nothing joins: no volts."""
        built = self._built
        if point.unit == "Ω":
            return built.ohms(point.terminal_from, self._node(point.terminal_to))
        on = self.state(point)
        if point.unit == "A":
            return built.amps(point.terminal_to, on)
        return built.volts(point.terminal_from, point.terminal_to, on, point.dc) or 0.0

    def state(self, point: ReadingPoint) -> frozenset[str]:
        """What is called where a point is read."""
        step = self.startup.step_of("reads", point.key)
        name = step.key.rpartition(".")[2] if step else ""
        if name.startswith("loaded-"):
            return state_of(self.system, f"call:{name.removeprefix('loaded-')}")
        line = point.about.partition("/")[2]
        full = full_calls(self.system, called(self.system), [line]) if name == "full-call" else {}
        return state_of(self.system, full[line]) if line in full else frozenset()

    def _node(self, ref: str) -> str:
        """A panel's ground bar as the network has it."""
        source, _, terminal = ref.partition(".")
        return f"{source}.G" if terminal == "bar.G" and ref not in self.system.built_ends else ref

    def _as_shown(self, point: ReadingPoint, value: float) -> float:
        meter, dice = meters()[point.unit], random.Random(f"{self.seed} {point.key}")  # noqa: S311  # no secret: noise
        if point.unit == "Ω" and value >= OPEN_OHMS:
            return OPEN_OHMS
        off = (meter.share * abs(value) + meter.digits) * dice.uniform(-1, 1)
        # Leads and contacts add; nothing reads below nothing but direct volts.
        return value + abs(off) if point.unit == "Ω" else value + off if point.dc else max(0.0, value + off)


def outside(points: Sequence[ReadingPoint], meter: StandIn) -> list[ReadingPoint]:
    """The points that a meter reads outside what they should be."""
    return [
        point for point in points
        if point.low is not None and point.high is not None and not point.low <= meter.read(point) <= point.high
    ]  # fmt: skip
