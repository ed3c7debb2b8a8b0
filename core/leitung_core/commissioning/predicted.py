"""What each reading should be: by the source and the run, by the plate, by the control network solved."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property

from leitung_core.circuits.loads import running_currents
from leitung_core.circuits.loads.heat import heat_load, power_at
from leitung_core.circuits.plate import plate_range, plate_volts
from leitung_core.circuits.result import CircuitResult
from leitung_core.commissioning.asked import insulation_readings, power_reading
from leitung_core.commissioning.dead import disconnect_of
from leitung_core.commissioning.steps import ReadingPoint
from leitung_core.plan.model import Circuit, Unit
from leitung_core.plan.sources import Source
from leitung_core.plant.lines import units_devices
from leitung_core.plant.plant import Plant, Post
from leitung_core.plant.poles import line_count, poles_of, supply_of
from leitung_core.plant.size_document import spec_of
from leitung_core.units import exact, say

PAIRS = {1: [("L1", "N")], 2: [("L1", "L2")], 3: [("L1", "L2"), ("L2", "L3"), ("L3", "L1")]}
FUNCTIONS = {"L1": ("line-1", "pair-1"), "L2": ("line-2", "pair-2"), "L3": ("line-3",), "N": ("neutral",),
             "G": ("ground",)}  # fmt: skip
Sized = Mapping[str, CircuitResult]
BTU_H_PER_W = 3.412
AIR_BTU_H_CFM_F = 1.08  # 60 min/h x 0.075 lb/ft3 x 0.24 Btu/lb F: dry air at sea level, 70 °F


@dataclass(frozen=True)
class LineReadings:
    """What is read of a line: at its open disconnect, at full call, and of its insulation where that is asked."""

    at_rest: list[ReadingPoint]
    running: list[ReadingPoint]
    insulation: list[ReadingPoint]


def line_readings(plant: Plant, line: str, sized: Sized) -> LineReadings:
    """The readings of a line that ends at a unit."""
    points, asked = _Points(plant, line, sized), plant.plan.site.measured or ()
    current, names = points.current(), ("L1", "L2", "L3")[: points.lines]
    power = [power_reading(current, plant.book)] if "power" in asked else []
    return LineReadings(
        at_rest=[*points.pairs(at_rest=True), *points.to_ground()],
        running=[*points.pairs(at_rest=False), current, *power, *points.rise()],
        insulation=list(insulation_readings(line, names, points.ref, plant.book)) if "insulation" in asked else [],
    )


@dataclass(frozen=True)
class _Points:
    plant: Plant
    line: str
    sized: Sized

    @cached_property
    def circuit(self) -> Circuit:
        return self.plant.plan.circuits[self.line]

    @cached_property
    def unit(self) -> Unit:
        return self.plant.plan.equipment[self.circuit.equipment or ""]

    @cached_property
    def source(self) -> Source:
        return self.plant.plan.sources[self.circuit.source or ""]

    @cached_property
    def lines(self) -> int:
        return poles_of(self.circuit, self.source, self.unit) or 2

    @cached_property
    def volts(self) -> float | None:
        return supply_of(self.circuit, self.source, self.unit).volts

    @cached_property
    def at(self) -> dict[str, str]:
        """The terminals at which volts are read, by line: the line side of the disconnect, else at the unit."""
        device = disconnect_of(self.plant, self.line)
        if device is not None:
            kind, posts = self.plant.types[device], self.plant.posts_of(device)
            line_side = {f"{device}.{pole[0]}" for pole in kind.poles}
            side = next((post.strip.id for post in posts if post.ref in line_side), posts[0].strip.id)
            return _named(posts, side)
        for device in units_devices(self.plant, self.circuit):
            posts = self.plant.posts_of(device)
            side = next((post.strip.id for post in posts if post.kind == "line"), "")
            return _named(posts, side)
        return {}

    @cached_property
    def where(self) -> str:
        if self.unit.cord_connected:
            return "at the receptacle"
        return "at the disconnect"

    def ref(self, name: str) -> str:
        """A terminal of the plan; where none is drawn, the place by its name."""
        return self.at.get(name, f"{self.line}.disconnect.{name}")

    def pairs(self, at_rest: bool) -> Iterator[ReadingPoint]:
        """Line to line: what the source gives, less the drop of branch and feeders once it runs."""
        book, volts = self.plant.book, self.volts
        allowed, near = plate_range(self.unit.nameplate, book), float(book.factor("reading-near"))
        drop = 0.0 if at_rest else self.drop_v
        expected = volts - drop if volts is not None else None
        ground = supply_of(self.circuit, self.source, self.unit).volts_to_ground
        for first, second in PAIRS.get(self.lines, []):
            pair = f"{first}-{second}"
            yield ReadingPoint(
                key=f"{self.line}.{pair}" if at_rest else f"{self.line}.running-{pair}", about=f"circuits/{self.line}",
                text=f"{first} to {second} {self.where}" + ("" if at_rest else ", at full call"),
                terminal_from=self.ref(first), terminal_to=self.ref(second), unit="V",
                state="no_load" if at_rest else "running",
                expected=round(expected, 2) if expected is not None else None,
                low=float(allowed.low) if allowed else None, high=float(allowed.high) if allowed else None,
                basis=allowed.source if allowed else "the plate's voltage is not known",
                near_low=round(expected * (1 - near), 2) if expected is not None else None,
                near_high=round(volts * (1 + near), 2) if volts is not None else None,
                split=self.lines == 2 and volts is not None and volts == 2 * (ground or 0),
                tells="between" if at_rest else "running",
            )  # fmt: skip

    @cached_property
    def drop_v(self) -> float:
        """What is lost at the running current: on the branch, and in every feeder above, by its share."""
        mine = self.sized.get(self.line)
        branch = (mine.voltage_drop_v if mine is not None else None) or 0.0
        above = [self.sized[key].voltage_drop_pct or 0.0 for key in self.plant.index.feeders_above(self.circuit.source)
                 if key in self.sized]  # fmt: skip
        return branch + (self.volts or 0.0) * sum(above) / 100

    def to_ground(self) -> Iterator[ReadingPoint]:
        """Each line to ground, at rest."""
        book, volts = self.plant.book, supply_of(self.circuit, self.source, self.unit).volts_to_ground
        yield from (
            _to_ground(self.line, name, volts, book.factor("reading-volts"), book.percent("reading-volts"),
                       self.ref(name), self.ref("G"), self.where)
            for name in ("L1", "L2", "L3")[: self.lines]
        )  # fmt: skip

    def current(self) -> ReadingPoint:
        """The current at full call: heat within 10 % of what it draws at the supply; compressors and fans by their
        marks, never above the MCA.
        """
        plate, book, unit = self.unit.nameplate, self.plant.book, self.unit
        mca = plate.mca_a if plate else None
        around = book.factor("reading-heat")
        expected = low = high = None
        a_tenth = " and a tenth" + (", at the supply's volts" if self.above_the_mark > 1 else "")
        basis = "it draws current, and never above the marked MCA" if mca else "the plate's MCA is not known"
        marks = sum(running_currents(plate), Decimal(0)) * (unit.quantity or 1) if plate else Decimal(0)
        if marks:
            expected = float(marks)
            low, high = 0.1, mca or float(marks * (1 + around)) * self.above_the_mark
            basis = f"{say(marks, 1)} A by the plate's marks" + (", and never above its MCA" if mca else a_tenth)
        elif mca:
            low, high = 0.1, mca
        elif plate is not None and plate.amps:
            drawn = exact(plate.amps) * (unit.quantity or 1)
            expected, high = float(drawn), float(drawn * (1 + around))
            low, basis = 0.1, "the plate's amps and a tenth"
        resistive = False
        if plate is not None and plate.heat is not None and not plate.compressors:
            spec = spec_of(self.plant, self.line)
            heat = heat_load(spec, plate, book).running_a if spec is not None else None
            if heat is not None:
                expected = float(heat)
                basis = (f"heat and motors at the supply's voltage ± {book.percent('reading-heat')}; "
                         "at other volts in proportion")  # fmt: skip
                low, high = float(heat * (1 - around)), float(heat * (1 + around))
                resistive = True
        pair = next(iter(PAIRS.get(self.lines, [])), None)
        return ReadingPoint(
            key=f"{self.line}.running", about=f"circuits/{self.line}",
            text="Running current at full call, one line conductor", terminal_from=self.ref("L1"),
            terminal_to=self.unit_terminal, unit="A", state="running", expected=_two(expected), low=_two(low),
            high=_two(high), basis=basis, volts_key=f"{self.line}.running-{pair[0]}-{pair[1]}" if pair else None,
            at_volts=self.volts,
            phases=3 if self.lines == 3 else 1, resistive=resistive, tells="current",
        )  # fmt: skip

    def rise(self) -> Iterator[ReadingPoint]:
        """By how much the heat warms the air at full call, °F: its power at the supply over the plate's airflow."""
        plate, volts = self.unit.nameplate, self.volts
        if plate is None or plate.heat is None or not plate.supply_cfm or not volts:
            return
        power = power_at(plate, exact(volts))
        if power is None:
            return
        watts, around = float(power[0]), float(self.plant.book.factor("reading-rise"))
        rise = watts * BTU_H_PER_W / (AIR_BTU_H_CFM_F * plate.supply_cfm)
        yield ReadingPoint(
            key=f"{self.line}.rise", about=f"circuits/{self.line}", unit="°F", state="running", tells="rise",
            text="By how much the supply air is warmer than the return air, all heat on",
            terminal_from=f"{self.circuit.equipment}.air.supply", terminal_to=f"{self.circuit.equipment}.air.return",
            expected=round(rise, 1), low=round(rise * (1 - around), 1), high=round(rise * (1 + around), 1),
            basis=f"{say(watts / 1000)} kW over {say(plate.supply_cfm, 0)} cfm, at sea level; {say(rise / 1.8)} °C",
        )  # fmt: skip

    @cached_property
    def above_the_mark(self) -> float:
        """By how much the supply lies above the volts that a motor's current is marked at; never below 1."""
        plate = self.unit.nameplate
        marked = [volts for volts in plate_volts(plate) if self.volts and volts <= self.volts] if plate else []
        return (self.volts or 0.0) / float(max(marked)) if marked else 1.0

    @cached_property
    def unit_terminal(self) -> str:
        for device in units_devices(self.plant, self.circuit):
            for post in self.plant.posts_of(device):
                if post.function in FUNCTIONS["L1"]:
                    return post.ref
        return f"{self.circuit.equipment}.power.L1"


