"""The printed record, and the plan as an open file, out and in."""

from __future__ import annotations

import re
from typing import Any
from uuid import UUID

import orjson
from accounts.roles import PLAN, allow, person
from django.http import HttpRequest, HttpResponse
from installs import actions
from installs.api import AnyDocument, PlanOut, plan_out
from ninja import Router, Status

from documents.record import record_pdf

router = Router(tags=["documents"])


def _file_name(name: str, ending: str) -> str:
    plain = re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower() or "install"
    return f'attachment; filename="{plain[:60]}.{ending}"'


@router.get("/installs/{install_id}/plan.json", response={200: dict[str, Any]})
def export_plan(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """The plan as an open file; `./leitung check` reads it."""
    found = actions.state(actions.find(person(request), install_id))
    response = HttpResponse(orjson.dumps(found.document, option=orjson.OPT_INDENT_2), content_type="application/json")
    response["Content-Disposition"] = _file_name(found.plan.name, "leitung.json")
    return response


@router.post("/imports", response={201: PlanOut}, exclude_none=True)
def import_plan(request: HttpRequest, body: AnyDocument) -> Status[PlanOut]:
    """A plan file as a new install of this company."""
    user = allow(request, PLAN)
    return Status(201, plan_out(user, actions.create(user, body.root, "Imported from a plan file")))


@router.get("/installs/{install_id}/record.pdf", response={200: bytes})
def printed_record(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """The record on paper."""
    user = person(request)
    found = actions.state(actions.find(user, install_id))
    response = HttpResponse(record_pdf(found, user), content_type="application/pdf")
    response["Content-Disposition"] = _file_name(found.plan.name, "pdf").replace("attachment", "inline")
    return response
