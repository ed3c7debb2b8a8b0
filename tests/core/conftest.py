"""The museum's control systems, solved once for all tests."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.control.system import System, systems_of, whole
from leitung_core.control.trials import trials
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Solution, Stretch, settle


@pytest.fixture(scope="session")
def museum_plan() -> dict[str, Any]:
    from leitung_demo.museum import museum

    return museum()


@pytest.fixture(scope="session")
def systems(museum_plan: dict[str, Any]) -> dict[str, System]:
    return {system.key: system for system in systems_of(Plant(read_plan(museum_plan)))}


@pytest.fixture(scope="session")
def vault_run(systems: dict[str, System]) -> Solution:
    system = systems["AH-1"]
    return settle(Compiled(system.network), [trial.course for trial in trials(system)])


@pytest.fixture(scope="session")
def museum_run(museum_plan: dict[str, Any]) -> Solution:
    net = Compiled(whole(Plant(read_plan(museum_plan))).network)
    return settle(net, [(Stretch(frozenset(on), 600),) for on in ([], ["call:cool", "call:fan", "call:humidify"])])