def feeder_readings(plant: Plant, source_id: str, feeder: str) -> list[ReadingPoint]:
    """What is read at the lugs of a source that a feeder brings, nothing in it on."""
    source = plant.plan.sources[source_id]
    lugs = units_devices(plant, plant.plan.circuits[feeder])
    named = _named(plant.posts_of(lugs[0]), "lug") if lugs else {}
    book = plant.book
    around, words = book.factor("reading-volts"), book.percent("reading-volts")
    count, at = line_count(source) or 2, f"at the lugs of {source.name or source_id}"
    volts = source.volts_to_ground if count == 1 else source.volts

    def ref(name: str) -> str:
        return named.get(name, f"{source_id}.lugs.{name}")

    found = [
        ReadingPoint(
            key=f"{feeder}.{first}-{second}", about=f"sources/{source_id}", text=f"{first} to {second} {at}",
            terminal_from=ref(first), terminal_to=ref(second), unit="V", state="no_load", expected=volts,
            low=float(exact(volts) * (1 - around)) if volts else None,
            high=float(exact(volts) * (1 + around)) if volts else None,
            basis=f"the source's volts ± {words}" if volts else "the source's volts are not known",
            split=count == 2 and volts is not None and volts == 2 * (source.volts_to_ground or 0), tells="between",
        )
        for first, second in PAIRS.get(count, [])
    ]  # fmt: skip
    return found + [
        _to_ground(feeder, name, source.volts_to_ground, around, words, ref(name), ref("G"), at,
                   about=f"sources/{source_id}")
        for name in ("L1", "L2", "L3")[:count]
    ]  # fmt: skip


def _named(posts: Sequence[Post], strip: str) -> dict[str, str]:
    """The terminals of a strip by line; ground wherever the device has it."""
    found: dict[str, str] = {}
    for name, functions in FUNCTIONS.items():
        for post in posts:
            if post.function in functions and (post.strip.id == strip or name == "G"):
                found.setdefault(name, post.ref)
    return found


def _two(figure: float | None) -> float | None:
    return None if figure is None else round(figure, 2)


def _to_ground(
    line: str, name: str, volts: float | None, around: Decimal, percent: str, at: str, ground: str, where: str,
    about: str | None = None,
) -> ReadingPoint:  # fmt: skip
    return ReadingPoint(
        key=f"{line}.{name}-G", about=about or f"circuits/{line}", text=f"{name} to ground {where}",
        terminal_from=at, terminal_to=ground, unit="V", state="no_load", expected=volts, tells="ground",
        low=float(exact(volts) * (1 - around)) if volts else None,
        high=float(exact(volts) * (1 + around)) if volts else None,
        basis=f"the supply's volts to ground ± {percent}" if volts else "the supply's volts to ground are not known",
    )  # fmt: skip
