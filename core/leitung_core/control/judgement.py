"""A system on the bench: every state solved, what is wrong said in words, each cell of the matrix proved or not."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from leitung_core.control.hazards import Hazard, has_supply, hazards
from leitung_core.control.kept import kept
from leitung_core.control.solved import unknown_figures
from leitung_core.control.system import Cell, System
from leitung_core.control.trials import Trial, trials
from leitung_core.control.words import Told, is_disturbed, told_apart
from leitung_core.findings import Finding, Way, finding
from leitung_core.interlocks.requirements import requirements
from leitung_core.solver.assumed import SIDES, Side
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Solution, loads_of, settle
from leitung_core.solver.flow import branch_amps, fed_primary, winding_amps, winding_volts
from leitung_core.units import sentence

Outcome = Literal["stops", "goes on", "never on"]
FAN_WITH_HEAT = "fan-with-heat"


@dataclass(frozen=True)
class CellResult:
    """A cell and what the simulation shows: stops, goes on, or is never on so that nothing is shown."""

    cell: Cell
    outcome: Outcome
    when: str | None


@dataclass(frozen=True)
class LoadShare:
    """A load on a transformer in its worst state."""

    name: str
    words: str
    va: float
    known: bool


@dataclass(frozen=True)
class Budget:
    """A transformer: what it gives in each state, and what hangs on it in the worst."""

    name: str
    rated_va: float | None
    worst_va: float
    worst_when: str
    primary_volts: float
    secondary_volts: float
    by_state: tuple[tuple[str, float], ...]
    loads: tuple[LoadShare, ...]


@dataclass(frozen=True)
class Judgement:
    """A system judged."""

    trials: tuple[Trial, ...]
    findings: tuple[Finding, ...]
    cells: tuple[CellResult, ...]
    budgets: tuple[Budget, ...]
    assumed: tuple[str, ...]


def judge(system: System) -> Judgement:
    """The judgement of a system; kept for as long as its network is the same."""
    return kept("judgement", system, lambda: _judge(system))


def _judge(system: System) -> Judgement:
    tried = trials(system)
    assumed = unknown_figures(system.network)
    sides: tuple[Side, ...] = SIDES if assumed else ("between",)
    runs = {side: settle(Compiled(system.network, side), [trial.course for trial in tried]) for side in sides}
    main = runs["between"]
    found: dict[tuple[str, tuple[str, ...]], Finding] = {}
    for side_run in runs.values():
        for key, entry in _findings(system, side_run, tried).items():
            found.setdefault(key, entry)
    cells = tuple(_prove(cell, main, tried) for cell in system.cells)
    findings = [*found.values(), *_of_cells(system, cells), *_of_notes(system), *_of_unknown(system, assumed)]
    return Judgement(tuple(tried), tuple(findings), cells, tuple(_budgets(system, main, tried)), tuple(assumed))


def _findings(system: System, state: Solution, tried: list[Trial]) -> dict[tuple[str, tuple[str, ...]], Finding]:
    """One finding for each hazard and the thing that it is about, told in the plainest state in which it shows."""
    found: dict[tuple[str, tuple[str, ...]], Finding] = {}
    for hazard in told_apart(state, hazards(state), np.array([is_disturbed(trial.on) for trial in tried])):
        column = int(np.flatnonzero(hazard.holds)[0])
        told = Told(system, state, column, hazard, tried[column].says)
        message = f"With {told.when}: {told.wording.says(told)}"
        article, ways = _ways_out(system, hazard)
        about = tuple(system.whole(name) for name in hazard.about)
        row = finding(told.wording.code, told.about, message, article=article, ways=ways, fact="+".join(about))
        found.setdefault((hazard.code, about), row)
    return found


def _ways_out(system: System, hazard: Hazard) -> tuple[str | None, list[Way] | None]:
    """The rule that a hazard breaks, where it is a cause's, and what can be done about it."""
    if hazard.code == "INTERLOCK_INEFFECTIVE":
        return _to_stop(system, hazard.about)
    if hazard.code == "HEAT_WITHOUT_AIR":
        return None, _to_move_air(system)
    if hazard.code == "DEAD_SAFETY":
        rule = requirements().get(hazard.about[1])
        message = "Take its supply from ahead of the contact that it opens."
        return (rule.rule if rule else None), [Way(label=f"Feed {hazard.about[0]} by itself", message=message)]
    return None, None


def _to_move_air(system: System) -> list[Way]:
    """The thermostat switches the fan with the heat where it can; else a conductor does."""
    ways = []
    for key in system.devices:
        setting = system.plant.types[key].settings.get(FAN_WITH_HEAT)
        if setting is not None and setting.factory != "thermostat":
            fix = {"devices": {key: {"settings": {FAN_WITH_HEAT: "thermostat"}}}}
            ways.append(Way(label=f"Let {key} switch the fan with the heat", message="a setting of it", fix=fix))
    message = "through a contact of the heat relay, or a relay of its own, so that the fan runs whenever it heats"
    return [*ways, Way(label="Bring the fan on with the heat", message=message)]


