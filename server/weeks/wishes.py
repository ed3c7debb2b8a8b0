"""What is wished of a week, as people enter it."""

from __future__ import annotations

from datetime import date, time
from typing import Annotated, Literal
from uuid import UUID

from leitung_core.plan.work import Skill
from leitung_core.validation import Entered, Hour, Id, Text
from leitung_core.week.document import DaySpan
from pydantic import Field

DAYS = 5
Way = Annotated[int, Field(strict=True, ge=0, le=600)]


class Hand(Entered):
    """Somebody of the crew."""

    id: Id
    name: Text
    skills: Annotated[list[Skill], Field(min_length=1, max_length=3)]
    off: Annotated[list[DaySpan], Field(max_length=40)] = []


class Comes(Entered):
    """When something is there."""

    day: date
    at: Hour = time(7)


class WeekSite(Entered):
    """An install that is worked on in the week, the way to it from the shop, from when its material is there."""

    install: UUID
    way_min: Way = 20
    material: Comes | None = None


class HeldTask(Entered):
    """A part of a task that somebody has put somewhere."""

    task: Annotated[str, Field(min_length=1, max_length=120)]
    day: date
    from_: Annotated[Hour, Field(alias="from")]
    people: Annotated[list[Id], Field(min_length=1, max_length=6)] | None = None


class Wishes(Entered):
    """What binds a week: its hours, who is there, where is worked, what stays where somebody put it.

    vehicles: how many there are; None: one for everybody. wet: days on which nothing is done outdoors.
    """

    from_: Annotated[Hour, Field(alias="from")] = time(7)
    to: Hour = time(16)
    days: Annotated[int, Field(strict=True, ge=1, le=7)] = DAYS
    vehicles: Annotated[int, Field(strict=True, ge=1, le=40)] | None = None
    wet: Annotated[list[date], Field(max_length=7)] = []
    people: Annotated[list[Hand], Field(max_length=40)] = []
    sites: Annotated[list[WeekSite], Field(max_length=20)] = []
    held: Annotated[list[HeldTask], Field(max_length=300)] = []


Status = Literal["none", "queued", "running", "done", "failed"]
