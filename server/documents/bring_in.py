"""An install brought in from the file that another, or this same, Leitung wrote of it: the same plan, record, photos.

Nothing in the file is believed: it must be whole by its own sums, every entry is read as its table has it, every plan
as any plan, every photo as any photo, and each signature must cover what is brought in.
"""

from __future__ import annotations

import hashlib
import io
import tempfile
import zipfile
from collections.abc import Iterable
from pathlib import Path, PurePosixPath
from typing import Any
from uuid import UUID

import bagit
from accounts.models import Authored, User
from accounts.scope import EVERYONE, seeing
from django.db import IntegrityError, connection, transaction
from django.utils import timezone
from installs.actions import Checked, checked
from installs.models import Install, PlanRevision
from installs.results import Revision, compute, written
from leitung_core.errors import InputError, Problem
from leitung_core.plan.model import dump_plan, read_plan
from leitung_core.result.signed import digest_of
from leitung_core.validation import parse_json
from photos import store
from photos.cleaning import clean
from photos.models import Photo
from problems import Refused
from records.board import refresh
from records.digest import covered_by
from records.ink import read_strokes
from records.models import Signature

from documents.entries import TABLES, read_entries

MOST_FILES, MOST_BYTES = 2_000, 300_000_000
AGAIN = "Write the file once more where it comes from, and bring that one in."


def bring_in(user: User, name: str, raw: bytes) -> Checked:
    """Bring an install in. Raises InputError where the file is none, Refused where it is here already."""
    with tempfile.TemporaryDirectory(prefix="leitung-in-") as folder:
        data = _unpacked(Path(folder), name, raw)
        told = _json(data / "install.json")
        install = _install(user, told, hashlib.sha256(raw).hexdigest())
        if Install.objects.filter(id=install.id).exists():
            said = "This install is here already, perhaps among the archived or deleted ones. Nothing was changed."
            raise Refused(409, "here-already", said)
        entries = read_entries(_json(data / "entries.json"), install, user)
        newest = _plans(install, entries["revisions"])
        if any(not 1 <= getattr(row, "revision", 1) <= install.revision for rows in entries.values() for row in rows):
            raise _refused("entries", "speak of a revision that there is not")
        _bytes_of(user, data, entries["photos"], _json(data / "photos.json"))
    return _kept(user, install, entries, newest)


def _refused(what: str, says: str) -> InputError:
    return InputError(Problem(what, None, says, AGAIN))


def _unpacked(folder: Path, name: str, raw: bytes) -> Path:
    """The bag's own folder, whole by its sums."""
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as packed:
            files = [one for one in packed.infolist() if not one.is_dir()]
            if len(files) > MOST_FILES or sum(one.file_size for one in files) > MOST_BYTES:
                raise InputError(Problem("file", name, "holds too much", "At most 2000 files and 300 MB."))
            for one in files:
                path = PurePosixPath(one.filename)
                if path.is_absolute() or ".." in path.parts or "\\" in one.filename or len(one.filename) > 200:
                    raise _refused("file", "holds a file that leads out of it")
                target = folder / path
                target.parent.mkdir(parents=True, exist_ok=True)
                target.write_bytes(packed.read(one))
        bagit.Bag(str(folder)).validate()
    except InputError:
        raise
    except Exception:  # whatever a broken ZIP, or a broken list of sums, ends with
        raise InputError(Problem("file", name, "is not whole, or no install that Leitung wrote", AGAIN)) from None
    return folder / "data"


def _json(file: Path) -> Any:
    if not file.is_file():
        raise _refused(file.name, "is missing in the file")
    raw = file.read_bytes()
    if b"\\u0000" in raw:
        raise _refused(file.name, "holds a character that cannot be kept")
    return parse_json(raw, file.name)


def _install(user: User, told: Any, sha256: str) -> Install:
    try:
        revision, signed = told["revision"], told["signed_revision"]
        key = UUID(told["id"])
        if type(revision) is not int or not (signed is None or (type(signed) is int and 1 <= signed <= revision)):
            raise ValueError
    except (KeyError, TypeError, ValueError, AttributeError):
        raise _refused("install.json", "does not say which install it is") from None
    brought = {"by": user.display_name, "at": timezone.now().isoformat(), "sha256": sha256}
    return Install(id=key, company_id=user.company_id, revision=revision, signed_revision=signed,
                   changed_at=timezone.now(), changed_by=user, brought=brought)  # fmt: skip


def _plans(install: Install, revisions: Iterable[Authored]) -> Revision:
    """The plan as it stands; each revision is a plan, and they go on from one."""
    numbers, plan = [], None
    for row in revisions:
        assert isinstance(row, PlanRevision)
        numbers.append(row.number)
        plan = read_plan(row.document)
    if plan is None or numbers != list(range(1, install.revision + 1)):
        raise _refused("entries.revisions", "do not go on from the first to the one that stands")
    return compute(plan, dump_plan(plan))


def _bytes_of(user: User, data: Path, photos: Iterable[Authored], listed: Any) -> None:
    """Keep each photo's bytes, as any photo that is brought."""
    there = [one for one in listed if isinstance(one, dict)] if isinstance(listed, list) else []
    files = {str(one.get("sha256")): PurePosixPath(str(one.get("file"))).name for one in there}
    for photo in photos:
        assert isinstance(photo, Photo)
        file = data / "photos" / files.get(photo.content.sha256, "-")
        if not file.is_file():
            raise _refused(f"photos.{photo.name[:60]}", "is missing in the file")
        raw = file.read_bytes()
        kept = clean(raw, photo.name)
        if kept.body != raw or kept.kind != photo.kind:
            raise _refused(f"photos.{photo.name[:60]}", "is not as Leitung keeps photos")
        asked, photo.content = photo.content.sha256, store.keep(user.company_id, raw)
        if photo.content.sha256 != asked:
            raise _refused(f"photos.{photo.name[:60]}", "is not the one that was taken")
        if photo.reading == Photo.Reading.QUEUED:
            photo.reading = Photo.Reading.NONE


def _kept(user: User, install: Install, entries: dict[str, list[Authored]], newest: Revision) -> Checked:
    """Save all of it, or nothing."""
    with seeing(EVERYONE):
        # Ids come from the file: none may be anybody's already.
        taken = Install.objects.filter(id=install.id).exists() or any(
            TABLES[name]._default_manager.filter(id__in=[row.pk for row in rows]).exists()
            for name, rows in entries.items() if rows and name != "revisions"
        )  # fmt: skip
    if taken:
        said = "What is in this file is kept here already where you do not see it. Bring in its plan alone."
        raise Refused(409, "kept-elsewhere", said)
    try:
        with transaction.atomic():
            install.save_base(raw=True, force_insert=True)
            for rows in entries.values():
                for row in rows:
                    # As it was: its own times, and nothing filled in.
                    row.save_base(raw=True, force_insert=True)
            connection.check_constraints()
            _signatures_cover(install)
            written(install, install.revision, newest)
            refresh(install, newest.brief, user)
    except IntegrityError:
        raise _refused("entries", "do not fit together") from None
    return checked(install)


def _signatures_cover(install: Install) -> None:
    for row in Signature.objects.filter(install=install):
        read_strokes(row.drawn)
        covered = covered_by(row)
        if covered is not None and digest_of(covered) != row.digest:
            raise _refused("signatures", f"do not cover what is brought in: {row.name[:60]} at revision {row.revision}")
