"""Photos and papers of the things of an install; their bytes are kept once a company, by what they hold."""

from __future__ import annotations

import uuid

from accounts.models import Authored, Company
from django.db import models
from installs.models import Install


class Content(models.Model):
    """Some bytes of a company. beside: they lie in the store beside the database (`store.py`), and `body` is empty."""

    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    sha256 = models.CharField(max_length=64)
    body = models.BinaryField()
    beside = models.BooleanField(default=False, db_default=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["company", "sha256"], name="one_content_per_hash")]


class Photo(Authored):
    """A photo or a paper of one thing of an install. Taken out, it is shown no more; what it proved is not undone."""

    class Reading(models.TextChoices):
        NONE = "none"
        QUEUED = "queued"
        DONE = "done"
        FAILED = "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    install = models.ForeignKey(Install, on_delete=models.PROTECT, related_name="photos")
    content = models.ForeignKey(Content, on_delete=models.PROTECT)
    about = models.CharField(max_length=120, help_text="the thing's address: equipment/MS-1, steps/MS-1.dead")
    name = models.CharField(max_length=200)
    kind = models.CharField(max_length=20)
    width = models.PositiveIntegerField(null=True)
    height = models.PositiveIntegerField(null=True)
    at = models.DateTimeField(auto_now_add=True)
    removed_at = models.DateTimeField(null=True)
    reading = models.CharField(max_length=8, choices=Reading.choices, default=Reading.NONE)
    read = models.JSONField(null=True, help_text="what the plate in it says")

    class Meta:
        ordering = ["at", "id"]
        indexes = [models.Index(fields=["install", "about"], name="photos_of_a_thing")]
