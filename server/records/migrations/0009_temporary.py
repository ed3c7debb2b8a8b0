"""Something put in for a while is an open item of its part of the work, until it is out again."""

from __future__ import annotations

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("records", "0008_meters")]

    operations = [
        migrations.AddField("openitem", "temporary", models.BooleanField(default=False, db_default=False)),
        migrations.AddField(
            "openitem", "about", models.CharField(blank=True, max_length=120, default="", db_default="")
        ),
    ]
