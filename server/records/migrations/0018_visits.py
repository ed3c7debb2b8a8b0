"""Visits to an install that runs, and what is read on them as found and as left."""

from __future__ import annotations

import uuid

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

TABLES = ("visit", "visitend", "visitreading")


def of_a_record() -> list[tuple[str, models.Field]]:
    """The fields of every record."""
    there = {"on_delete": django.db.models.deletion.PROTECT}
    return [
        ("brought", models.JSONField(null=True)),
        ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
        ("revision", models.PositiveIntegerField()),
        ("at", models.DateTimeField(auto_now_add=True)),
        ("noted_at", models.DateTimeField(null=True)),
        ("author", models.ForeignKey(to=settings.AUTH_USER_MODEL, **there)),
        ("company", models.ForeignKey(to="accounts.company", **there)),
        ("install", models.ForeignKey(to="installs.install", **there)),
    ]


class Migration(migrations.Migration):
    dependencies = [("records", "0017_signed_as"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]

    operations = [
        migrations.CreateModel(
            "Visit",
            [*of_a_record(), ("why", models.CharField(max_length=200))],
            {"ordering": ["at", "id"], "abstract": False},
        ),
        migrations.CreateModel(
            "VisitEnd",
            [
                *of_a_record(),
                ("note", models.CharField(max_length=200)),
                (
                    "visit",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.PROTECT, related_name="ending", to="records.visit"
                    ),
                ),
            ],
            {"ordering": ["at", "id"], "abstract": False},
        ),
        migrations.CreateModel(
            "VisitReading",
            [
                *of_a_record(),
                ("key", models.CharField(max_length=120)),
                ("about", models.CharField(max_length=120)),
                ("text", models.CharField(max_length=200)),
                ("state", models.CharField(choices=[("found", "Found"), ("left", "Left")], max_length=5)),
                ("value", models.FloatField()),
                ("unit", models.CharField(max_length=4)),
                ("low", models.FloatField(null=True)),
                ("high", models.FloatField(null=True)),
                ("verdict", models.CharField(max_length=8)),
                ("said", models.CharField(max_length=1000)),
                ("meter", models.JSONField(default=dict)),
                ("wiring", models.CharField(blank=True, default="", max_length=16)),
                ("reason", models.CharField(blank=True, max_length=200)),
                (
                    "visit",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="readings", to="records.visit"
                    ),
                ),
            ],
            {"ordering": ["at", "id"], "abstract": False},
        ),
        *(
            migrations.RunSQL(
                f"CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON records_{table} "
                "FOR EACH ROW EXECUTE FUNCTION leitung_append_only()",
                f"DROP TRIGGER append_only ON records_{table}",
            )
            for table in TABLES
        ),
    ]
