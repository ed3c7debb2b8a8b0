"""What the bench costs: one state, many variants, every single mistake, and the same states in a circuit simulator."""

from __future__ import annotations

import subprocess
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from leitung_core.bench.frames import bench_run
from leitung_core.bench.ladder import ladder
from leitung_core.control.solved import one
from leitung_core.control.system import System, systems_of
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.slips.fewest_tests import choose
from leitung_core.slips.harm import slips
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Stretch, settle
from leitung_core.solver.flow import solve
from leitung_core.solver.netlist import netlist
from leitung_demo import museum

Report = Callable[[str, list[float], str], None]
Timed = Callable[[Callable[[], object], int, int], list[float]]
COOL = (Stretch(frozenset({"call:cool", "call:humidify"}), 600.0),)


def vault() -> System:
    """The museum's string vault."""
    return systems_of(Plant(read_plan(museum())))[0]


def bench_network(timed: Timed, report: Report, times: int) -> None:
    """Everything in the core, on the string vault."""
    system = vault()
    net = Compiled(system.network)
    terminals = sum(1 for name in net.names if "._" not in name)
    note = f"{terminals} terminals, {net.nodes} nodes, {len(net.y)} branches"
    report("the vault: one state, contacts to rest", timed(lambda: settle(net, [COOL]), times, 3), note)
    ladder(system)
    report("the vault: one press, every frame with its reasons", timed(lambda: bench_run(system, COOL), times, 3), "")
    each = []
    for count in (250, 1000, 4000):
        values = timed(lambda count=count: settle(net, [COOL] * count), 5, 1)  # type: ignore[misc]
        each.append(float(np.median(values)) / count)
        report(f"the vault: {count} variants at once", values, f"{each[-1]:.3f} ms a variant")
    values = timed(lambda: slips(system), 5, 1)
    found = slips(system)
    cases = len(found.slips) * len(found.trials)
    note = f"{len(found.slips)} mistakes over {len(found.trials)} trials, {np.median(values) / cases:.3f} ms each"
    report("the vault: every single mistake over every call", values, note)
    report("the vault: the tests chosen", timed(lambda: choose(found), 5, 1), f"{len(choose(found).tests)} tests")
    _against_a_simulator(system, net, timed, report)


def _against_a_simulator(system: System, net: Compiled, timed: Timed, report: Report) -> None:
    """The linear solution of the same states: the solver's, and ngspice's by its own clock, start-up excluded."""
    state = settle(net, [COOL])
    mine = timed(lambda: solve(net, state.present), 50, 3)
    text = netlist(one(state, 0), "vault")
    body = "\n".join(line for line in text.splitlines() if not line.startswith("."))
    laps = 400
    with tempfile.TemporaryDirectory() as folder:

        def seconds(count: int) -> float:
            runs = f"repeat {count}\nac lin 1 60 60\nend\n"
            file = Path(folder) / "net.cir"
            file.write_text(f"{body}\n.control\n{runs}quit\n.endc\n.end\n")
            started = time.perf_counter()
            subprocess.run(["ngspice", "-b", file], check=True, capture_output=True)
            return time.perf_counter() - started

        theirs = (seconds(laps) - seconds(1)) / (laps - 1) * 1000
    many = np.repeat(state.present, 1000, axis=1)
    batch = float(np.median(timed(lambda: solve(net, many), 3, 1))) / 1000
    alone = theirs / float(np.median(mine))
    note = f"ngspice {theirs:.3f} ms a state: {alone:.1f} times; in a batch {theirs / batch:.1f} times"
    report("the vault: one linear solution", mine, note)
