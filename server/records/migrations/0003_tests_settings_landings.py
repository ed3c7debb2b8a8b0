"""Functional tests, settings and landings are records of their own; a signature says what it covers."""

import uuid

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

TABLES = ("testentry", "settingentry", "landingentry")

# Functional tests were steps at first. They are copied to where they are kept now, with who and when; nothing is lost.
COPY = """
INSERT INTO records_testentry (id, revision, at, key, outcome, reason, author_id, company_id, install_id)
SELECT gen_random_uuid(), revision, at,
       split_part(key, '.', 2) || '/' || split_part(key, '.', 3) || '/' || split_part(key, '.', 4),
       CASE WHEN done THEN 'passed' ELSE 'taken_back' END, reason, author_id, company_id, install_id
FROM records_stepentry WHERE key LIKE 'interlock.%' ORDER BY at, id
"""


def trigger(table: str) -> migrations.RunSQL:
    name = f"records_{table}"
    return migrations.RunSQL(
        f"CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON {name} "
        "FOR EACH ROW EXECUTE FUNCTION leitung_append_only()",
        f"DROP TRIGGER append_only ON {name}",
    )


class Migration(migrations.Migration):
    dependencies = [
        ("accounts", "0002_kept_answers_of_a_company"),
        ("installs", "0003_kept_results"),
        ("records", "0002_append_only"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name="signature",
            name="covers",
            field=models.PositiveSmallIntegerField(default=0),
        ),
        migrations.CreateModel(
            name="LandingEntry",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("revision", models.PositiveIntegerField()),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("key", models.CharField(max_length=100)),
                ("done", models.BooleanField()),
                ("author", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL)),
                ("company", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="accounts.company")),
                ("install", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="installs.install")),
            ],
            options={
                "ordering": ["at", "id"],
                "abstract": False,
            },
        ),
        migrations.CreateModel(
            name="SettingEntry",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("revision", models.PositiveIntegerField()),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("key", models.CharField(max_length=100)),
                ("value", models.CharField(max_length=200)),
                ("done", models.BooleanField()),
                ("reason", models.CharField(blank=True, max_length=200)),
                ("author", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL)),
                ("company", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="accounts.company")),
                ("install", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="installs.install")),
            ],
            options={
                "ordering": ["at", "id"],
                "abstract": False,
            },
        ),
        migrations.CreateModel(
            name="TestEntry",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("revision", models.PositiveIntegerField()),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("key", models.CharField(max_length=100)),
                (
                    "outcome",
                    models.CharField(
                        choices=[("passed", "Passed"), ("failed", "Failed"), ("taken_back", "Taken Back")],
                        max_length=10,
                    ),
                ),
                ("reason", models.CharField(blank=True, max_length=200)),
                ("author", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL)),
                ("company", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="accounts.company")),
                ("install", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="installs.install")),
            ],
            options={
                "ordering": ["at", "id"],
                "abstract": False,
            },
        ),
        migrations.RunSQL(COPY, migrations.RunSQL.noop),
        *(trigger(table) for table in TABLES),
    ]
