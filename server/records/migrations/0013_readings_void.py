"""How the system was wired when something was read in it."""

from __future__ import annotations

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("records", "0012_packing")]

    operations = [
        migrations.AddField(
            "reading", "wiring", models.CharField(max_length=16, blank=True, default="", db_default="")
        ),
    ]
