"""Packing over HTTP: the load-out of an install, what of it is where, what the plan has changed since."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache
from hashlib import blake2b
from typing import Annotated, Literal
from uuid import UUID

from accounts.models import User
from accounts.roles import RECORD, allow, person
from catalogue.actions import prices_of
from django.db import transaction
from django.http import HttpRequest
from installs.actions import find
from installs.models import Install
from installs.results import Revision, revision_at
from leitung_core.errors import InputError, Problem
from leitung_core.loadout.prices import Cost, cost, cost_of
from leitung_core.loadout.rows import LoadOut, Row, Unknown
from leitung_core.loadout.take_off import load_out
from leitung_core.loadout.written import amount, cuts_in_words
from leitung_core.plant.plant import Plant
from leitung_core.units import say
from ninja import Router
from pydantic import BaseModel, Field

from records.api import Noted
from records.models import ForgottenEntry, PackingEntry

router = Router(tags=["packing"])
Where = Literal["truck", "shop", "buy", "none"]
MOST_ASKED, MOST_ASKED_OF = 8, 500


class PackedRow(BaseModel):
    """A row of the load-out: how much of what, for which things of the plan, where it is.

    changed: what the plan asks for since it was packed, in words.
    """

    key: str
    group: str
    item: str
    amount: str
    quantity: float
    for_: Annotated[list[str], Field(serialization_alias="for")]
    cut: str | None = None
    cost: float | None = None
    where: Where = "none"
    by: str | None = None
    changed: str | None = None


class AskedRow(BaseModel):
    """Something that was forgotten before at installs like this one, how often; whether it was thought of here."""

    key: str
    item: str
    times: int
    where: Where = "none"


class Packing(BaseModel):
    """Everything to take along; what was packed and the plan asks for no more; what cannot be counted yet; what was
    forgotten before. cost: of the material, None where no price is known.
    """

    rows: list[PackedRow]
    gone: list[str]
    unknown: list[Unknown]
    asked: list[AskedRow] = []
    cost: Cost | None = None


class Pack(Noted):
    """Where a row is: on the truck, in the shop, still to be bought, or nowhere yet."""

    key: Annotated[str, Field(max_length=40)]
    where: Where


class Forgot(Noted):
    """Something that had to be fetched."""

    item: Annotated[str, Field(min_length=2, max_length=120)]


def taken_along(found: Revision) -> LoadOut:
    """The load-out of a revision."""
    return load_out(Plant(found.plan), found.result.circuits)


@dataclass(frozen=True)
class Counted:
    """The load-out of a revision, from which rolls each item is cut, and of which kinds its units are."""

    taken: LoadOut
    cut: Mapping[str, str]
    kinds: frozenset[str]


@lru_cache(maxsize=64)
def _counted(install_id: UUID, number: int) -> Counted:
    """The same for every row that is packed."""
    found = revision_at(Install.objects.get(id=install_id), number)
    taken = taken_along(found)
    return Counted(taken, cuts_in_words(taken), frozenset(unit.kind for unit in found.plan.equipment.values()))


def packing_of(install: Install) -> Packing:
    """The load-out of an install as it stands, with what was packed of it."""
    counted = _counted(install.id, install.revision)
    last = {row.key: row for row in PackingEntry.objects.filter(install=install).select_related("author")}
    prices = prices_of(install.company)
    rows = [_row(row, last.get(row.key), counted, prices) for row in counted.taken.rows]
    asked = {row.key for row in rows}
    before = _forgotten_before(install, counted.kinds, last)
    asked |= {row.key for row in before}
    gone = [entry.item for key, entry in last.items() if key not in asked and entry.where == "truck"]
    total = cost(counted.taken.rows, prices)
    return Packing(
        rows=rows, gone=gone, unknown=counted.taken.unknown, asked=before, cost=total if total.priced else None
    )


def ordered(install: Install, taken: LoadOut) -> LoadOut:
    """What of a load-out is still to be bought."""
    last = {row.key: row.where for row in PackingEntry.objects.filter(install=install)}
    return LoadOut(rows=[row for row in taken.rows if last.get(row.key) == "buy"], unknown=[])


def _forgotten_before(install: Install, kinds: frozenset[str], last: Mapping[str, PackingEntry]) -> list[AskedRow]:
    """What was forgotten at other installs of the company with such a unit, the most often first."""
    found: dict[str, AskedRow] = {}
    rows = ForgottenEntry.objects.filter(company_id=install.company_id).exclude(install=install).order_by("-at")
    for entry in rows[:MOST_ASKED_OF]:
        if kinds.isdisjoint(entry.kinds):
            continue
        name = " ".join(entry.item.split()).casefold()
        key = f"asked-{blake2b(name.encode(), digest_size=6).hexdigest()}"
        stands = last.get(key)
        times = found[key].times + 1 if key in found else 1
        found[key] = AskedRow(key=key, item=entry.item, times=times, where=stands.where if stands else "none")
    return sorted(found.values(), key=lambda row: (-row.times, row.item))[:MOST_ASKED]


def _row(row: Row, entry: PackingEntry | None, counted: Counted, prices: Mapping[str, Decimal]) -> PackedRow:
    price = cost_of(row, prices)
    return PackedRow(
        key=row.key, group=row.group, item=row.item, amount=amount(row), quantity=row.quantity, for_=row.for_,
        cut=counted.cut.get(row.item), cost=None if price is None else float(price),
        where=entry.where if entry else "none",
        by=entry.who if entry and entry.where != "none" else None, changed=_changed(row, entry),
    )  # fmt: skip


def _changed(row: Row, entry: PackingEntry | None) -> str | None:
    """What is short, or too much, of what was put on the truck."""
    if entry is None or entry.where != "truck" or entry.quantity == row.quantity:
        return None
    unit = " ft" if row.unit == "ft" else ""
    more = row.quantity - entry.quantity
    return f"{say(abs(more))}{unit} {'more' if more > 0 else 'fewer' if not unit else 'less'} than was packed"


@transaction.atomic
def pack(user: User, install_id: UUID, body: Pack) -> Packing:
    """Note where a row is. Raises InputError for a row that the plan does not ask for (any more)."""
    install = find(user, install_id)
    counted = _counted(install.id, install.revision)
    row = next((row for row in counted.taken.rows if row.key == body.key), None)
    before = _forgotten_before(install, counted.kinds, {}) if row is None else []
    if asked := next((one for one in before if one.key == body.key), None):
        row = Row(key=asked.key, item=asked.item, group="consumable", quantity=1, unit="pc", for_=[])
    if row is None:
        raise InputError(Problem("key", body.key, "is nothing that this plan asks for", "Load the page again."))
    PackingEntry.objects.create(
        company_id=user.company_id, install=install, revision=install.revision, author=user, noted_at=body.noted_at,
        key=row.key, item=row.item[:200], quantity=row.quantity, where=body.where,
    )  # fmt: skip
    return packing_of(install)


@router.get("/installs/{install_id}/packing", response=Packing, by_alias=True, exclude_none=True)
def packing(request: HttpRequest, install_id: UUID) -> Packing:
    """The load-out of an install, and what of it is where."""
    return packing_of(find(person(request), install_id))


@router.post("/installs/{install_id}/packings", response=Packing, by_alias=True, exclude_none=True)
def packed(request: HttpRequest, install_id: UUID, body: Pack) -> Packing:
    """Note that a row is on the truck, in the shop or still to be bought."""
    return pack(allow(request, RECORD), install_id, body)


@router.post("/installs/{install_id}/forgotten", response=Packing, by_alias=True, exclude_none=True)
def forgotten(request: HttpRequest, install_id: UUID, body: Forgot) -> Packing:
    """Note what had to be fetched: it is asked for at the next install like this one."""
    user = allow(request, RECORD)
    install = find(user, install_id)
    ForgottenEntry.objects.create(
        company_id=user.company_id, install=install, revision=install.revision, author=user, noted_at=body.noted_at,
        item=" ".join(body.item.split()), kinds=sorted(_counted(install.id, install.revision).kinds),
    )  # fmt: skip
    return packing_of(install)
