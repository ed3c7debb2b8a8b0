"""Printed sheets, and the plan and its record as open files."""

from __future__ import annotations

import re
from tempfile import TemporaryFile
from typing import Any, Literal
from uuid import UUID

import orjson
from accounts.roles import PLAN, allow, person
from catalogue.actions import prices_of
from django.http import FileResponse, HttpRequest, HttpResponse
from django.template.loader import render_to_string
from installs import actions
from installs.api import AnyDocument, PlanOut, plan_out
from installs.uploads import bytes_of
from leitung_core.loadout.written import write_load_out
from leitung_core.plant.plant import Plant
from leitung_core.validation import Id, Text
from leitung_core.wiring.lists import write_labels, write_list
from links.links import labels_link
from ninja import Query, Router, Status
from pydantic import BaseModel

from documents.bag import write_bag
from documents.bring_in import bring_in
from documents.models import Sheet
from documents.sheets import KINDS, asked_for, before, sheet_of
from documents.together import PARTS, Chosen

router = Router(tags=["documents"])
Only = Literal["buy"]
LOOK_AGAIN_S = 2


def _file_name(name: str, ending: str) -> str:
    plain = re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower() or "install"
    return f'attachment; filename="{plain[:60]}.{ending}"'


@router.get("/installs/{install_id}/plan.json", response={200: dict[str, Any]})
def export_plan(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """The plan as an open file; `./leitung check` reads it."""
    found = actions.checked(actions.find(person(request), install_id))
    response = HttpResponse(orjson.dumps(found.document, option=orjson.OPT_INDENT_2), content_type="application/json")
    response["Content-Disposition"] = _file_name(found.plan.name, "leitung.json")
    return response


@router.post("/imports", response={201: PlanOut}, exclude_none=True)
def import_plan(request: HttpRequest, body: AnyDocument) -> Status[PlanOut]:
    """A plan file as a new install of this company."""
    user = allow(request, PLAN)
    return Status(201, plan_out(user, actions.create(user, body.root, "Imported from a plan file")))


class PackageIn(BaseModel):
    """The file of an install, as `package.zip` wrote it."""

    name: Text
    base64: str


@router.post("/packages", response={201: PlanOut}, exclude_none=True)
def bring_package(request: HttpRequest, body: PackageIn) -> Status[PlanOut]:
    """An install from its file: the same plan, record and photos."""
    user = allow(request, PLAN)
    return Status(201, plan_out(user, bring_in(user, body.name, bytes_of(body.name, body.base64))))


@router.get("/installs/{install_id}/package.zip", response={200: bytes})
def package(request: HttpRequest, install_id: UUID) -> FileResponse:
    """Plan, record, photos and lists as open files, with their sums."""
    found = actions.checked(actions.find(person(request), install_id))
    packed = TemporaryFile()  # noqa: SIM115 the response closes it
    write_bag(found, packed)
    packed.seek(0)
    response = FileResponse(packed, content_type="application/zip")
    response["Content-Disposition"] = _file_name(found.plan.name, "zip")
    return response


@router.get("/installs/{install_id}/record.pdf", response={200: bytes})
def printed_record(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """The record on paper."""
    return _sheet(request, install_id, "record")


class PartsQuery(BaseModel):
    """Which parts of the package; all of them where none is named."""

    part: list[Chosen] = []


@router.get("/installs/{install_id}/package.pdf", response={200: bytes})
def printed_package(request: HttpRequest, install_id: UUID, query: Query[PartsQuery]) -> HttpResponse:
    """Everything of the install in one PDF, with contents, bookmarks and page numbers."""
    wanted = [part for part in PARTS if part in query.part]
    return _sheet(request, install_id, "package", " ".join(wanted), of=" ".join(wanted))


@router.get("/installs/{install_id}/estimate.pdf", response={200: bytes})
def printed_estimate(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """What the install is likely to take, for whoever orders it."""
    return _sheet(request, install_id, "estimate")


@router.get("/installs/{install_id}/schedule.pdf", response={200: bytes})
def printed_schedule(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """Every circuit with its drawing and figures."""
    return _sheet(request, install_id, "schedule")


@router.get("/installs/{install_id}/directory.pdf", response={200: bytes})
def printed_directory(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """The directory of every panel."""
    return _sheet(request, install_id, "directory")


@router.get("/installs/{install_id}/labels.pdf", response={200: bytes})
def printed_labels(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """A label for every disconnect; its code opens that line's sheet, without an account where the lead says so."""
    link = labels_link(actions.find(person(request), install_id))
    return _sheet(request, install_id, "labels", f"{request.build_absolute_uri('/')} {link.id if link else ''}")


class SheetQuery(BaseModel):
    """Which landing sheets: of one device, of both ends of one cable, or, with neither, of everything."""

    device: Id | None = None
    cable: Id | None = None


@router.get("/installs/{install_id}/landings.pdf", response={200: bytes})
def printed_landings(request: HttpRequest, install_id: UUID, query: Query[SheetQuery]) -> HttpResponse:
    """The landing sheets: a page for each device, and the drawing of each cable with both its ends."""
    what = f"device:{query.device}" if query.device else f"cable:{query.cable}" if query.cable else ""
    return _sheet(request, install_id, "landings", what, of=query.device or query.cable or "")


class ControlQuery(BaseModel):
    """Whose control sheet: any device of the system."""

    system: Id


@router.get("/installs/{install_id}/controls.pdf", response={200: bytes})
def printed_controls(request: HttpRequest, install_id: UUID, query: Query[ControlQuery]) -> HttpResponse:
    """The control sheet of a system: diagram with landings, matrix, functional tests, set-up."""
    return _sheet(request, install_id, "controls", query.system, of=query.system)


@router.get("/installs/{install_id}/trials.pdf", response={200: bytes})
def printed_trials(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """The trial sheet: source by source, what is expected, and what was measured or is to be."""
    return _sheet(request, install_id, "trials")


@router.get("/installs/{install_id}/load-out.pdf", response={200: bytes})
def printed_load_out(request: HttpRequest, install_id: UUID, only: Only | None = None) -> HttpResponse:
    """What the install takes along, to be ticked while it is packed; or only what is still to be bought."""
    return _sheet(request, install_id, "load-out", only or "", of=only or "")


@router.get("/installs/{install_id}/load-out.csv", response={200: str})
def load_out_list(request: HttpRequest, install_id: UUID, only: Only | None = None) -> HttpResponse:
    """What the install takes along, or what of it is still to be bought, as a list for the supplier."""
    found = actions.checked(actions.find(person(request), install_id))
    written = write_load_out(asked_for(found, only or ""), prices_of(found.install.company))
    return _list(written, f"{found.plan.name} {only or 'load-out'}")


@router.get("/installs/{install_id}/landings.csv", response={200: str})
def landing_list(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """Every conductor with both its ends, as a list that can be brought in again."""
    found = actions.checked(actions.find(person(request), install_id))
    return _list(write_list(Plant(found.plan)), f"{found.plan.name} landings")


@router.get("/installs/{install_id}/conductor-labels.csv", response={200: str})
def label_list(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """The label of every landed or capped end, for a label printer."""
    found = actions.checked(actions.find(person(request), install_id))
    return _list(write_labels(Plant(found.plan)), f"{found.plan.name} conductor labels")


@router.get("/installs/{install_id}/conductor-labels.pdf", response={200: bytes})
def printed_conductor_labels(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """The label of every landed or capped end, on paper."""
    return _sheet(request, install_id, "conductor-labels")


def _list(text: str, name: str) -> HttpResponse:
    response = HttpResponse(text, content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = _file_name(name, "csv")
    return response


def _sheet(request: HttpRequest, install_id: UUID, kind: str, what: str = "", of: str = "") -> HttpResponse:
    """The sheet where it is made, its file named by what it is of; else a page that turns into it."""
    sheet = sheet_of(person(request), install_id, kind, what)
    if sheet.status != Sheet.Status.DONE:
        return being_made(sheet)
    named = " ".join(word for word in (sheet.install.name, KINDS[kind].name, of) if word)
    response = HttpResponse(bytes(sheet.body or b""), content_type="application/pdf")
    response["Content-Disposition"] = _file_name(named, "pdf").replace("attachment", "inline")
    return response


def being_made(sheet: Sheet) -> HttpResponse:
    """A page that turns into a sheet once that is made."""
    others = before(sheet)
    page = render_to_string("documents/being_made.html", {"name": sheet.install.name, "before": others})
    response = HttpResponse(page, status=202)
    response["Refresh"] = str(LOOK_AGAIN_S)
    return response
