"""Meters over HTTP: those of the company, those that are reached, and a value taken from one."""

from __future__ import annotations

from datetime import date
from typing import Annotated
from uuid import UUID

from accounts.roles import RECORD, allow, person
from django.http import HttpRequest
from django.utils import timezone
from installs import actions as installs
from installs.results import brief_at
from leitung_core.commissioning.judge import say_read
from leitung_core.errors import InputError, Problem
from leitung_core.instruments.classes import MeterClass, Unit, out_of_date, say_calibration
from leitung_core.validation import Text
from ninja import Router, Status
from problems import not_found
from pydantic import BaseModel, Field

from meters import actions
from meters.connected import Connected, connected
from meters.models import Meter
from meters.taking import take

router = Router(tags=["meters"])
Short = Annotated[str, Field(min_length=1, max_length=80)]


class MeterOut(BaseModel):
    """A meter: what it reads and how far it may be off; `reached`: a value can be taken from it.

    doubt: what is to be said of its calibration today.
    """

    id: str
    name: str
    serial: str
    classes: dict[Unit, MeterClass]
    calibrated_on: date | None = None
    doubt: str | None = None
    reached: bool = False


class NewMeter(BaseModel):
    """A meter of the company; without classes it is taken as one of the trade, bought for what it `reads`."""

    name: Short
    serial: Annotated[str, Field(max_length=80)] = ""
    classes: dict[Unit, MeterClass] = {}
    reads: Unit | None = None
    calibrated_on: date | None = None


class Calibration(BaseModel):
    """When it was calibrated."""

    on: date


class Leads(BaseModel):
    """Which reading is taken, and by which instrument."""

    key: Annotated[str, Field(min_length=1, max_length=120)]
    meter: Text


class ValueTaken(BaseModel):
    """What the instrument shows. Nothing is recorded by it."""

    value: float
    shown: str


def meter_out(found: Meter | Connected) -> MeterOut:
    on = found.calibrated_on
    day = date.fromisoformat(on) if isinstance(on, str) else on
    return MeterOut(
        id=str(found.id), name=found.name, serial=found.serial, classes=found.classes, calibrated_on=day,
        doubt=_doubt(found, day), reached=isinstance(found, Connected),
    )  # fmt: skip


def _doubt(found: Meter | Connected, on: date | None) -> str | None:
    """What is to be said of a meter before it is used."""
    if isinstance(found, Connected) and found.stand_in:
        return "a stand-in: it shows what the plan says, and nothing is recorded with it"
    return out_of_date(on, timezone.localdate()) or (None if on else say_calibration(on))


@router.get("/meters", response=list[MeterOut], exclude_none=True)
def meters(request: HttpRequest) -> list[MeterOut]:
    """The meters of the company, and the instruments that are reached from here."""
    user = person(request)
    mine = [meter_out(row) for row in actions.of_company(user)]
    return mine + [meter_out(row) for row in connected()]


@router.post("/meters", response={201: MeterOut}, exclude_none=True)
def note(request: HttpRequest, body: NewMeter) -> Status[MeterOut]:
    """Note a meter of the company."""
    user = allow(request, RECORD)
    found = actions.note(user, body.name.strip(), body.serial.strip(), body.classes, body.calibrated_on, body.reads)
    return Status(201, meter_out(found))


@router.post("/meters/{meter_id}/calibration", response=MeterOut, exclude_none=True)
def calibrated(request: HttpRequest, meter_id: UUID, body: Calibration) -> MeterOut:
    """Note that a meter was calibrated."""
    return meter_out(actions.calibrated(allow(request, RECORD), meter_id, body.on))


@router.post("/meters/{meter_id}/retirement", response=MeterOut, exclude_none=True)
def retire(request: HttpRequest, meter_id: UUID) -> MeterOut:
    """Offer a meter no more. What was read with it keeps it."""
    return meter_out(actions.retire(allow(request, RECORD), meter_id))


@router.post("/installs/{install_id}/takings", response=ValueTaken)
def taking(request: HttpRequest, install_id: UUID, body: Leads) -> ValueTaken:
    """Take a value from an instrument; it is recorded when the person who sees it says so."""
    user = allow(request, RECORD)
    install = installs.find(user, install_id)
    instrument = actions.reached(body.meter)
    points = brief_at(install, install.revision).start_up.readings
    point = next((point for point in points if point.key == body.key), None)
    if point is None:
        raise InputError(Problem("key", body.key, "this plan asks for no such reading", "Load the page again."))
    if instrument is None:
        raise not_found()
    value = take(instrument, point, installs.checked(install).document)
    value = round(value, 4)
    return ValueTaken(value=value, shown=say_read(value, point.unit))
