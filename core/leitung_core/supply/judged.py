"""Every source that a start may bring down, judged: who starts on it, what stands against it, what is left."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import lru_cache
from typing import Any

import orjson
from pydantic import BaseModel, ConfigDict

from leitung_core.circuits.loads import compressor_currents, motor_currents
from leitung_core.circuits.result import CircuitResult
from leitung_core.circuits.spec import Nameplate
from leitung_core.errors import InputError
from leitung_core.findings import Finding, Way, finding
from leitung_core.plan.feeds import Manager
from leitung_core.plan.sources import SourceKind
from leitung_core.plant.aids import Standing, aid_of
from leitung_core.plant.managers import FIGURES, TYPE, DrawnManager, managed
from leitung_core.plant.plant import Plant
from leitung_core.plant.poles import line_count, poles_of
from leitung_core.starting.document import Trial, read_trial
from leitung_core.starting.figures import figure
from leitung_core.starting.open_form import findings as said_of
from leitung_core.starting.verdict import FAILS, LegResult, Outcome, StartAt, SupplyResult, Verdict, judge
from leitung_core.starting.words import headline
from leitung_core.supply.feeds import base_of, behind, groups, is_judged, lines_on, name_of
from leitung_core.supply.trial import load_id, trial_document
from leitung_core.units import say, sentence


class LoadAt(BaseModel):
    """A load of a start: where it stands in the plan, its leg and whether anyone has said it, its aid."""

    model_config = ConfigDict(frozen=True)

    id: str
    about: str
    name: str
    leg_said: bool
    called: bool
    aid: Standing = "none"
    aid_device: str | None = None


class SupplyAt(BaseModel):
    """A source and the start on it. `document` is the trial on paper; None where too little is known to write one.

    `base`: the source whose lines these are; `order`: which of its group it is, grid first.
    """

    model_config = ConfigDict(frozen=True)

    source: str
    name: str
    kind: SourceKind
    base: str
    order: int
    verdict: Verdict | None
    says: str
    document: dict[str, Any] | None
    loads: list[LoadAt]
    legs: list[LegResult]
    supply: SupplyResult | None
    starts: list[StartAt]

    @property
    def fails(self) -> bool:
        return self.verdict in FAILS


def judge_supplies(plant: Plant, results: Mapping[str, CircuitResult]) -> tuple[dict[str, SupplyAt], list[Finding]]:
    """Each source of every group, and what stands against them."""
    found: dict[str, SupplyAt] = {}
    told: list[Finding] = []
    for group in groups(plant.plan):
        asked = set[str]()
        for order, source_id in enumerate(group):
            at, rows = _judged(plant, source_id, order, results, asked)
            found[source_id] = at
            told += rows
    return found, told


@lru_cache(maxsize=512)
def _outcome(document: bytes) -> tuple[Trial, Outcome]:
    trial = read_trial(orjson.loads(document))
    return trial, judge(trial)


def _judged(
    plant: Plant, source_id: str, order: int, results: Mapping[str, CircuitResult], asked: set[str]
) -> tuple[SupplyAt, list[Finding]]:
    source = plant.plan.sources[source_id]
    name, about = name_of(source_id, source), f"sources/{source_id}"
    at = SupplyAt(
        source=source_id, name=name, kind=source.kind, base=base_of(plant.plan, source_id), order=order, verdict=None,
        says="Not judged yet: volts and phases first", document=None, loads=[], legs=[], supply=None, starts=[],
    )  # fmt: skip
    told = list(_legs_missing(plant, source_id))
    document = trial_document(plant, source_id, results) if is_judged(plant.plan, source_id) else None
    if document is None or not document["loads"]:
        says = "Nothing hangs on it yet" if document is not None else at.says
        return at.model_copy(update={"says": says}), told
    try:
        trial, outcome = _outcome(orjson.dumps(document))
    except InputError as error:
        (first, *_) = error.problems
        message = f"On {name} the start is not judged: {first.field} {first.message}. {first.remedy}"
        return at.model_copy(update={"says": "Not judged"}), [*told, finding("start-unknown", about, message)]
    told += _against(plant, source_id, trial, outcome, [name for name in outcome.unknown if name not in asked])
    # What a unit does not say is asked for once, not at every source in turn.
    asked |= {name for name in outcome.unknown if ": " in name}
    told += [*_aids(plant, source_id), *_managers(plant, source_id)]
    return at.model_copy(update={
        "verdict": outcome.verdict, "says": headline(outcome.verdict, outcome.why), "document": document,
        "loads": list(_loads_at(plant, source_id, document)), "legs": list(outcome.legs), "supply": outcome.supply,
        "starts": list(outcome.starts),
    }), told  # fmt: skip


def _legs_missing(plant: Plant, source_id: str) -> Iterator[Finding]:
    """Lines that take two legs, on a source that has one in place of the one that has them."""
    plan = plant.plan
    base = base_of(plan, source_id)
    if base == source_id or line_count(plan.sources[source_id]) != 1:
        return
    name = name_of(source_id, plan.sources[source_id])
    for line_id in lines_on(plan, base):
        line = plant.lines[line_id]
        if (poles_of(line.circuit, line.source, line.unit) or 1) > 1:
            message = f"{name} has one hot leg, and {line_id} lies between two."
            yield finding("source-lacks-leg", f"sources/{source_id}", message, fact=line_id)


def _against(plant: Plant, source_id: str, trial: Trial, outcome: Outcome, unknown: list[str]) -> Iterator[Finding]:
    """What the start says of itself, at the source; what is not known in one finding, with the usual figures."""
    name, about = name_of(source_id, plant.plan.sources[source_id]), f"sources/{source_id}"
    for row in said_of(trial, outcome):
        if row.code != "start-unknown":
            fact = None if row.about == "supply" else row.about
            message = row.message if row.severity == "note" else _at_source(name, trial.supply.kind, row.message)
            yield finding(row.code, about, message, fact=fact)
    if unknown:
        message = f"On {name} the start is not known without: {'; '.join(unknown)}."
        yield finding("start-unknown", about, message, ways=list(_usual(plant, source_id, unknown)) or None)


def _at_source(name: str, kind: str, message: str) -> str:
    """What is told of a trial, with the source's name; where it is the source itself, that name in its place."""
    if message.startswith(f"{sentence(kind)},"):
        return name + message[len(kind) :]
    return f"{name}: {message[:1].lower()}{message[1:]}"


