"""An install as one ZIP of open files, laid out as a BagIt bag: whoever has it checks it without Leitung."""

from __future__ import annotations

import mimetypes
import subprocess
import sys
import tempfile
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import IO, Any

import orjson
from installs.actions import Checked
from installs.models import Install, PlanRevision
from leitung_core.cautions import QUALIFIED
from leitung_core.loadout.written import write_load_out
from leitung_core.plant.plant import Plant
from leitung_core.wiring.lists import write_labels, write_list
from photos import store
from photos.models import Photo
from records.digest import content, covered_by
from records.models import Signature
from records.packing import taken_along

from documents.entries import write_entries

READ_ME = f"""An install's plan, record and photos as open files.

plan.leitung.json   the plan as it stands; `leitung check` reads it
record.json         the plan and everything recorded with it: who, when, at which revision
entries.json        every entry as it is kept: `leitung` brings the install in again from it
install.json        which install it is
signatures.json     who signed which revision, with its digest
signed/             for each signature the content that it covers: its digest is the SHA-256 of that content as JSON
                    with its keys sorted, without spaces, in UTF-8
revisions.json      every change of the plan: who, when, what
photos.json         which photo is of what; the pictures lie in photos/
lists/              load-out, conductors with both ends, labels

The sums in manifest-sha256.txt beside this folder say whether a file is as it was.

{QUALIFIED}
"""


def write_bag(found: Checked, into: IO[bytes]) -> None:
    """Write the install's bag as a ZIP."""
    with tempfile.TemporaryDirectory(prefix="leitung-bag-") as name:
        folder = Path(name)
        _fill(found, folder)
        _seal(found, folder)
        with zipfile.ZipFile(into, "w", zipfile.ZIP_DEFLATED) as packed:
            for file in sorted(path for path in folder.rglob("*") if path.is_file()):
                packed.write(file, file.relative_to(folder))


def _seal(found: Checked, folder: Path) -> None:
    """Make it a bag. The library changes the folder of the process it runs in: so it runs in one of its own."""
    about = {
        "external-identifier": str(found.install.id),
        "external-description": found.plan.name,
        "internal-sender-description": f"Leitung, revision {found.install.revision} of the plan",
    }
    told = [f"--{key}={' '.join(value.split())}" for key, value in about.items()]
    subprocess.run(
        [sys.executable, "-m", "bagit", "--quiet", "--sha256", *told, str(folder)],
        check=True, capture_output=True, timeout=120,
    )  # fmt: skip


def _fill(found: Checked, folder: Path) -> None:
    """Every file that is carried. No name of a file is anything that a person typed."""
    install = found.install
    (folder / "README.txt").write_text(READ_ME, "utf-8")
    _json(folder / "plan.leitung.json", found.document)
    _json(folder / "install.json", {"id": str(install.id), "revision": install.revision,
                                    "signed_revision": install.signed_revision})  # fmt: skip
    _json(folder / "entries.json", write_entries(install))
    _json(folder / "record.json", content(install, install.revision))
    _json(folder / "revisions.json", list(_revisions(install)))
    _json(folder / "signatures.json", list(_signed(install, folder)))
    _json(folder / "photos.json", list(_photos(install, folder / "photos")))
    plant = Plant(found.plan)
    lists = folder / "lists"
    lists.mkdir()
    (lists / "load-out.csv").write_text(write_load_out(taken_along(found.revision)), "utf-8")
    (lists / "landings.csv").write_text(write_list(plant), "utf-8")
    (lists / "conductor-labels.csv").write_text(write_labels(plant), "utf-8")


def _json(path: Path, value: Any) -> None:
    path.parent.mkdir(exist_ok=True)
    path.write_bytes(orjson.dumps(value, option=orjson.OPT_INDENT_2))


def _revisions(install: Install) -> Iterator[dict[str, Any]]:
    for row in PlanRevision.objects.filter(install=install).select_related("author").iterator(200):
        yield {
            "number": row.number, "kind": row.kind, "of": row.of, "summary": row.summary, "by": row.by,
            "name": row.who, "at": row.at.isoformat(), "patch": row.patch,
        }  # fmt: skip


def _signed(install: Install, folder: Path) -> Iterator[dict[str, Any]]:
    rows = Signature.objects.filter(install=install).select_related("author").order_by("at", "id")
    for number, row in enumerate(rows, 1):
        covered, file = covered_by(row), f"signed/{number:03}.json"
        if covered is not None:
            _json(folder / file, covered)
        yield {
            "name": row.name, "by": row.by, "revision": row.revision, "at": row.at.isoformat(),
            "digest": row.digest, "reasons": row.reasons, "covers": file if covered else None,
        }  # fmt: skip


def _photos(install: Install, folder: Path) -> Iterator[dict[str, Any]]:
    rows = Photo.objects.filter(install=install, removed_at=None).select_related("author", "content")
    for row in rows.iterator(20):
        folder.mkdir(exist_ok=True)
        file = folder / f"{row.id}{mimetypes.guess_extension(row.kind) or ''}"
        file.write_bytes(store.read(row.content))
        yield {
            "file": f"photos/{file.name}", "about": row.about, "name": row.name, "kind": row.kind,
            "sha256": row.content.sha256, "by": row.by, "at": row.at.isoformat(),
        }  # fmt: skip
