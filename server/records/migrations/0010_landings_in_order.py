"""What comes before a terminal is landed and was not done when it was ticked, and why."""

from __future__ import annotations

from django.db import migrations, models

NOTHING = models.Value([], output_field=models.JSONField())


class Migration(migrations.Migration):
    dependencies = [("records", "0009_temporary")]

    operations = [
        migrations.AddField("landingentry", "passed", models.JSONField(default=list, db_default=NOTHING)),
        migrations.AddField(
            "landingentry", "reason", models.CharField(max_length=200, blank=True, default="", db_default="")
        ),
    ]
