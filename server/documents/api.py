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
from installs import actions
from installs.actions import Checked
from installs.api import AnyDocument, PlanOut, plan_out
from leitung_core.loadout.rows import LoadOut
from leitung_core.loadout.written import write_load_out
from leitung_core.plant.plant import Plant
from leitung_core.validation import Id
from leitung_core.wiring.lists import write_labels, write_list
from ninja import Query, Router, Status
from pydantic import BaseModel
from records.packing import ordered, taken_along

from documents.bag import write_bag
from documents.control import control_pdf
from documents.estimate import estimate_pdf
from documents.landings import conductor_labels_pdf, landings_pdf
from documents.loadout import loadout_pdf
from documents.package import directory_pdf, labels_pdf, schedule_pdf
from documents.record import record_pdf
from documents.trials import trials_pdf

router = Router(tags=["documents"])
Only = Literal["buy"]


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
    user = person(request)
    found = actions.checked(actions.find(user, install_id))
    return _sheet(record_pdf(found, user), found.plan.name)


@router.get("/installs/{install_id}/estimate.pdf", response={200: bytes})
def printed_estimate(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """What the install is likely to take, for whoever orders it."""
    user = person(request)
    found = actions.checked(actions.find(user, install_id))
    return _sheet(estimate_pdf(found, user), f"{found.plan.name} estimate")


@router.get("/installs/{install_id}/schedule.pdf", response={200: bytes})
def printed_schedule(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """Every circuit with its drawing and figures."""
    user = person(request)
    found = actions.checked(actions.find(user, install_id))
    return _sheet(schedule_pdf(found, user), f"{found.plan.name} schedule")


@router.get("/installs/{install_id}/directory.pdf", response={200: bytes})
def printed_directory(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """The directory of every panel."""
    user = person(request)
    found = actions.checked(actions.find(user, install_id))
    return _sheet(directory_pdf(found, user), f"{found.plan.name} directory")


@router.get("/installs/{install_id}/labels.pdf", response={200: bytes})
def printed_labels(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """A label for every disconnect; its code opens the install on whatever reads it."""
    user = person(request)
    found = actions.checked(actions.find(user, install_id))
    address = request.build_absolute_uri(f"/installs/{install_id}/start-up")
    return _sheet(labels_pdf(found, user, address), f"{found.plan.name} labels")


class SheetQuery(BaseModel):
    """Which landing sheets: of one device, of both ends of one cable, or, with neither, of everything."""

    device: Id | None = None
    cable: Id | None = None


@router.get("/installs/{install_id}/landings.pdf", response={200: bytes})
def printed_landings(request: HttpRequest, install_id: UUID, query: Query[SheetQuery]) -> HttpResponse:
    """The landing sheets: a page for each device, and the drawing of each cable with both its ends."""
    user = person(request)
    found = actions.checked(actions.find(user, install_id))
    what = query.device or query.cable or ""
    return _sheet(landings_pdf(found, user, query.device, query.cable), f"{found.plan.name} landings {what}")


class ControlQuery(BaseModel):
    """Whose control sheet: any device of the system."""

    system: Id


@router.get("/installs/{install_id}/controls.pdf", response={200: bytes})
def printed_controls(request: HttpRequest, install_id: UUID, query: Query[ControlQuery]) -> HttpResponse:
    """The control sheet of a system: diagram with landings, matrix, functional tests, set-up."""
    user = person(request)
    found = actions.checked(actions.find(user, install_id))
    return _sheet(control_pdf(found, user, query.system), f"{found.plan.name} controls {query.system}")


@router.get("/installs/{install_id}/trials.pdf", response={200: bytes})
def printed_trials(request: HttpRequest, install_id: UUID) -> HttpResponse:
    """The trial sheet: source by source, what is expected, and what was measured or is to be."""
    user = person(request)
    found = actions.checked(actions.find(user, install_id))
    return _sheet(trials_pdf(found, user), f"{found.plan.name} trials")


@router.get("/installs/{install_id}/load-out.pdf", response={200: bytes})
def printed_load_out(request: HttpRequest, install_id: UUID, only: Only | None = None) -> HttpResponse:
    """What the install takes along, to be ticked while it is packed; or only what is still to be bought."""
    user = person(request)
    found = actions.checked(actions.find(user, install_id))
    return _sheet(loadout_pdf(found, user, _asked(found, only)), f"{found.plan.name} {only or 'load-out'}")


@router.get("/installs/{install_id}/load-out.csv", response={200: str})
def load_out_list(request: HttpRequest, install_id: UUID, only: Only | None = None) -> HttpResponse:
    """What the install takes along, or what of it is still to be bought, as a list for the supplier."""
    found = actions.checked(actions.find(person(request), install_id))
    written = write_load_out(_asked(found, only), prices_of(found.install.company))
    return _list(written, f"{found.plan.name} {only or 'load-out'}")


def _asked(found: Checked, only: Only | None) -> LoadOut:
    taken = taken_along(found.revision)
    return taken if only is None else ordered(found.install, taken)


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
    user = person(request)
    found = actions.checked(actions.find(user, install_id))
    return _sheet(conductor_labels_pdf(found, user), f"{found.plan.name} conductor labels")


def _list(text: str, name: str) -> HttpResponse:
    response = HttpResponse(text, content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = _file_name(name, "csv")
    return response


def _sheet(content: bytes, name: str) -> HttpResponse:
    response = HttpResponse(content, content_type="application/pdf")
    response["Content-Disposition"] = _file_name(name, "pdf").replace("attachment", "inline")
    return response
