"""Volts and amperes of many variants of a network: nodal analysis, alternating and direct current apart."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from leitung_core.solver.arrays import Bools, Complex, Floats, Ints
from leitung_core.solver.compiled import MAGNETISING_S, Compiled, Core

ISOLATED_S = 1e-12
CHUNK = 256  # variants at a time: the working set stays in the cache


@dataclass(frozen=True)
class Flow:
    """One solution for each variant.

    ac: rms phasors (nodes + cores, variants). dc: volts (nodes, variants), or None without a DC source.
    paths: part of the network of each node (nodes, variants); each part's volts are from its least node.
    """

    ac: Complex
    dc: Floats | None
    paths: Ints

    def take(self, variants: Ints) -> Flow:
        """Some of the variants."""
        dc = self.dc[:, variants] if self.dc is not None else None
        return Flow(self.ac[:, variants], dc, self.paths[:, variants])


def solve(net: Compiled, present: Bools) -> Flow:
    """Solve every variant. present: which branches are there, (branches, variants)."""
    parts = [_solve(net, present[:, at : at + CHUNK]) for at in range(0, present.shape[1], CHUNK)]
    if len(parts) == 1:
        return parts[0]
    dc = [part.dc for part in parts if part.dc is not None]
    return Flow(
        np.concatenate([part.ac for part in parts], axis=1),
        np.concatenate(dc, axis=1) if dc else None,
        np.concatenate([part.paths for part in parts], axis=1),
    )


def _solve(net: Compiled, present: Bools) -> Flow:
    paths = net.paths(present)
    pins = paths == np.arange(net.nodes)[:, None]
    ac = _alternating(net, present, pins)
    return Flow(ac, _direct(net, present, pins) if net.dc else None, paths)


def _alternating(net: Compiled, present: Bools, pins: Bools) -> Complex:
    siemens = net.y[:, None] * present
    entries = net.stamp @ siemens
    entries[: net.nodes][pins] += 1.0
    entries = entries + net.coupling[:, None]
    if net.reactive:
        amps = np.zeros((net.size, 1, present.shape[1]), dtype=np.complex128)
        _inject(net, amps[:, 0], net.emf_ac[:, None] * siemens)
        found: Complex = net.elimination.solve(np.asarray(entries, dtype=np.complex128), amps)[:, 0]
        return found
    # Resistances alone: the two parts of the phasors are two real right-hand sides.
    parts = np.zeros((net.size, 2, present.shape[1]))
    _inject(net, parts[:, 0], net.emf_ac.real[:, None] * siemens)
    _inject(net, parts[:, 1], net.emf_ac.imag[:, None] * siemens)
    solved = net.elimination.solve(entries, parts)
    return np.asarray(solved[:, 0] + 1j * solved[:, 1])


def _direct(net: Compiled, present: Bools, pins: Bools) -> Floats:
    siemens = net.g_dc[:, None] * present
    entries = net.stamp @ siemens
    entries[: net.nodes][pins] += 1.0
    # What a capacitor cuts off hangs on nothing: it stays at nought.
    entries[: net.nodes] += ISOLATED_S
    rhs = np.zeros((net.size, 1, present.shape[1]))
    _inject(net, rhs[:, 0], net.emf_dc[:, None] * siemens)
    solved: Floats = net.elimination.solve(entries + net.copper[:, None], rhs)[: net.nodes, 0]
    return solved


def _inject(net: Compiled, rhs: Floats | Complex, amps: Floats | Complex) -> None:
    """A source in series with its ohms is that current in parallel with them."""
    for branch in (*net.ac, *net.dc):
        rhs[net.a[branch]] += amps[branch]
        rhs[net.b[branch]] -= amps[branch]


def across(net: Compiled, volts: Complex | Floats) -> Complex | Floats:
    """Volts from a to b of every branch, (branches, variants)."""
    return volts[net.a] - volts[net.b]


def branch_amps(net: Compiled, ac: Complex, present: Bools) -> Complex:
    """Amperes from a to b through every branch, (branches, variants)."""
    amps: Complex = (across(net, ac) - net.emf_ac[:, None]) * net.y[:, None] * present
    return amps


def winding_amps(net: Compiled, ac: Complex) -> Complex:
    """Amperes from a to b through every winding, (windings, variants)."""
    if not net.windings:
        return np.zeros((0, ac.shape[1]), dtype=np.complex128)
    a, b, flux = (
        np.array(column) for column in zip(*[(w.a, w.b, net.nodes + w.transformer) for w in net.windings], strict=True)
    )
    ratio, siemens = (
        np.array(column)[:, None] for column in zip(*[(w.ratio, w.siemens) for w in net.windings], strict=True)
    )
    amps: Complex = (ac[a] - ac[b] - ratio * ac[flux]) * siemens
    return amps


def winding_volts(net: Compiled, ac: Complex) -> Floats:
    """rms volts across every winding, (windings, variants)."""
    a, b = (np.array([getattr(w, end) for w in net.windings], dtype=np.int64) for end in ("a", "b"))
    volts: Floats = np.abs(ac[a] - ac[b])
    return volts


def fed_primary(core: Core, amps: Floats) -> int:
    """The primary that carries most, of a core's windings; the first where none does. amps: (windings,)."""
    return max(core.primaries, key=lambda index: (round(float(amps[index]), 6), -index))


@dataclass(frozen=True)
class Balance:
    """Conservation: the largest sum of currents at a node, A, and the powers, VA, of each variant."""

    node_amps: Floats
    sources_va: Complex
    taken_va: Complex


def balance(net: Compiled, flow: Flow, present: Bools) -> Balance:
    """How well a solution conserves current and power."""
    amps, coils = branch_amps(net, flow.ac, present), winding_amps(net, flow.ac)
    sums = np.zeros((net.nodes, flow.ac.shape[1]), dtype=np.complex128)
    np.add.at(sums, net.a, amps)
    np.add.at(sums, net.b, -amps)
    np.add.at(sums, np.array([w.a for w in net.windings], dtype=int), coils)
    np.add.at(sums, np.array([w.b for w in net.windings], dtype=int), -coils)
    emf = net.emf_ac[:, None]
    given = -(emf * amps.conj()).sum(axis=0)
    ohmic = np.abs(amps) ** 2 / net.y[:, None]
    copper = np.abs(coils) ** 2 / np.array([w.siemens for w in net.windings])[:, None] if net.windings else coils
    iron = np.abs(flow.ac[net.nodes :]) ** 2
    iron_va = MAGNETISING_S * iron.sum(axis=0)
    return Balance(np.abs(sums).max(axis=0), given, ohmic.sum(axis=0) + copper.sum(axis=0) + iron_va)
