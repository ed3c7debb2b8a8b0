"""The museum's control systems, solved once for all tests."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.interlocks.states import trials
from leitung_core.interlocks.system import System, systems_of, whole
from leitung_core.network.compiled import Compiled
from leitung_core.network.run import Run, Stretch, run
from leitung_core.plan.model import read_plan
from leitung_core.wiring.scene import Scene


@pytest.fixture(scope="session")
def museum_plan() -> dict[str, Any]:
    from installs.demo.museum import museum

    return museum()


@pytest.fixture(scope="session")
def systems(museum_plan: dict[str, Any]) -> dict[str, System]:
    return {system.key: system for system in systems_of(Scene(read_plan(museum_plan)))}


@pytest.fixture(scope="session")
def vault_run(systems: dict[str, System]) -> Run:
    system = systems["AH-1"]
    return run(Compiled(system.network), [trial.course for trial in trials(system)])


@pytest.fixture(scope="session")
def museum_run(museum_plan: dict[str, Any]) -> Run:
    net = Compiled(whole(Scene(read_plan(museum_plan))).network)
    return run(net, [(Stretch(frozenset(on), 600),) for on in ([], ["call:cool", "call:fan", "call:humidify"])])
