"""The solver against other ways to the same volts, and against the laws that every solution must keep."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from leitung_core.control.solved import one
from leitung_core.elements.vocabulary import Contact
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Solution, Stretch, contacts_of, settle
from leitung_core.solver.flow import balance, solve
from leitung_core.solver.netlist import netlist, spice_names
from leitung_core.solver.network import Network

from tests.core.solver.independent import node_volts, spice_volts
from tests.core.solver.networks import Piece, contact, device, load, network

PARTS = ("load", "resistor", "jumper", "contact", "coil")


@st.composite
def random_networks(draw: st.DrawFn) -> Network:
    """Two devices of some nodes each, any parts between any of them, up to two transformers, two line sources."""
    nodes = [f"n{number}" for number in range(draw(st.integers(4, 9)))]
    pick = st.sampled_from(nodes)
    pair = st.tuples(pick, pick).filter(lambda ends: ends[0] != ends[1])
    inside: list[Piece] = []
    for number in range(draw(st.integers(2, 12))):
        kind, (a, b) = draw(st.sampled_from(PARTS)), draw(pair)
        piece: dict[str, Any] = {"type": kind, "id": f"e{number}", "a": a, "b": b}
        if kind in ("load", "coil"):
            piece |= {"va": draw(st.floats(0.5, 500)), "rated_volts": draw(st.sampled_from([24, 120, 240]))}
        if kind in ("resistor", "jumper"):
            piece["ohms"] = draw(st.floats(0.001, 10_000))
        if kind == "contact":
            piece |= {"normally": draw(st.sampled_from(["open", "closed"])), "operated_by": "call:x"}
        inside.append(piece)
    for number in range(draw(st.integers(0, 2))):
        (a, b), (c, d) = draw(pair), draw(pair)
        inside.append(
            {
                "type": "ac_source",
                "id": f"v{number}",
                "plus": a,
                "minus": b,
                "ohms": 0.05,
                "volts": draw(st.floats(1, 250)),
                "phase_deg": draw(st.sampled_from([0, 120, -120, 180])),
            }
        )
        inside.append({"type": "transformer", "id": f"t{number}", "primary_common": c,
                       "primary_taps": [{"terminal": d, "volts": draw(st.sampled_from([120, 208, 240]))},
                                        {"terminal": f"_t{number}", "volts": 120}],
                       "secondary_plus": draw(pick), "secondary_minus": draw(pick), "va": draw(st.floats(10, 100)),
                       "regulation_pct": draw(st.floats(1, 10))})  # fmt: skip
    wires = [
        {"id": f"w{number}", "from": f"A.{a}", "to": f"A.{b}", "ohms": draw(st.floats(0.01, 5))}
        for number, (a, b) in enumerate(draw(st.lists(pair, max_size=4)))
    ]
    return network([device("A", " ".join(nodes), *inside)], wires, reference=None)


def closed_in(state: Solution, column: int) -> set[str]:
    contacts = contacts_of(state.net)
    return {n for n, b in zip(contacts.names, contacts.branches, strict=True) if state.present[b, column]}


def differences(state: Solution, column: int, other: dict[str, complex]) -> float:
    """The largest difference in volts between nodes of one part, relative to the largest volts there are."""
    net, flow = state.net, state.flow
    ours = flow.ac[: net.nodes, column]
    theirs = np.array([other[name] for name in net.names])
    roots = flow.paths[:, column]
    scale = max(1.0, float(np.abs(ours).max()))
    return float(np.abs((ours - ours[roots]) - (theirs - theirs[roots])).max()) / scale


@settings(max_examples=150, deadline=None)
@given(random_networks(), st.booleans())
def test_random_networks_agree_with_an_independent_solution(net: Network, called: bool) -> None:
    state = settle(Compiled(net), [(Stretch(frozenset(["call:x"] if called else []), 1),)])
    assert differences(state, 0, node_volts(net, closed_in(state, 0))) < 1e-3
    kept = balance(state.net, state.flow, state.present)
    amps = 1e-6 * max(1.0, float(np.abs(kept.sources_va).max()))
    assert kept.node_amps.max() < amps
    # What is left over at a node at so many volts is that much power left over (Tellegen).
    left_va = float(kept.node_amps.max() * np.abs(state.flow.ac[: state.net.nodes]).sum())
    assert abs(kept.sources_va - kept.taken_va).max() <= 2e-6 * max(1.0, abs(kept.taken_va).max()) + left_va


@settings(max_examples=40, deadline=None)
@given(random_networks())
def test_many_variants_at_once_are_each_solved_as_if_alone(net: Network) -> None:
    """Every combination of up to three contacts, solved together and one by one: two different eliminations."""
    compiled = Compiled(net)
    contacts = contacts_of(compiled).branches[:3]
    present = np.ones((len(compiled.y), 8 * 2), dtype=bool)
    for variant in range(present.shape[1]):
        for bit, branch in enumerate(contacts):
            present[branch, variant] = bool(variant >> bit & 1)
    together = solve(compiled, present)
    for variant in range(0, present.shape[1], 3):
        alone = solve(compiled, present[:, [variant]])
        assert (alone.paths[:, 0] == together.paths[:, variant]).all()
        assert alone.ac[:, 0] == pytest.approx(together.ac[:, variant], abs=1e-4, rel=1e-4)


def test_a_circuit_simulator_agrees_at_every_terminal(vault_run: Solution, tmp_path: Path) -> None:
    """The string vault in every fifth of its states, half a per cent being the most that may differ."""
    words = spice_names(vault_run.net)
    for column in range(0, len(vault_run.at), 5):
        state = one(vault_run, column)
        found, _ = spice_volts(netlist(state, "vault"), tmp_path)
        assert differences(state, 0, {name: found[word] for name, word in words.items()}) < 1e-5


def test_a_circuit_simulator_agrees_on_three_phases_and_on_direct_signals(museum_run: Solution, tmp_path: Path) -> None:
    words = spice_names(museum_run.net)
    state = one(museum_run, 1)
    found, direct = spice_volts(netlist(state, "museum"), tmp_path)
    assert differences(state, 0, {name: found[word] for name, word in words.items()}) < 1e-5
    roots = state.flow.paths[:, 0]
    assert state.flow.dc is not None
    ours = state.flow.dc[:, 0]
    theirs = np.array([direct[words[name]] for name in state.net.names])
    assert (ours - ours[roots]) == pytest.approx(theirs - theirs[roots], abs=2e-3)
    assert max(abs(ours)) > 40


def test_every_state_of_the_vault_conserves_current_and_power(vault_run: Solution) -> None:
    kept = balance(vault_run.net, vault_run.flow, vault_run.present)
    assert kept.node_amps.max() < 1e-6
    assert abs(kept.sources_va - kept.taken_va).max() < 1e-6 * abs(kept.taken_va).min()


@settings(max_examples=30, deadline=None)
@given(st.floats(0.01, 5), st.floats(0.01, 5))
def test_a_longer_cable_never_gives_more_volts(one_way: float, more: float) -> None:
    def volts(ohms: float) -> float:
        parts = [{"type": "ac_source", "id": "V", "plus": "R", "minus": "C", "volts": 24, "ohms": 0.7}]
        net = network(
            [device("A", "R C", *parts), device("B", "R C", load("K", "R", "C", 10))],
            [{"id": end, "from": f"A.{end}", "to": f"B.{end}", "ohms": ohms} for end in "RC"],
            reference="A.C",
        )  # fmt: skip
        state = settle(Compiled(net), [(Stretch(frozenset(), 0),)])
        return float(state.volts_ac[0, 0])

    assert volts(one_way + more) < volts(one_way)


def test_open_contacts_carry_nothing_at_all() -> None:
    parts = [
        {"type": "ac_source", "id": "V", "plus": "L", "minus": "N", "volts": 120},
        contact("K", "L", "X", "call:x"),
    ]
    net = network(
        [device("A", "L N X Y", *parts)], [{"id": "w", "from": "A.X", "to": "A.Y", "ohms": 1}], reference="A.N"
    )
    state = settle(Compiled(net), [(Stretch(frozenset(), 0),)])
    paths = {name: state.flow.paths[state.net.index[name], 0] for name in net and state.net.names}
    assert paths["A.X"] == paths["A.Y"] != paths["A.L"]
    assert isinstance(state.net.element["A.K"], Contact)
