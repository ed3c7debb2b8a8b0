"""A company's own catalogue models, beside those that ship with Leitung."""

from __future__ import annotations

import uuid

from accounts.models import Company, User
from django.db import models
from django.db.models.functions import Lower


class OwnModel(models.Model):
    """One model of one company: what the core's `Model` holds."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    maker = models.CharField(max_length=200)
    model = models.CharField(max_length=200)
    data = models.JSONField()
    added_by = models.ForeignKey(User, on_delete=models.PROTECT)
    added_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint("company", Lower("maker"), Lower("model"), name="one_model_of_a_name"),
        ]


class OwnPrice(models.Model):
    """What one foot, or one piece, of an item costs this company."""

    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    key = models.CharField(max_length=200)
    item = models.CharField(max_length=200)
    price = models.DecimalField(max_digits=10, decimal_places=4)
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["company", "key"], name="one_price_of_an_item")]
