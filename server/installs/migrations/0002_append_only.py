"""The database itself refuses to change or delete a revision."""

from django.db import migrations

FUNCTION = """
CREATE FUNCTION leitung_append_only() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION '% is append-only: add an entry instead', TG_TABLE_NAME;
END $$
"""
TRIGGER = """
CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON installs_planrevision
FOR EACH ROW EXECUTE FUNCTION leitung_append_only()
"""


class Migration(migrations.Migration):
    dependencies = [("installs", "0001_initial")]
    operations = [
        migrations.RunSQL(FUNCTION, "DROP FUNCTION leitung_append_only"),
        migrations.RunSQL(TRIGGER, "DROP TRIGGER append_only ON installs_planrevision"),
    ]
