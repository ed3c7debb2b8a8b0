"""The whole plan: every line sized, every panel summed, every landing checked, every system solved, each fact once."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property

from pydantic import BaseModel, ConfigDict

from leitung_core.circuits.loads.heat import power_at
from leitung_core.circuits.result import CircuitResult
from leitung_core.control.judgement import judge
from leitung_core.control.system import System, systems_of
from leitung_core.findings import Finding, Severity, finding, worst
from leitung_core.panels.panel import PanelResult, panel_result
from leitung_core.panels.spaces import judge_spaces, taken_spaces
from leitung_core.panels.taps import judge_taps
from leitung_core.plan.model import Plan
from leitung_core.plant.drawn_twice import judge_drawing
from leitung_core.plant.order import lines_of, sources_in_order
from leitung_core.plant.plant import Plant
from leitung_core.plant.poles import line_count, supply_of
from leitung_core.plant.size_document import amendments_of
from leitung_core.result.causes import merged
from leitung_core.result.lines import DrawnLine, drawn_lines
from leitung_core.result.stands import standing
from leitung_core.result.stations import StationAt, planned
from leitung_core.rulebook import Rulebook
from leitung_core.sizing import size_all
from leitung_core.suit import (
    Answer,
    BranchQuestion,
    HeatQuestion,
    SteamQuestion,
    branch_answer,
    heat_answer,
    steam_answer,
)
from leitung_core.supply.judged import SupplyAt, judge_supplies
from leitung_core.units import exact, say
from leitung_core.wiring.fit import held_back
from leitung_core.wiring.view import WiringResult, wiring_result


class SourceLines(BaseModel):
    """The lines of one source, in the order in which they are read; without a source: those that have none yet."""

    model_config = ConfigDict(frozen=True)

    source: str | None
    circuits: list[str]


class PlanResult(BaseModel):
    """Everything computed from a plan. `findings` holds every fact once, gravest first; the rest names their keys."""

    model_config = ConfigDict(frozen=True)

    edition: str
    lines: list[SourceLines]
    drawn: dict[str, DrawnLine]
    circuits: dict[str, CircuitResult]
    panels: dict[str, PanelResult]
    answers: dict[str, Answer]
    wiring: WiringResult
    supplies: dict[str, SupplyAt]
    systems: dict[str, list[str]]
    findings: list[Finding]
    stands: dict[str, list[str]]
    stations: list[StationAt]
    worst: Severity | None

    def on_line(self, circuit_id: str) -> list[Finding]:
        """What stands on a line: its own, its unit's, its wiring's, and what stops the sources and feeders above it."""
        keys = {key for part in self.drawn[circuit_id].parts for key in part.findings}
        return [row for row in self.findings if row.key in keys]

    @cached_property
    def by_key(self) -> dict[str, Finding]:
        """Every finding by its key."""
        return {row.key: row for row in self.findings}

    def at(self, address: str) -> list[Finding]:
        """What stands at a panel, a device, a cable or a part of one, gravest first."""
        return [self.by_key[key] for key in self.stands.get(address, ())]

    def of_systems(self) -> dict[str, list[Finding]]:
        """What stands against each control system, gravest first."""
        return {key: [row for row in self.findings if row.key in keys] for key, keys in self.systems.items()}

    def stop_on(self, circuit_id: str) -> Finding | None:
        """The stop at which a line is cut; None where it may be energised."""
        return self.by_key.get(self.drawn[circuit_id].stop or "")


def check_plan(plan: Plan) -> PlanResult:
    """The result of a plan."""
    return check_plant(Plant(plan))


def check_plant(plant: Plant, systems: Sequence[System] | None = None) -> PlanResult:
    """Size and judge every line, panel, landing and control system of a plant; its systems, where they are at hand."""
    plan = plant.plan
    systems = systems_of(plant) if systems is None else systems
    results = size_all(plant)
    own = [key for key, source in plan.sources.items() if source.in_place_of is None]
    panels = {source_id: panel_result(plant, source_id, results) for source_id in own}
    answers = {key: _answer(plan, question, plant.book) for key, question in plan.questions.items()}
    wiring, wired = wiring_result(plant)
    supplies, starts = judge_supplies(plant, results)
    told = [
        *held_back(plant, (row for result in results.values() for row in result.findings)),
        *_unsuited(plan, answers),
        *(row for panel in panels.values() for row in panel.findings),
        *judge_taps(plant),
        *starts,
        *_of_lines(plant, results),
        *wired,
    ]
    findings, of_systems = merged(plant, told, {system.key: judge(system).findings for system in systems})
    drawn = drawn_lines(plant, findings)
    return PlanResult(
        edition=plant.book.edition.title,
        lines=_lines(plan),
        drawn=drawn,
        circuits=results,
        panels=panels,
        answers=answers,
        wiring=wiring,
        supplies=supplies,
        systems=of_systems,
        findings=findings,
        stands=standing(findings, drawn),
        stations=planned(plan, systems, supplies, findings),
        worst=worst(findings),
    )


def _of_lines(plant: Plant, results: Mapping[str, CircuitResult]) -> Iterator[Finding]:
    """What stands against lines as parts of a plant: unfinished, spaces, the drop with the feeder, drawn twice."""
    plan = plant.plan
    taken = {source_id: taken_spaces(plan, source_id) for source_id in plan.sources}
    for circuit_id, circuit in plan.circuits.items():
        about = f"circuits/{circuit_id}"
        if circuit_id not in results:
            yield finding("equipment-missing", f"{about}/equipment", "No unit on this line yet.")
            continue
        if circuit.source is None:
            yield finding("source-missing", f"{about}/source", "No source on this line yet.")
        yield from judge_spaces(plan, circuit_id, taken.get(circuit.source or "", {}))
        yield from _drop_with_feeder(plant, circuit_id, results)
        yield from judge_drawing(plant, plant.lines[circuit_id])


def _lines(plan: Plan) -> list[SourceLines]:
    # What stands in for another source has no lines of its own: it is drawn at Supply.
    own = [key for key in sources_in_order(plan) if plan.sources[key].in_place_of is None]
    rows = [SourceLines(source=key, circuits=lines_of(plan, key)) for key in own]
    loose = lines_of(plan, None)
    return [*rows, SourceLines(source=None, circuits=loose)] if loose else rows


def _answer(plan: Plan, question: HeatQuestion | SteamQuestion | BranchQuestion, book: Rulebook) -> Answer:
    found = _asked(plan, question, book)
    return found.model_copy(update={"steps": book.cited(found.steps)})


def _asked(plan: Plan, question: HeatQuestion | SteamQuestion | BranchQuestion, book: Rulebook) -> Answer:
    if isinstance(question, BranchQuestion):
        return branch_answer(question, book)
    if isinstance(question, SteamQuestion):
        return steam_answer(question, plan.rulebook, amendments_of(plan), site_volts(plan))
    return heat_answer(question, heater_watts(plan, question.equipment))


def site_volts(plan: Plan) -> frozenset[tuple[float, int]]:
    """The volts and phases that a circuit can have on this site, of every source whose figures are known."""
    found: set[tuple[float, int]] = set()
    for source in plan.sources.values():
        lines = line_count(source)
        if source.volts is None or lines is None:
            continue
        found |= {(source.volts, 1)} | ({(source.volts, 3)} if lines == 3 else set())
        found |= {(source.volts_to_ground, 1)} if source.volts_to_ground else set()
    return frozenset(found)


def heater_watts(plan: Plan, unit_id: str | None) -> float | None:
    """What the heater gives at the voltage of its circuit, W; all like units of the circuit together."""
    unit = plan.equipment.get(unit_id or "")
    if unit is None or unit.nameplate is None:
        return None
    for circuit in plan.circuits.values():
        if circuit.equipment == unit_id:
            volts = supply_of(circuit, plan.sources.get(circuit.source or ""), unit).volts
            found = power_at(unit.nameplate, exact(volts)) if volts else None
            return float(found[0]) * (unit.quantity or 1) if found else None
    return None


def _unsuited(plan: Plan, answers: Mapping[str, Answer]) -> list[Finding]:
    codes = {"no": "does-not-suit", "unknown": "suit-unknown"}
    return [
        finding(codes[answer.suits], f"questions/{key}", f"{plan.questions[key].name or key}: {answer.verdict}")
        for key, answer in answers.items()
        if answer.suits in codes
    ]


def _drop_with_feeder(plant: Plant, circuit_id: str, results: Mapping[str, CircuitResult]) -> list[Finding]:
    """The advice for the branch with its feeders."""
    plan, advised = plant.plan, plant.book.factor("drop-with-feeder")
    own, total = results[circuit_id].voltage_drop_pct, exact(0)
    if own is None:
        return []
    for feeder in plant.index.feeders_above(plan.circuits[circuit_id].source):
        upstream = results[feeder].voltage_drop_pct if feeder in results else None
        total += exact(upstream or 0)
    if not total or total + exact(own) <= advised:
        return []
    message = f"With its feeder the drop is {say(total + exact(own))} %; {say(advised)} % is advised."
    return [finding("drop-with-feeder", f"circuits/{circuit_id}/run", message)]
