"""`leitung solve`, `netlist`, `network` and `simulate`: the solver, open to anyone who wants to check it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any

import orjson
import typer
from leitung_core.cautions import QUALIFIED
from leitung_core.control.simulate import Simulated, probe_between, signal_names, simulate
from leitung_core.control.solved import StateAnswer, after_fuses, answer_all, course_of, one
from leitung_core.control.system import System, systems_of, whole
from leitung_core.errors import InputError, Problem
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.slips.report import report
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import settle
from leitung_core.solver.netlist import netlist as spice
from leitung_core.solver.network import Network, node_names, read_network
from leitung_core.units import say
from pydantic import BaseModel

from leitung_cli.files import FileArgument, JsonOption, load


def solve(file: FileArgument, as_json: JsonOption = False) -> None:
    """Solve a bare network, or a list of them, for the states that it names."""
    data = load(file)
    networks = [_network(item, f"[{i}]") for i, item in enumerate(data)] if isinstance(data, list) else [_network(data)]
    answers = [answer_all(network) for network in networks]
    if as_json:
        found: Any = [{"states": [_dump(state) for state in states]} for states in answers]
        print_json(found if isinstance(data, list) else found[0])
    else:
        for states in answers:
            for state in states:
                _print_state(state)
    raise SystemExit(0)


def netlist(
    file: FileArgument,
    state: Annotated[str | None, typer.Option(help="the state to write; left out: the first")] = None,
    after_fuse: Annotated[bool, typer.Option("--after-fuse", help="with the fuses gone that open")] = False,
) -> None:
    """Write a solved state of a bare network as a SPICE netlist."""
    network = _network(load(file))
    names = [entry.name for entry in network.states]
    if not names or (state is not None and state not in names):
        raise InputError(Problem("state", state, "the network has no such state", f"It has: {', '.join(names)}."))
    column = names.index(state) if state is not None else 0
    solved = one(settle(Compiled(network), [course_of(entry) for entry in network.states]), column)
    opened = after_fuses(solved) if after_fuse else None
    print(spice(opened.run if opened else solved, f"state {names[column]!r}"), end="")
    raise SystemExit(0)


def network(plan: FileArgument, as_json: JsonOption = False) -> None:
    """Write the network of a plan, in the open form, with a state for nothing called and one for each call."""
    system = _whole(plan)
    on = [[], *([call] for call in system.calls)]
    states = [{"name": calls[0] if calls else "idle", "on": calls, "at_s": 600, "probes": []} for calls in on]
    data = system.network.model_dump(mode="json", exclude_none=True, by_alias=True, exclude={"states"})
    print_json(_tidy(data) | {"states": states})
    raise SystemExit(0)


def simulate_plan(
    plan: FileArgument,
    more: Annotated[list[str] | None, typer.Argument(help="further probes")] = None,
    calls: Annotated[str, typer.Option(help="what is called, with commas between")] = "",
    causes: Annotated[str, typer.Option(help="what has happened, with commas between")] = "",
    off: Annotated[str, typer.Option(help="breakers and switches that are off, by device")] = "",
    at: Annotated[float, typer.Option(min=0, max=1_000_000, help="seconds since")] = 600,
    probe: Annotated[
        list[str] | None, typer.Option(help="two terminals: device.strip.terminal:device.strip.terminal")
    ] = None,
    as_json: JsonOption = False,
) -> None:
    """Solve a plan for calls and causes: volts, what is on, what is wrong. Exit code 1 on a stop."""
    system = _whole(plan)
    on = signal_names(calls.split(","), "call", "calls") + signal_names(causes.split(","), "cause", "causes")
    on += [_hand(system, name.strip()) for name in off.split(",") if name.strip()]
    known = node_names(system.network)
    probes = [probe_between(text, known) for text in (*(probe or ()), *(more or ()))]
    found = simulate(system, on, at, probes)
    if as_json:
        dumped = _dump(found.answer)
        hazards = {"solver_hazards": dumped.pop("hazard_details")}
        print_json({"on": found.on, **dumped, **hazards, "findings": [row.model_dump() for row in found.findings],
                    "notes": found.notes})  # fmt: skip
    else:
        _print_simulated(found)
    raise SystemExit(1 if any(row.severity == "stop" for row in found.findings) else 0)


def mistakes(plan: FileArgument, as_json: JsonOption = False) -> None:
    """Carry every single mistake through every call: what each does, and the fewest tests that expose them all."""
    reports = [report(system)[0] for system in systems_of(Plant(read_plan(load(plan))))]
    if as_json:
        print_json({
            "mistakes": [{"system": r.system, **row} for r in reports for row in _rows(r.mistakes)],
            "tests": [{"system": r.system, **row} for r in reports for row in _rows(r.tests)],
            "before": [{"system": r.system, **row} for r in reports for row in _rows(r.before)],
            "hidden": [name for r in reports for name in r.hidden],
            "systems": [r.model_dump(mode="json", exclude={"mistakes", "tests", "before", "hidden"}) for r in reports],
        })  # fmt: skip
        raise SystemExit(0)
    for found in reports:
        print(f"{found.system}  {found.title}")
        for harm in found.harms:
            print(f"  {harm.count:4}  {harm.says}")
        for row in found.mistakes:
            if row.what:
                print(f"  {row.harm:<9} {row.says} -> {row.what}")
        if found.before:
            print(f"  before power: {found.dead}")
        for number, dead in enumerate(found.before, 1):
            print(f"  ohms {number}: {dead.says}: {dead.finds}; exposes {dead.exposes}")
        for number, test in enumerate(found.tests, 1):
            reads = (
                f" {say(test.volts or 0, 1)} V{' DC' if test.direct else ''} ± {say(test.tolerance_v or 0, 1)}"
                if test.a
                else f" {', '.join(test.runs)}"
            )
            print(f"  test {number}: {test.says}{reads}; exposes {test.exposes}")
        print(f"  {len(found.hidden)} show in no test, before power or under it")
    print(QUALIFIED)
    raise SystemExit(0)


def _rows(found: Sequence[BaseModel]) -> list[dict[str, Any]]:
    return [row.model_dump(mode="json") for row in found]


def _hand(system: System, device: str) -> str:
    name = f"hand:{device}"
    if name not in system.hands:
        known = ", ".join(hand.removeprefix("hand:") for hand in system.hands)
        raise InputError(Problem("off", device, "is no breaker or switch of this plan", f"Use: {known}."))
    return name


def _whole(file: str) -> System:
    return whole(Plant(read_plan(load(file))))


def _network(data: Any, root: str = "") -> Network:
    return read_network(data, root)


def _dump(state: StateAnswer) -> dict[str, Any]:
    found: dict[str, Any] = _tidy(state.model_dump(mode="json", by_alias=True))
    return found


def _tidy(value: Any) -> Any:
    """Without the ranges that are not there: a figure that is known has none."""
    if isinstance(value, dict):
        spans = {"low", "high", "volts_dc"}
        return {key: _tidy(item) for key, item in value.items() if not (key in spans and item is None)}
    return [_tidy(item) for item in value] if isinstance(value, list) else value


def print_json(data: Any) -> None:
    print(orjson.dumps(data, option=orjson.OPT_INDENT_2).decode())


def _print_state(state: StateAnswer) -> None:
    print(state.name or "state")
    for probe in state.probes:
        reads = "floating" if probe.floating else f"{say(probe.volts or 0, 2)} V{_span(probe.low, probe.high)}"
        direct = f", {say(probe.volts_dc, 2)} V DC" if probe.volts_dc is not None else ""
        print(f"  {probe.a} to {probe.b}: {reads}{direct}")
    for part in state.loads:
        word = "not known" if part.energised is None else "on" if part.energised else "off"
        volts = say(part.volts if part.volts_dc is None else part.volts_dc, 2)
        print(
            f"  {part.device}.{part.element:<10} {word:<9} {volts} V{_span(part.low, part.high)}, {say(part.amps, 3)} A"
        )
    for fuse in state.fuses:
        if fuse.opens:
            print(f"  {fuse.device}.{fuse.element} opens at {say(fuse.amps, 1)} A")
    for hazard in state.hazard_details:
        print(f"  {hazard.code}  {', '.join(hazard.about)}")


def _span(low: float | None, high: float | None) -> str:
    return f" ({say(low, 2)} to {say(high, 2)})" if low is not None and high is not None else ""


def _print_simulated(found: Simulated) -> None:
    _print_state(found.answer)
    for note in found.notes:
        print(f"note: {note}")
    for row in found.findings:
        print(f"{row.severity}: {row.message} [{row.code}; {row.about}; {row.hazard}]")
    print(QUALIFIED)
