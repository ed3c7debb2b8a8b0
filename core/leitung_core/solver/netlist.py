"""A solved state as a SPICE netlist, so that anyone can check the solver with a circuit simulator.

Contacts stand as they came to rest. `.ac` at 60 Hz gives the rms phasors, `.op` the direct voltages: a transformer's
flux node has an inductance to ground, so that on direct current its windings are their resistance alone.
"""

from __future__ import annotations

import re

import numpy as np

from leitung_core.elements.vocabulary import HERTZ, AcSource, DcSource, DcSupply
from leitung_core.solver.compiled import MAGNETISING_S, Compiled
from leitung_core.solver.contacts import Solution


def spice_names(net: Compiled) -> dict[str, str]:
    """A name that SPICE takes for each node."""
    found: dict[str, str] = {}
    taken: set[str] = set()
    for name in net.names:
        base = "n_" + re.sub(r"[^a-z0-9]+", "_", name.lower())
        word, number = base, 1
        while word in taken:
            number += 1
            word = f"{base}_{number}"
        taken.add(word)
        found[name] = word
    return found


def netlist(state: Solution, title: str, column: int = 0) -> str:
    """The netlist of one variant of a run."""
    net, words = state.net, spice_names(state.net)
    node = [words[name] for name in net.names] + [f"flux_{number}" for number in range(len(net.cores))]
    lines = [f"* {title}", "* rms phasors at 60 Hz by .ac, direct voltages by .op; contacts as they came to rest"]
    lines += [f"* {words[name]} = {name}" for name in net.names]
    number = 0
    for name, branch in net.branch.items():
        if not state.present[branch, column]:
            continue
        number += 1
        a, b, ohms = node[net.a[branch]], node[net.b[branch]], complex(1 / net.y[branch])
        if a == b:
            continue
        lines.append(f"* {name}")
        part = net.element.get(name)
        if isinstance(part, AcSource):
            lines.append(f"V{number} e{number} {b} DC 0 AC {part.volts:.9g} {part.phase_deg:.9g}")
            b = f"e{number}"
        elif isinstance(part, DcSource | DcSupply):
            lines.append(f"V{number} e{number} {b} DC {part.volts:.9g} AC 0")
            b = f"e{number}"
        lines += _branch(number, a, b, ohms)
    lines += _windings(net, node)
    lines.append("* each part of the network is measured from one node of its own")
    roots = np.unique(state.flow.paths[:, column])
    lines += [f"Rpin{count} {node[root]} 0 1" for count, root in enumerate(roots)]
    prints = [f".print ac vm({word}) vp({word})" for word in words.values()]
    return "\n".join([*lines, f".ac lin 1 {HERTZ} {HERTZ}", ".op", *prints, ".end", ""])


def _branch(number: int, a: str, b: str, ohms: complex) -> list[str]:
    """A resistance, with the inductance or the capacitance of its reactance at 60 Hz behind it."""
    omega = 2 * np.pi * HERTZ
    if not ohms.imag:
        return [f"R{number} {a} {b} {ohms.real:.9g}"]
    if ohms.imag < 0:
        return [f"C{number} {a} {b} {-1 / (omega * ohms.imag):.9g}"]
    return [f"R{number} {a} x_{number} {ohms.real:.9g}", f"L{number}x x_{number} {b} {ohms.imag / omega:.9g}"]


def _windings(net: Compiled, node: list[str]) -> list[str]:
    lines = []
    for number, winding in enumerate(net.windings):
        flux = node[net.nodes + winding.transformer]
        lines += [
            f"* winding of {net.cores[winding.transformer].name}, {winding.ratio:.6g} : 1",
            f"RW{number} {node[winding.a]} w{number} {1 / winding.siemens:.9g}",
            f"VW{number} w{number} x{number} DC 0 AC 0",
            f"EW{number} x{number} {node[winding.b]} {flux} 0 {winding.ratio:.9g}",
            f"FW{number} 0 {flux} VW{number} {winding.ratio:.9g}",
        ]
    henry = 1 / (MAGNETISING_S * 2 * np.pi * HERTZ)
    return lines + [f"L{number} {node[core.flux]} 0 {henry:.9g}" for number, core in enumerate(net.cores)]
