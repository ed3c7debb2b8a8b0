"""Installs stand on shelves; the board shows the newest first, one's own before others'.

What was deleted and has lain for thirty days may go for good, and nothing else: the database itself holds it.
"""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models
from django.db.models import F

GOES = """
CREATE OR REPLACE FUNCTION leitung_append_only() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'DELETE' AND EXISTS (
        SELECT 1 FROM installs_install
        WHERE id = OLD.install_id AND shelf = 'deleted' AND shelved_at < now() - interval '30 days'
    ) THEN
        RETURN OLD;
    END IF;
    RAISE EXCEPTION '% is append-only: add an entry instead', TG_TABLE_NAME;
END $$
"""
STAYS = """
CREATE OR REPLACE FUNCTION leitung_append_only() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION '% is append-only: add an entry instead', TG_TABLE_NAME;
END $$
"""
LAST_AUTHOR = """
UPDATE installs_install SET changed_by_id = (
    SELECT author_id FROM installs_planrevision WHERE install_id = installs_install.id ORDER BY number DESC LIMIT 1
)
"""


class Migration(migrations.Migration):
    dependencies = [("installs", "0003_kept_results"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]
    operations = [
        migrations.AddField(
            "install",
            "shelf",
            models.CharField(
                max_length=8,
                default="open",
                choices=[
                    ("open", "Open"),
                    ("template", "Template"),
                    ("archived", "Archived"),
                    ("deleted", "Deleted"),
                ],
            ),
        ),
        migrations.AddField("install", "shelved_at", models.DateTimeField(null=True)),
        migrations.AddField(
            "install",
            "changed_by",
            models.ForeignKey(
                settings.AUTH_USER_MODEL, null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+"
            ),
        ),
        migrations.RunSQL(LAST_AUTHOR, migrations.RunSQL.noop),
        migrations.RemoveIndex("install", "board_order"),
        migrations.RemoveField("install", "rank"),
        migrations.AddIndex(
            "install",
            models.Index(F("company"), F("shelf"), F("changed_at").desc(), F("id"), name="board_newest"),
        ),
        migrations.AddIndex(
            "install",
            models.Index(F("company"), F("shelf"), F("changed_by"), F("changed_at").desc(), F("id"), name="board_own"),
        ),
        migrations.RunSQL(GOES, STAYS),
    ]
