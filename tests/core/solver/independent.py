"""Other ways to the same volts: modified nodal analysis with every source current an unknown, and a circuit simulator.

Written from the open form alone; nothing here is taken from the solver but the names of what is closed.
"""

from __future__ import annotations

import cmath
import math
import subprocess
from pathlib import Path

import networkx as nx
import numpy as np
from leitung_core.elements.vocabulary import AcSource, Coil, Contact, DcSource, Load, Transformer
from leitung_core.solver.network import Network, node_names

CLOSED, LEAST, MAGNETISING = 0.01, 1e-4, 1e-6


def node_volts(network: Network, closed: set[str]) -> dict[str, complex]:
    """Phasor of every node; each part of the network is measured from its first node."""
    names = node_names(network)
    at = {name: number for number, name in enumerate(names)}
    resistors, sources, cores = _parts(network, closed, at)
    graph = nx.Graph()
    graph.add_nodes_from(range(len(names)))
    graph.add_edges_from((a, b) for a, b, _ in resistors)
    graph.add_edges_from((a, b) for a, b, _, _ in sources)
    graph.add_edges_from((a, b) for core in cores for a, b, _, _ in core)
    grounds = [min(part) for part in nx.connected_components(graph)]
    unknowns = len(names) + len(sources) + sum(len(core) + 1 for core in cores)
    matrix, rhs = np.zeros((unknowns, unknowns), complex), np.zeros(unknowns, complex)
    for a, b, ohms in resistors:
        for i, j, sign in ((a, a, 1), (b, b, 1), (a, b, -1), (b, a, -1)):
            matrix[i, j] += sign / ohms
    row = len(names)
    for a, b, volts, ohms in sources:
        matrix[a, row] += 1
        matrix[b, row] -= 1
        matrix[row, a], matrix[row, b], matrix[row, row] = 1, -1, -ohms
        rhs[row] = volts
        row += 1
    for core in cores:
        flux, row = row, row + 1
        matrix[flux, flux] = -MAGNETISING
        for a, b, ratio, ohms in core:
            matrix[a, row] += 1
            matrix[b, row] -= 1
            matrix[row, a] += 1
            matrix[row, b] -= 1
            matrix[row, flux], matrix[row, row] = -ratio, -ohms
            matrix[flux, row] = ratio  # ampere turns sum to nothing
            row += 1
    for ground in grounds:
        matrix[ground] = 0
        matrix[ground, ground] = 1
        rhs[ground] = 0
    volts = np.linalg.lstsq(matrix, rhs, rcond=None)[0]
    return {name: complex(volts[number]) for name, number in at.items()}


def _parts(network: Network, closed: set[str], at: dict[str, int]):  # type: ignore[no-untyped-def]
    resistors, sources, cores = [], [], []
    for wire in network.conductors:
        resistors.append((at[wire.a], at[wire.b], max(wire.ohms or 0, LEAST)))
    for device in network.devices:
        for part in device.inside:

            def node(name: str, device: str = device.id) -> int:
                return at[f"{device}.{name}"]

            if isinstance(part, Transformer):
                series = part.secondary_volts**2 / (part.va or 0) * (part.regulation_pct or 0) / 100
                taps = [(node(tap.terminal), node(part.primary_common), tap.volts / part.secondary_volts, 0.0)
                        for tap in part.primary_taps]  # fmt: skip
                cores.append([*taps, (node(part.secondary_plus), node(part.secondary_minus), 1.0, series)])
            elif isinstance(part, AcSource):
                phasor = part.volts * cmath.exp(1j * math.radians(part.phase_deg))
                sources.append((node(part.plus), node(part.minus), phasor, max(part.ohms, LEAST)))
            elif isinstance(part, DcSource):
                resistors.append((node(part.plus), node(part.minus), part.ohms))
            elif isinstance(part, Coil | Load):
                resistors.append((node(part.a), node(part.b), (part.rated_volts or 24) ** 2 / (part.va or 0)))
            elif isinstance(part, Contact):
                if f"{device.id}.{part.id}" in closed:
                    resistors.append((node(part.a), node(part.b), CLOSED))
            else:
                resistors.append((node(part.a), node(part.b), max(part.ohms, LEAST)))
    return [r for r in resistors if r[0] != r[1]], sources, cores


def spice_volts(text: str, folder: Path) -> tuple[dict[str, complex], dict[str, float]]:
    """What ngspice finds: phasors by `.ac`, direct volts by `.op`, by its own node names."""
    ac, direct, file = folder / "ac.raw", folder / "op.raw", folder / "net.cir"
    control = f"\n.control\nset filetype=ascii\nac lin 1 60 60\nwrite {ac} all\nop\nwrite {direct} all\nquit\n.endc\n"
    file.write_text("\n".join(line for line in text.splitlines() if not line.startswith(".")) + control + ".end\n")
    subprocess.run(["ngspice", "-b", str(file)], check=True, capture_output=True, timeout=600)
    return _raw(ac), {name: value.real for name, value in _raw(direct).items()}


def _raw(file: Path) -> dict[str, complex]:
    head, _, values = file.read_text().partition("Values:\n")
    names = [line.split()[1] for line in head.partition("Variables:\n")[2].strip().splitlines()]
    figures = [complex(*map(float, word.split(","))) for word in values.split()[1:]]
    return {name[2:-1]: value for name, value in zip(names, figures, strict=True) if name.startswith("v(")}
