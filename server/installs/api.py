"""Installs: the board, the plan with its results, changes, undo, history, quick sizing."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from accounts.models import User
from accounts.roles import PLAN, allow, person
from django.http import HttpRequest, HttpResponse
from leitung_core.circuits.result import CircuitResult
from leitung_core.circuits.size import size
from leitung_core.circuits.spec import Spec
from leitung_core.errors import PatchConflict
from leitung_core.plan.describe import differences
from leitung_core.plan.model import Plan, plan_json_schema, read_plan
from leitung_core.plant.plant import Plant
from leitung_core.plant.size_document import spec_of
from leitung_core.result import PlanResult, check_plant
from leitung_core.result.stations import Progressed, StationAt, recorded
from leitung_core.validation import Id, read
from ninja import Path, Query, Router
from problems import problem
from pydantic import BaseModel, Field, RootModel

from installs import actions
from installs.before import landed_before
from installs.models import Install, PlanRevision

router = Router(tags=["installs"])
PAGE = 30
Number = Annotated[int, Path(ge=1, le=2**31 - 1)]
Standing = Literal["open", "template", "archived", "deleted"]


class InstallOut(BaseModel):
    """An install as the board shows it."""

    id: UUID
    name: str
    site: str
    revision: int
    station: Progressed
    next: str
    stuck_on: str
    signed_revision: int | None = None
    changed_at: datetime
    shelf: Standing = "open"
    kept_until: Annotated[datetime | None, Field(description="of a deleted one: until then it can be brought back")] = (
        None
    )
    brought_in: Annotated[str, Field(description="that and by whom it was brought in from a file")] = ""
    recorded: Annotated[list[StationAt], Field(description="the stations after planning")] = []


class PlanOut(BaseModel):
    """The plan as it stands, everything computed from it, and what this person may take back."""

    install: InstallOut
    document: Plan
    result: PlanResult
    unchanged: Annotated[list[str], Field(description="parts of the result left out, as those of the base: paths")] = []
    can_undo: bool
    can_redo: bool


class Change(BaseModel):
    """A JSON merge patch (RFC 7386), and the revision that its author was looking at."""

    base_revision: int
    patch: dict[str, Any]
    only_changed: bool = Field(False, description="leave out the results that did not change since `base_revision`")


class AnyDocument(RootModel[dict[str, Any]]):
    """A JSON object that the core reads itself: its messages name field, value and remedy."""


class RevisionOut(BaseModel):
    """One line of the history."""

    number: int
    kind: Literal["create", "edit", "undo", "redo"]
    of: int | None = None
    summary: str
    author: str
    at: datetime


class History(BaseModel):
    """Newest first. `before` asks for the next page; absent on the last."""

    revisions: list[RevisionOut]
    before: int | None = None


def install_out(install: Install) -> InstallOut:
    row = InstallOut.model_validate(install, from_attributes=True)
    return row.model_copy(update={"recorded": recorded(row.station, bool(row.stuck_on))})


def plan_out(user: User, found: actions.Checked, only_changed: bool = False) -> PlanOut:
    stacks = actions.stacks(user, found.install)
    result, unchanged = found.result, list[str]()
    if only_changed and found.before is not None:
        result, unchanged = without_unchanged(result, found.before)
    return PlanOut(
        install=install_out(found.install),
        document=found.plan,
        result=result,
        unchanged=unchanged,
        can_undo=bool(stacks.undo),
        can_redo=bool(stacks.redo),
    )


def without_unchanged(result: PlanResult, before: PlanResult) -> tuple[PlanResult, list[str]]:
    """The result without the lines, devices and cables that are what they were, and what was left out."""
    now, then, unchanged = result.wiring, before.wiring, list[str]()

    def fresh(group: str, new: Mapping[str, Any], old: Mapping[str, Any]) -> dict[str, Any]:
        changed = {key: row for key, row in new.items() if old.get(key) != row}
        unchanged.extend(f"{group}/{key}" for key in new if key not in changed)
        return changed

    wiring = {
        "devices": fresh("devices", now.devices, then.devices), "cables": fresh("cables", now.cables, then.cables)
    }  # fmt: skip
    parts = {
        "circuits": fresh("circuits", result.circuits, before.circuits),
        "drawn": fresh("drawn", result.drawn, before.drawn),
        "wiring": now.model_copy(update=wiring),
    }
    return result.model_copy(update=parts), unchanged


@router.get("/installs/{install_id}/changed", response=InstallOut, exclude_none=True)
def changed(request: HttpRequest, install_id: UUID) -> InstallOut:
    """The install without its plan, to see whether anything has changed."""
    return install_out(actions.find(person(request), install_id))


@router.get("/installs/{install_id}", response=PlanOut, exclude_none=True)
def plan(request: HttpRequest, install_id: UUID) -> PlanOut:
    """The plan and everything computed from it."""
    user = person(request)
    return plan_out(user, actions.checked(actions.find(user, install_id)))


@router.post("/installs/{install_id}/patches", response=PlanOut, exclude_none=True)
def change(request: HttpRequest, install_id: UUID, body: Change) -> PlanOut | HttpResponse:
    """Change the plan. 409 with both versions where someone else has changed the same element since."""
    user = allow(request, PLAN)
    try:
        return plan_out(user, actions.change(user, install_id, body.base_revision, body.patch), body.only_changed)
    except PatchConflict as error:
        return _conflict(user, install_id, error, body.base_revision, body.patch)


class LandingList(BaseModel):
    """A landing list as CSV, and the revision that its author was looking at."""

    base_revision: int
    csv: Annotated[str, Field(max_length=2_000_000)]


@router.post("/installs/{install_id}/landings", response=PlanOut, exclude_none=True)
def bring_landings(request: HttpRequest, install_id: UUID, body: LandingList) -> PlanOut | HttpResponse:
    """Bring a landing list: every line of it, or, with each wrong line named, none."""
    user = allow(request, PLAN)
    try:
        return plan_out(user, actions.bring_landings(user, install_id, body.base_revision, body.csv))
    except PatchConflict as error:
        return _conflict(user, install_id, error, body.base_revision, {})


class AsBefore(BaseModel):
    """An install in which such a cable is landed, and the change that lands this one so; nothing where none is."""

    name: str | None = None
    patch: dict[str, Any] | None = None


@router.get("/installs/{install_id}/cables/{cable}/as-before", response=AsBefore, exclude_none=True)
def as_before(request: HttpRequest, install_id: UUID, cable: Id) -> AsBefore:
    """How the company landed such a cable before."""
    user = person(request)
    found = landed_before(user, actions.checked(actions.find(user, install_id)), cable)
    return AsBefore(name=found.install.name, patch=found.patch) if found else AsBefore()


class Exchange(BaseModel):
    """The device that takes the place of another."""

    device: Id
    new: Id
    type: Id


@router.post("/installs/{install_id}/exchanges", response=PlanOut, exclude_none=True)
def exchange(request: HttpRequest, install_id: UUID, body: Exchange) -> PlanOut:
    """Exchange a device: its landings are kept as found, and go to the terminals of the new one that mean the same."""
    user = allow(request, PLAN)
    return plan_out(user, actions.exchange_device(user, install_id, body.device, body.new, body.type))


@router.post("/installs/{install_id}/undo", response=PlanOut, exclude_none=True)
def undo(request: HttpRequest, install_id: UUID) -> PlanOut | HttpResponse:
    """Take back this person's last change."""
    user = allow(request, PLAN)
    try:
        return plan_out(user, actions.step_back(user, install_id))
    except PatchConflict as error:
        return _conflict(user, install_id, error, 1, {})


