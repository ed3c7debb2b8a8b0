"""The database itself refuses to change or delete a record."""

from django.db import migrations

TABLES = ("stepentry", "reading", "openitem", "openitemclosing", "signature")


def trigger(table: str) -> migrations.RunSQL:
    name = f"records_{table}"
    return migrations.RunSQL(
        f"CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON {name} "
        "FOR EACH ROW EXECUTE FUNCTION leitung_append_only()",
        f"DROP TRIGGER append_only ON {name}",
    )


class Migration(migrations.Migration):
    dependencies = [("records", "0001_initial"), ("installs", "0002_append_only")]
    operations = [trigger(table) for table in TABLES]
