"""What comes before a trial in start-up and was not done when it was made."""

from __future__ import annotations

from django.db import migrations, models

NOTHING = models.Value([], output_field=models.JSONField())


class Migration(migrations.Migration):
    dependencies = [("records", "0006_reading_key")]

    operations = [migrations.AddField("trialentry", "passed", models.JSONField(default=list, db_default=NOTHING))]
