"""Companies, their people with roles, and the record of writes already carried out."""

from __future__ import annotations

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
        constraints = [models.UniqueConstraint(fields=["user", "key"], name="one_answer_per_key")]
