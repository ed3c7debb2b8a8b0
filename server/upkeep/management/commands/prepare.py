"""Make the database ready: create it, migrate, load the demo data into an empty one."""

from typing import Any

import psycopg
from accounts.models import Company
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.db import connection as db
from django.db.migrations.executor import MigrationExecutor
from documents.models import Sheet

from upkeep.demo import load_demo
from upkeep.guard import guard
from upkeep.keys import carry_the_company, plain_for_now
from upkeep.tasks import clear_answers, fill_found_by


class Command(BaseCommand):
    help = "Create and migrate the database, clear what has expired, load the demo data where it is empty."

    def handle(self, *args: Any, **options: Any) -> None:
        ours = settings.DATABASES["default"]
        place = {"host": ours["HOST"], "port": ours["PORT"], "user": ours["USER"], "password": ours["PASSWORD"]}
        with psycopg.connect(dbname="postgres", autocommit=True, **place) as connection:
            known = connection.execute("SELECT 1 FROM pg_database WHERE datname = %s", [ours["NAME"]]).fetchone()
            if not known:
                connection.execute(psycopg.sql.SQL("CREATE DATABASE {}").format(psycopg.sql.Identifier(ours["NAME"])))
        if _behind():
            plain_for_now()
            call_command("migrate", verbosity=0)
        carry_the_company()
        guard(settings.DATABASE_ROLE, settings.DATABASE_ROLE_PASSWORD)
        fill_found_by()
        clear_answers()
        # What another release printed may say otherwise.
        Sheet.objects.all().delete()
        call_command("clearsessions")
        if not Company.objects.exists():
            load_demo()


def _behind() -> bool:
    """Whether there are migrations that this database has not seen."""
    executor = MigrationExecutor(db)
    return bool(executor.migration_plan(executor.loader.graph.leaf_nodes()))
