"""What was forgotten at an install, to be asked for at the next ones like it."""

from __future__ import annotations

import uuid

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("records", "0014_work"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]

    operations = [
        migrations.CreateModel(
            "ForgottenEntry",
            [
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("revision", models.PositiveIntegerField()),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("noted_at", models.DateTimeField(null=True)),
                ("item", models.CharField(max_length=120)),
                ("kinds", models.JSONField(default=list)),
                (
                    "author",
                    models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL),
                ),
                ("company", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="accounts.company")),
                ("install", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="installs.install")),
            ],
            {"ordering": ["at", "id"], "abstract": False},
        ),
        migrations.RunSQL(
            "CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON records_forgottenentry "
            "FOR EACH ROW EXECUTE FUNCTION leitung_append_only()",
            "DROP TRIGGER append_only ON records_forgottenentry",
        ),
    ]