def _usual(plant: Plant, source_id: str, unknown: list[str]) -> Iterator[Way]:
    """What motors usually take, for a person to take where the plate does not say it; never by itself."""
    patch: dict[str, Any] = {}
    for line_id in lines_on(plant.plan, base_of(plant.plan, source_id)):
        line = plant.lines[line_id]
        unit = line.unit
        if unit is None:
            continue
        start = _usual_of(line_id, unit.nameplate, unknown)
        if start:
            patch.setdefault("equipment", {})[line.circuit.equipment] = {"start": start}
    if patch:
        yield Way(
            label="Take the usual figures",
            message=f"locked rotor {figure('locked-rotor-low'):g} to {figure('locked-rotor-high'):g} times running for "
            f"{figure('usual-start'):g} s, a fan's inrush {figure('fan-inrush'):g} times for "
            f"{figure('fan-inrush-time'):g} s",
            fix=patch,
        )


def _usual_of(line_id: str, plate: Nameplate | None, unknown: list[str]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    compressors = [float(amps) for amps in compressor_currents(plate)] if plate else []
    fans = [float(amps) for amps in motor_currents(plate)] if plate else []
    for name in unknown:
        load, _, what = name.partition(": ")
        if load != line_id:
            continue
        if what.startswith("locked-rotor") and compressors:
            times = (figure("locked-rotor-low"), figure("locked-rotor-high"))
            found["locked_rotor_a"] = [round(sum(compressors) * each, 1) for each in times]
        elif what.startswith("how long the compressor"):
            found["start_s"] = figure("usual-start")
        elif what.startswith("inrush of the fan") and fans:
            found["fan_inrush_a"] = round(sum(fans) * figure("fan-inrush"), 1)
        elif what.startswith("how long the fan"):
            found["fan_inrush_s"] = figure("fan-inrush-time")
    return found


def _aids(plant: Plant, source_id: str) -> Iterator[Finding]:
    """Start aids that are counted on and not there yet, and those that are there and help nothing yet."""
    if base_of(plant.plan, source_id) != source_id:
        return
    for line_id in lines_on(plant.plan, source_id):
        unit = plant.plan.circuits[line_id].equipment or ""
        aid = aid_of(plant, unit)
        if aid.standing == "not_landed":
            message = f"{aid.device} is not landed on all of its leads: {line_id} is judged as if it were not there."
            yield finding("start-aid-not-landed", f"equipment/{unit}/start", message)
        elif aid.standing == "planned" and plant.index.devices_of_unit.get(unit):
            words = aid.aid.kind.replace("_", " ")
            message = f"The start of {line_id} counts on a {words} that is not drawn: place it on the bench."
            yield finding("start-aid-not-drawn", f"equipment/{unit}/start", message)


def _managers(plant: Plant, source_id: str) -> Iterator[Finding]:
    """Load managers that are counted on and not there, that shed nothing yet, or that are set to something else."""
    plan, source = plant.plan, plant.plan.sources[source_id]
    base = base_of(plan, source_id)
    found = managed(plant, source_id, lines_on(plan, base))
    planned = source.manager if source.manager and source.manager.kind == "sheds" else None
    about = f"sources/{source_id}/manager"
    for line in found.not_drawn:
        message = f"The start counts on a load manager at {line} that is not drawn: place it on the bench."
        yield finding("manager-not-drawn", about, message, fact=line)
    for row in found.drawn:
        if planned is None or row.line not in planned.loads:
            continue
        if not row.landed:
            message = f"{row.device} is not landed on all of its terminals: {row.line} is judged as if it shed nothing."
            yield finding("manager-not-landed", about, message, fact=row.line)
        yield from _set_otherwise(plant, about, planned, row)
    sources = [source_id, *(key for key, other in plan.sources.items() if other.in_place_of == source_id)]
    if base == source_id and found.drawn and not any(plan.sources[key].manager for key in sources):
        names, lines = " and ".join(row.device for row in found.drawn), [row.line for row in found.drawn]
        message = f"{names}, a {TYPE.replace('-', ' ')}, is drawn, and the start does not count on it."
        counted: dict[str, Any] = {"kind": "sheds", "loads": lines}
        fix = {"sources": {source_id: {"manager": counted}}}
        yield finding("manager-not-counted", about, message, fix=fix, fix_label="Count on it")


def _set_otherwise(plant: Plant, about: str, planned: Manager, row: DrawnManager) -> Iterator[Finding]:
    """What a load manager is set to, where the plan of the source says another figure."""
    for name, (setting, unit) in FIGURES.items():
        wanted, is_set = getattr(planned, name), row.set_to[name]
        if wanted is None or wanted.low <= is_set <= wanted.high:
            continue
        span = plant.types[row.device].settings[setting].span
        message = f"{row.device} is set to {say(is_set)} {unit}, and {say(wanted.low)} {unit} is planned."
        fact, fix, label = f"{row.device}/{name}", None, None
        if span and span.least <= wanted.low <= span.most:
            fix = {"devices": {row.device: {"settings": {setting: f"{wanted.low:g}"}}}}
            label = f"Set {row.device} to {say(wanted.low)} {unit}"
        else:
            message += " Its knob does not go there: plan a figure that it has."
        yield finding("manager-set-otherwise", about, message, label, fix, fact=fact)


def _loads_at(plant: Plant, source_id: str, document: dict[str, Any]) -> Iterator[LoadAt]:
    plan, base = plant.plan, base_of(plant.plan, source_id)
    called = {call["load"] for call in document["calls"]}
    there = {
        load_id(plant, key): (f"sources/{owner}/existing/{key}", entry)
        for owner in dict.fromkeys((*behind(plan, base), source_id))
        for key, entry in plan.sources[owner].existing.items()
    }
    for load in document["loads"]:
        key = load["id"]
        if key in there:
            about, entry = there[key]
            name = entry.name or key
            said = entry.leg is not None or bool(entry.spaces)
            yield LoadAt(id=key, about=about, name=name, leg_said=said, called=key in called)
            continue
        circuit = plan.circuits[key]
        aid = aid_of(plant, circuit.equipment or "")
        unit = plan.equipment[circuit.equipment or ""]
        said = circuit.leg is not None or bool(circuit.ocpd and circuit.ocpd.spaces)
        yield LoadAt(
            id=key, about=f"circuits/{key}", name=circuit.name or unit.name or key, leg_said=said,
            called=key in called, aid=aid.standing, aid_device=aid.device,
        )  # fmt: skip


def left_over(at: SupplyAt) -> str:
    """What a source has left for everything else, in words, leg by leg."""
    rooms = [(leg.leg, leg.left_a) for leg in at.legs if leg.left_a is not None]
    said = [f"leg {leg}: {say(room)} A" if room >= 0 else f"leg {leg}: {say(-room)} A short" for leg, room in rooms]
    return ", ".join(said)
