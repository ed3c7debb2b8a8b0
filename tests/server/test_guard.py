"""The database's own rules beneath the application: its role may change no rule, and sees one company at a time."""

from __future__ import annotations

import pytest
from accounts.models import User
from accounts.scope import NOBODY, Scope, seeing
from django.apps import apps
from django.core.management import call_command
from django.db import IntegrityError, ProgrammingError, connection, transaction
from django.utils import timezone
from installs.models import Install, PlanRevision
from upkeep.guard import NOT_APART, guarded
from upkeep.keys import PLAIN, carry_the_company, keys, plain_for_now

from tests.database import as_owner
from tests.server.conftest import Api

pytestmark = pytest.mark.django_db


@pytest.mark.parametrize(
    "statement",
    [
        "TRUNCATE records_reading", "TRUNCATE installs_install CASCADE", "DROP TABLE records_reading",
        "ALTER TABLE records_reading DISABLE TRIGGER append_only", "DROP TRIGGER append_only ON records_reading",
        "ALTER TABLE records_reading DISABLE ROW LEVEL SECURITY", "DROP POLICY rows_of_a_company ON records_reading",
        "SET session_replication_role = replica", "CREATE TABLE mine (a int)", "CREATE ROLE other SUPERUSER",
        "DELETE FROM django_migrations", "CREATE OR REPLACE FUNCTION leitung_append_only() RETURNS trigger "
        "LANGUAGE plpgsql AS $$ BEGIN RETURN OLD; END $$", "COPY accounts_user TO PROGRAM 'cat'",
        "SELECT pg_read_file('/etc/passwd')",
    ],
)  # fmt: skip
def test_the_application_may_change_no_rule(statement: str) -> None:
    with pytest.raises(ProgrammingError, match=r"permission denied|must be"), transaction.atomic():
        connection.cursor().execute(statement)


def test_every_table_of_a_company_is_held_apart() -> None:
    """A table that is added later is held apart, or named here."""
    ours = {model for model in apps.get_models() if model.__module__.split(".")[0] not in ("django", "axes")}
    ours = {model for model in ours if not model._meta.db_table.startswith("procrastinate_")}
    assert ours == {*guarded(), *NOT_APART}
    for model in guarded():
        with connection.cursor() as cursor:
            cursor.execute("SELECT relrowsecurity FROM pg_class WHERE relname = %s", [model._meta.db_table])
            assert cursor.fetchone() == (True,), model


def test_a_query_that_forgets_its_company_finds_nothing_of_another(install: str, lead: User, stranger: User) -> None:
    assert Install.objects.filter(id=install).exists()
    with seeing(Scope(stranger.company_id)):
        assert not Install.objects.exists()
        assert Install.objects.update(name="taken") == 0
        with pytest.raises(ProgrammingError, match="row-level security"), transaction.atomic():
            Install.objects.create(company_id=lead.company_id, name="planted", changed_by=stranger)
    with seeing(NOBODY):
        assert not Install.objects.exists()
    with seeing(Scope(lead.company_id)):
        assert Install.objects.get().id.hex == install.replace("-", "")


def test_a_request_sees_its_own_company_and_the_next_one_on_the_connection_its_own(
    api: Api, install: str, stranger: User
) -> None:
    other = Api(stranger)
    for _ in range(2):
        assert [row["id"] for row in api.get("/api/installs").json()["installs"]] == [install]
        assert other.get("/api/installs").json()["installs"] == []
    assert Api(None).get("/api/installs").status_code == 401
    assert api.get("/api/installs").headers["Cache-Control"] == "no-store"


def test_every_key_of_a_companys_rows_carries_the_company(install: str) -> None:
    """Those that Django's tables declare, and those by which rows point at one another and at people."""
    found = keys()
    assert {key.table for key in found if key.kind == "p"} == {model._meta.db_table for model in guarded()}
    assert [key for key in found if not key.carries_the_company] == []
    with connection.cursor() as cursor:
        tables = [model._meta.db_table for model in guarded()]
        cursor.execute("SELECT indexdef FROM pg_indexes WHERE indexdef LIKE 'CREATE UNIQUE%%' AND tablename = ANY (%s)",
                       [tables])  # fmt: skip
        assert [index for (index,) in cursor.fetchall() if "company_id" not in index] == []


@pytest.mark.parametrize("points", ["install", "author"])
def test_a_row_cannot_point_at_another_companys(install: str, lead: User, stranger: User, points: str) -> None:
    theirs = Install.objects.create(
        company=stranger.company, name="Theirs", changed_by=stranger, changed_at=timezone.now()
    )
    astray = {"install": {"install": theirs}, "author": {"author": stranger}}[points]
    rest = {"company": lead.company, "number": 9, "document": {}, "patch": {}, "inverse": {}}
    with transaction.atomic():
        PlanRevision.objects.create(**{"install": Install.objects.get(id=install), "author": lead} | rest | astray)
        with pytest.raises(IntegrityError, match="not present"):
            connection.check_constraints()
        transaction.set_rollback(True)


def test_a_later_migration_points_at_tables_whose_keys_carry_the_company_already(db: None) -> None:
    with as_owner():
        call_command("migrate", "links", "zero", verbosity=0)
        plain_for_now()
        call_command("migrate", "links", verbosity=0)
        carry_the_company()
    found = keys()
    assert {key.to for key in found if key.table == "links_readerlink" and key.kind == "f"} == {
        "installs_install", "accounts_user",
    }  # fmt: skip
    assert all(key.carries_the_company for key in found)
    assert not any(key.name.startswith(PLAIN) for key in found)
