"""Printed sheets as they were made: each once for what an install stands at."""

from __future__ import annotations

import uuid

from accounts.models import Company, User
from django.db import models
from installs.models import Install


class Sheet(models.Model):
    """A sheet of an install. `what`: of which part of it; `stands`: a digest over everything that it says.

    refused: why there is no such sheet, where making it said so: status, code and words.
    """

    class Status(models.TextChoices):
        QUEUED = "queued"
        RUNNING = "running"
        DONE = "done"
        FAILED = "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    install = models.ForeignKey(Install, on_delete=models.PROTECT)
    kind = models.CharField(max_length=20)
    what = models.CharField(max_length=200, blank=True)
    stands = models.CharField(max_length=64)
    status = models.CharField(max_length=7, choices=Status.choices, default=Status.QUEUED)
    body = models.BinaryField(null=True)
    refused = models.JSONField(null=True)
    asked_by = models.ForeignKey(User, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now_add=True)
    touched = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["company", "install", "kind", "what", "stands"], name="one_sheet_of_a_state"
            )
        ]
        indexes = [models.Index(fields=["status", "at"], name="sheets_waiting")]
        ordering = ["at"]
