"""Trials on a source are records, append-only as the others."""

import uuid

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("accounts", "0002_kept_answers_of_a_company"),
        ("installs", "0004_shelves"),
        ("records", "0003_tests_settings_landings"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="TrialEntry",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("revision", models.PositiveIntegerField()),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("key", models.CharField(max_length=100)),
                (
                    "outcome",
                    models.CharField(
                        choices=[
                            ("started", "Started"),
                            ("tripped", "Tripped"),
                            ("stalled", "Stalled"),
                            ("shut_off", "Shut Off"),
                            ("taken_back", "Taken Back"),
                        ],
                        max_length=10,
                    ),
                ),
                ("on", models.JSONField(default=list)),
                ("measured", models.JSONField(default=dict)),
                ("expected", models.JSONField(default=dict)),
                ("note", models.CharField(blank=True, max_length=200)),
                ("author", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL)),
                ("company", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="accounts.company")),
                ("install", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="installs.install")),
            ],
            options={
                "ordering": ["at", "id"],
                "abstract": False,
            },
        ),
        migrations.RunSQL(
            "CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON records_trialentry "
            "FOR EACH ROW EXECUTE FUNCTION leitung_append_only()",
            "DROP TRIGGER append_only ON records_trialentry",
        ),
    ]
