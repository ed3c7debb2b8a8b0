"""Every circuit of a plan sized: feeders after what they feed, raceway sharers with each other in mind.

What did not change is not computed again: a result is kept under everything that it was computed from.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypeVar

from leitung_core.circuits.result import CircuitResult
from leitung_core.circuits.size import least_size, size
from leitung_core.circuits.spec import FedLoad
from leitung_core.plan.model import Plan
from leitung_core.plant.circuit import Shared, SpecInputs, line_count, plan_address, spec_of
from leitung_core.plant.legs import legs_of
from leitung_core.plant.raceways import open_circuits, raceways, shared_raceways

Kept = TypeVar("Kept")
_RESULTS: dict[object, CircuitResult] = {}
_LEAST: dict[object, str | None] = {}
MOST_KEPT = 2000


def forget() -> None:
    """Let go of what is kept of earlier computations."""
    _RESULTS.clear()
    _LEAST.clear()


def size_all(plan: Plan) -> dict[str, CircuitResult]:
    """The result of every circuit that ends somewhere, in the order of the plan."""
    inputs, named = SpecInputs(plan), raceways(plan)
    alone = {circuit_id: _least_alone(plan, circuit_id, inputs) for circuit_id in open_circuits(named)}
    found = _size_each(plan, shared_raceways(plan, alone) if named else {}, inputs)
    late = {key for key in alone if alone[key] is None and key in found and found[key].conductor}
    if late:
        # A feeder's size is known only now: what shares its raceway is counted with it.
        known = alone | {key: found[key].conductor for key in late}
        found = _size_each(plan, shared_raceways(plan, known), inputs)
    return {circuit_id: found[circuit_id] for circuit_id in plan.circuits if circuit_id in found}


def _least_alone(plan: Plan, circuit_id: str, inputs: SpecInputs) -> str | None:
    """The least conductor as if nothing else were in its raceways; a feeder's is not known before what it feeds."""
    key = inputs.of(circuit_id, None, None)
    if key not in _LEAST:
        spec = spec_of(plan, circuit_id)
        _keep(_LEAST, key, least_size(spec) if spec is not None else None)
    return _LEAST[key]


def _size_each(plan: Plan, shared: Shared, inputs: SpecInputs) -> dict[str, CircuitResult]:
    found: dict[str, CircuitResult] = {}

    def visit(circuit_id: str) -> None:
        circuit = plan.circuits[circuit_id]
        if circuit_id in found:
            return
        fed = None
        if circuit.feeds:
            for key, other in plan.circuits.items():
                if other.source == circuit.feeds:
                    visit(key)
            fed = fed_loads(plan, circuit.feeds, found)
        result = _sized(plan, circuit_id, fed, shared, inputs)
        if result is not None:
            found[circuit_id] = result

    for circuit_id in plan.circuits:
        visit(circuit_id)
    return found


def _sized(
    plan: Plan, circuit_id: str, fed: list[FedLoad] | None, shared: Shared, inputs: SpecInputs
) -> CircuitResult | None:
    key = inputs.of(circuit_id, fed, shared)
    kept = _RESULTS.get(key)
    if kept is not None:
        return kept
    spec = spec_of(plan, circuit_id, fed, shared)
    if spec is None:
        return None
    return _keep(_RESULTS, key, size(spec, plan_address(circuit_id, plan.circuits[circuit_id])))


def _keep(memo: dict[object, Kept], key: object, value: Kept) -> Kept:
    if len(memo) >= MOST_KEPT:
        memo.clear()
    memo[key] = value
    return value


def fed_loads(plan: Plan, source_id: str, results: Mapping[str, CircuitResult]) -> list[FedLoad]:
    """The loads of a panel on the leg that carries most."""
    source = plan.sources[source_id]
    legs = line_count(source) or 1
    by_leg: list[list[FedLoad]] = [[] for _ in range(legs)]
    # Sorted: a database that keeps no order must not change the words of a step.
    for circuit_id, circuit in sorted(plan.circuits.items()):
        result = results.get(circuit_id)
        if circuit.source != source_id or result is None or not result.running_a:
            continue
        spaces = (circuit.ocpd and circuit.ocpd.spaces) or []
        load = FedLoad(amps=result.running_a, sort=result.sort, name=circuit_id)
        for leg in legs_of(spaces, legs):
            by_leg[leg].append(load)
    return max(by_leg, key=lambda loads: sum(load.amps for load in loads))
