"""What an install has otherwise than the work list gives it, tasks of its own, and when the power may be off."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal, get_args

from pydantic import Field, StringConstraints, model_validator

from leitung_core.validation import Entered, Hour, Text

Skill = Literal["licensed", "installer", "apprentice"]
SKILLS: tuple[Skill, ...] = get_args(Skill)
TaskKey = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9][A-Za-z0-9_-]{0,47}$")]
TaskMinutes = Annotated[float, Field(gt=0, le=6000)]


class OffWindow(Entered):
    """A stretch of a day in which something may be done, as with the power off."""

    day: date
    begins: Hour
    ends: Hour

    @model_validator(mode="after")
    def _ends_after_it_begins(self) -> OffWindow:
        if self.ends <= self.begins:
            raise ValueError("ends before it begins: give an end after its start")
        return self


class Work(Entered):
    """A task of the work list: what is given here counts instead of what the plan gives. A new key: one of its own."""

    text: Text | None = None
    people: Annotated[list[Skill], Field(min_length=1, max_length=6)] | None = Field(
        None, description="one person for each"
    )
    minutes: Annotated[list[TaskMinutes], Field(min_length=1, max_length=2)] | None = Field(
        None, description="about, or from and to"
    )
    after: Annotated[list[TaskKey], Field(max_length=50)] | None = Field(
        None, description="what comes first, beside what the steps ask"
    )
    windows: Annotated[list[OffWindow], Field(max_length=20)] | None = None
    outdoors: bool | None = None
    left_out: bool | None = None
