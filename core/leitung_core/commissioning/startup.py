"""The start-up of a plan (domain 5): source by source, line by line, system by system, in the order of the work."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from leitung_core.circuits.loads import COOLING
from leitung_core.circuits.result import CircuitResult
from leitung_core.commissioning.asked import insulation_tested
from leitung_core.commissioning.called import at_rest, called, under_load
from leitung_core.commissioning.clock import clock
from leitung_core.commissioning.dead import hands_in, line_dead, source_off
from leitung_core.commissioning.landed import LandingItem, landing_items
from leitung_core.commissioning.leave import line_left, set_as_planned, source_left, system_left, taken_out
from leitung_core.commissioning.ohms import ohm_readings, ohmed_out
from leitung_core.commissioning.power import (
    before_power,
    covered,
    feeder_landed,
    line_on,
    lines_with_units,
    source_closed,
    source_on,
    source_read,
)
from leitung_core.commissioning.predicted import LineReadings, feeder_readings, line_readings
from leitung_core.commissioning.running import (
    full_calls,
    interlocks_proved,
    line_runs,
    starter_learns,
    system_runs,
    turns,
)
from leitung_core.commissioning.set_up import SetUpItem, set_up
from leitung_core.commissioning.site import ABOUT, inspected, permitted
from leitung_core.commissioning.steps import (
    PHASES_OF_WORK,
    Lights,
    ReadingPoint,
    StartStep,
    StartUp,
    WorkPart,
    in_order,
    is_live,
)
from leitung_core.commissioning.survey import survey
from leitung_core.commissioning.tests import FunctionalTest, functional_tests
from leitung_core.commissioning.trials import trials_made
from leitung_core.control.system import System
from leitung_core.control.wired import wiring
from leitung_core.plant.aids import aid_of
from leitung_core.plant.lines import breaker_of, is_origin
from leitung_core.plant.order import sources_in_order
from leitung_core.plant.plant import Plant
from leitung_core.supply.feeds import lines_on
from leitung_core.supply.trials import TrialAsked

# Kinds of unit whose motors or drives have capacitors, beside every one with a compressor or a motor on its plate.
WITH_CAPACITORS = {*COOLING, "air_handler", "dehumidifier"}


def _wired_so(system: System, points: Sequence[ReadingPoint]) -> list[ReadingPoint]:
    """Readings in a system, each with the wiring for which it holds."""
    so = wiring(system) if points else ""
    return [point.model_copy(update={"wiring": so}) for point in points]


def start_up(
    plant: Plant, systems: Sequence[System], sized: Mapping[str, CircuitResult], trials: Sequence[TrialAsked] = ()
) -> StartUp:
    """The start-up of a plant and of its control systems; `sized` are its lines, `trials` those on its sources."""
    work = _Work(plant, sized)
    for source_id in work.sources:
        work.source_dead(source_id)
    for line in work.lines:
        work.line_before(line, systems)
    for system in systems:
        work.ohmed_out(system)
    for line in work.lines:
        work.line_covered(line)
    for source_id in work.sources:
        work.source_live(source_id)
    for line in work.lines:
        work.line_live(line)
    for system in systems:
        work.system(system)
    work.tried(trials)
    for line in work.lines:
        work.line_after(line)
    for source_id in work.sources:
        work.source_after(source_id)
    work.site()
    steps = in_order(work.with_lines())
    return StartUp(
        phases=PHASES_OF_WORK, parts=work.parts(systems), steps=steps, readings=work.readings, tests=work.tests,
        set_up=work.set_up, landings=work.landings, clock=clock(steps), shown=work.shown(systems),
    )  # fmt: skip


@dataclass
class _Work:
    """The work as it is put together. `moved`: the lines that the calls of a drawn system bring to full call.

    made: by line what is done at it with everything dead; tested: what the ohmmeter ends with there; learned: in which
    step its soft starter learns. tries: by source the lines of its trials.
    """

    plant: Plant
    sized: Mapping[str, CircuitResult]
    steps: list[StartStep] = field(default_factory=list)
    readings: list[ReadingPoint] = field(default_factory=list)
    tests: list[FunctionalTest] = field(default_factory=list)
    set_up: list[SetUpItem] = field(default_factory=list)
    moved: set[str] = field(default_factory=set)
    made: dict[str, list[str]] = field(default_factory=dict)
    tested: dict[str, list[str]] = field(default_factory=dict)
    learned: dict[str, str] = field(default_factory=dict)
    tries: dict[str, list[str]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        every = sources_in_order(self.plant.plan)
        self.lines = [line for key in every for line in lines_with_units(self.plant, key)]
        # A source whose own breaker is the line's has no cover and no main beside it.
        opened = {self.plant.plan.circuits[line].source for line in self.lines
                  if not self.plant.lines[line].shares_device}  # fmt: skip
        for key in list(opened):
            opened |= {self.plant.plan.circuits[feeder].source for feeder in self.plant.index.feeders_above(key)}
        self.sources = [key for key in every if key in opened]
        self.landings: list[LandingItem] = landing_items(self.plant)
        self.read: dict[str, LineReadings] = {line: line_readings(self.plant, line, self.sized) for line in self.lines}
        self.unit_of = {line: self.plant.plan.circuits[line].equipment or "" for line in self.lines}

    def devices(self, line: str) -> list[str]:
        """The devices of a line's unit and of the line, those of the panel apart."""
        index, types = self.plant.index, self.plant.types
        mine = [*index.devices_of_unit.get(self.unit_of[line], ()), *index.devices_of_line.get(line, ())]
        return [key for key in dict.fromkeys(mine) if key in types and types[key].group != "panel"]

    def dangers(self, line: str) -> set[str]:
        """What can hurt at a line beside the current: only what is there."""
        unit, circuit = self.plant.plan.equipment[self.unit_of[line]], self.plant.plan.circuits[line]
        plate, found = unit.nameplate, set()
        if unit.kind in WITH_CAPACITORS or (plate is not None and (plate.compressors or plate.motors)):
            found.add("capacitors")
        if any(segment.place == "roof" for _, segment in circuit.segments()):
            found.add("roof")
        if unit.kind == "steam_humidifier":
            found.add("steam")
        if any(self.plant.types[key].group == "lamp" for key in self.devices(line)):
            found.add("ultraviolet")
        return found

    def source_dead(self, source_id: str) -> None:
        self.steps.append(source_off(self.plant, source_id))
        feeder = self.plant.index.fed_by.get(source_id)
        if feeder is not None:
            self.steps.append(feeder_landed(self.plant, source_id, feeder))

    def line_before(self, line: str, systems: Sequence[System]) -> None:
        mine, dangers = self.devices(line), self.dangers(line)
        capacitors = "capacitors" in dangers
        self.steps += survey(self.plant, line, mine)
        self.steps += line_dead(self.plant, line, self._others(line, mine, systems), "roof" in dangers, capacitors)
        landings = [item.key for item in self.landings if item.device in mine]
        insulation, after = self.read[line].insulation, hands_in(line, capacitors)
        if insulation:
            tested = insulation_tested(line, after, [point.key for point in insulation])
            self.readings += insulation
            self.steps.append(tested)
            after = tested.key
        before = list(before_power(self.plant, line, after, landings, mine))
        self.steps += before
        self.made[line] = [step.key for step in before]

    def ohmed_out(self, system: System) -> None:
        """A system by the ohmmeter, once all its lines are landed; their covers wait for it."""
        lines = self._lines_of(system)
        if not lines:
            return
        points = ohm_readings(system)
        after = [key for line in lines for key in self.made[line]]
        steps = list(ohmed_out(system, [point.key for point in points], after))
        self.readings += _wired_so(system, points)
        self.steps += steps
        if steps:
            for line in lines:
                self.tested.setdefault(line, []).append(steps[-1].key)

    def line_covered(self, line: str) -> None:
        # At the panel it is done behind another cover.
        needs = [key for key in self.made[line] if key != f"{line}.panel"] + self.tested.get(line, [])
        self.steps.append(covered(line, needs))

    def _others(self, line: str, mine: Sequence[str], systems: Sequence[System]) -> list[str]:
        """Breakers of other lines in the control system of a line's unit."""
        own = breaker_of(self.plant, line)
        return sorted({
            key for system in systems if set(mine) & set(system.devices) for key in system.devices
            if is_origin(self.plant, key) and key != own
        })  # fmt: skip

    def source_live(self, source_id: str) -> None:
        feeder = self.plant.index.fed_by.get(source_id)
        mine = [line for line in lines_with_units(self.plant, source_id) if not self.plant.lines[line].shares_device]
        below = [key for key in self.sources if (fed := self.plant.index.fed_by.get(key)) is not None
                 and self.plant.plan.circuits[fed].source == source_id]  # fmt: skip
        tested = list(dict.fromkeys(key for line in mine for key in self.tested.get(line, ())))
        self.steps += [source_closed(self.plant, source_id, mine, below, tested), source_on(self.plant, source_id)]
        if feeder is not None:
            points = feeder_readings(self.plant, source_id, feeder)
            self.readings += points
            self.steps.append(source_read(source_id, [point.key for point in points]))

    def line_live(self, line: str) -> None:
        at_rest_points = self.read[line].at_rest
        self.readings += [*at_rest_points, *self.read[line].running]
        fed = self.plant.plan.circuits[line].source in self.plant.index.fed_by
        self.steps += line_on(
            self.plant, line, [point.key for point in at_rest_points], fed, sorted(self.dangers(line))
        )
        plate = self.plant.plan.equipment[self.unit_of[line]].nameplate
        if plate is not None and plate.phase == 3 and (plate.compressors or plate.motors):
            self.steps.append(turns(line))

    def system(self, system: System) -> None:
        """A system set, called through, proved and shown."""
        lines, about = self._lines_of(system), f"devices/{system.key}"
        items, tests = set_up(system), functional_tests(system)
        self.set_up += items
        self.tests += tests
        on = [f"{line}.disconnect-on" for line in lines]
        settings = list(set_as_planned(system, [item.key for item in items], on))
        self.steps += settings
        of_device = {key: line for line in lines for key in self.devices(line)}
        rest = list(at_rest(system))
        self.readings += _wired_so(system, [*rest, *(point for _, point in under_load(system))])
        learned = [starter_learns(self.plant, line, device) for line in lines if (device := self._starter(line))]
        self.learned |= {step.about.removeprefix("circuits/"): step.key for step in learned}
        self.steps += learned
        reads = {line: [point.key for point in self.read[line].running] for line in lines if line not in self.moved}
        full = full_calls(system, called(system), list(reads))
        before = [*on, *(step.key for step in (*settings, *learned))]
        runs = list(system_runs(system, before, rest, reads, of_device))
        self.moved |= full.keys()
        self.steps += runs
        after = [runs[-1].key] if runs else before
        out = list(taken_out(self.plant, about, system.devices, after))
        self.steps += out
        proofs = list(interlocks_proved(system, tests, after, [step.key for step in out], of_device))
        self.steps += proofs
        self.steps.append(system_left(about, [proofs[-1].key] if proofs else [*after, *(step.key for step in out)]))

    def _lines_of(self, system: System) -> list[str]:
        """The lines that feed something in a system."""
        there = set(system.devices)
        return [line for line in self.lines if there & set(self.devices(line))]

    def _starter(self, line: str) -> str | None:
        """The soft starter that is drawn at a line's unit."""
        found = aid_of(self.plant, self.unit_of[line])
        return found.device if found.aid.kind == "soft_starter" else None

    def tried(self, trials: Sequence[TrialAsked]) -> None:
        bases = dict.fromkeys(trial.base for trial in trials)
        found = {base: [line for line in lines_on(self.plant.plan, base) if line in self.unit_of] for base in bases}
        self.tries = {base: lines for base, lines in found.items() if lines}
        self.steps += trials_made(trials, self.tries, self.learned)

    def line_after(self, line: str) -> None:
        if line not in self.moved:
            self.steps += line_runs(line, [point.key for point in self.read[line].running])
        self.steps.append(line_left(line, [f"{line}.full-call"]))

    def source_after(self, source_id: str) -> None:
        self.steps.append(source_left(source_id, [f"sources/{source_id}.main-on"]))

    def site(self) -> None:
        """What the authority asks; nothing where there is nothing to start up."""
        if self.lines:
            site = self.plant.plan.site
            self.steps += [permitted(site), *inspected(site, [f"{line}.papers" for line in self.lines])]

    def with_lines(self) -> list[StartStep]:
        """The steps, each with the lines of which something is energised in it; those of a line with that line."""
        return [
            step.model_copy(update={"lines": [step.about.removeprefix("circuits/")]})
            if step.about.startswith("circuits/") and is_live(step) else step
            for step in self.steps
        ]  # fmt: skip

    def shown(self, systems: Sequence[System]) -> list[Lights]:
        """What the devices show: of a system with it, of a line's unit alone with the line."""
        plan, types = self.plant.plan, self.plant.types
        at = {key: f"circuits/{line}" for line in self.lines for key in self.devices(line)}
        at |= {key: f"devices/{system.key}" for system in systems for key in system.devices}
        return [
            Lights(device=key, name=plan.devices[key].name or types[key].name, about=about, codes=types[key].codes)
            for key, about in sorted(at.items()) if types[key].codes and plan.devices[key].state != "removed"
        ]  # fmt: skip

    def parts(self, systems: Sequence[System]) -> list[WorkPart]:
        """The parts of the work: sources, lines, systems."""
        plan = self.plant.plan
        tried = [key for key in self.tries if key not in self.sources]
        found = [WorkPart(about=f"sources/{key}", name=plan.sources[key].name or key, lines=self.tries.get(key, []))
                 for key in (*self.sources, *tried)]  # fmt: skip
        found += [
            WorkPart(about=f"circuits/{line}", name=plan.circuits[line].name or plan.equipment[unit].name or "",
                     lines=[line])
            for line, unit in self.unit_of.items()
        ]  # fmt: skip
        return (
            found
            + [
                WorkPart(about=f"devices/{system.key}", name=f"Control of {system.title}", lines=self._lines_of(system))
                for system in systems
            ]
            + ([WorkPart(about=ABOUT, name="Permit and inspection", lines=[])] if self.lines else [])
        )
