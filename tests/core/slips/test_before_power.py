"""Tests before power: nothing that shocks or destroys has to be found out by switching on."""

from __future__ import annotations

import networkx as nx
import pytest
from leitung_core.control.system import System, system_with
from leitung_core.slips.before_power import BeforePower, before_power
from leitung_core.slips.dead_tests import DeadTest
from leitung_core.slips.fewest_tests import choose
from leitung_core.slips.harm import Slips, slips


@pytest.fixture(scope="module", params=["AH-1", "RT-1", "OU-1", "RU-1", "UH-1"])
def tried(request: pytest.FixtureRequest, systems: dict[str, System]) -> tuple[System, Slips, BeforePower]:
    system = systems[request.param]
    found = slips(system)
    return system, found, before_power(system, found, choose(found).hidden)


def test_every_mistake_that_shocks_or_destroys_shows_before_power(tried: tuple[System, Slips, BeforePower]) -> None:
    _, found, before = tried
    shown = {number for test in before.tests for number in test.exposes}
    grave = {number for number, slip in enumerate(found.slips) if slip.harm in ("shock", "destroys")}
    assert grave <= shown
    assert not before.left
    assert len(before.tests) < len(grave) / 2


def test_what_the_ohmmeter_finds_follows_from_the_landings_alone(tried: tuple[System, Slips, BeforePower]) -> None:
    """Solution, apart from the solver: walk from lead to lead over the landed conductors of the changed plan.

    A mistake that a test exposes turns joined into open, or open into joined, by what is landed where.
    """
    system, found, before = tried
    checked = 0
    for test in before.tests:
        assert nx.has_path(_copper(system), test.a, test.b) == test.joined, test
        for number in test.exposes[::3]:
            patch = found.slips[number].mistake.patch
            if patch is not None and "cables" in patch:
                changed = _copper(system_with(system, patch), lifted=_neutrals(system))
                assert nx.has_path(changed, test.a, test.b) != test.joined, found.slips[number].mistake.says
                checked += 1
    assert checked


def _neutrals(system: System) -> set[str]:
    return {wire["id"] for wire in system.built.conductors if wire["from"].endswith("bar.N") and "/" in wire["id"]}


def _copper(system: System, lifted: set[str] | None = None) -> nx.Graph:
    """Conductors, jumpers and contacts closed at rest; breakers off, control fuses out, neutrals off their bars."""
    graph = nx.Graph()
    for device in system.network.devices:
        graph.add_nodes_from(f"{device.id}.{name}" for name in device.terminals)
        is_panel = device.id in system.plant.types and system.plant.types[device.id].group == "panel"
        for part in device.inside:
            rests_closed = part.type == "contact" and part.normally == "closed" and not is_panel
            if part.type == "jumper" or rests_closed:
                graph.add_edge(f"{device.id}.{part.a}", f"{device.id}.{part.b}")
    off = _neutrals(system) if lifted is None else lifted
    graph.add_edges_from((wire.a, wire.b) for wire in system.network.conductors if wire.id not in off)
    return graph


def test_ground_of_a_head_and_neutral_on_ground_show_by_ohms_alone(systems: dict[str, System]) -> None:
    """No call and no reading under power shows these; both are what an inspector looks for first."""
    assert _shown(systems["OU-1"], "open/IC-1/green") == ("IU-1.unit.GND", True)
    a, joined = _shown(systems["RU-1"], "bridge/RU-1.power.N/RU-1.power.GND")
    assert (a.rpartition(".")[2], joined) == ("N", False)


def _shown(system: System, mistake: str) -> tuple[str, bool]:
    """The test before power that shows a mistake which no live test does."""
    found = slips(system)
    hidden = choose(found).hidden
    number = next(i for i, slip in enumerate(found.slips) if slip.mistake.id == mistake)
    assert number in hidden
    test: DeadTest = next(test for test in before_power(system, found, hidden).tests if number in test.exposes)
    return test.a, test.joined
