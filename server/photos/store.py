"""Where the bytes of photos and papers lie: in the database, or in a folder or an object store beside it.

In the database a backup is whole by itself. Beside it (`LEITUNG_FILES`) the database stays small; a file is named by
its company and by what it holds, so that it is written once, never changed, and known to be what it was.
"""

from __future__ import annotations

import hashlib
import os
import tempfile
from collections.abc import Iterable
from pathlib import Path

from django.core.files.base import ContentFile, File
from django.core.files.storage import FileSystemStorage, Storage, storages
from django.core.files.storage.handler import InvalidStorageError
from django.db import connection, transaction
from problems import Refused

from photos.models import Content

FILES = "files"


class Folder(FileSystemStorage):
    """A folder in which a file is whole and on the disk, or not there."""

    def _save(self, name: str, content: File[bytes]) -> str:
        place = Path(self.path(name))
        place.parent.mkdir(parents=True, exist_ok=True)
        with tempfile.NamedTemporaryFile(dir=place.parent, delete=False) as part:
            part.write(content.read())
            part.flush()
            os.fsync(part.fileno())
        Path(part.name).replace(place)
        return name

    def get_available_name(self, name: str, max_length: int | None = None) -> str:
        return name


def beside() -> Storage | None:
    """The store beside the database, where one is set."""
    try:
        return storages[FILES]
    except InvalidStorageError:
        return None


def name_of(company_id: int, sha256: str) -> str:
    return f"{company_id}/{sha256[:2]}/{sha256}"


def _alone_with(name: str) -> None:
    """Until this transaction ends nobody else keeps or forgets that file."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, 0))", [name])


@transaction.atomic
def keep(company_id: int, body: bytes) -> Content:
    """Keep some bytes of a company, once."""
    sha256 = hashlib.sha256(body).hexdigest()
    store = beside()
    if store is not None:
        _alone_with(name_of(company_id, sha256))
        # Before the row, which may be undone: a file without a row does no harm, a row without its file is a loss.
        put(store, company_id, sha256, body)
    found, _ = Content.objects.get_or_create(
        company_id=company_id, sha256=sha256,
        defaults={"body": b"" if store else body, "beside": store is not None},
    )  # fmt: skip
    return found


def put(store: Storage, company_id: int, sha256: str, body: bytes) -> None:
    name = name_of(company_id, sha256)
    if not store.exists(name) or store.size(name) != len(body):
        store.save(name, ContentFile(body))


def read(content: Content) -> bytes:
    """The bytes. Raises Refused where they are gone, or not what was kept."""
    return fetch(content.company_id, content.sha256) if content.beside else bytes(content.body)


def fetch(company_id: int, sha256: str) -> bytes:
    """A file beside the database. Raises Refused."""
    store = beside()
    if store is None:
        raise Refused(
            503, "no-store", "Photos lie in a store beside the database that is not set here: set LEITUNG_FILES."
        )
    try:
        with store.open(name_of(company_id, sha256)) as opened:
            body = bytes(opened.read())
    except FileNotFoundError:
        raise Refused(
            503, "file-gone", f"The file {sha256[:12]} is gone from the store. Bring it back from a backup."
        ) from None
    if hashlib.sha256(body).hexdigest() != sha256:
        raise Refused(503, "file-gone", f"The file {sha256[:12]} is not what was kept. Bring it back from a backup.")
    return body


def forget(gone: Iterable[tuple[int, str]]) -> None:
    """Take files away whose rows are gone: company and sum of each."""
    store = beside()
    if store is None:
        return
    for company_id, sha256 in gone:
        with transaction.atomic():
            _alone_with(name_of(company_id, sha256))
            # Meanwhile somebody may have kept the same bytes again.
            if not Content.objects.filter(company_id=company_id, sha256=sha256, beside=True).exists():
                store.delete(name_of(company_id, sha256))
