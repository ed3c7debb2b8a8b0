"""Every line of a plant sized: feeders after what they feed, raceway sharers with each other in mind.

What did not change is not computed again: a result is kept under everything that it was computed from.
"""

from __future__ import annotations

from typing import TypeVar

from leitung_core.circuits.result import CircuitResult
from leitung_core.circuits.size import least_size, size
from leitung_core.circuits.spec import FedLoad
from leitung_core.plant.loads import fed_loads
from leitung_core.plant.plant import Plant
from leitung_core.plant.raceways import open_lines, raceways, shared_raceways
from leitung_core.plant.size_document import Shared, SpecInputs, plan_address, spec_of

Kept = TypeVar("Kept")
_RESULTS: dict[object, CircuitResult] = {}
_LEAST: dict[object, str | None] = {}
MOST_KEPT = 2000


def forget() -> None:
    """Let go of what is kept of earlier computations."""
    _RESULTS.clear()
    _LEAST.clear()


def size_all(plant: Plant) -> dict[str, CircuitResult]:
    """The result of every line that ends somewhere, in the order of the plan."""
    inputs, named = SpecInputs(plant), raceways(plant)
    alone = {line_id: _least_alone(plant, line_id, inputs) for line_id in open_lines(named)}
    found = _size_each(plant, shared_raceways(plant, alone) if named else {}, inputs)
    late = {key for key in alone if alone[key] is None and key in found and found[key].conductor}
    if late:
        # A feeder's size is known only now: what shares its raceway is counted with it.
        known = alone | {key: found[key].conductor for key in late}
        found = _size_each(plant, shared_raceways(plant, known), inputs)
    return {line_id: found[line_id] for line_id in plant.lines if line_id in found}


def _least_alone(plant: Plant, line_id: str, inputs: SpecInputs) -> str | None:
    """The least conductor as if nothing else were in its raceways; a feeder's is not known before what it feeds."""
    key = inputs.of(line_id, None, None)
    if key not in _LEAST:
        spec = spec_of(plant, line_id)
        _keep(_LEAST, key, least_size(spec) if spec is not None else None)
    return _LEAST[key]


def _size_each(plant: Plant, shared: Shared, inputs: SpecInputs) -> dict[str, CircuitResult]:
    found: dict[str, CircuitResult] = {}
    on: dict[str, list[str]] = {}
    for key, line in plant.lines.items():
        on.setdefault(line.circuit.source or "", []).append(key)

    def visit(line_id: str) -> None:
        if line_id in found:
            return
        feeds, fed = plant.lines[line_id].circuit.feeds, None
        if feeds:
            for key in on.get(feeds, ()):
                visit(key)
            fed = fed_loads(plant, feeds, found)
        result = _sized(plant, line_id, fed, shared, inputs)
        if result is not None:
            found[line_id] = result

    for line_id in plant.lines:
        visit(line_id)
    return found


def _sized(
    plant: Plant, line_id: str, fed: list[FedLoad] | None, shared: Shared, inputs: SpecInputs
) -> CircuitResult | None:
    key = inputs.of(line_id, fed, shared)
    kept = _RESULTS.get(key)
    if kept is not None:
        return kept
    spec = spec_of(plant, line_id, fed, shared)
    if spec is None:
        return None
    return _keep(_RESULTS, key, size(spec, plan_address(plant, plant.lines[line_id])))


def _keep(memo: dict[object, Kept], key: object, value: Kept) -> Kept:
    if len(memo) >= MOST_KEPT:
        memo.clear()
    memo[key] = value
    return value
