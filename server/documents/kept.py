"""Parts of packages as they were laid out: what says the same is not laid out again."""

from __future__ import annotations

import hashlib
from collections.abc import Callable

from accounts.models import User
from installs.models import Install

from documents.laying import Flat, Laying, Part, packed, unpacked
from documents.models import Sheet

# Beside the kinds of sheets that somebody asks for.
KIND = "part"


def begun(install: Install, user: User, title: str, flat: Flat, laying: Laying) -> Callable[[], Part]:
    """A sheet as part of a document: the one that is kept, or laid out from now on and kept when it is waited for."""
    named = {"company_id": user.company_id, "install": install, "kind": KIND, "what": title}
    mark = _mark(flat)
    row = Sheet.objects.filter(**named, stands=mark).first()
    if row is not None and row.body:
        known = unpacked(bytes(row.body))
        return lambda: known
    wait = laying.begin(flat)

    def done() -> Part:
        part = wait()
        # In the place of what it was.
        Sheet.objects.filter(**named).exclude(stands=mark).delete()
        made = {"asked_by": user, "status": Sheet.Status.DONE, "body": packed(part)}
        Sheet.objects.get_or_create(**named, stands=mark, defaults=made)
        return part

    return done


def _mark(flat: Flat) -> str:
    """A digest over all that decides how a sheet looks."""
    return hashlib.sha256("\0".join([flat.html, *flat.styles]).encode()).hexdigest()
