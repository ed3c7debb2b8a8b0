"""Parts of packages as they were laid out: what says the same is not laid out again."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence

from accounts.models import User
from installs.models import Install

from documents.laying import Flat, Part, packed, parts_of, unpacked
from documents.models import Sheet

# Beside the kinds of sheets that somebody asks for.
KIND = "part"


def parts_kept(install: Install, user: User, flats: Sequence[Flat]) -> list[Part]:
    """Sheets as parts of one document: those that are kept, and the others laid out and kept from now on."""
    marks = [_mark(flat) for flat in flats]
    rows = Sheet.objects.filter(company_id=user.company_id, install=install, kind=KIND, stands__in=marks)
    known = {row.stands: unpacked(bytes(row.body)) for row in rows if row.body}
    fresh = {mark: flat for mark, flat in zip(marks, flats, strict=True) if mark not in known}
    for mark, part in zip(fresh, parts_of(list(fresh.values())), strict=True):
        known[mark] = part
        Sheet.objects.get_or_create(
            company_id=user.company_id, install=install, kind=KIND, what="", stands=mark,
            defaults={"asked_by": user, "status": Sheet.Status.DONE, "body": packed(part)},
        )  # fmt: skip
    return [known[mark] for mark in marks]


def _mark(flat: Flat) -> str:
    """A digest over all that decides how a sheet looks."""
    return hashlib.sha256("\0".join([flat.html, *flat.styles]).encode()).hexdigest()
