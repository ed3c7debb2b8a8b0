"""A round of practice as plain data: what is asked, and everything by which an answer is judged without a signal.

A round is named by what it was made of, so that the same name always gives the same round.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from leitung_core.explain import Step

Level = Literal["size", "land", "runs", "fault", "dead", "order"]
LEVELS: tuple[Level, ...] = ("size", "land", "runs", "fault", "dead", "order")


class Part(BaseModel):
    """A part of a round."""

    model_config = ConfigDict(frozen=True)


class Choice(Part):
    """Something that can be chosen or placed: what it is called here, and how that reads."""

    id: str
    says: str


class AskedFigure(Part):
    """A figure that is asked for: its right value, a number or a word of `choices`, and the steps that lead to it."""

    id: str
    says: str
    unit: str
    right: float | str
    choices: list[str]
    steps: list[Step]


class Mark(Part):
    """A mark of a plate and its value, as they stand on it."""

    mark: str
    value: str


class SizeTask(Part):
    """Level 1: a plate and a run; which conductor, which breaker."""

    level: Literal["size"] = "size"
    plate: list[Mark]
    run: list[str]
    asked: list[AskedFigure]


class PostShown(Part):
    """A terminal on a strip, as it is marked."""

    ref: str
    label: str


class StripShown(Part):
    """A strip of a device at which a cable may be landed; `end`: which end of the cable comes here."""

    end: Literal["a", "b"]
    device: str
    name: str
    posts: list[PostShown]


class WireShown(Part):
    """A conductor of the cable: its colour, what it is for, and where both its ends belong."""

    id: str
    colour: str
    carries: str
    a: str
    b: str


class LandTask(Part):
    """Level 2: the conductors of a cable landed at both ends.

    slips: for single mistakes, keyed by `WIRE end=TERMINAL` of every end that differs, sorted and joined by `;`: what
    that is, and what it would do.
    """

    level: Literal["land"] = "land"
    cable: str
    strips: list[StripShown]
    wires: list[WireShown]
    why: dict[str, str]
    slips: dict[str, str]


class RunsTask(Part):
    """Level 3: what runs in a state. `runs`: those of `watched` that do; `why`: for each, why it does or does not."""

    level: Literal["runs"] = "runs"
    state: str
    watched: list[Choice]
    runs: list[str]
    why: dict[str, str]


class Mend(Part):
    """Before a hand goes in at `device`: what can be opened, the least sets that make it dead, what an open one kills.

    safe: any of these sets, or more than it, and nothing there can be live in any position of any contact.
    """

    device: str
    options: list[Choice]
    safe: list[list[str]]
    harm: str


class Suspect(Part):
    """A mistake that may be made: what, at which cable or device."""

    id: str
    says: str
    about: str


class FaultTask(Part):
    """Level 4: one hidden mistake, a meter, and what can be called.

    states: what is called or off, in words. leads: where the meter's two leads go. volts: its reading (state, lead).
    watched, runs: what one sees run in each state. suspects: every mistake that it may be, the first that nothing is
    wrong. rules: (state, lead + 1) the number of the set in `sets` of suspects which that reading rules out, the last
    of a row that of looking what runs; a set is hexadecimal, bit i for suspect i. hidden: its number. least: with fewer
    readings nobody can prove it. usual: as many takes who reads each time where most is told apart.
    """

    level: Literal["fault"] = "fault"
    system: str
    title: str
    states: list[Choice]
    leads: list[Choice]
    direct: list[bool]
    volts: list[list[float]]
    watched: list[str]
    runs: list[list[int]]
    suspects: list[Suspect]
    rules: list[list[int]]
    sets: list[str]
    hidden: int
    does: str
    least: int
    exact: bool
    usual: int
    mend: Mend


class DeadTask(Part):
    """Level 5: what to open before a hand goes in, and the proof in its order."""

    level: Literal["dead"] = "dead"
    mend: Mend
    steps: list[Choice]
    needs: dict[str, list[str]]
    leaves: list[str]


class OrderTask(Part):
    """Level 6: steps of a start-up put in order; `needs`: which others each needs before it."""

    level: Literal["order"] = "order"
    steps: list[Choice]
    needs: dict[str, list[str]]


Task = Annotated[SizeTask | LandTask | RunsTask | FaultTask | DeadTask | OrderTask, Field(discriminator="level")]


class Round(Part):
    """One round. `topic`: what is practised in it, by which it comes again; `of`: the plan that it was made of."""

    id: str
    topic: str
    title: str
    of: str
    ask: str
    task: Task
