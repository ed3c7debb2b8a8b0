"""Windings, capacitors, inductive loads and DC supplies: by hand, and against a circuit simulator.

A capacitor of C µF at 60 Hz is 1e6 / (2 π 60 C) ohm; a winding R + jX; an inductive load V²/VA turned by its power
factor.
"""

from __future__ import annotations

from math import hypot, pi, sqrt
from pathlib import Path

import numpy as np
import pytest
from leitung_core.control.solved import answer_all
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Stretch, settle
from leitung_core.solver.flow import balance
from leitung_core.solver.netlist import netlist, spice_names
from leitung_core.solver.network import Network

from tests.core.solver.independent import spice_volts
from tests.core.solver.networks import coil, device, load, network, state, supply, wires

LINE = {"type": "ac_source", "id": "V", "plus": "L1", "minus": "L2", "volts": 240, "ohms": 0.1}
XC_35 = 1e6 / (2 * pi * 60 * 35)


def winding(name: str, a: str, b: str, ohms: float, reactance: float) -> dict:
    return {"type": "winding", "id": name, "a": a, "b": b, "ohms": ohms, "reactance_ohms": reactance}


def capacitor(name: str, a: str, b: str, microfarads: float) -> dict:
    return {"type": "capacitor", "id": name, "a": a, "b": b, "microfarads": microfarads}


def compressor() -> Network:
    """A single-phase compressor: run winding across the line, start winding behind a 35 µF run capacitor."""
    parts = [LINE, winding("RUN", "L1", "L2", 2.0, 12.0), capacitor("CAP", "L1", "S", 35),
             winding("START", "S", "L2", 6.0, 20.0), load("FAN", "L1", "L2", 300, 240, power_factor=0.8)]  # fmt: skip
    probes = [{"from": "M.S", "to": "M.L2"}, {"from": "M.S", "to": "M.L1"}]
    return network([device("M", "L1 L2 S", *parts)], [], reference="M.L2",
                   states=[{"name": "run", "on": [], "at_s": 1, "probes": probes}])  # fmt: skip


def test_a_capacitor_in_series_with_the_start_winding_lifts_it_above_the_line() -> None:
    """I = V / |R + j(XL - XC)|; across the winding I x |R + j XL|, across the capacitor I x XC."""
    found = answer_all(compressor())[0]
    start, across = (probe.volts or 0 for probe in found.probes)
    line = next(part.volts for part in found.loads if part.element == "FAN")
    amps = line / hypot(6.0, 20.0 - XC_35)
    assert start == pytest.approx(amps * hypot(6.0, 20.0), rel=1e-6)
    assert across == pytest.approx(amps * XC_35, rel=1e-6)
    assert across > line * 1.3


def test_a_circuit_simulator_agrees_and_nothing_is_lost(tmp_path: Path) -> None:
    state = settle(Compiled(compressor()), [(Stretch(frozenset(), 1),)])
    found, _ = spice_volts(netlist(state, "compressor"), tmp_path)
    words = spice_names(state.net)
    root = state.flow.ac[state.flow.paths[0, 0], 0]
    for name, node in state.net.index.items():
        theirs = found[words[name]] - found[words[state.net.names[state.flow.paths[0, 0]]]]
        assert state.flow.ac[node, 0] - root == pytest.approx(theirs, rel=1e-5, abs=1e-4)
    kept = balance(state.net, state.flow, state.present)
    assert kept.node_amps.max() < 1e-6
    assert abs(kept.sources_va - kept.taken_va).max() < 1e-6 * abs(kept.taken_va).min()


def test_a_circuit_simulator_agrees_on_direct_current(tmp_path: Path) -> None:
    state = settle(Compiled(on_a_battery()), [(Stretch(frozenset(), 1),)])
    _, found = spice_volts(netlist(state, "battery"), tmp_path)
    words = spice_names(state.net)
    assert state.flow.dc is not None
    for end in ("RY.P", "RY.X", "BT.P"):
        ours = state.flow.dc[state.net.index[end], 0] - state.flow.dc[state.net.index["BT.M"], 0]
        assert ours == pytest.approx(found[words[end]] - found[words["BT.M"]], rel=1e-5, abs=1e-4), end


