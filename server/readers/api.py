"""Links for readers without an account, as the lead sees to them."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from accounts.roles import LEAD, allow
from django.db.models import Count, Max
from django.http import HttpRequest
from installs import actions
from leitung_core.validation import Text
from links import links
from links.models import ReaderLink, ReaderLook
from ninja import Router
from pydantic import AwareDatetime, BaseModel, Field

router = Router(tags=["readers"])
ScopeName = Literal["record", "line", "device", "customer", "labels"]


class NewLink(BaseModel):
    """A link to be made: what it opens, for whom, until when."""

    scope: ScopeName
    about: Annotated[str, Field(max_length=64)] = ""
    name: Text
    until: AwareDatetime
    warranty_until: date | None = None


class ReaderLinkOut(BaseModel):
    """A link, whether it serves, how often it was opened. address: none for the labels, which have one each."""

    id: UUID
    scope: ScopeName
    about: str
    name: str
    by: str
    at: datetime
    until: datetime
    serves: bool
    address: str | None
    looks: int
    last_look: datetime | None


class EndLink(BaseModel):
    """Nothing more is to be said."""


@router.get("/installs/{install_id}/links", response=list[ReaderLinkOut])
def reader_links(request: HttpRequest, install_id: UUID) -> list[ReaderLinkOut]:
    """Every link of an install, the newest first."""
    return _out(request, install_id)


@router.post("/installs/{install_id}/links", response=list[ReaderLinkOut])
def make_reader_link(request: HttpRequest, install_id: UUID, body: NewLink) -> list[ReaderLinkOut]:
    """Make a link."""
    user = allow(request, LEAD)
    scope = ReaderLink.Scope(body.scope)
    links.make(user, install_id, scope, body.about, body.name, body.until, body.warranty_until)
    return _out(request, install_id)


@router.post("/installs/{install_id}/links/{link_id}/ending", response=list[ReaderLinkOut])
def end_reader_link(request: HttpRequest, install_id: UUID, link_id: UUID, body: EndLink) -> list[ReaderLinkOut]:
    """Take a link back."""
    links.end(allow(request, LEAD), install_id, link_id)
    return _out(request, install_id)


def _out(request: HttpRequest, install_id: UUID) -> list[ReaderLinkOut]:
    install = actions.find(allow(request, LEAD), install_id)
    rows = links.of_install(install)
    looked = ReaderLook.objects.filter(install=install).values("link").annotate(count=Count("id"), last=Max("at"))
    counts = {row["link"]: (row["count"], row["last"]) for row in looked.order_by()}
    return [
        ReaderLinkOut.model_validate({
            "id": row.id, "scope": row.scope, "about": row.about, "name": row.name, "by": row.by.display_name,
            "at": row.at, "until": row.until, "serves": links.is_open(row),
            "address": request.build_absolute_uri(links.path_of(row)) if row.scope != "labels" else None,
            "looks": looks, "last_look": last,
        })
        for row in rows for looks, last in [counts.get(row.id, (0, None))]
    ]  # fmt: skip
