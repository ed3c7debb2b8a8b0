"""Practice: rounds as they were made; what is somebody's own: when a topic comes again, how it went, who may see it.

What is somebody's own is seen by nobody else, unless they say so.
"""

from __future__ import annotations

import uuid

from accounts.models import Company, User
from django.db import models


class PracticeRound(models.Model):
    """A round by its name, made once by the worker. body: the round as the core made it; empty until it is made.

    plan: what it is made of: `made-up`, or an install and its revision.
    """

    class Status(models.TextChoices):
        QUEUED = "queued"
        DONE = "done"
        NONE = "none", "this one cannot be asked"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    plan = models.CharField(max_length=60)
    level = models.CharField(max_length=5)
    about = models.CharField(max_length=120)
    topic = models.CharField(max_length=60)
    seed = models.PositiveIntegerField()
    status = models.CharField(max_length=6, choices=Status.choices, default=Status.QUEUED)
    body = models.JSONField(null=True)
    at = models.DateTimeField(auto_now_add=True, db_index=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["company", "plan", "level", "about", "seed"], name="one_round_by_name")
        ]


class PracticeCard(models.Model):
    """A topic as somebody knows it: when it comes again. state: as the library for repetition keeps it."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    topic = models.CharField(max_length=60)
    state = models.JSONField()
    due = models.DateTimeField()
    rounds = models.PositiveIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["company", "user", "topic"], name="one_card_of_a_topic")]
        indexes = [models.Index(fields=["user", "due"], name="cards_due")]


class PracticeAnswer(models.Model):
    """How a round went for somebody. grade: 1 not right, 2 with many readings, 3 right, 4 with the fewest."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    round = models.ForeignKey(PracticeRound, on_delete=models.CASCADE, related_name="+")
    topic = models.CharField(max_length=60)
    level = models.CharField(max_length=5)
    grade = models.PositiveSmallIntegerField()
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["company", "user", "round"], name="one_answer_to_a_round")]
        indexes = [models.Index(fields=["user", "at"], name="answers_of_somebody")]


class PracticeShared(models.Model):
    """Somebody lets their lead see how practice goes."""

    user = models.OneToOneField(User, on_delete=models.CASCADE, primary_key=True, related_name="+")
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now_add=True)
