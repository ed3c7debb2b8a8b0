"""The meter with which something was read."""

from __future__ import annotations

from django.db import migrations, models

NOTHING = models.Value({}, output_field=models.JSONField())


class Migration(migrations.Migration):
    dependencies = [("records", "0007_passed_by_trials")]

    operations = [migrations.AddField("reading", "meter", models.JSONField(default=dict, db_default=NOTHING))]
