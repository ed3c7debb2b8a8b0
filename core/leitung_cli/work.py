"""`leitung lockout`, `start-up`, `loadout`, `week`: the work as it is computed from a plan, to be checked."""

from __future__ import annotations

from typing import Annotated, Any, NoReturn

import typer
from leitung_core.cautions import QUALIFIED
from leitung_core.commissioning.caught import caught
from leitung_core.commissioning.lockout import LockOut, lock_out
from leitung_core.commissioning.steps import StartUp, is_live
from leitung_core.commissioning.tests import FunctionalTest
from leitung_core.control.system import systems_of
from leitung_core.loadout.cuts import cuts
from leitung_core.loadout.take_off import load_out
from leitung_core.loadout.written import amount, cuts_in_words
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.result import check_and_brief
from leitung_core.sizing import size_all
from leitung_core.slips.before_power import GRAVE
from leitung_core.slips.harm import HARM_WORDS
from leitung_core.week.document import read_week
from leitung_core.week.plan import Planned, plan_week
from leitung_core.worklist.total import hands

from leitung_cli.files import FileArgument, JsonOption, load
from leitung_cli.networks import print_json


def lockout(
    plan: FileArgument,
    touch: Annotated[
        list[str], typer.Option("--touch", help="what a hand will touch: DEVICE or DEVICE.STRIP; again for more")
    ],
    as_json: JsonOption = False,
) -> None:
    """Say what to open and lock so that what a hand touches is dead, proved by the solver."""
    found = lock_out(Plant(read_plan(load(plan))), touch)
    if as_json:
        print_json(found.model_dump(mode="json"))
    else:
        _print(found)
    raise SystemExit(0 if found.proved else 1)


def _print(found: LockOut) -> None:
    print("proved dead" if found.proved else "NOT proved dead", f"({found.states} states)")
    for row in found.open:
        print(f"  open and lock the {row.kind} {row.device}: {row.why}")
    for other in found.also:
        print(f"  or: {', '.join(other)}")
    for strip in found.stays_live:
        print(f"  stays live: {strip.at}, {strip.volts:g} V: {strip.why}")
    for caution in found.cautions:
        print(f"  {caution}")
    print(f"  {QUALIFIED}")


def start_up(
    plan: FileArgument,
    as_json: JsonOption = False,
    if_slips: Annotated[
        bool, typer.Option("--mistakes", help="every single mistake, and the step in which it shows first")
    ] = False,
) -> None:
    """Say what a start-up asks for, step by step: needs, readings predicted, tests, how long it takes."""
    document = read_plan(load(plan))
    if if_slips:
        _mistakes(Plant(document), as_json)
    _, brief = check_and_brief(document)
    if as_json:
        print_json(_open_form(brief.start_up))
    else:
        _print_start_up(brief.start_up)
        for row in brief.stops:
            print(f"  stop: {row.about}: {row.message}")
        print(f"  {QUALIFIED}")
    raise SystemExit(1 if brief.stops else 0)


def _mistakes(plant: Plant, as_json: bool) -> NoReturn:
    """Where each mistake of every system shows; exit 1 where one shocks or destroys and no ohmmeter shows it."""
    found = [entry for system in systems_of(plant) for entry in caught(system)]
    rows = [{"mistake": entry.mistake.id, "says": entry.mistake.says, "harm": entry.harm, "step": entry.step,
             "in_time": entry.in_time} for entry in found]  # fmt: skip
    if as_json:
        print_json({"mistakes": rows})
    else:
        late = [entry for entry in found if not entry.in_time]
        print(f"{len(found)} mistakes; in {len(found) - len(late)} nothing harms before it shows")
        for entry in late:
            print(f"  {entry.mistake.says} ({HARM_WORDS[entry.harm]}; shows in {entry.step or 'no step'})")
    raise SystemExit(1 if any(not entry.in_time and entry.harm in GRAVE for entry in found) else 0)


def _cause(test: FunctionalTest) -> str:
    """A test in the open form is one cause with all that it must stop: it is provoked once."""
    return f"{test.system}/{test.cause.partition(':')[2]}"