def _to_stop(system: System, about: tuple[str, ...]) -> tuple[str | None, list[Way]]:
    """The rule that asks for an interlock, and what can be done where it does nothing."""
    load, cause = about
    rule = requirements().get(cause)
    cell = next((cell for cell in system.cells if cell.cause == cause and load in cell.loads), None)
    named = cause.partition(":")[2].replace("-", " ")
    label = f"Break what runs {system.motor(load)}"
    ways = [Way(label=label, message=f"Lead its call, or the R that feeds it, through the contact that {named} opens.")]
    if cell is not None:
        entry = {"system": system.key, "cause": cause, "effect": cell.effect, "stops": False}
        message = "Only where the authority agrees: it stays in the plan as left out, and on every sheet."
        ways.append(Way(label="It need not stop here", message=message, fix={"interlocks": {cell.interlock: entry}}))
    return (rule.rule if rule else None), ways


def _prove(cell: Cell, state: Solution, tried: list[Trial]) -> CellResult:
    """Whether the cause stops the effect in every state in which it was on before, by a device that is alive then."""
    alive = np.ones(len(tried), dtype=bool)
    for device in cell.by:
        alive &= has_supply(state, device)
    rows = [loads_of(state.net).names.index(name) for name in cell.loads]
    plain = {trial.on: column for column, trial in enumerate(tried) if trial.before is None}
    shown: str | None = None
    idle = plain[frozenset()]
    for column, trial in enumerate(tried):
        if cell.cause not in trial.on:
            continue
        before = plain[trial.before] if trial.before is not None else idle
        was_on, still_on = state.energised[rows, before].any(), state.energised[rows, column].any()
        if was_on and still_on:
            return CellResult(cell, "goes on", trial.says)
        if was_on and alive[column]:
            shown = shown or trial.says
    return CellResult(cell, "stops" if shown else "never on", shown)


def _of_cells(system: System, cells: tuple[CellResult, ...]) -> list[Finding]:
    found = []
    for entry in cells:
        cell, about = entry.cell, f"devices/{system.key}"
        fact = f"{cell.cause}+{cell.effect}"
        cause = cell.cause.partition(":")[2].replace("-", " ")
        if cell.required is not None and not cell.wanted:
            message = f"{cause} does not have to stop the {cell.effect} here, says the plan; {cell.required.rule} asks."
            found.append(finding("interlock-waived", about, sentence(message), fact=fact))
        elif cell.wanted and entry.outcome == "never on":
            message = f"Whether {cause} stops the {cell.effect} is not shown: nothing here brings it on."
            found.append(finding("interlock-untried", about, message, fact=fact))
    return found


def _of_notes(system: System) -> list[Finding]:
    return [
        finding("bench-unfed", note.about, note.says)
        for note in system.built.notes if note.kind in ("unfed", "volts", "panel")
    ]  # fmt: skip


def _of_unknown(system: System, assumed: list[str]) -> list[Finding]:
    by_device: dict[str, list[str]] = {}
    for name in assumed:
        by_device.setdefault(name.rpartition(".")[0], []).append(system.words(name))
    return [
        finding("bench-assumed", f"devices/{device}", f"What {' and '.join(parts)} draws is not known.")
        for device, parts in by_device.items()
    ]


def _budgets(system: System, state: Solution, tried: list[Trial]) -> list[Budget]:
    net, ac = state.net, state.flow.ac
    volts, amps = winding_volts(net, ac), np.abs(winding_amps(net, ac))
    found = []
    branch = np.abs(branch_amps(net, ac, state.present))
    loads = loads_of(net)
    for core in net.cores:
        secondary = net.windings[core.secondary]
        # As an overload is judged: amperes at the rated volts.
        given = core.element.secondary_volts * amps[core.secondary]
        worst = int(np.argmax(given))
        shares = []
        for row, (name, where) in enumerate(zip(loads.names, loads.branches, strict=True)):
            on_it = state.flow.paths[net.a[where], worst] == state.flow.paths[secondary.a, worst]
            va = float(state.volts_ac[row, worst] * branch[where, worst])
            if on_it and va > 0.01:
                part = net.element[name]
                known = getattr(part, "va", None) is not None
                shares.append(LoadShare(name, system.words(name), round(va, 2), known))
        found.append(
            Budget(
                name=core.name, rated_va=core.element.va, worst_va=round(float(given[worst]), 2),
                worst_when=tried[worst].says,
                primary_volts=round(float(volts[fed_primary(core, amps[:, worst]), worst]), 2),
                secondary_volts=round(float(volts[core.secondary, worst]), 2),
                by_state=tuple((trial.says, round(float(given[column]), 2)) for column, trial in enumerate(tried)),
                loads=tuple(sorted(shares, key=lambda share: -share.va)),
            )
        )  # fmt: skip
    return found
