"""The weeks of a company's crew: what is wished of each, the plan that was found, the plan that the crew goes by."""

from __future__ import annotations

import uuid

from accounts.models import Company
from django.db import models


class CrewWeek(models.Model):
    """A week from its Monday. `wishes`: people, sites, what is held; each change of them is a revision.

    found: the best plan so far, for the wishes of a revision (`found_for`). agreed: the plan that the crew goes by.
    """

    class Status(models.TextChoices):
        NONE = "none"
        QUEUED = "queued"
        RUNNING = "running"
        DONE = "done"
        FAILED = "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    monday = models.DateField()
    revision = models.PositiveIntegerField(default=0)
    wishes = models.JSONField(default=dict)
    status = models.CharField(max_length=7, choices=Status.choices, default=Status.NONE)
    share = models.FloatField(default=0)
    stop = models.BooleanField(default=False)
    touched = models.DateTimeField(auto_now=True)
    found = models.JSONField(null=True)
    found_for = models.PositiveIntegerField(null=True)
    agreed = models.JSONField(null=True)
    agreed_at = models.DateTimeField(null=True)
    why = models.CharField(max_length=300, default="", blank=True, help_text="why the search broke off")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["company", "monday"], name="one_week_each")]
        ordering = ["monday"]
