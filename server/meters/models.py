"""The meters of a company: what each may be off, when it was calibrated last."""

from __future__ import annotations

import uuid

from accounts.models import Company
from django.db import models


class Meter(models.Model):
    """A meter. `classes`: by unit, the share and the digits that it may be off. Retired, it is offered no more."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    name = models.CharField(max_length=80)
    serial = models.CharField(max_length=80, blank=True)
    classes = models.JSONField()
    calibrated_on = models.DateField(null=True)
    at = models.DateTimeField(auto_now_add=True)
    retired_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["name", "serial", "id"]
