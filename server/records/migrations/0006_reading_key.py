"""The place of a control reading is named by its device, strip and terminal: its key is as long as that may be."""

from __future__ import annotations

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("records", "0005_order")]

    operations = [migrations.AlterField("reading", "key", models.CharField(max_length=120))]
