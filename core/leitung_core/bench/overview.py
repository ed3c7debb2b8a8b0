"""Everything that the bench's screens show of a plan: its systems, their matrix, their transformers' budgets."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from pydantic import BaseModel, ConfigDict

from leitung_core.bench.frames import SystemShown, system_shown
from leitung_core.control.judgement import CellResult, Judgement, judge
from leitung_core.control.system import System, systems_of
from leitung_core.elements.signals import signals
from leitung_core.elements.vocabulary import Effect
from leitung_core.findings import Finding, Severity, worst
from leitung_core.plant.plant import Plant


class Part(BaseModel):
    """A part of the overview."""

    model_config = ConfigDict(frozen=True)


class SystemBrief(Part):
    """A system in the list."""

    key: str
    title: str
    worst: Severity | None
    stops: int


class CellShown(Part):
    """A cell of the matrix: what a rule asks, what the plan asks, what the simulation shows."""

    cause: str
    cause_short: str
    effect: Effect
    required: bool
    rule: str | None
    says: str | None
    interlock: str
    wanted: bool
    outcome: str
    when: str | None
    loads: list[str]
    provoke: str | None
    within_s: float | None
    reset: str | None


class ShareShown(Part):
    name: str
    words: str
    va: float
    known: bool


class StateShown(Part):
    when: str
    va: float


class BudgetShown(Part):
    """A transformer: what it gives at worst, of what, and in each state."""

    name: str
    rated_va: float | None
    worst_va: float
    worst_when: str
    percent: float | None
    primary_volts: float
    secondary_volts: float
    states: list[StateShown]
    loads: list[ShareShown]


class Overview(Part):
    """The systems, and the one that is looked at."""

    systems: list[SystemBrief]
    system: SystemShown | None
    cells: list[CellShown]
    budgets: list[BudgetShown]


def overview(plant: Plant, key: str | None, findings: Mapping[str, Sequence[Finding]]) -> Overview:
    """The systems of a plan and one of them; with none named, the first.

    findings: what stands against each system, as the plan's result has it.
    """
    systems = systems_of(plant)
    briefs = [_brief(system, findings.get(system.key, ())) for system in systems]
    system = _wanted(systems, key)
    if system is None:
        return Overview(systems=briefs, system=None, cells=[], budgets=[])
    found = judge(system)
    return Overview(
        systems=briefs,
        system=system_shown(system, findings.get(system.key, ()), found.assumed),
        cells=[_cell(entry) for entry in found.cells],
        budgets=[_budget(found, number) for number in range(len(found.budgets))],
    )


def _wanted(systems: Sequence[System], key: str | None) -> System | None:
    if key is None:
        return systems[0] if systems else None
    head = next((system for system in systems if system.key == key), None)
    return head or next((system for system in systems if key in system.built.devices), None)


def _brief(system: System, findings: Sequence[Finding]) -> SystemBrief:
    stops = sum(row.severity == "stop" for row in findings)
    return SystemBrief(key=system.key, title=system.title, worst=worst(findings), stops=stops)


def _cell(entry: CellResult) -> CellShown:
    cell = entry.cell
    known = signals().get(cell.cause)
    rule = cell.required
    return CellShown(
        cause=cell.cause, cause_short=known.short if known else cell.cause, effect=cell.effect,
        required=rule is not None, rule=rule.rule if rule else None, says=rule.says if rule else None,
        interlock=cell.interlock, wanted=cell.wanted, outcome=entry.outcome, when=entry.when, loads=list(cell.loads),
        provoke=cell.test.provoke if cell.test else None, within_s=cell.test.within_s if cell.test else None,
        reset=cell.test.reset if cell.test else None,
    )  # fmt: skip


def _budget(found: Judgement, number: int) -> BudgetShown:
    budget = found.budgets[number]
    return BudgetShown(
        name=budget.name, rated_va=budget.rated_va, worst_va=budget.worst_va, worst_when=budget.worst_when,
        percent=round(budget.worst_va / budget.rated_va * 100, 1) if budget.rated_va else None,
        primary_volts=budget.primary_volts, secondary_volts=budget.secondary_volts,
        states=[StateShown(when=when, va=va) for when, va in budget.by_state],
        loads=[ShareShown(name=s.name, words=s.words, va=s.va, known=s.known) for s in budget.loads],
    )  # fmt: skip
