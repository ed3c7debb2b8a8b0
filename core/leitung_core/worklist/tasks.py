"""Tasks as they are put together from steps and metal: each with its people, its minutes, what comes before it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from leitung_core.plan.work import Skill
from leitung_core.worklist.ranges import Range

Kind = Literal["rough", "control", "permit", "rough-in", "land", "panel", "start", "run", "leave", "final", "own"]
# In this order work is shown, where nothing else orders it.
KINDS: tuple[Kind, ...] = (
    "permit", "rough", "control", "rough-in", "land", "panel", "start", "run", "own", "leave", "final",
)  # fmt: skip
# Who does a kind of task where the install does not say otherwise: one person for each.
PEOPLE: dict[Kind, tuple[Skill, ...]] = {
    "permit": ("licensed",), "rough": ("installer", "apprentice"), "control": ("installer",),
    "rough-in": ("licensed",), "land": ("installer",), "panel": ("licensed",), "start": ("licensed",),
    "run": ("licensed", "apprentice"), "leave": ("licensed",), "final": ("licensed",), "own": ("installer",),
}  # fmt: skip


class _Frozen(BaseModel):
    model_config = ConfigDict(frozen=True)


class After(_Frozen):
    """A task that comes first, and what is waited after it, minutes: something runs by itself then."""

    task: str
    wait_min: int = 0


class Window(_Frozen):
    """When it may be done: a stretch of a day, hours as 07:30."""

    day: str
    from_: Annotated[str, Field(serialization_alias="from")]
    to: str


class WorkTask(_Frozen):
    """Something that some people do in one go.

    kind: what sort of work it is: what was learned of one counts for all. about: its places in the plan. steps: of
    start-up, in their order. needs_off: the sources without which the house is while it is done. access: what it takes
    to get there. outdoors: weather counts. lacks: what of it is not known, so that it may take longer. changed: what
    the install has otherwise than the plan gives it. windows: None, any time.
    """

    key: str
    kind: Kind
    text: str
    about: list[str]
    people: list[Skill]
    minutes: Range
    after: list[After] = []
    steps: list[str] = []
    needs_off: list[str] = []
    access: list[Literal["roof", "attic", "crawl_space", "lift"]] = []
    outdoors: bool = False
    lacks: list[str] = []
    changed: list[str] = []
    windows: list[Window] | None = None


class WorkList(_Frozen):
    """Everything to do at an install, in an order that keeps what comes first; left_out: keys of what it leaves out."""

    tasks: list[WorkTask]
    left_out: list[WorkTask] = []
