"""Write everything to one file, while work goes on."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from upkeep.backup import BackupError, back_up, clear_old


class Command(BaseCommand):
    help = "Write a backup of the whole database to a file, and check it."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--programs", type=Path, required=True, help="the folder of pg_dump")
        parser.add_argument("--keep", type=int, help="of the backups in its folder, so many stay")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            manifest = back_up(options["file"], options["programs"])
        except BackupError as error:
            raise CommandError(str(error)) from None
        if options["keep"]:
            clear_old(options["file"].parent, options["keep"])
        rows = sum(table.rows for table in manifest.tables.values())
        size = options["file"].stat().st_size
        self.stdout.write(
            f"{options['file']}: {rows} rows of {len(manifest.tables)} tables, {size / 1e6:.1f} MB, checked."
        )
