"""From a plan to a trial on paper: a source, the lines on it with their own conductors, what is there already."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from leitung_core.circuits.loads import compressor_currents, motor_currents
from leitung_core.circuits.result import CircuitResult
from leitung_core.plan.feeds import Manager, UnitStart
from leitung_core.plan.model import Unit
from leitung_core.plan.sources import ExistingCircuit, Source
from leitung_core.plant.aids import aid_of
from leitung_core.plant.legs import legs_on
from leitung_core.plant.lines import Line
from leitung_core.plant.managers import managed
from leitung_core.plant.plant import Plant
from leitung_core.plant.poles import line_count, poles_of
from leitung_core.supply.feeds import base_of, behind, lines_on

Doc = dict[str, Any]
KIND = {"subpanel": "panel", "receptacle": "panel"}
# Units whose compressor is driven by electronics: it comes up without a locked rotor.
DRIVES = ("mini_split_outdoor",)


def trial_document(plant: Plant, source_id: str, results: Mapping[str, CircuitResult]) -> Doc | None:
    """The open document of a start on a source; None where it cannot be said: volts not known, or three phases.

    What nobody has said is left out; what a load takes and nobody knows stands there as null, its conductors too.
    """
    source = plant.plan.sources[source_id]
    legs = line_count(source)
    volts = source.volts_to_ground or (source.volts if legs == 1 else source.volts and source.volts / 2)
    if legs not in (1, 2) or volts is None:
        return None
    loads = list(_loads(plant, source_id, legs, results))
    feeders = _feeders(plant, base_of(plant.plan, source_id), results)
    return {
        "supply": _supply(plant, source_id, source, legs, volts, results) | ({"feeders": feeders} if feeders else {}),
        "loads": loads,
        "calls": _calls(plant, source_id, loads),
    }


def load_id(plant: Plant, key: str) -> str:
    """What a load that is there already is called beside the lines: by its own id, unless a line has it."""
    return f"there-{key}" if key in plant.plan.circuits else key


def _supply(
    plant: Plant, source_id: str, source: Source, legs: int, volts: float, results: Mapping[str, CircuitResult]
) -> Doc:
    found: Doc = {"kind": KIND.get(source.kind, source.kind), "volts": volts, "legs": legs}
    breaker = source.main_a or (source.bus_a if source.kind in ("pedestal", "receptacle") else None)
    ohms = _ohms(plant, source_id, results)
    told = {
        "breaker_a": breaker, "instant_x": source.instant_x, "source_ohms": ohms, "generator": source.generator,
        "inverter": source.inverter, "manager": _manager(plant, source_id),
    }  # fmt: skip
    return found | {name: _plain(value) for name, value in told.items() if value is not None}


def _manager(plant: Plant, source_id: str) -> Manager | None:
    """The device between a source and its loads, with its loads as the trial calls them."""
    lines, there = lines_on(plant.plan, base_of(plant.plan, source_id)), there_already(plant, source_id)
    manager = managed(plant, source_id, lines).manager
    if manager is None:
        return None
    named = [key if key in lines else load_id(plant, key) for key in manager.loads if key in {*lines, *there}]
    return manager.model_copy(update={"loads": named}) if named else None


def _ohms(plant: Plant, source_id: str, results: Mapping[str, CircuitResult]) -> Any:
    """The source's own ohms, else those of the feeders that lead to it and of what feeds them; None: not known."""
    source = plant.plan.sources[source_id]
    if source.ohms is not None:
        return source.ohms
    feeder = plant.index.fed_by.get(source_id)
    if feeder is None:
        return None
    own, above = conductor_ohms(plant, results.get(feeder)), _above(plant, feeder, results)
    return None if own is None or above is None else own + above


def _above(plant: Plant, feeder: str, results: Mapping[str, CircuitResult]) -> float | None:
    upstream = plant.plan.circuits[feeder].source
    found = _ohms(plant, upstream, results) if upstream in plant.plan.sources else None
    return found if isinstance(found, float) or found is None else float(found.high)


def conductor_ohms(plant: Plant, result: CircuitResult | None) -> float | None:
    """The ohms of a line's conductors, there and back: its drop over the current for which it was worked out."""
    if result is None or result.voltage_drop_v is None:
        return None
    amps = result.min_ampacity_a if plant.school("drop-current") == "ampacity" else result.running_a
    return round(result.voltage_drop_v / amps, 5) if amps else None


def _loads(plant: Plant, source_id: str, legs: int, results: Mapping[str, CircuitResult]) -> Iterator[Doc]:
    """The lines of the source, or of the one it stands in for, then everything that hangs there already."""
    base = base_of(plant.plan, source_id)
    for line_id in lines_on(plant.plan, base):
        line = plant.lines[line_id]
        spaces = (line.circuit.ocpd and line.circuit.ocpd.spaces) or []
        leg = _leg(line.circuit.leg, spaces, legs, poles_of(line.circuit, line.source, line.unit) or 1)
        result = results.get(line_id)
        found = _of_line(plant, line_id, line, leg, conductor_ohms(plant, result), result)
        yield found | _behind(plant, line.circuit.source, base)
    owners = [source_id, *reversed(behind(plant.plan, base))]
    for key, entry in sorted(there_already(plant, source_id).items()):
        leg = _leg(entry.leg, entry.spaces or [], legs, len(entry.spaces or []) or 1)
        found = {"id": load_id(plant, key), "leg": leg, "steady_a": entry.existing_a}
        yield found | _behind(plant, next(at for at in owners if key in plant.plan.sources[at].existing), base)


