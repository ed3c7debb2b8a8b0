"""Parts of packages as they were laid out: what says the same is not laid out again."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping

from accounts.models import User
from installs.models import Install

from documents.laying import Flat, Part, packed, parts_of, unpacked
from documents.models import Sheet

# Beside the kinds of sheets that somebody asks for.
KIND = "part"


def parts_kept(install: Install, user: User, flats: Mapping[str, Flat]) -> list[Part]:
    """Sheets by title as parts of one document: those that are kept, and the others laid out and kept from now on."""
    mine = Sheet.objects.filter(company_id=user.company_id, install=install, kind=KIND)
    marks = {title: _mark(flat) for title, flat in flats.items()}
    rows = mine.filter(stands__in=marks.values())
    known = {row.what: unpacked(bytes(row.body)) for row in rows if row.body}
    fresh = [title for title in flats if title not in known]
    for title, part in zip(fresh, parts_of([flats[title] for title in fresh]), strict=True):
        known[title] = part
        _keep(install, user, title, marks[title], part)
    return [known[title] for title in flats]


def _keep(install: Install, user: User, title: str, mark: str, part: Part) -> None:
    """Keep a part as it is now, in the place of what it was."""
    named = {"company_id": user.company_id, "install": install, "kind": KIND, "what": title}
    Sheet.objects.filter(**named).exclude(stands=mark).delete()
    made = {"asked_by": user, "status": Sheet.Status.DONE, "body": packed(part)}
    Sheet.objects.get_or_create(**named, stands=mark, defaults=made)


def _mark(flat: Flat) -> str:
    """A digest over all that decides how a sheet looks."""
    return hashlib.sha256("\0".join([flat.html, *flat.styles]).encode()).hexdigest()
