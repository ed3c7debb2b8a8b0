"""Where installs stand: open, templates, archived, deleted; and what goes for good once it has lain long enough."""

from __future__ import annotations

from uuid import UUID

from accounts.models import User
from django.db import transaction
from django.db.models import F, QuerySet
from django.db.models.fields.json import KeyTransform
from django.utils import timezone
from leitung_core.plan.copying import begun_like
from leitung_core.plan.model import FORMAT, FORMAT_VERSION
from problems import Refused, not_found

from installs import actions
from installs.models import KEPT, Install, PlanRevision, Shelf


def on_shelf(user: User, shelf: str) -> QuerySet[Install]:
    """The installs of this person's company on a shelf; of the deleted ones those that can be brought back."""
    rows = Install.objects.filter(company_id=user.company_id, shelf=shelf)
    return rows.filter(shelved_at__gte=timezone.now() - KEPT) if shelf == Shelf.DELETED else rows


def using(user: User, maker: str, model: str) -> list[tuple[Install, list[str]]]:
    """The open installs that use a model, newest first, each with the tags of its units of it."""
    newest = PlanRevision.objects.filter(number=F("install__revision"), install__in=on_shelf(user, Shelf.OPEN))
    rows = newest.select_related("install").order_by("-install__changed_at")
    found = []
    for row in rows.annotate(units=KeyTransform("equipment", "document")).defer("document", "patch", "inverse"):
        units: dict[str, dict[str, str]] = row.units or {}
        tags = [key for key, unit in units.items() if (unit.get("maker"), unit.get("model")) == (maker, model)]
        found += [(row.install, tags)] if tags else []
    return found


def begin(user: User, name: str, site: str | None, like: UUID | None, template: bool) -> actions.Checked:
    """A new install or template, with the plan of another or with nothing."""
    about = {"name": name, "site": {"name": site} if site else {}}
    shelf = Shelf.TEMPLATE if template else Shelf.OPEN
    if like is None:
        document = {"format": FORMAT, "format_version": FORMAT_VERSION, **about}
        return actions.create(user, document, "Install begun", shelf)
    found = actions.checked(actions.find(user, like))
    summary = f"Begun like {found.install.name}"[:1000]
    return actions.create(user, begun_like(found.document) | about, summary, shelf)


@transaction.atomic
def shelve(user: User, install_id: UUID, shelf: str) -> Install:
    """Put an install on a shelf. A template stays one, unless it goes or comes back.

    Raises a refusal where it is not there (any more), or where what was signed would be deleted.
    """
    rows = Install.objects.select_for_update(no_key=True).filter(company_id=user.company_id, id=install_id)
    install = rows.first()
    if install is None or (install.shelf == Shelf.DELETED and not on_shelf(user, Shelf.DELETED).contains(install)):
        raise not_found()
    if shelf == Shelf.DELETED and install.signed_revision is not None:
        raise Refused(409, "signed", f"{install.name} is signed: its record is kept. Archive it instead.")
    if install.shelf != shelf:
        install.shelf, install.shelved_at = shelf, timezone.now()
        install.save(update_fields=["shelf", "shelved_at"])
    return install


def gone() -> QuerySet[Install]:
    """What was deleted so long ago that it goes for good."""
    return Install.objects.filter(shelf=Shelf.DELETED, shelved_at__lt=timezone.now() - KEPT)
