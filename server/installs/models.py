"""Installs and the revisions of their plans. A revision is never changed."""

from __future__ import annotations

import uuid
from datetime import datetime, timedelta

from accounts.models import Authored, Company, User
from django.db import models
from django.db.models import F

# For so long what was deleted can be brought back; the database holds the same (migration 0004).
KEPT = timedelta(days=30)


class Shelf(models.TextChoices):
    """Where an install stands. What was deleted can be brought back while it is kept."""

    OPEN = "open"
    TEMPLATE = "template"
    ARCHIVED = "archived"
    DELETED = "deleted"


class Install(models.Model):
    """One install. What the board shows is kept beside it, written with every change."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    name = models.CharField(max_length=200)
    site = models.CharField(max_length=200, blank=True)
    found_by = models.TextField(blank=True, default="", db_default="", help_text="where it is, what its plates say")
    revision = models.PositiveIntegerField(default=1)
    station = models.CharField(max_length=12)
    next = models.CharField(max_length=300)
    stuck_on = models.CharField(max_length=400, blank=True)
    signed_revision = models.PositiveIntegerField(null=True)
    changed_at = models.DateTimeField()
    changed_by = models.ForeignKey(User, on_delete=models.PROTECT, null=True, related_name="+")
    brought = models.JSONField(null=True, help_text="who brought it in from a file, when, and the sum of that file")
    shelf = models.CharField(max_length=8, choices=Shelf.choices, default=Shelf.OPEN)
    shelved_at = models.DateTimeField(null=True)

    class Meta:
        # The board reads one page in these orders; an index for each makes it cost the same with ten or a million.
        indexes = [
            models.Index(F("company"), F("shelf"), F("changed_at").desc(), F("id"), name="board_newest"),
            models.Index(F("company"), F("shelf"), F("changed_by"), F("changed_at").desc(), F("id"), name="board_own"),
        ]

    @property
    def brought_in(self) -> str:
        """That it was brought in from a file, by whom and when; empty where it was begun here."""
        if not self.brought:
            return ""
        return f"Brought in from a file by {self.brought['by']}, {self.brought['at'][:10]}"

    @property
    def kept_until(self) -> datetime | None:
        """Until when it can be brought back; None where it is not deleted."""
        return self.shelved_at + KEPT if self.shelved_at and self.shelf == Shelf.DELETED else None


class PlanRevision(Authored):
    """A plan as it stood after one change. Append-only, held by the database.

    An edit with `of` brought the plan of that revision back, whole.
    """

    class Kind(models.TextChoices):
        CREATE = "create"
        EDIT = "edit"
        UNDO = "undo"
        REDO = "redo"

    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    install = models.ForeignKey(Install, on_delete=models.PROTECT, related_name="revisions")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=6, choices=Kind.choices)
    of = models.PositiveIntegerField(null=True, help_text="the revision that this one undoes or redoes")
    document = models.JSONField()
    patch = models.JSONField()
    inverse = models.JSONField()
    summary = models.CharField(max_length=1000)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["company", "install", "number"], name="one_revision_per_number")]
        ordering = ["install", "number"]


class RevisionResult(models.Model):
    """What was computed from a revision, kept so that nobody computes it again; it can be worked out anew any time."""

    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    install = models.ForeignKey(Install, on_delete=models.PROTECT, related_name="results")
    number = models.PositiveIntegerField()
    engine = models.CharField(max_length=32, help_text="digest of what computed it")
    body = models.BinaryField(help_text="the result as JSON, compressed")
    brief = models.BinaryField(help_text="the part that records are judged by, compressed")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["company", "install", "number"], name="one_result_per_revision")]
