"""What was read in a step, what was passed over, when it was noted, and why something not proved was signed."""

from django.db import migrations, models

NOTHING = models.Value([], output_field=models.JSONField())
KINDS = (
    "stepentry", "testentry", "settingentry", "landingentry", "reading", "trialentry", "openitem", "openitemclosing",
    "signature",
)  # fmt: skip


class Migration(migrations.Migration):
    dependencies = [("records", "0004_trials")]

    operations = [
        *(migrations.AddField(kind, "noted_at", models.DateTimeField(null=True)) for kind in KINDS),
        migrations.AddField("stepentry", "value", models.FloatField(null=True)),
        migrations.AddField("stepentry", "unit", models.CharField(blank=True, default="", max_length=4), False),
        migrations.AddField("stepentry", "passed", models.JSONField(default=list, db_default=NOTHING)),
        migrations.AddField("testentry", "passed", models.JSONField(default=list, db_default=NOTHING)),
        migrations.AddField("reading", "passed", models.JSONField(default=list, db_default=NOTHING)),
        migrations.AddField("signature", "reasons", models.JSONField(default=list)),
    ]
