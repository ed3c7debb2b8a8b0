"""Bring an install in from its file, of any size, for somebody who may plan."""

from pathlib import Path
from typing import Any

from accounts.models import User
from accounts.roles import PLAN
from accounts.scope import EVERYONE, Scope, seeing
from django.core.management.base import BaseCommand, CommandError, CommandParser
from documents.bring_in import bring_in
from leitung_core.errors import InputError
from problems import Refused


class Command(BaseCommand):
    help = "Bring an install in from the file that All as open files wrote."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("person")

    def handle(self, *args: Any, **options: Any) -> None:
        with seeing(EVERYONE):
            user = User.objects.filter(username=options["person"], is_active=True).first()
        if user is None or user.role not in PLAN:
            raise CommandError(f"{options['person']!r} is nobody who plans here. Name a crew lead by their username.")
        try:
            raw = options["file"].read_bytes()
        except OSError as error:
            raise CommandError(f"{options['file']} cannot be read: {error.strerror}.") from None
        with seeing(Scope(user.company_id)):
            try:
                found = bring_in(user, options["file"].name, raw)
            except InputError as error:
                raise CommandError("; ".join(map(str, error.problems))) from None
            except Refused as refused:
                raise CommandError(refused.detail) from None
        self.stdout.write(f"{found.plan.name} is in, revision {found.install.revision}.")
