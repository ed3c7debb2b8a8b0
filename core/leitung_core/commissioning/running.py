"""What is energised called through: each call and what runs then, readings at full call, interlocks proved."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence

from leitung_core.commissioning.called import Call, Called, called, state_of, under_load
from leitung_core.commissioning.steps import ReadingPoint, StartStep
from leitung_core.commissioning.tests import FunctionalTest
from leitung_core.commissioning.waits import steady_after, wait
from leitung_core.control.system import System
from leitung_core.elements.signals import signals
from leitung_core.plant.plant import Plant
from leitung_core.units import say, sentence

ORDER = ["call:fan", "call:cool", "call:cool-zone-b", "call:second-stage", "call:heat", "call:second-stage-heat",
         "call:emergency-heat", "call:humidify", "call:dehumidify"]  # fmt: skip
COMPRESSOR = ("cooling", "dehumidifier")
# What a call adds to a unit that rests: less is its electronics and relays.
MOVED, MOVED_VA = 1.1, 30.0
FIRST_HEAT = "First heat smells of oil and dust for minutes: air the room, stay by it."


def system_runs(
    system: System, before: Sequence[str], at_rest: Sequence[ReadingPoint], line_reads: Mapping[str, Sequence[str]],
    of_device: Mapping[str, str],
) -> Iterator[StartStep]:  # fmt: skip
    """A system from its control volts through every call, one after the other.

    line_reads: for each line that its calls may bring to full call, what is read then. of_device: each device's line.
    """
    about, told = f"devices/{system.key}", called(system)
    if at_rest:
        yield StartStep(
            key=f"{about}.control", about=about, phase="running", text="Read the control volts, nothing called.",
            needs=list(before), hold=True, does="read", reads=[point.key for point in at_rest],
            lines=_lines((point.terminal_from.partition(".")[0] for point in at_rest), of_device),
            minutes=max(2.0, len(at_rest)),
        )  # fmt: skip
        before = [f"{about}.control"]
    loaded: dict[str, list[str]] = {}
    for name, point in under_load(system):
        loaded.setdefault(name, []).append(point.key)
    full = full_calls(system, told, list(line_reads))
    for call in in_call_order(told.calls):
        name = call.name.partition(":")[2]
        key = f"{about}.call-{name}"
        beside = " and ".join(signals()[other].short for other in state_of(system, call.name) if other != call.name)
        runs = f"Runs: {', '.join(call.runs)}." if call.runs else "By the plan nothing is to run."
        made = f"{signals()[call.name].short}{f' with {beside}' if beside else ''}"
        yield StartStep(
            key=key, about=about, phase="running", text=f"Call {made}, nothing else. {runs}",
            caution=FIRST_HEAT if name.endswith("heat") else None, needs=list(before), minutes=3,
            wait_s=steady_after(call.name), lines=_lines(call.va, of_device),
        )  # fmt: skip
        before = [key]
        held = held_off(told, call)
        if held:
            yield StartStep(
                key=f"{about}.alone-{name}", about=about, phase="running", needs=before, hold=True, does="hold",
                text=f"Take {beside} off, {signals()[call.name].short} still called: {', '.join(held)} must stop. "
                "Then as before.", lines=_lines(call.va, of_device),
            )  # fmt: skip
            before = [f"{about}.alone-{name}"]
        if call.name in loaded:
            yield StartStep(
                key=f"{about}.loaded-{name}", about=about, phase="running", needs=[key],
                text="Read the control volts under this load.", lines=_lines(call.va, of_device), does="read",
                reads=loaded[call.name], minutes=2,
            )  # fmt: skip
            before.append(f"{about}.loaded-{name}")
        for line in line_reads:
            if full.get(line) == call.name:
                yield _at_full_call(line, [key], line_reads[line])
                before.append(f"{line}.full-call")


def _devices_of(system: System, tests: Sequence[FunctionalTest]) -> Iterator[str]:
    """The devices whose loads some tests must see stop."""
    for test in tests:
        yield from (load.rpartition(".")[0] for load in system.effects.get(test.effect, ()))


def _lines(devices: Iterable[str], of_device: Mapping[str, str]) -> list[str]:
    return sorted({of_device[key] for key in devices if key in of_device})


def held_off(told: Called, call: Call) -> list[str]:
    """What a call may not run by itself: it runs with what the call never comes without, and not alone."""
    alone = told.alone.get(call.name)
    return [name for name in call.runs if name not in alone.runs] if alone is not None else []


def in_call_order(calls: Iterable[Call]) -> list[Call]:
    """Calls in the order in which they are made at start-up: air first, then what needs it."""
    return sorted(calls, key=lambda call: ORDER.index(call.name) if call.name in ORDER else len(ORDER))


def full_calls(system: System, told: Called, lines: Sequence[str]) -> dict[str, str]:
    """For each line the call in which its unit draws most; none where no call moves it."""
    plan, found = system.plant.plan, {}
    for line in lines:
        mine = system.plant.index.devices_of_unit.get(plan.circuits[line].equipment, ())
        drawn = {call.name: sum(call.va.get(key, 0.0) for key in mine) for call in told.calls}
        resting = sum(told.resting.va.get(key, 0.0) for key in mine)
        most = max(drawn, key=lambda name: drawn[name], default=None)
        if most is not None and drawn[most] > MOVED * resting + MOVED_VA:
            found[line] = most
    return found


def _at_full_call(line: str, needs: list[str], reads: Sequence[str]) -> StartStep:
    return StartStep(
        key=f"{line}.full-call", about=f"circuits/{line}", phase="running", needs=needs, does="read", reads=list(reads),
        text="Read volts and current at full call, once they are steady.", minutes=max(2.0, len(reads)),
    )  # fmt: skip


def line_runs(line: str, reads: Sequence[str]) -> Iterator[StartStep]:
    """A unit that no call of a drawn system moves, set running by its own controls."""
    yield StartStep(
        key=f"{line}.run", about=f"circuits/{line}", phase="running", needs=[f"{line}.disconnect-on"], minutes=3,
        text="Set the unit running at its highest, by its own controls.", wait_s=steady_after("call:cool"),
    )  # fmt: skip
    yield _at_full_call(line, [f"{line}.run"], reads)


def turns(line: str) -> StartStep:
    """On three phases every motor's way round, seen before anything runs for long."""
    return StartStep(
        key=f"{line}.rotation", about=f"circuits/{line}", phase="running", needs=[f"{line}.disconnect-on"], minutes=5,
        text="Three phases: every motor called for a moment turns the way of its arrow; a scroll compressor that roars "
        "turns backwards. If one does not: off, locked, proved dead, two lines exchanged.",
        hold=True, does="hold", caution="Backwards a scroll compressor ruins itself within minutes.",
    )  # fmt: skip