def _open_form(found: StartUp) -> dict[str, Any]:
    tests: dict[str, list[FunctionalTest]] = {}
    for test in found.tests:
        tests.setdefault(_cause(test), []).append(test)
    whole = {test.key: _cause(test) for test in found.tests}
    return {
        "steps": [
            {"key": step.key, "about": step.about, "phase": step.phase, "text": step.text, "needs": step.needs,
             "hold": step.hold, "does": step.does, "device": step.device, "reads": step.reads,
             "tests": list(dict.fromkeys(whole[key] for key in step.tests)), "caution": step.caution,
             "minutes": step.minutes, "wait_s": step.wait_s}
            for step in found.steps
        ],
        "readings": [
            {"key": point.key, "about": point.about, "from": point.terminal_from, "to": point.terminal_to,
             "unit": point.unit, "state": point.state, "dc": point.dc, "expected": point.expected, "low": point.low,
             "high": point.high, "basis": point.basis}
            for point in found.readings
        ],
        "tests": [
            {"key": key, "about": f"devices/{rows[0].system}", "cause": rows[0].cause.partition(":")[2],
             "must_stop": [row.effect for row in rows], "provoke": rows[0].provoke, "within_s": rows[0].within_s,
             "reset": rows[0].reset}
            for key, rows in tests.items()
        ],
        "clock": found.clock.model_dump(),
    }  # fmt: skip


def _print_start_up(found: StartUp) -> None:
    print(f"{len(found.steps)} steps, {found.clock.one_after_another_min:g} minutes one after another, "
          f"{found.clock.interleaved_min:g} with waits used")  # fmt: skip
    for phase in found.phases:
        steps = [step for step in found.steps if step.phase == phase.id]
        if steps:
            print(phase.name)
        for step in steps:
            print(f"  {'!' if step.hold else ' '} {step.key}: {step.text}{' (live)' if is_live(step) else ''}")
            if step.caution:
                print(f"      {step.caution}")
    for point in found.readings:
        said = "not known" if point.expected is None else f"about {point.expected:g} {point.unit}"
        print(f"  {point.text}: {said}; {point.basis}")


def worklist(plan: FileArgument, as_json: JsonOption = False) -> None:
    """Say who does what at an install, in which order and how long, from its plan and its start-up."""
    _, brief = check_and_brief(read_plan(load(plan)))
    found = brief.work
    if as_json:
        print_json(found.model_dump(mode="json", by_alias=True))
    else:
        for task in found.tasks:
            after = ", ".join(f"{one.task}{f' + {one.wait_min} min' if one.wait_min else ''}" for one in task.after)
            lasts = f"{task.minutes.low:g} to {task.minutes.high:g} min"
            by = " + ".join(task.people)
            print(f"  {task.key}: {task.text} ({by}; {lasts}){f'; after {after}' if after else ''}")
            for lack in task.lacks:
                print(f"      not known: {lack}")
        hours = hands(found.tasks)
        print(f"  {hours.low:.0f} to {hours.high:.0f} hours of hands, by shipped ranges")
        print(f"  {QUALIFIED}")
    raise SystemExit(0)


def loadout(plan: FileArgument, as_json: JsonOption = False) -> None:
    """Count what an install takes along, each thing once, with what it is for."""
    plant = Plant(read_plan(load(plan)))
    found = load_out(plant, size_all(plant))
    if as_json:
        print_json({"rows": [row.model_dump(mode="json", by_alias=True, exclude_none=True) for row in found.rows],
                    "unknown": [row.model_dump(mode="json") for row in found.unknown],
                    "cuts": [cut.model_dump(mode="json") for cut in cuts(found)]})  # fmt: skip
    else:
        group, cut = "", cuts_in_words(found)
        for row in found.rows:
            if row.group != group:
                group = row.group
                print(group)
            print(f"  {amount(row):>8}  {row.item}  ({', '.join(row.for_[:4])}{' …' if len(row.for_) > 4 else ''})")
            if row.item in cut:
                print(f"            {cut[row.item]}")
        for lacking in found.unknown:
            print(f"  not known: {lacking.about}: {lacking.says}")
    raise SystemExit(0)


def week(file: FileArgument, as_json: JsonOption = False) -> None:
    """Plan a crew's week: fewest visits, least idling, as early as can be; or say what cannot all be had."""
    found = plan_week(read_week(load(file)))
    if as_json:
        print_json(found.model_dump(mode="json", by_alias=True, exclude_none=True))
    else:
        _print_week(found)
    raise SystemExit(0 if found.assignments else 1)


def _print_week(found: Planned) -> None:
    if not found.assignments:
        print(f"{found.status}: cannot all be had: {', '.join(found.conflict) or 'not found in time'}")
        return
    print(f"{found.status}: {found.visits} visits, {found.idle_min} minutes idle")
    day = ""
    for row in found.assignments:
        if row.day != day:
            day = row.day
            print(day)
        print(f"  {row.from_} to {row.to}  {row.task}  ({', '.join(row.people)})")
