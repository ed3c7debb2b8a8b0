"""Practice as somebody does it: a round answered, what comes again when, and who may see how it goes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from accounts.models import User
from django.db import transaction
from django.db.models import Count, Q
from django.utils import timezone
from fsrs import Card, Rating, Scheduler
from leitung_core.practice.judge import Given, Verdict, grade_of, judge
from leitung_core.practice.model import Round
from problems import Refused, not_found

from practice.models import PracticeAnswer, PracticeCard, PracticeRound, PracticeShared

# A topic that went well comes again tomorrow at the soonest; one that did not, within the same ten minutes.
SCHEDULER = Scheduler(enable_fuzzing=False, learning_steps=[timedelta(minutes=5)], maximum_interval=180)


@dataclass(frozen=True)
class Answered:
    """A verdict, and when its topic comes again."""

    verdict: Verdict
    due: datetime


def round_of(user: User, round_id: UUID) -> PracticeRound:
    """A round of somebody's company. Raises Refused."""
    found = PracticeRound.objects.filter(company_id=user.company_id, id=round_id).first()
    if found is None:
        raise not_found()
    return found


@transaction.atomic
def answer(user: User, round_id: UUID, given: Given, noted_at: datetime | None) -> Answered:
    """Judge an answer and keep how it went. A round that somebody has answered before counts no second time."""
    row = round_of(user, round_id)
    if row.body is None:
        raise Refused(409, "round", "This round is not made yet. Wait a moment, then answer again.")
    asked = Round.model_validate(row.body)
    verdict = judge(asked, given)
    now = timezone.now()
    at = min(noted_at, now) if noted_at else now
    card, _ = PracticeCard.objects.select_for_update().get_or_create(
        company_id=user.company_id, user=user, topic=row.topic,
        defaults={"state": dict(Card().to_dict()), "due": now},
    )  # fmt: skip
    if not PracticeAnswer.objects.filter(user=user, round=row).exists():
        grade = grade_of(asked, given, verdict)
        _reviewed(card, grade, at)
        PracticeAnswer.objects.create(
            company_id=user.company_id, user=user, round=row, topic=row.topic, level=row.level, grade=grade, at=at
        )
    return Answered(verdict, card.due)


def _reviewed(card: PracticeCard, grade: int, at: datetime) -> None:
    state: Any = card.state
    reviewed, _ = SCHEDULER.review_card(Card.from_dict(state), Rating(grade), at)
    card.state, card.due, card.rounds = dict(reviewed.to_dict()), reviewed.due, card.rounds + 1
    card.save()


@dataclass(frozen=True)
class Standing:
    """How a level stands with somebody: topics begun, rounds right and all."""

    level: str
    begun: int
    right: int
    rounds: int


def standing(user: User) -> list[Standing]:
    """How practice goes, level by level."""
    rows = PracticeAnswer.objects.filter(user=user).values("level").annotate(
        rounds=Count("id"), right=Count("id", filter=Q(grade__gt=1)), begun=Count("topic", distinct=True)
    )  # fmt: skip
    return [Standing(row["level"], row["begun"], row["right"], row["rounds"]) for row in rows]


def share(user: User, on: bool) -> None:
    """Let the lead see how it goes, or no longer."""
    if on:
        PracticeShared.objects.get_or_create(user=user, defaults={"company_id": user.company_id})
    else:
        PracticeShared.objects.filter(user=user).delete()


def shares(user: User) -> bool:
    """Whether somebody lets their lead see."""
    return PracticeShared.objects.filter(user=user).exists()


def shared_with(lead: User) -> list[User]:
    """Those of a company who let their lead see, and nobody else."""
    rows = PracticeShared.objects.filter(company_id=lead.company_id, user__is_active=True)
    return [row.user for row in rows.select_related("user").order_by("user__display_name")]


@transaction.atomic
def forget(user: User) -> None:
    """All that is kept of somebody's practice is gone."""
    for table in (PracticeAnswer, PracticeCard, PracticeShared):
        table.objects.filter(user=user).delete()
