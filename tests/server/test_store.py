"""Photos in a folder, or in an object store, beside the database: kept once, known to be what they were, backed up."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import boto3
import psycopg
import pytest
from accounts.models import User
from config.machine import Unset, files
from moto.server import ThreadedMotoServer
from photos import store
from photos.models import Content, Photo
from psycopg import sql
from upkeep.backup import BackupError, back_up, place, restore
from upkeep.tasks import forget_files

from launch.packages import postgres_bin
from tests.server.conftest import Api
from tests.server.test_photos import keep, picture

pytestmark = pytest.mark.django_db(transaction=True)
PROGRAMS = postgres_bin() or Path()
KEYS = {"LEITUNG_FILES_KEY": "stand-in", "LEITUNG_FILES_SECRET": "stand-in"}


@pytest.fixture(scope="module")
def object_store() -> Iterator[str]:
    """The address of a stand-in on the loopback, with a bucket."""
    server = ThreadedMotoServer("127.0.0.1", 0, verbose=False)
    server.start()
    address = "http://{}:{}".format(*server.get_host_and_port())
    keys = {"aws_access_key_id": "stand-in", "aws_secret_access_key": "stand-in"}
    boto3.client("s3", endpoint_url=address, region_name="us-east-1", **keys).create_bucket(Bucket="photos")
    yield f"s3://photos/kept?endpoint={address}&region=us-east-1"
    server.stop()


@pytest.fixture(params=["folder", "object store"])
def beside(request: pytest.FixtureRequest, settings: Any, tmp_path: Path) -> None:
    folder = request.param == "folder"
    url = f"file://{tmp_path}/files" if folder else request.getfixturevalue("object_store")
    settings.STORAGES = settings.STORAGES | {"files": files({"LEITUNG_FILES": url, **KEYS})}


def lies() -> Any:
    content = Content.objects.get()
    found = store.beside()
    assert found is not None
    return found, store.name_of(content.company_id, content.sha256)


def shown(api: Api, install: str) -> Any:
    return api.get(f"/api/installs/{install}/photos/{Photo.objects.first().id}/content")  # type: ignore[union-attr]


@pytest.mark.usefixtures("beside")
def test_a_photo_lies_there_once_and_goes_with_its_last_row(api: Api, install: str) -> None:
    for about in ("equipment/OU-1", "circuits/MS-1"):
        assert keep(api, install, picture("PNG"), about).status_code == 201
    content = Content.objects.get()
    assert (bytes(content.body), content.beside) == (b"", True)
    assert shown(api, install).content[:4] == b"\x89PNG"
    found, name = lies()
    assert found.exists(name)
    store.forget([(content.company_id, content.sha256)])
    assert found.exists(name), "it was kept again meanwhile"
    Photo.objects.all().delete()
    forget_files()
    assert not found.exists(name)


@pytest.mark.usefixtures("beside")
def test_what_is_gone_or_another_is_said_and_a_backup_brings_it_back(
    api: Api, install: str, lead: User, tmp_path: Path
) -> None:
    keep(api, install, picture("PNG"))
    found, name = lies()
    kept, file = shown(api, install).content, tmp_path / "b.zip"
    manifest = back_up(file, PROGRAMS)
    with found.open(name) as opened:
        assert opened.read() == kept
    found.delete(name)
    assert (shown(api, install).status_code, shown(api, install).json()["code"]) == (503, "file-gone")
    store.put(found, lead.company_id, name.rpartition("/")[2], kept[:-1] + b"?")
    assert "not what was kept" in shown(api, install).json()["detail"]
    with pytest.raises(BackupError, match="not what was kept"):
        back_up(tmp_path / "other.zip", PROGRAMS)
    found.delete(name)
    elsewhere = f"{place()['dbname']}_store"
    with psycopg.connect(**place("postgres"), autocommit=True) as admin:
        admin.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(elsewhere)))
        before = restore(file, PROGRAMS, set(manifest.migrations), elsewhere)
        for one in (elsewhere, before):
            admin.execute(sql.SQL("DROP DATABASE {} WITH (FORCE)").format(sql.Identifier(one)))
    assert shown(api, install).content == kept


def test_without_the_setting_what_lies_beside_is_asked_for_not_lost(
    api: Api, install: str, settings: Any, tmp_path: Path
) -> None:
    usual = settings.STORAGES
    settings.STORAGES = usual | {"files": files({"LEITUNG_FILES": f"file://{tmp_path}/files"})}
    keep(api, install, picture("PNG"))
    manifest = back_up(tmp_path / "b.zip", PROGRAMS)
    settings.STORAGES = usual
    assert "set LEITUNG_FILES" in shown(api, install).json()["detail"]
    with pytest.raises(BackupError, match="Set LEITUNG_FILES first"):
        restore(tmp_path / "b.zip", PROGRAMS, set(manifest.migrations), "nowhere")
    # What is kept from now on lies in the database; both are shown.
    keep(api, install, picture("PNG", (30, 30)))
    assert [row.beside for row in Content.objects.order_by("id")] == [True, False]


@pytest.mark.parametrize("url", ["s3://", "file://host/folder", "file:folder", "http://there/", "photos"])
def test_a_place_that_cannot_be_meant_is_named(url: str) -> None:
    with pytest.raises(Unset, match="LEITUNG_FILES"):
        files({"LEITUNG_FILES": url})
