"""How the system was wired when an interlock was tried on it."""

from __future__ import annotations

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("records", "0010_landings_in_order")]

    operations = [
        migrations.AddField(
            "testentry", "wiring", models.CharField(max_length=16, blank=True, default="", db_default="")
        ),
    ]
