"""Companies, their people with roles, and the record of writes already carried out."""

from __future__ import annotations

import uuid

from django.contrib.auth.models import AbstractUser
from django.db import models


class Company(models.Model):
    """Whose data it is. Every row of the product belongs to one company."""

    name = models.CharField(max_length=200)

    def __str__(self) -> str:
        return self.name


class Role(models.TextChoices):
    LEAD = "lead", "crew lead: plans, decides, signs"
    CREW = "crew", "crew: records steps, readings, open items"
    READER = "reader", "reader: reads and prints"


class User(AbstractUser):
    """A person of one company, with one role."""

    company = models.ForeignKey(Company, on_delete=models.PROTECT, related_name="people")
    role = models.CharField(max_length=10, choices=Role.choices, default=Role.READER)
    display_name = models.CharField(max_length=200)

    REQUIRED_FIELDS = ["company_id", "display_name"]


class Authored(models.Model):
    """Something that one person entered.

    brought: who that was where it came in from a file (username and name); its author is then who brought it in.
    """

    author = models.ForeignKey(User, on_delete=models.PROTECT)
    brought = models.JSONField(null=True)

    class Meta:
        abstract = True

    @property
    def by(self) -> str:
        """The username of who entered it."""
        return str(self.brought["by"]) if self.brought else self.author.username

    @property
    def who(self) -> str:
        """The name of who entered it."""
        return str(self.brought["name"]) if self.brought else self.author.display_name


class Write(models.Model):
    """A write carried out under its idempotency key, with the answer that was given."""

    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    user = models.ForeignKey(User, on_delete=models.CASCADE)
    key = models.CharField(max_length=64)
    digest = models.CharField(max_length=64)
    status = models.PositiveSmallIntegerField(default=0)
    body = models.BinaryField(default=b"")
    at = models.DateTimeField(auto_now_add=True, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["company", "user", "key"], name="one_answer_per_key")]


class AccessLink(models.Model):
    """A link by which somebody joins a company, or sets a new password. Only a digest of it is kept; it serves once."""

    class Kind(models.TextChoices):
        JOIN = "join"
        RESET = "reset"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    kind = models.CharField(max_length=5, choices=Kind.choices)
    digest = models.CharField(max_length=64, unique=True)
    name = models.CharField(max_length=200)
    role = models.CharField(max_length=10, choices=Role.choices)
    user = models.ForeignKey(User, on_delete=models.CASCADE, null=True, related_name="+")
    by = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    until = models.DateTimeField()
    used_at = models.DateTimeField(null=True)


class SecondFactor(models.Model):
    """A one-time code beside the password. spare: digests of the codes for a lost device; step: the last one used."""

    user = models.OneToOneField(User, on_delete=models.CASCADE, primary_key=True, related_name="second_factor")
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    secret = models.CharField(max_length=64)
    confirmed_at = models.DateTimeField(null=True)
    step = models.BigIntegerField(default=0)
    spare = models.JSONField(default=list)


class SignedIn(models.Model):
    """A session that somebody has open: since when, by which program."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    session_key = models.CharField(max_length=40, unique=True)
    agent = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-at"]


class TrailEntry(models.Model):
    """Who did or saw what. Append-only, held by the database. about: the id of an install or of somebody."""

    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    user = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    did = models.CharField(max_length=120)
    about = models.UUIDField(null=True)
    words = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-at", "-id"]
        indexes = [models.Index(fields=["company", "-at"], name="trail_of_a_company")]
