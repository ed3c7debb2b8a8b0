"""What people say and bring, read against an install: shown first, kept only when they take it."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any, Literal
from uuid import UUID

from accounts.roles import person
from django.http import HttpRequest
from leitung_core.entry.into_plan import Brought, line_of, lines_of_schedule
from leitung_core.entry.like import read_like
from leitung_core.entry.numbers import tidied
from leitung_core.entry.schedule import read_schedule
from leitung_core.entry.sentence import read_unit
from leitung_core.errors import InputError
from ninja import Router
from pydantic import BaseModel, Field

from installs import actions
from installs.uploads import bytes_of

router = Router(tags=["entry"])
LARGEST = 3_000_000


class Sentence(BaseModel):
    """A unit in one sentence, and what its bare figures are in."""

    text: Annotated[str, Field(min_length=1, max_length=2000)]
    units: Literal["us", "metric"] = "us"


class Piece(BaseModel):
    """A piece of the text, and whether it was understood."""

    text: str
    understood: bool


class BroughtOut(BaseModel):
    """What would change: the patch, the lines that it draws, the units that it updates, those of no known kind."""

    patch: dict[str, Any]
    drawn: list[str]
    updated: list[str]
    of_no_kind: list[str]


class SentenceOut(BaseModel):
    """A sentence as it was read: its pieces in order, what is left, and what would be drawn."""

    pieces: list[Piece]
    left: list[str]
    kind: str | None = None
    brought: BroughtOut


class ScheduleFile(BaseModel):
    """A schedule's file."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    base64: Annotated[str, Field(max_length=LARGEST * 4 // 3 + 8)]


class CellErrorOut(BaseModel):
    """A cell that could not be read."""

    row: int
    column: str
    value: str
    says: str


class ScheduledUnit(BaseModel):
    """A unit of the schedule as it was read."""

    id: str | None = None
    kind: str | None = None
    quantity: int
    row: int
    nameplate: dict[str, Any]


class ScheduleOut(BaseModel):
    """A schedule as it was read, and what would be drawn."""

    sheet: str
    header_row: int
    columns: dict[str, str]
    ignored: list[str]
    units: list[ScheduledUnit]
    errors: list[CellErrorOut]
    brought: BroughtOut


@router.post("/installs/{install_id}/entry/sentence", response=SentenceOut, exclude_none=True)
def sentence(request: HttpRequest, install_id: UUID, body: Sentence) -> SentenceOut:
    """Read a unit in one sentence; nothing is kept."""
    plan = actions.checked(actions.find(person(request), install_id)).plan
    like = read_like(plan, body.text)
    if like is not None:
        return SentenceOut(pieces=[Piece(text=body.text, understood=True)], left=[], brought=_brought(like))
    try:
        found = read_unit(body.text, body.units)
    except InputError:
        # Half a sentence is no mistake: it is shown as not understood while it is typed.
        nothing = Brought()
        return SentenceOut(pieces=[Piece(text=body.text, understood=False)], left=[], brought=_brought(nothing))
    return SentenceOut(
        pieces=_pieces(tidied(body.text), found.understood), left=found.left, kind=found.kind,
        brought=_brought(line_of(plan, found)),
    )  # fmt: skip


@router.post("/installs/{install_id}/entry/schedule", response=ScheduleOut, exclude_none=True)
def schedule(request: HttpRequest, install_id: UUID, body: ScheduleFile) -> ScheduleOut:
    """Read an engineer's schedule; nothing is kept."""
    plan = actions.checked(actions.find(person(request), install_id)).plan
    found = read_schedule(bytes_of(body.name, body.base64), body.name)
    return ScheduleOut(
        sheet=found.sheet, header_row=found.header_row, columns=found.columns, ignored=found.ignored,
        units=[ScheduledUnit(id=row.id, kind=row.kind, quantity=row.quantity, row=row.row, nameplate=row.nameplate)
               for row in found.units],
        errors=[CellErrorOut(**asdict(error)) for error in found.errors],
        brought=_brought(lines_of_schedule(plan, found)),
    )  # fmt: skip


def _brought(found: Brought) -> BroughtOut:
    return BroughtOut(**asdict(found))


def _pieces(text: str, understood: list[tuple[int, int]]) -> list[Piece]:
    """The text cut into what was understood and what was not."""
    pieces: list[Piece] = []
    at = 0
    for start, end in understood:
        if start > at:
            pieces.append(Piece(text=text[at:start], understood=False))
        if end > max(start, at):
            pieces.append(Piece(text=text[max(start, at) : end], understood=True))
        at = max(at, end)
    if at < len(text):
        pieces.append(Piece(text=text[at:], understood=False))
    return pieces