def _feeders(plant: Plant, base: str, results: Mapping[str, CircuitResult]) -> Doc:
    """The feeders between a source and what hangs on it, with their ohms as far as they are known."""
    below = behind(plant.plan, base)[1:]
    found: Doc = {}
    for feeder in (plant.index.fed_by[key] for key in below if key in plant.index.fed_by):
        ohms = conductor_ohms(plant, results.get(feeder))
        found[feeder] = _given(ohms=ohms) | _behind(plant, plant.plan.circuits[feeder].source, base)
    return found


def _behind(plant: Plant, panel: str | None, base: str) -> Doc:
    """The feeder on which hangs what hangs on a panel; none where that is the source itself."""
    feeder = plant.index.fed_by.get(panel or "") if panel != base else None
    return {"behind": feeder} if feeder else {}


def there_already(plant: Plant, source_id: str) -> dict[str, ExistingCircuit]:
    """What hangs on a source already, on the one for which it stands in, and on the panels that it feeds."""
    owners = [*behind(plant.plan, base_of(plant.plan, source_id)), source_id]
    return {key: entry for owner in owners for key, entry in plant.plan.sources[owner].existing.items()}


def _leg(said: Any, spaces: list[int], legs: int, poles: int) -> Any:
    """The leg of a load. One whose leg nobody has said lies on the first, with all others of that kind: the worst."""
    if legs == 1:
        return 1
    if said is not None and not spaces:
        return said
    on = sorted(legs_on(None, spaces, legs)) if spaces else [0, 1] if poles == 2 else [0]
    return "both" if len(on) > 1 else on[0] + 1


def _of_line(plant: Plant, line_id: str, line: Line, leg: Any, ohms: float | None, result: CircuitResult | None) -> Doc:
    unit = line.unit
    assert unit is not None
    found: Doc = {"id": line_id, "leg": leg, "branch_ohms": ohms}
    plate = unit.nameplate
    if plate is None or unit.kind in DRIVES or not (plate.compressors or plate.motors):
        return found | {"steady_a": result.running_a if result else None}
    start, many = unit.start or UnitStart(), unit.quantity or 1
    fans = float(sum(motor_currents(plate))) * many
    compressors = float(sum(compressor_currents(plate))) * many
    if fans:
        found["fan"] = _given(running_a=fans, inrush_a=start.fan_inrush_a, inrush_s=start.fan_inrush_s)
    if plate.compressors:
        found |= _compressor(plant, line.circuit.equipment or "", unit, start, compressors)
    rest = (result.running_a or 0.0) - fans - compressors if result and plate.heat else 0.0
    if rest > LEAST_A:
        found["steady_a"] = round(rest, 3)
    return found


LEAST_A = 0.05


def _compressor(plant: Plant, unit_id: str, unit: Unit, start: UnitStart, running: float) -> Doc:
    plate = unit.nameplate
    marks = [entry.lra_a for entry in (plate.compressors if plate else None) or []]
    locked: Any = sum(mark or 0 for mark in marks) * (unit.quantity or 1) if all(marks) else start.locked_rotor_a
    found: Doc = {
        "compressor": _given(
            running_a=running or None, locked_rotor_a=locked, start_s=start.start_s, power_factor=start.power_factor
        )
    }
    aid = aid_of(plant, unit_id).aid
    if aid.kind != "none":
        found["aid"] = aid.model_dump(mode="json", exclude_none=True)
    return found | _given(compressor_after_s=start.compressor_after_s)


def _given(**fields: Any) -> Doc:
    return {name: _plain(value) for name, value in fields.items() if value is not None}


def _plain(value: Any) -> Any:
    """A figure as the open document has it: a number, a range of two, or a block of them."""
    if hasattr(value, "model_dump"):
        return value.model_dump(mode="json", exclude_none=True)
    if isinstance(value, tuple):
        low, high = value
        return low if low == high else [low, high]
    return value


def _calls(plant: Plant, source_id: str, loads: list[Doc]) -> list[Doc]:
    """Every call; of lines that a device keeps from running at once, that of the one which takes most alone."""
    found = [call for load in loads if (call := _call(plant, source_id, load["id"])) is not None]
    if not plant.plan.sources[base_of(plant.plan, source_id)].load_sharing:
        return found
    lines = [load for load in loads if load["id"] in plant.plan.circuits]
    most = max(lines, key=_most_a, default=None)
    kept_off = {load["id"] for load in lines if load is not most}
    return [call for call in found if call["load"] not in kept_off]


def _most_a(load: Doc) -> float:
    """What a load takes at the most, A, as far as it is known: running, or in its compressor's start."""
    fan, motor, aid = load.get("fan", {}), load.get("compressor", {}), load.get("aid", {})
    starts = aid.get("peak_a") or motor.get("locked_rotor_a") or motor.get("running_a")
    known = (load.get("steady_a"), fan.get("running_a"), starts)
    return float(sum(figure[-1] if isinstance(figure, list) else figure for figure in known if figure))


def _call(plant: Plant, source_id: str, load: str) -> Doc | None:
    """When a load is called: as this source's own plan has it, else as that of the one for which it stands in."""
    plan = plant.plan
    keys = [load, load.removeprefix("there-")]
    for owner in (plan.sources[source_id], plan.sources[base_of(plan, source_id)]):
        call = next((owner.calls[key] for key in keys if key in owner.calls), None)
        if call is not None:
            return None if call.off else {"at_s": call.at_s or 0.0, "load": load}
    return {"at_s": 0.0, "load": load}