@router.post("/installs/{install_id}/redo", response=PlanOut, exclude_none=True)
def redo(request: HttpRequest, install_id: UUID) -> PlanOut | HttpResponse:
    """Bring back what this person took back last."""
    user = allow(request, PLAN)
    try:
        return plan_out(user, actions.step_forward(user, install_id))
    except PatchConflict as error:
        return _conflict(user, install_id, error, 1, {})


def _conflict(user: User, install_id: UUID, error: PatchConflict, base: int, patch: dict[str, Any]) -> HttpResponse:
    """Both versions: what was asked for, and the plan as it stands with who changed it since."""
    found = actions.checked(actions.find(user, install_id))
    since = PlanRevision.objects.filter(install=found.install, number__gt=base).select_related("author")
    return problem(
        409,
        error.code,
        "Someone else changed the same part. Nothing was overwritten: choose which stands.",
        elements=sorted(error.elements),
        yours=patch,
        choices=[asdict(choice) for choice in differences(found.document, patch)],
        theirs=[
            _revision_out(row).model_dump(mode="json", exclude_none=True) for row in since.order_by("-number")[:10]
        ],
        plan=plan_out(user, found).model_dump(mode="json", exclude_none=True),
    )


def _revision_out(row: PlanRevision) -> RevisionOut:
    return RevisionOut(number=row.number, kind=row.kind, of=row.of, summary=row.summary, author=row.who, at=row.at)


