"""An answer judged from its round alone. The browser has the same rules (`web/src/features/practice/judge.ts`) for
where there is no signal; one list of cases holds the two together (`cases.json` beside it).
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from typing import Annotated, Literal

from pydantic import Field

from leitung_core.errors import InputError, Problem
from leitung_core.practice.model import (
    AskedFigure,
    Choice,
    DeadTask,
    FaultTask,
    LandTask,
    Mend,
    OrderTask,
    Part,
    Round,
    RunsTask,
    SizeTask,
)
from leitung_core.units import sentence
from leitung_core.validation import Entered

# A figure is right within half a per cent: nobody is tested in rounding.
WITHIN = 0.005
Word = Annotated[str, Field(max_length=120)]
Words = Annotated[list[Word], Field(max_length=60)]


class Ends(Entered):
    """Where somebody landed the ends of a conductor."""

    a: Word | None = None
    b: Word | None = None


class Given(Entered):
    """What somebody answered: of it, what the level of the round asks for.

    figures: by the id of what was asked. landed: by conductor. chosen: what runs. readings: state and lead, in their
    order; lead -1: looked what runs. named: the number of a suspect. opened, order: by their ids.
    """

    figures: Annotated[dict[Word, float | Word], Field(max_length=10)] = {}
    landed: Annotated[dict[Word, Ends], Field(max_length=60)] = {}
    chosen: Words = []
    readings: Annotated[list[tuple[int, int]], Field(max_length=2000)] = []
    named: int | None = None
    opened: Words = []
    order: Words = []


class Told(Part):
    """One thing about an answer: right, wrong, or not decided by what was read."""

    right: bool | None
    says: str


class Verdict(Part):
    """Whether an answer is right, and each thing about it."""

    right: bool
    told: list[Told]


def judge(asked: Round, answer: Given) -> Verdict:
    """Judge an answer. Raises InputError where it names what is not in the round."""
    task = asked.task
    if isinstance(task, SizeTask):
        told = [_figure(figure, answer.figures.get(figure.id)) for figure in task.asked]
    elif isinstance(task, LandTask):
        told = list(_landed(task, answer.landed))
    elif isinstance(task, RunsTask):
        told = list(_runs(task, answer.chosen))
    elif isinstance(task, FaultTask):
        told = [*_named(task, answer.readings, answer.named), _opened(task.mend, answer.opened)]
    elif isinstance(task, DeadTask):
        told = [_opened(task.mend, answer.opened), *_ordered(task.steps, task.needs, answer.order)]
    else:
        assert isinstance(task, OrderTask)
        told = list(_ordered(task.steps, task.needs, answer.order))
    return Verdict(right=all(each.right for each in told), told=told)


def _figure(asked: AskedFigure, given: float | str | None) -> Told:
    right = f"{asked.right:g}" if isinstance(asked.right, float) else asked.right
    unit = f" {asked.unit}" if asked.unit else ""
    if given is None:
        return Told(right=False, says=f"{asked.says}: nothing entered. It is {right}{unit}.")
    if isinstance(asked.right, float):
        fits = isinstance(given, float) and abs(given - asked.right) <= WITHIN * asked.right
    else:
        fits = given == asked.right
    shown = f"{given:g}" if isinstance(given, float) else given
    return Told(right=fits, says=f"{asked.says}: {shown}{unit}{'' if fits else f', not so. It is {right}{unit}'}.")


def _landed(task: LandTask, landed: Mapping[str, Ends]) -> Iterator[Told]:
    wrong: dict[str, str] = {}
    for wire in task.wires:
        given = landed.get(wire.id) or Ends()
        ends: Sequence[tuple[Literal["a", "b"], str | None, str]] = (("a", given.a, wire.a), ("b", given.b, wire.b))
        off = [(end, there) for end, there, belongs in ends if there != belongs]
        wrong |= {f"{wire.id} {end}": there or "" for end, there in off}
        if not off:
            yield Told(right=True, says=task.why[wire.id])
    if not wrong:
        return
    known = task.slips.get(";".join(sorted(f"{key}={there}" for key, there in wrong.items())))
    if known:
        yield Told(right=False, says=known)
    for wire in task.wires:
        ends_off = [end for end in ("a", "b") if f"{wire.id} {end}" in wrong]
        if ends_off:
            missing = all(wrong[f"{wire.id} {end}"] == "" for end in ends_off)
            what = "is not landed" if missing else "is elsewhere"
            yield Told(right=False, says=sentence(f"{wire.colour} {what}. {task.why[wire.id]}"))


def _runs(task: RunsTask, chosen: Collection[str]) -> Iterator[Told]:
    for each in task.watched:
        runs = each.id in task.runs
        words = "runs" if runs else "does not run"
        yield Told(right=(each.id in chosen) == runs, says=sentence(f"{each.says} {words}. {task.why[each.id]}"))


def ruled_by(task: FaultTask, readings: Sequence[tuple[int, int]]) -> int:
    """The suspects that some readings rule out together, bit i for suspect i. Raises InputError for one not there."""
    found = 0
    for state, lead in readings:
        if not (0 <= state < len(task.rules) and -1 <= lead < len(task.leads)):
            remedy = "Take a state and a lead of the round."
            raise InputError(Problem("readings", [state, lead], "is no reading of this round", remedy))
        found |= int(task.sets[task.rules[state][lead if lead >= 0 else len(task.leads)]], 16)
    return found


def never_told(task: FaultTask) -> int:
    """The suspects that no reading tells from the hidden one, bit i for suspect i: each is as right as it."""
    every = 0
    for row in task.sets:
        every |= int(row, 16)
    return ~every & ((1 << len(task.suspects)) - 1)


def _named(task: FaultTask, readings: Sequence[tuple[int, int]], named: int | None) -> Iterator[Told]:
    if named is None or not 0 <= named < len(task.suspects):
        yield Told(right=False, says="No mistake was named.")
        return
    out, alike = ruled_by(task, readings), never_told(task)
    says = sentence(task.suspects[named].says)
    if out >> named & 1:
        first = next(each for each in readings if ruled_by(task, [each]) >> named & 1)
        yield Told(right=False, says=f"{says} That cannot be: {reading_words(task, first)} rules it out.")
        return
    left = (~out & ~alike & ((1 << len(task.suspects)) - 1)).bit_count()
    if left or not alike >> named & 1:
        others = left - (0 if alike >> named & 1 else 1) + alike.bit_count() - (1 if alike >> named & 1 else 0)
        also = "one other thing" if others == 1 else f"{others} other things"
        yield Told(right=None, says=f"{says} It explains all that was read; so would {also}. Read on.")
        return
    yield Told(right=True, says=f"{says} {_counted(task, len(set(readings)))}")


def _counted(task: FaultTask, count: int) -> str:
    """`Proved with 4 readings; it takes 3 as a rule, and cannot be done with fewer than 2.`"""
    most = f"cannot be done with fewer than {task.least}" if task.exact else f"can be done with {task.least}"
    return f"Proved with {_readings(count)}; who reads where most is told apart takes {task.usual}, and it {most}."


def _readings(count: int) -> str:
    return "one reading" if count == 1 else f"{count} readings"


def reading_words(task: FaultTask, reading: tuple[int, int]) -> str:
    """`with cool called, R of AH-1 to C of AH-1 reads 24 V`."""
    state, lead = reading
    where = f"with {task.states[state].says}"
    if lead < 0:
        running = [task.watched[number] for number in task.runs[state]]
        return f"{where}, what runs ({', '.join(dict.fromkeys(running)) or 'nothing'})"
    return f"{where}, {task.leads[lead].says} at {task.volts[state][lead]:g} V"


def _opened(mend: Mend, opened: Collection[str]) -> Told:
    names = [each.says for each in mend.options if each.id in opened]
    if any(set(least) <= set(opened) for least in mend.safe):
        return Told(right=True, says=f"{mend.device} is dead with {' and '.join(names)} open. Now prove it.")
    least = " and ".join(each.says for each in mend.options if each.id in mend.safe[0])
    shown = f"With {' and '.join(names)} open" if names else "With nothing open"
    return Told(right=False, says=f"{shown} it is not safe. {mend.harm} Open {least}.")


def _ordered(steps: Sequence[Choice], needs: Mapping[str, Sequence[str]], order: Sequence[str]) -> Iterator[Told]:
    says = {step.id: step.says for step in steps}
    if sorted(order) != sorted(says):
        yield Told(right=False, says="Not every step was put in order.")
        return
    done: set[str] = set()
    for key in order:
        missing = [other for other in needs.get(key, ()) if other not in done]
        done.add(key)
        first = f" First: {says[missing[0]]}" if missing else ""
        yield Told(right=not missing, says=f"{says[key]}{first}")


Grade = Literal[1, 2, 3, 4]


def grade_of(asked: Round, answer: Given, verdict: Verdict) -> Grade:
    """How well it went, for when it comes again: 1 not right, 2 with many readings, 3 right, 4 with the fewest."""
    if not verdict.right:
        return 1
    if not isinstance(asked.task, FaultTask):
        return 3
    count = len(set(answer.readings))
    return 4 if count <= asked.task.least else 3 if count <= asked.task.usual + 2 else 2
