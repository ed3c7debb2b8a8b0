"""Photos and papers of an install's things, and the plates read in them."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from accounts.roles import RECORD, allow, person
from django.http import HttpRequest, HttpResponse
from installs.uploads import bytes_of
from ninja import Router, Status
from pydantic import BaseModel, Field

from photos import actions, store
from photos.models import Photo

router = Router(tags=["photos"])
GROUPS = "equipment|devices|cables|circuits|sources|steps|readings|tests|open-items"
ABOUT = rf"^(site|({GROUPS})(/[A-Za-z0-9_:-][A-Za-z0-9_.:-]*)+)$"
MOST_TEXT = 4_900_000  # of base64: the bytes themselves are measured, and a larger body is refused before


class NewPhoto(BaseModel):
    """A photo or a paper, and the thing that it is of."""

    about: Annotated[str, Field(pattern=ABOUT, max_length=120)]
    name: Annotated[str, Field(min_length=1, max_length=200)]
    base64: Annotated[str, Field(max_length=MOST_TEXT)]
    plate: Annotated[bool, Field(description="whether a plate in it is to be read")] = False


class OfferOut(BaseModel):
    """A field of the plate, to be taken or left."""

    field: str
    says: str
    shown: str
    sure: bool
    box: list[int]
    takes: bool
    stands: bool
    doubted: str | None = None


class PhotoOut(BaseModel):
    """A photo; its plate's fields once it is read."""

    id: UUID
    about: str
    name: str
    kind: str
    width: int | None = None
    height: int | None = None
    author: str
    at: datetime
    reading: Literal["none", "queued", "done", "failed"]
    offers: list[OfferOut] = []


class Taking(BaseModel):
    """The fields that are taken."""

    fields: Annotated[list[Annotated[str, Field(max_length=40)]], Field(min_length=1, max_length=40)]


class Taken(BaseModel):
    """The change of the plan."""

    patch: dict[str, Any]


def photo_out(photo: Photo, with_offers: bool = False) -> PhotoOut:
    return PhotoOut(
        id=photo.id, about=photo.about, name=photo.name, kind=photo.kind, width=photo.width, height=photo.height,
        author=photo.who, at=photo.at, reading=photo.reading,
        offers=[OfferOut(**asdict(offer)) for offer in actions.offers_of(photo)] if with_offers else [],
    )  # fmt: skip


@router.get("/installs/{install_id}/photos", response=list[PhotoOut], exclude_none=True)
def photos(request: HttpRequest, install_id: UUID) -> list[PhotoOut]:
    """Every photo of an install."""
    return [photo_out(row) for row in actions.of_install(person(request), install_id)]


@router.post("/installs/{install_id}/photos", response={201: PhotoOut}, exclude_none=True)
def new_photo(request: HttpRequest, install_id: UUID, body: NewPhoto) -> Status[PhotoOut]:
    """Keep a photo with its thing."""
    user = allow(request, RECORD)
    raw = bytes_of(body.name, body.base64)
    return Status(201, photo_out(actions.keep(user, install_id, body.about, body.name, raw, body.plate)))


@router.get("/installs/{install_id}/photos/{photo_id}", response=PhotoOut, exclude_none=True)
def photo(request: HttpRequest, install_id: UUID, photo_id: UUID) -> PhotoOut:
    """One photo, and what its plate offers."""
    return photo_out(actions.one(person(request), install_id, photo_id), with_offers=True)


@router.get("/installs/{install_id}/photos/{photo_id}/content", response={200: bytes})
def content(request: HttpRequest, install_id: UUID, photo_id: UUID) -> HttpResponse:
    """Its bytes. A picture is shown, a paper is saved; neither may do anything."""
    found = actions.one(person(request), install_id, photo_id)
    response = HttpResponse(store.read(found.content), content_type=found.kind)
    inline = found.kind.startswith("image/")
    response["Content-Disposition"] = "inline" if inline else 'attachment; filename="paper.pdf"'
    response["Content-Security-Policy"] = "default-src 'none'; sandbox"
    response["Cache-Control"] = "private, max-age=86400, immutable"
    return response


@router.post("/installs/{install_id}/photos/{photo_id}/removal", response=PhotoOut, exclude_none=True)
def take_out(request: HttpRequest, install_id: UUID, photo_id: UUID) -> PhotoOut:
    """Show a photo no more."""
    return photo_out(actions.take_out(allow(request, RECORD), install_id, photo_id))


@router.post("/installs/{install_id}/photos/{photo_id}/takings", response=Taken)
def takings(request: HttpRequest, install_id: UUID, photo_id: UUID, body: Taking) -> Taken:
    """The change that takes some fields of a plate; nothing is kept."""
    return Taken(patch=actions.patch_of(actions.one(person(request), install_id, photo_id), body.fields))
