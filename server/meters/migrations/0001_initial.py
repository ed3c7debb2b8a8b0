"""The meters of a company."""

import uuid

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("accounts", "0001_initial")]

    operations = [
        migrations.CreateModel(
            "Meter",
            [
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("name", models.CharField(max_length=80)),
                ("serial", models.CharField(blank=True, max_length=80)),
                ("classes", models.JSONField()),
                ("calibrated_on", models.DateField(null=True)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("retired_at", models.DateTimeField(null=True)),
                ("company", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="accounts.company")),
            ],
            {"ordering": ["name", "serial", "id"]},
        ),
    ]