@router.get("/installs/{install_id}/revisions", response=History, exclude_none=True)
def history(request: HttpRequest, install_id: UUID, before: Annotated[int, Query(ge=1, le=2**31)] = 2**31) -> History:
    """Who changed what and when."""
    install = actions.find(person(request), install_id)
    rows = PlanRevision.objects.filter(install=install, number__lt=before).select_related("author")
    page = list(rows.defer("document", "patch", "inverse").order_by("-number")[: PAGE + 1])
    more = page[PAGE - 1].number if len(page) > PAGE else None
    return History(revisions=[_revision_out(row) for row in page[:PAGE]], before=more)


@router.get("/installs/{install_id}/revisions/{number}", response=PlanOut, exclude_none=True)
def earlier(request: HttpRequest, install_id: UUID, number: Number) -> PlanOut:
    """The plan as it stood at a revision, and everything computed from it: to look at, not to change."""
    found = actions.earlier(actions.find(person(request), install_id), number)
    install = install_out(found.install)
    return PlanOut(install=install, document=found.plan, result=found.result, can_undo=False, can_redo=False)


class BringBack(BaseModel):
    """The newest revision that whoever brings an earlier one back was looking at."""

    base_revision: int


@router.post("/installs/{install_id}/revisions/{number}/bringing-back", response=PlanOut, exclude_none=True)
def bring_back(request: HttpRequest, install_id: UUID, number: Number, body: BringBack) -> PlanOut:
    """Make the plan what it was at a revision: a change of its own, which undo takes back."""
    user = allow(request, PLAN)
    return plan_out(user, actions.bring_back(user, install_id, number, body.base_revision))


@router.post("/size", response=CircuitResult)
def quick_size(request: HttpRequest, body: AnyDocument) -> CircuitResult:
    """Size one circuit without keeping anything."""
    return size(read(Spec, body.root))


class CheckOut(BaseModel):
    """A plan's results, and the size document of each of its lines."""

    document: Plan
    result: PlanResult
    sizes: dict[str, Spec]


@router.post("/check", response=CheckOut, exclude_none=True)
def check(request: HttpRequest, body: AnyDocument) -> CheckOut:
    """Check a plan without keeping anything."""
    plant = Plant(read_plan(body.root))
    specs = {key: spec_of(plant, key) for key in plant.plan.circuits}
    sizes = {key: spec for key, spec in specs.items() if spec is not None}
    return CheckOut(document=plant.plan, result=check_plant(plant), sizes=sizes)


@router.get("/plan-schema", response=dict[str, Any], auth=None)
def plan_schema(request: HttpRequest) -> dict[str, Any]:
    """The JSON Schema of the plan format."""
    return plan_json_schema()
