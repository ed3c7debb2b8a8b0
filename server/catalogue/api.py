"""The catalogue: models that ship and the company's own; lists of plates in and out."""

from __future__ import annotations

from typing import Annotated, Any
from uuid import UUID

from accounts.roles import PLAN, allow, person
from django.http import HttpRequest, HttpResponse
from leitung_core.bench.alone import Proof, prove
from leitung_core.catalogue import Model, shipped_models, write_plates
from leitung_core.catalogue.cables import cable_families
from leitung_core.catalogue.device import DeviceType, Setting, read_device_type, shipped_devices
from leitung_core.validation import read
from ninja import Router, Status
from pydantic import BaseModel, Field, RootModel

from catalogue import actions
from catalogue.models import OwnModel

router = Router(tags=["catalogue"])


class ModelOut(BaseModel):
    """A model; `id` where it is the company's own and can be taken out."""

    id: UUID | None = None
    added_by: str | None = None
    model: Model


class CatalogueOut(BaseModel):
    """Every model, by maker and name."""

    models: list[ModelOut]


class PlateList(BaseModel):
    """A CSV list of plates; its first line names the columns."""

    csv: Annotated[str, Field(max_length=2_000_000)]


class Added(BaseModel):
    """How many models came in."""

    added: int


class DeviceChoice(BaseModel):
    """A device of the catalogue as it is picked: what it is, its strips in a word, the settings made on it."""

    id: str
    name: str
    maker: str | None = None
    model: str | None = None
    group: str
    about: str | None = None
    kinds: list[str]
    strips: list[StripChoice]
    settings: dict[str, Setting]


class AnyDevice(RootModel[dict[str, Any]]):
    """A device as a file of the catalogue has it; the core reads it and names what does not fit."""


class StripChoice(BaseModel):
    """A strip by its name, with the terminals that it has as they are printed."""

    id: str
    name: str
    terminals: list[str]


class CableChoice(BaseModel):
    """A construction of cable: the gauges, strands and numbers of conductors in which it is made."""

    id: str
    name: str
    class_2: bool
    awg: list[str]
    strands: list[str]
    counts: list[int]


class WiringChoices(BaseModel):
    """Everything that can be put into a wiring."""

    devices: list[DeviceChoice]
    cables: list[CableChoice]


class PriceList(BaseModel):
    """A CSV list of prices: its first line names the columns `item` and `price`; others are passed over."""

    csv: Annotated[str, Field(max_length=2_000_000)]


class PricesKept(BaseModel):
    """How many prices were kept."""

    kept: int


@router.post("/prices/lists", response=PricesKept)
def price_list(request: HttpRequest, body: PriceList) -> PricesKept:
    """Bring the prices of a CSV list, as the supplier's list of a load-out with its price column filled in."""
    return PricesKept(kept=actions.bring_prices(allow(request, PLAN), body.csv))


@router.get("/devices", response=WiringChoices, exclude_none=True)
def devices(request: HttpRequest) -> WiringChoices:
    """The devices and the cable constructions that come with Leitung."""
    person(request)
    return WiringChoices(
        devices=[_device(kind) for kind in shipped_devices().values()],
        cables=[
            CableChoice(
                id=key, counts=family.counts(), **family.model_dump(include={"name", "class_2", "awg", "strands"})
            )
            for key, family in cable_families().items()
        ],
    )


@router.post("/devices/proofs", response=Proof, exclude_none=True)
def device_proof(request: HttpRequest, body: AnyDevice) -> Proof:
    """A device of one's own, read and solved alone. A refusal names every field that does not fit."""
    person(request)
    return prove(read_device_type(body.root))


def _device(kind: DeviceType) -> DeviceChoice:
    strips = [
        StripChoice(
            id=strip.id, name=strip.name, terminals=[terminal.label or terminal.id for terminal in strip.terminals]
        )
        for strip in kind.strips
    ]
    plain = kind.model_dump(include={"id", "name", "maker", "model", "group", "about", "kinds"})
    return DeviceChoice(**plain, strips=strips, settings=kind.settings)


def _own(company_id: int) -> list[ModelOut]:
    rows = OwnModel.objects.filter(company_id=company_id).select_related("added_by")
    return [ModelOut(id=row.id, added_by=row.added_by.display_name, model=read(Model, row.data)) for row in rows]


def _all(company_id: int) -> list[ModelOut]:
    found = [ModelOut(model=model) for model in shipped_models()] + _own(company_id)
    return sorted(found, key=lambda entry: (entry.model.maker.lower(), entry.model.model.lower()))


@router.get("/catalogue", response=CatalogueOut, exclude_none=True)
def catalogue(request: HttpRequest) -> CatalogueOut:
    """Every model that this company can plan with."""
    return CatalogueOut(models=_all(person(request).company_id))


@router.get("/catalogue.csv", response={200: str})
def catalogue_list(request: HttpRequest) -> HttpResponse:
    """The catalogue as a list of plates."""
    text = write_plates(entry.model for entry in _all(person(request).company_id))
    response = HttpResponse(text, content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="plates.csv"'
    return response


@router.post("/catalogue", response={201: Added})
def add(request: HttpRequest, body: Model) -> Status[Added]:
    """Save a unit as a model."""
    return Status(201, Added(added=len(actions.add(allow(request, PLAN), [body]))))


@router.post("/catalogue/lists", response={201: Added})
def bring(request: HttpRequest, body: PlateList) -> Status[Added]:
    """Bring a list of plates: all of it, or, with every wrong line named, none."""
    return Status(201, Added(added=len(actions.bring(allow(request, PLAN), body.csv))))


@router.post("/catalogue/{model_id}/removal", response=Added)
def take_out(request: HttpRequest, model_id: UUID) -> Added:
    """Take an own model out."""
    actions.take_out(allow(request, PLAN), model_id)
    return Added(added=-1)