def test_an_inductive_load_draws_its_va_at_its_rating_and_turns_the_current() -> None:
    """300 VA at 0.8 on 240 V is 192 ohm at 36.87°: behind 19.2 ohm the volts are not those of two resistances."""
    parts = [LINE | {"ohms": 19.2}, load("FAN", "L1", "L2", 300, 240, power_factor=0.8)]
    net = network([device("M", "L1 L2", *parts)], [], reference="M.L2", states=[{"name": "x", "on": [], "at_s": 1}])
    fan = answer_all(net)[0].loads[0]
    z = complex(192 * 0.8, 192 * sqrt(1 - 0.8**2))
    assert fan.amps == pytest.approx(240 / abs(z + 19.2), rel=1e-6)
    assert fan.volts == pytest.approx(240 * abs(z) / abs(z + 19.2), rel=1e-6)


def on_a_battery(takes: str = "dc") -> Network:
    """A relay on a battery, and a load behind a capacitor."""
    battery = {"type": "dc_supply", "id": "B", "plus": "P", "minus": "M", "volts": 12.6, "ohms": 0.05}
    return network(
        [device("BT", "P M", battery), device("RY", "P M X", coil("K", "P", "M", 6, rated_volts=12, takes=takes),
                                              capacitor("C", "P", "X", 10), load("L", "X", "M", 6, 12, takes="dc"))],
        [{"id": end, "from": f"BT.{end}", "to": f"RY.{end}", "ohms": 0.3} for end in "PM"],
        reference="BT.M", states=[{"name": "x", "on": [], "at_s": 1}],
    )  # fmt: skip


@pytest.mark.parametrize(("takes", "on"), [("dc", True), ("ac", False)])
def test_a_coil_for_direct_current_is_on_a_battery_and_none_for_alternating(takes: str, on: bool) -> None:
    """12.6 V behind 0.05 ohm and 0.6 ohm of wire into 12² / 6 = 24 ohm: 12.6 x 24 / 24.65 = 12.27 V."""
    relay, behind = answer_all(on_a_battery(takes))[0].loads
    assert relay.energised is on
    if on:
        assert relay.volts_dc == pytest.approx(12.6 * 24 / 24.65, rel=1e-6)
    # Direct current does not pass the capacitor.
    assert behind.energised is False
    assert behind.volts_dc == pytest.approx(0, abs=1e-6)


def test_many_variants_of_a_reactive_network_are_solved_as_one_by_one() -> None:
    parts = [LINE, winding("W", "X", "L2", 5, 9), capacitor("C", "L1", "X", 20)]
    parts += [{"type": "contact", "id": f"K{i}", "a": "L1", "b": "X", "operated_by": f"call:{i}"} for i in range(3)]
    net = Compiled(network([device("M", "L1 L2 X", *parts)], [], reference="M.L2"))
    courses = [(Stretch(frozenset({f"call:{i}" for i in range(3) if n >> i & 1}), 1),) for n in range(8)]
    together = settle(net, courses)
    for column in range(8):
        alone = settle(net, [courses[column]])
        assert np.allclose(alone.flow.ac[:, 0], together.flow.ac[:, column], rtol=1e-9, atol=1e-9)


SPLIT_PHASE = {
    # 115 V over a run winding of 1500 W and a start winding of 6 + j40 ohm behind 35 µF (-j75.79 ohm at 60 Hz).
    "in series": (["M.L M.CAP0", "M.CAP1 M.S"], True, 128.2),  # 115 x |6 + j40| / |6 - j35.79|
    "open": (["M.L M.CAP0"], False, 0.0),
    "capacitor bridged": (["M.L M.CAP0", "M.CAP1 M.S", "M.L M.S"], False, 115.0),  # in phase: no turning field
    "on the common": (["M.L M.CAP0", "M.CAP1 M.S", "M.S M.N"], False, 0.0),
}


@pytest.mark.parametrize("case", SPLIT_PHASE)
def test_a_motor_turns_only_with_its_start_winding_behind_the_capacitor(case: str) -> None:
    joined, turns, volts = SPLIT_PHASE[case]
    motor = device(
        "M", "L N S CAP0 CAP1",
        load("RUN", "L", "N", 1500, volts=115, start_winding="M.SW"),
        winding("SW", "S", "N", 6, 40), capacitor("C", "CAP0", "CAP1", 35),
    )  # fmt: skip
    found = network(
        [supply(115, ohms=0), motor], wires("PS.L M.L", "PS.N M.N", *joined, ohms=0), state(probes=["M.S M.N"]),
        intent={"M.RUN": "true"},
    )  # fmt: skip
    (answer,) = answer_all(found)
    assert answer.loads[0].energised is turns
    assert answer.probes[0].volts == pytest.approx(volts, rel=2e-3, abs=0.01)
    assert ("CALL_WITHOUT_LOAD" in answer.hazards) is not turns
