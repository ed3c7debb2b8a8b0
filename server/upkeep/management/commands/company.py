"""The companies; one taken out whole, or deleted whole."""

from pathlib import Path
from typing import Any

from accounts.models import Company
from accounts.scope import EVERYONE, seeing
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db.models import Count

from upkeep.companies import delete, take_out


class Command(BaseCommand):
    help = "List the companies, take one's data out whole, or delete it whole."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("what", choices=["list", "take-out", "delete"])
        parser.add_argument("number", type=int, nargs="?")
        parser.add_argument("--file", type=Path)
        parser.add_argument("--sure", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        with seeing(EVERYONE):
            if options["what"] == "list":
                companies = Company.objects.annotate(
                    persons=Count("people", distinct=True), works=Count("install", distinct=True)
                )
                for one in companies.order_by("id"):
                    self.stdout.write(f"{one.id:6d}  {one.name}: {one.persons} people, {one.works} installs")
                return
            company = Company.objects.filter(id=options["number"]).first()
            if company is None:
                raise CommandError(f"There is no company {options['number']}. ./leitung company lists them.")
            if options["what"] == "take-out":
                self._take_out(company, options["file"])
            elif not options["sure"]:
                raise CommandError(f"This deletes {company.name} for good. Take it out first, then add --sure.")
            else:
                name, rows = company.name, delete(company)
                self.stdout.write(f"{name} is deleted: {rows} rows. Backups made before hold it until they are gone.")

    def _take_out(self, company: Company, file: Path) -> None:
        try:
            counted = take_out(company, file)
        except OSError as error:
            raise CommandError(f"{file} cannot be written: {error.strerror}. Choose another place.") from None
        self.stdout.write(f"{company.name}: {sum(counted.values())} rows of {len(counted)} tables in {file}.")
