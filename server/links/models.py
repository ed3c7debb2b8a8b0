"""Links by which somebody without an account reads one thing of an install, and each time that they did."""

from __future__ import annotations

import secrets
import uuid

from accounts.models import Company, User
from django.db import models
from installs.models import Install


def fresh_key() -> str:
    """256 bits by which a link's address is made; who reads this row reads the install itself."""
    return secrets.token_urlsafe(32)


class ReaderLink(models.Model):
    """A link, what it opens, and until when. about: the id of the line or device of a sheet; else empty.

    labels: every line, each under an address of its own, as it is printed on the label of its disconnect.
    """

    class Scope(models.TextChoices):
        RECORD = "record"
        LINE = "line"
        DEVICE = "device"
        CUSTOMER = "customer"
        LABELS = "labels"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    install = models.ForeignKey(Install, on_delete=models.PROTECT)
    scope = models.CharField(max_length=8, choices=Scope.choices)
    about = models.CharField(max_length=64, blank=True)
    name = models.CharField(max_length=200, help_text="for whom it is")
    key = models.CharField(max_length=43, default=fresh_key)
    warranty_until = models.DateField(null=True, help_text="told on the customer's page")
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    until = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-at"]


class ReaderLook(models.Model):
    """A link was opened: what was read, by which program."""

    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    install = models.ForeignKey(Install, on_delete=models.PROTECT)
    link = models.ForeignKey(ReaderLink, on_delete=models.PROTECT, related_name="looks")
    what = models.CharField(max_length=80)
    agent = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-at", "-id"]