def starter_learns(plant: Plant, line: str, device: str) -> StartStep:
    """A soft starter's learning: its starts and the rests between, which nothing shortens."""
    starts, on_s, rest_s = (wait(name) for name in ("learn-starts", "learn-on", "learn-rest"))
    name = plant.plan.devices[device].name or device
    return StartStep(
        key=f"{line}.learn", about=f"circuits/{line}", phase="running", needs=[f"{line}.disconnect-on"], minutes=5,
        text=f"{name} learns: {say(starts)} starts of {say(on_s)} s each, counted from when the compressor draws, "
        f"{say(rest_s / 60)} minutes between; every other load off, on a source known to start the unit.",
        wait_s=starts * on_s + (starts - 1) * rest_s,
    )  # fmt: skip


def interlocks_proved(
    system: System, tests: Sequence[FunctionalTest], after: Sequence[str], out: Sequence[str],
    of_device: Mapping[str, str],
) -> Iterator[StartStep]:  # fmt: skip
    """Each cause provoked once, all that it must stop seen to stop. `out`: what was put in for tests, removed."""
    about = f"devices/{system.key}"
    before = [*after, *out]
    by_cause: dict[str, list[FunctionalTest]] = {}
    for test in tests:
        by_cause.setdefault(test.cause, []).append(test)
    if "cause:smoke" in by_cause:
        key = f"{about}.detector"
        yield StartStep(
            key=key, about=about, phase="proofs", text="Wait out the detector's start delay: its lamp says that it is "
            "ready.", needs=before, wait_s=wait("detector"),
        )  # fmt: skip
        before = [key]
    for cause, rows in by_cause.items():
        key = f"{about}.prove-{cause.partition(':')[2]}"
        first = rows[0]
        within = f" within {say(first.within_s)} s" if first.within_s else ""
        how = first.provoke or f"Bring about: {first.cause_words}."
        reset = f" {first.reset}" if first.reset else ""
        stops = any(row.effect in COMPRESSOR for row in rows)
        yield StartStep(
            key=key, about=about, phase="proofs", hold=True, does="test", tests=[row.key for row in rows],
            text=f"{sentence(first.cause_words)}, with what it must stop running. {how} "
            f"Stops{within}: {', '.join(row.effect for row in rows)}.{reset}",
            needs=before, minutes=3 + len(rows),
            lines=_lines(_devices_of(system, rows), of_device), wait_s=wait("short-cycle") if stops else 0,
        )  # fmt: skip
        before = [key]
