"""Rounds of practice with answers and what becomes of them: the browser's judge is held to these (`cases.json`)."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.practice.judge import Ends, Given, grade_of, judge
from leitung_core.practice.model import DeadTask, FaultTask, LandTask, OrderTask, Round, RunsTask, SizeTask
from leitung_core.practice.rounds import Ground, make_round, offers

from leitung_demo.museum import museum

# What is small enough to lie in a file.
CHOSEN = (
    ("size", "unit_heater"), ("land", "RU-1:TC-4"), ("runs", "OU-1"), ("fault", "UH-2:swap"), ("fault", "UH-1:open"),
    ("dead", "UH-1"), ("order", "circuits/UH-1"),
)  # fmt: skip


def cases() -> list[dict[str, Any]]:
    """Each round once, with some answers to it and the verdict on each."""
    ground = Ground("a plant that is made up", Plant(read_plan(museum())))
    by_name = {(offer.level, offer.about): offer for offer in offers(ground)}
    found = []
    for level, about in CHOSEN:
        asked = make_round(ground, next(by_name[key] for key in by_name if key == (level, about)), 1)
        assert asked is not None
        answers = [
            {"given": given.model_dump(), "grade": grade_of(asked, given, verdict), **verdict.model_dump()}
            for given in _answers(asked) for verdict in [judge(asked, given)]
        ]  # fmt: skip
        found.append({"round": asked.model_dump(mode="json"), "answers": answers})
    return found


def _answers(asked: Round) -> Iterator[Given]:
    task = asked.task
    yield Given()
    if isinstance(task, SizeTask):
        right = {figure.id: figure.right for figure in task.asked}
        yield Given(figures=right)
        yield Given(figures={key: value * 1.1 if isinstance(value, float) else value for key, value in right.items()})
        yield Given(figures={key: value * 1.004 if isinstance(value, float) else "1/0" for key, value in right.items()})
    elif isinstance(task, LandTask):
        planned = {wire.id: Ends(a=wire.a, b=wire.b) for wire in task.wires}
        yield Given(landed=planned)
        one, two, *_ = task.wires
        yield Given(landed={**planned, one.id: Ends(a=one.a, b=two.b), two.id: Ends(a=two.a, b=one.b)})
        yield Given(landed={**planned, one.id: Ends(a=one.a)})
    elif isinstance(task, RunsTask):
        yield Given(chosen=task.runs)
        yield Given(chosen=[each.id for each in task.watched])
    elif isinstance(task, FaultTask):
        yield from _readings(task)
    elif isinstance(task, DeadTask):
        for opened in (*task.mend.safe, [each.id for each in task.mend.options]):
            yield Given(opened=opened, order=_in_order(task))
        yield Given(opened=[], order=_in_order(task)[::-1])
    else:
        yield Given(order=_in_order(task))
        yield Given(order=_in_order(task)[::-1])


def _readings(task: FaultTask) -> Iterator[Given]:
    every = [(state, lead) for state in range(len(task.states)) for lead in range(-1, len(task.leads))]
    for opened in (*task.mend.safe, []):
        yield Given(readings=every, named=task.hidden, opened=opened)
    for named in range(len(task.suspects)):
        yield Given(readings=every[:: 3 + named % 4], named=named, opened=task.mend.safe[0])
    yield Given(readings=every[:1], named=task.hidden, opened=task.mend.safe[0])


def _in_order(task: DeadTask | OrderTask) -> list[str]:
    done: list[str] = []
    while len(done) < len(task.steps):
        done.append(next(step.id for step in task.steps
                         if step.id not in done and set(task.needs[step.id]) <= set(done)))  # fmt: skip
    return done
