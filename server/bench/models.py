"""Analyses that take longer than an answer may: asked for by a person, worked out by the worker, kept by revision."""

from __future__ import annotations

import uuid

from accounts.models import Company, User
from django.db import models
from installs.models import Install


class Analysis(models.Model):
    """All single mistakes of one control system of one revision of a plan."""

    class Status(models.TextChoices):
        QUEUED = "queued"
        RUNNING = "running"
        DONE = "done"
        CANCELLED = "cancelled"
        FAILED = "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    install = models.ForeignKey(Install, on_delete=models.PROTECT)
    revision = models.PositiveIntegerField()
    system = models.CharField(max_length=32)
    author = models.ForeignKey(User, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now_add=True)
    status = models.CharField(max_length=9, choices=Status, default=Status.QUEUED)
    share = models.FloatField(default=0)
    touched = models.DateTimeField(auto_now=True)
    report = models.JSONField(null=True)
    why = models.CharField(max_length=300, default="", blank=True, help_text="why it broke off")
    outcomes = models.BinaryField(null=True, help_text="what each mistake would read and run, compressed arrays")

    class Meta:
        ordering = ["-at"]
        indexes = [models.Index(fields=["install", "system", "revision"])]
