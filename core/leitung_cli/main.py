"""`leitung check`, `size` and `device`. Exit codes: 0 nothing to stop for, 1 a stop finding, 2 unreadable input."""

from __future__ import annotations

import sys

import typer
from leitung_core.bench.alone import prove
from leitung_core.catalogue.device import function_of, read_device_type
from leitung_core.catalogue.functions import functions
from leitung_core.cautions import QUALIFIED
from leitung_core.circuits import CircuitResult, size_document
from leitung_core.errors import InputError
from leitung_core.findings import Finding, worst
from leitung_core.plan.model import read_plan
from leitung_core.result import check_plan
from leitung_core.units import say, say_size

from leitung_cli import entry, networks, supply, work
from leitung_cli import verify as verifying
from leitung_cli.files import FileArgument, JsonOption, load

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)


@app.command()
def check(plan: FileArgument, as_json: JsonOption = False) -> None:
    """Check a plan file: the same results and findings as on the screen."""
    document = read_plan(load(plan))
    result = check_plan(document)
    if as_json:
        print(result.model_dump_json(indent=2))
    else:
        for circuit_id, circuit in result.circuits.items():
            print(f"{circuit_id}")
            _print_circuit(circuit)
        for source_id, panel in result.panels.items():
            free = f", {panel.free} spaces free" if panel.spaces else ""
            print(f"{source_id}  {_of(panel.demand_a)} of {_of(panel.capacity_a)}{free}")
        for cable in result.wiring.cables.values():
            ends = [wire for wire in cable.conductors if "landed" in (wire.a.state, wire.b.state)]
            print(f"{cable.id}  {cable.title}: {cable.says}, {cable.length}; {len(ends)} landed")
        for question_id, answer in result.answers.items():
            print(f"{question_id}  {answer.verdict}")
        _print_findings(result.findings)
    raise SystemExit(1 if result.worst == "stop" else 0)


@app.command()
def size(file: FileArgument, as_json: JsonOption = False) -> None:
    """Size one circuit from a size document."""
    result = size_document(load(file))
    if as_json:
        print(result.model_dump_json(indent=2))
    else:
        _print_circuit(result)
        for step in result.steps:
            value = "" if step.value is None else f" {step.value} {step.unit}"
            print(f"  {step.what}:{value}  ({step.formula}; {step.article})")
        _print_findings(result.findings)
    raise SystemExit(1 if worst(result.findings) == "stop" else 0)


@app.command()
def device(file: FileArgument) -> None:
    """Check a device file: its terminals as a strip would show them, or what does not fit."""
    kind = read_device_type(load(file), "device")
    print(f"{kind.id}  {kind.name}, {kind.group}")
    for strip in kind.strips:
        print(f"  {strip.name}")
        for terminal in strip.terminals:
            function = function_of(terminal, kind, {})
            says = terminal.says or (functions()[function].says if function else "nothing of its own")
            print(f"    {terminal.label or terminal.id:<8} {says}{', may not stay open' if terminal.required else ''}")
    proof = prove(kind)
    print(f"  {proof.fed}")
    for trial in proof.trials:
        print(f"    {trial.says}: {trial.does}")
        for words in trial.against:
            print(f"      {words}")
    if proof.never:
        print(f"  Moved by none of these: {', '.join(proof.never)}.")
    raise SystemExit(0)


def _of(amps: float | None) -> str:
    return "not known" if amps is None else f"{say(amps)} A"


def _print_circuit(result: CircuitResult) -> None:
    def figure(value: float | None, unit: str) -> str:
        return "not known" if value is None else f"{say(value, 2)} {unit}"

    size_text = say_size(result.conductor) if result.conductor else "not known"
    print(f"  breaker or fuse      {figure(result.ocpd_a, 'A')}, at most {figure(result.max_ocpd_a, 'A')}")
    print(f"  least conductor      {size_text}, carries {figure(result.conductor_ampacity_a, 'A')}")
    print(f"  proposed carries     {figure(result.proposed_ampacity_a, 'A')}, in hand {figure(result.margin_a, 'A')}")
    print(f"  grounding conductor  {say_size(result.proposed_egc) if result.proposed_egc else 'not known'}")
    print(f"  disconnect           {figure(result.disconnect_a, 'A')}, at least {figure(result.disconnect_min_a, 'A')}")
    print(f"  voltage drop         {figure(result.voltage_drop_v, 'V')}, {figure(result.voltage_drop_pct, '%')}")


def _print_findings(findings: list[Finding]) -> None:
    for finding in findings:
        fix = f" -> {finding.fix_label}" if finding.fix_label else ""
        print(f"{finding.severity}: {finding.message} [{finding.code}; {finding.about}; {finding.article}]{fix}")
    print(QUALIFIED)


app.command("solve")(networks.solve)
app.command("netlist")(networks.netlist)
app.command("network")(networks.network)
app.command("simulate")(networks.simulate_plan)
app.command("mistakes")(networks.mistakes)
app.command("verify")(verifying.verify)
app.command("read")(entry.read)
app.command("unit")(entry.unit)
app.command("plate")(entry.plate)
app.command("schedule")(entry.schedule)
app.command("starting")(supply.starting)
app.command("log")(supply.log)
app.command("lockout")(work.lockout)
app.command("start-up")(work.start_up)
app.command("loadout")(work.loadout)
app.command("worklist")(work.worklist)
app.command("week")(work.week)


def main() -> None:
    """Run the command; unreadable input ends with code 2 and a line for each problem on standard error."""
    try:
        app()
    except InputError as error:
        for problem in error.problems:
            print(problem, file=sys.stderr)
        raise SystemExit(2) from None


if __name__ == "__main__":
    main()
