"""Put a backup in the place of the database; what was there before is kept."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection
from django.db.migrations.loader import MigrationLoader

from upkeep.backup import BackupError, fitting, restore


class Command(BaseCommand):
    help = "Restore a backup: checked first, compared afterwards, put in place only then."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--programs", type=Path, required=True, help="the folder of pg_restore")
        parser.add_argument("--check", action="store_true", help="only say whether it can be restored")

    def handle(self, *args: Any, **options: Any) -> None:
        known = {f"{app}.{name}" for app, name in MigrationLoader(None).disk_migrations}
        connection.close()
        try:
            if options["check"]:
                manifest = fitting(options["file"], known)
                self.stdout.write(f"A whole backup of {manifest.made_at:%Y-%m-%d %H:%M} UTC.")
                return
            before = restore(options["file"], options["programs"], known)
        except BackupError as error:
            raise CommandError(str(error)) from None
        self.stdout.write(f"Restored, and the same as when it was made. What was there before is kept as {before}.")
