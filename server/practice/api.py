"""Practice over HTTP: what is due today, a round, an answer; one's own, and what others share with their lead."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from accounts.models import User
from accounts.roles import LEAD, allow, person
from django.http import HttpRequest
from django.utils import timezone
from leitung_core.practice.judge import Given, Told
from leitung_core.practice.model import LEVELS, Level, Round
from ninja import Router
from problems import not_found
from pydantic import AwareDatetime, BaseModel

from practice import actions
from practice.day import today
from practice.models import PracticeAnswer, PracticeCard, PracticeRound

router = Router(tags=["practice"])


class Due(BaseModel):
    """A round of today; `ready`: it is made, and can be taken. title: what it is about, where that tells nothing."""

    id: UUID
    level: Level
    title: str
    ready: bool


class LevelOut(BaseModel):
    """How a level stands: its topics begun, its rounds right and all."""

    level: Level
    begun: int
    right: int
    rounds: int


class PracticeOut(BaseModel):
    """What is due today, how many rounds were answered today, how it stands, when the next comes; who may see."""

    due: list[Due]
    answered: int
    levels: list[LevelOut]
    next: datetime | None
    shared: bool


class TakenAnswer(BaseModel):
    """What was answered, and when, where that was without a signal."""

    answer: Given
    noted_at: AwareDatetime | None = None


class VerdictOut(BaseModel):
    """Whether it was right, each thing about it, and when its topic comes again."""

    right: bool
    told: list[Told]
    again: datetime


class Sharing(BaseModel):
    """Whether the lead may see how it goes."""

    on: bool


class Forgetting(BaseModel):
    """Nothing more is to be said."""


class SharedOut(BaseModel):
    """Somebody who shares, and how it goes."""

    name: str
    levels: list[LevelOut]


@router.get("/practice", response=PracticeOut)
def practice(request: HttpRequest) -> PracticeOut:
    """One's own practice."""
    return _out(person(request))


@router.get("/practice/rounds/{round_id}", response=Round)
def practice_round(request: HttpRequest, round_id: UUID) -> Round:
    """A round, with all that judges an answer where there is no signal."""
    found = actions.round_of(person(request), round_id)
    if found.body is None:
        raise not_found()
    return Round.model_validate(found.body)


@router.post("/practice/rounds/{round_id}/answers", response=VerdictOut)
def practice_answer(request: HttpRequest, round_id: UUID, body: TakenAnswer) -> VerdictOut:
    """Given a round."""
    done = actions.answer(person(request), round_id, body.answer, body.noted_at)
    return VerdictOut(right=done.verdict.right, told=done.verdict.told, again=done.due)


@router.post("/practice/sharing", response=PracticeOut)
def practice_sharing(request: HttpRequest, body: Sharing) -> PracticeOut:
    """Let the lead see how it goes, or no longer."""
    user = person(request)
    actions.share(user, body.on)
    return _out(user)


@router.post("/practice/forgetting", response=PracticeOut)
def practice_forgetting(request: HttpRequest, body: Forgetting) -> PracticeOut:
    """Forget all that is kept of one's own practice."""
    user = person(request)
    actions.forget(user)
    return _out(user)


@router.get("/practice/shared", response=list[SharedOut])
def practice_shared(request: HttpRequest) -> list[SharedOut]:
    """How it goes with those who share it, for their lead."""
    lead = allow(request, LEAD)
    return [SharedOut(name=one.display_name, levels=_levels(one)) for one in actions.shared_with(lead)]


def _out(user: User) -> PracticeOut:
    rows = today(user)
    mine = PracticeAnswer.objects.filter(user=user)
    later = PracticeCard.objects.filter(user=user).order_by("due").values_list("due", flat=True).first()
    return PracticeOut(
        due=[_due(row) for row in rows],
        answered=mine.filter(at__date=timezone.localdate()).count(),
        levels=_levels(user),
        next=later if not rows else None,
        shared=actions.shares(user),
    )


def _due(row: PracticeRound) -> Due:
    title = row.body["title"] if row.body and row.level != "fault" else ""
    return Due.model_validate({"id": row.id, "level": row.level, "title": title, "ready": row.body is not None})


def _levels(user: User) -> list[LevelOut]:
    known = {row.level: row for row in actions.standing(user)}
    rows = ((level, known.get(level, actions.Standing(level, 0, 0, 0))) for level in LEVELS)
    return [LevelOut(level=level, begun=row.begun, right=row.right, rounds=row.rounds) for level, row in rows]
