"""Named actions on photos: keep one, take one out, read the plate in one."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any
from uuid import UUID

from accounts.models import User
from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone
from installs import actions
from leitung_core.entry.plate.offers import Offer, offers, taken
from leitung_core.entry.plate.read import Contradiction, Field, PlateRead, read_plate
from leitung_core.errors import InputError
from leitung_core.plan.model import Unit
from problems import Refused

from photos import store
from photos.cleaning import clean
from photos.models import Photo

State = Photo.Reading
UNITS = "equipment/"
MOST = 400


def of_install(user: User, install_id: UUID) -> QuerySet[Photo]:
    """The photos of an install that are there."""
    return Photo.objects.filter(install=actions.find(user, install_id), removed_at=None).select_related("author")


def one(user: User, install_id: UUID, photo_id: UUID) -> Photo:
    """A photo of an install. Raises a refusal where there is none."""
    found = of_install(user, install_id).filter(id=photo_id).first()
    if found is None:
        raise Refused(404, "not-found", "There is no such photo here, or it was taken out.")
    return found


@transaction.atomic
def keep(user: User, install_id: UUID, about: str, name: str, raw: bytes, plate: bool) -> Photo:
    """Keep a photo with its thing; a plate goes on to be read."""
    from photos.tasks import read_plate_of

    install = actions.find(user, install_id)
    if Photo.objects.filter(install=install, removed_at=None).count() >= MOST:
        raise Refused(422, "too-many", f"An install keeps {MOST} photos at most. Take some out first.")
    kept = clean(raw, name)
    photo = Photo.objects.create(
        company_id=user.company_id, install=install, content=store.keep(user.company_id, kept.body), about=about,
        name=name, kind=kept.kind, width=kept.width, height=kept.height, author=user,
        reading=State.QUEUED if plate else State.NONE,
    )  # fmt: skip
    if plate:
        read_plate_of.defer(photo=str(photo.id))
    return photo


def take_out(user: User, install_id: UUID, photo_id: UUID) -> Photo:
    """Show a photo no more."""
    found = one(user, install_id, photo_id)
    found.removed_at = timezone.now()
    found.save(update_fields=["removed_at"])
    return found


def work_out(photo_id: UUID) -> None:
    """Read the plate in a photo and keep what it says."""
    photo = Photo.objects.select_related("content").get(id=photo_id)
    try:
        found = read_plate(store.read(photo.content), photo.name)
    except InputError:
        found = PlateRead({}, "", [])
    photo.read, photo.reading = asdict(found), State.DONE
    photo.save(update_fields=["read", "reading"])


def read_of(photo: Photo) -> PlateRead | None:
    """What the plate in it says; None while it is not read."""
    kept: dict[str, Any] | None = photo.read
    if kept is None:
        return None
    fields = {name: Field(**entry) for name, entry in kept["fields"].items()}
    return PlateRead(fields, kept["text"], [Contradiction(**entry) for entry in kept["contradictions"]])


def unit_of(photo: Photo) -> Unit | None:
    """The unit whose plate it is, as the plan stands."""
    if not photo.about.startswith(UNITS):
        return None
    return actions.checked(photo.install).plan.equipment.get(photo.about.removeprefix(UNITS))


def offers_of(photo: Photo) -> list[Offer]:
    """What its plate offers to its unit."""
    read, unit = read_of(photo), unit_of(photo)
    return offers(read, unit) if read is not None and unit is not None else []


def patch_of(photo: Photo, fields: list[str]) -> dict[str, Any]:
    """The change of the plan that takes these fields of its plate."""
    read, unit = read_of(photo), unit_of(photo)
    if read is None or unit is None:
        raise Refused(409, "not-read", "This plate is not read yet, or its unit is gone.")
    return {"equipment": {photo.about.removeprefix(UNITS): taken(read, unit, fields)}}
