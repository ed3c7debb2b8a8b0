"""What has changed of a plan since one of its revisions: who changed what, what that does to figures and findings."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from accounts.roles import person
from django.http import HttpRequest
from leitung_core.result.compare import Comparison, compare
from ninja import Router
from pydantic import BaseModel, Field

from installs import actions
from installs.models import Install, PlanRevision

router = Router(tags=["installs"])
MOST = 200


class EditSince(BaseModel):
    """A change of the plan: its revision, in words, by whom."""

    number: int
    summary: str
    author: str
    at: datetime


class Since(BaseModel):
    """Everything that was changed since a revision, the newest first, and what it comes to."""

    edits: list[EditSince]
    comparison: Comparison


def since(install: Install, number: int) -> Since:
    """What was changed since a revision. Raises Refused where there is none."""
    before = actions.earlier(install, number)
    rows = PlanRevision.objects.filter(install=install, number__gt=number).select_related("author")
    newest = rows.defer("document", "patch", "inverse").order_by("-number")[:MOST]
    edits = [EditSince(number=row.number, summary=row.summary, author=row.who, at=row.at) for row in newest]
    return Since(edits=edits, comparison=compare(before.result, actions.checked(install).result))


@router.get("/installs/{install_id}/revisions/{number}/since", response=Since, exclude_none=True)
def changes_since(request: HttpRequest, install_id: UUID, number: Annotated[int, Field(ge=1, le=2**31)]) -> Since:
    """What has changed since a revision, as one that was signed."""
    return since(actions.find(person(request), install_id), number)
