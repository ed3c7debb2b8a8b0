"""What a crew's own ticks say of how long work takes: the shipped ranges moved by what was seen, as far as it is known.

Of each task that was done, how many times the shipped figure it took, as a logarithm; its mean is drawn towards 1 as by
PRIOR tasks that took what the shipped figure says: first of all tasks of a kind, then of that kind in a kind of place.
No one is named: who did it is not looked at.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import exp, log, sqrt

from pydantic import BaseModel, ConfigDict

from leitung_core.units import say
from leitung_core.worklist.ranges import Range
from leitung_core.worklist.tasks import Kind, WorkTask

PRIOR = 2.0
# Of what a range leaves out, a tenth lies at either end: so many times the spread is from likely to high.
TENTH = 1.2816
FEW = 3
NOT_LEARNED = "the shipped range: none was done yet"


class Took(BaseModel):
    """A task that was done: what the shipped figure said, what it took, minutes."""

    model_config = ConfigDict(frozen=True)

    kind: Kind
    place: str
    shipped_min: float
    took_min: float

    @property
    def log_times(self) -> float:
        """The logarithm of how many times the shipped figure it took."""
        return log(self.took_min / self.shipped_min)


class Learned(BaseModel):
    """How many times the shipped figures a kind of work takes; `of` so many tasks; `says` how sure that is."""

    model_config = ConfigDict(frozen=True)

    low: float
    likely: float
    high: float
    of: int
    says: str


def place_of(task: WorkTask) -> str:
    """The kind of place in which a task is done."""
    return "roof" if "roof" in task.access else "close" if task.access else "outdoors" if task.outdoors else "indoors"


def learned(history: Sequence[Took], task: WorkTask) -> Learned:
    """What is known of tasks like one. Without any, the shipped range stands as it is."""
    kind = [row.log_times for row in history if row.kind == task.kind]
    here = [row.log_times for row in history if row.kind == task.kind and row.place == place_of(task)]
    mean = sum(kind) / (len(kind) + PRIOR)
    mean = (sum(here) + PRIOR * mean) / (len(here) + PRIOR)
    low, likely, high = task.minutes.low, task.minutes.likely, task.minutes.high
    usual = sqrt(log(likely / low) * log(high / likely)) / TENTH if low < likely < high else 0.0
    seen = here if len(here) >= FEW else kind
    spread = sqrt((PRIOR * usual**2 + sum((one - mean) ** 2 for one in seen)) / (PRIOR + len(seen)))
    wide = spread / usual if usual else 1.0
    return Learned(
        low=exp(mean) * (low / likely) ** wide * likely / low, likely=exp(mean),
        high=exp(mean) * (high / likely) ** wide * likely / high, of=len(kind),
        says=_how_sure(len(kind), len(here), mean),
    )  # fmt: skip


def _how_sure(of: int, here: int, mean: float) -> str:
    if not of:
        return NOT_LEARNED
    few = ", few yet" if of < FEW else ""
    beside = f", {here} in such a place" if here != of else ""
    return f"{say(exp(mean), 2)} times the shipped figure, by {of} done{beside}{few}"


def with_learned(task: WorkTask, found: Learned) -> Range:
    """The minutes of a task by what is known; those that somebody entered stand."""
    if "minutes" in task.changed:
        return task.minutes
    return task.minutes.times(found.low, found.likely, found.high).rounded()
