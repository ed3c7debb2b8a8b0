"""The same start in a circuit simulator: sources that step, and a resistance that is there while a rotor is locked.

Written from the trial's figures alone. Volts stand for volts leg to neutral, amperes for amperes of the one leg.
"""

from __future__ import annotations

import subprocess
from pathlib import Path

from leitung_core.starting.case import Case

EDGE_S = 1e-4


def deck(case: Case, until_s: float) -> str:
    """A netlist of one leg: source, ohms, feeders, each part of each load."""
    supply = case.supply
    lines = ["start", f"VS s 0 {supply.volts}", f"RS s u {supply.ohms}"]
    lines += [f"RF{key} u{row.behind} u{key} {row.ohms}" for key, row in supply.feeders.items()]
    for number, call in enumerate(case.calls):
        load = next(load for load in case.loads if load.id == call.load)
        on, parts, node = call.at_s, [], f"u{load.behind}"
        if load.steady_a is not None:
            parts.append((on, until_s, load.steady_a))
        if load.fan:
            up = on + (load.fan.inrush_s or 0)
            parts += [(on, up, load.fan.inrush_a), (up, until_s, load.fan.running_a)]
        if load.compressor:
            begins = on + load.after_s
            up = begins + (load.compressor.start_s or 0)
            parts.append((up, until_s, load.compressor.running_a))
            ohms = supply.volts / (load.compressor.start_a or 1)
            pulse = _pulse(begins, up, 1.0)
            lines += [f"VC{number} c{number} 0 {pulse}", f"BL{number} {node} 0 I=V({node})/{ohms}*V(c{number})"]
        lines += [
            f"I{number}x{at} {node} 0 {_pulse(start, end, amps or 0)}" for at, (start, end, amps) in enumerate(parts)
        ]
    return "\n".join(
        [*lines, f".tran 1m {until_s} 0 5m", ".control", "run", "wrdata out v(u)", "quit", ".endc", ".end"]
    )


def _pulse(start: float, end: float, value: float) -> str:
    if start <= 0:
        return f"PWL(0 {value} {end} {value} {end + EDGE_S} 0)"
    return f"PWL(0 0 {start} 0 {start + EDGE_S} {value} {end} {value} {end + EDGE_S} 0)"


def volts(case: Case, until_s: float, folder: Path) -> list[tuple[float, float]]:
    """Seconds and the volts left at the units, as ngspice finds them."""
    file = folder / "start.cir"
    file.write_text(deck(case, until_s))
    subprocess.run(["ngspice", "-b", str(file)], check=True, capture_output=True, timeout=300, cwd=folder)
    rows = (line.split() for line in (folder / "out").read_text().splitlines())
    return [(float(row[0]), float(row[1])) for row in rows]
