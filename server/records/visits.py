"""Visits to an install that runs: who came and why, what was read as found and as left, against what was read before.

Start-up's own order does not hold here and a plan that says stop does not keep a reading out: what somebody found is
worth most where something is wrong. What the plan says stands beside it.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from typing import Literal
from uuid import UUID

from accounts.models import User
from django.db import transaction
from installs.models import Install
from leitung_core.commissioning.judge import judge_readings, say_read
from leitung_core.commissioning.steps import StartUp
from leitung_core.instruments.trend import Change, Taken, against
from meters.actions import as_used, class_used
from problems import Refused

from records.actions import Entered, asked_for, begin, entered, entry, reason_for
from records.models import Reading, Visit, VisitEnd, VisitReading
from records.standing import holds, open_visit

State = Literal["found", "left"]
Row = Reading | VisitReading
STATES = {VisitReading.State.FOUND: "as found", VisitReading.State.LEFT: "as left"}


@transaction.atomic
def begin_visit(user: User, install_id: UUID, why: str, noted_at: datetime | None = None) -> Entered:
    """Begin a visit. Refused while one is open: what is read belongs to one."""
    found = begin(user, install_id)
    if (there := open_visit(found.install)) is not None:
        detail = f"A visit of {there.who} is open: “{there.why}”. End it first, or read on in it."
        raise Refused(409, "visit-open", detail)
    Visit.objects.create(**entry(user, found, noted_at), why=why)
    return entered(user, found)


@transaction.atomic
def read_at_visit(
    user: User, install_id: UUID, key: str, state: State, value: float, reason: str,
    noted_at: datetime | None = None, meter: str | None = None,
) -> Entered:  # fmt: skip
    """Record what is read on the visit that is open. What was read there already is read again with a reason."""
    found = begin(user, install_id)
    visit = _the_open(found.install)
    point = asked_for(found.brief.start_up.readings, key)
    others = {row.key: row for row in VisitReading.objects.filter(visit=visit, state=state)}
    if key in others:
        reason_for("reading it again", reason)
    values = {other: row.value for other, row in others.items()} | {key: value}
    judged = judge_readings([one for one in found.brief.start_up.readings if one.about == point.about], values)[key]
    VisitReading.objects.create(
        **entry(user, found, noted_at), visit=visit, key=key, about=point.about, text=point.text[:200], state=state,
        value=value, unit=point.unit, low=judged.low, high=judged.high, verdict=judged.verdict,
        said=judged.said[:1000], meter=as_used(user, meter, point.unit), wiring=point.wiring, reason=reason,
    )  # fmt: skip
    return entered(user, found)


@transaction.atomic
def end_visit(user: User, install_id: UUID, note: str, noted_at: datetime | None = None) -> Entered:
    """End the visit that is open."""
    found = begin(user, install_id)
    VisitEnd.objects.create(**entry(user, found, noted_at), visit=_the_open(found.install), note=note)
    return entered(user, found)


def _the_open(install: Install) -> Visit:
    visit = open_visit(install)
    if visit is None:
        raise Refused(409, "no-visit", "No visit is open here. Begin one, and say why.")
    return visit


@dataclass(frozen=True)
class History:
    """What was read at start-up and on each visit. standing: by visit, what stands of it, as found before as left."""

    start_up: dict[str, Reading]
    visits: list[Visit]
    rows: dict[UUID, list[VisitReading]]
    standing: dict[UUID, list[VisitReading]]

    def changes(self, row: VisitReading) -> list[Change]:
        """A reading of a visit against what it was as found, on the visit before it, and at start-up."""
        found = []
        mine = [one for one in self.standing[row.visit_id] if one.key == row.key]
        if row.state == VisitReading.State.LEFT and mine[0].state == VisitReading.State.FOUND:
            found.append(against(_taken(row), _taken(mine[0]), "as found"))
        if (before := self._before(row)) is not None:
            when = f"{STATES[VisitReading.State(before.state)]} on {before.entered_at:%Y-%m-%d}"
            found.append(against(_taken(row), _taken(before), when))
        if (first := self.start_up.get(row.key)) is not None and holds(first.wiring, row.wiring):
            found.append(against(_taken(row), _taken(first), "at start-up"))
        return found

    def earlier(self, row: VisitReading) -> list[str]:
        """What stood before it on its visit, with why it was read again."""
        same = [one for one in self.rows[row.visit_id] if (one.key, one.state) == (row.key, row.state)]
        return [f"{say_read(old.value, old.unit)}: {new.reason}" for old, new in pairwise(same)]

    def trends(self) -> Iterator[tuple[str, list[Row]]]:
        """Every place that was read on a visit with all that stands there, the earliest first."""
        every = [row for visit in self.visits for row in self.standing[visit.id]]
        for key in dict.fromkeys(row.key for row in every):
            first = self.start_up.get(key)
            yield key, [*([first] if first else []), *(row for row in every if row.key == key)]

    def _before(self, row: VisitReading) -> VisitReading | None:
        """What was left, or else found, there on the last visit on which it was read."""
        earlier = [visit.id for visit in self.visits]
        for visit in reversed(earlier[: earlier.index(row.visit_id)]):
            mine = [one for one in self.standing[visit] if one.key == row.key and holds(one.wiring, row.wiring)]
            if mine:
                return mine[-1]
        return None


def history_of(install: Install, startup: StartUp) -> History:
    """The history of an install; what is read, in the order in which start-up asks for it."""
    order = {point.key: index for index, point in enumerate(startup.readings)}
    visits = list(Visit.objects.filter(install=install).select_related("author", "ending__author"))
    rows: dict[UUID, list[VisitReading]] = {visit.id: [] for visit in visits}
    for row in VisitReading.objects.filter(install=install).select_related("author"):
        rows[row.visit_id].append(row)
    standing = {
        visit: sorted({(row.key, row.state): row for row in mine}.values(),
                      key=lambda row: (order.get(row.key, len(order)), row.key, row.state))
        for visit, mine in rows.items()
    }  # fmt: skip
    first = Reading.objects.filter(install=install, corrected_by=None) if visits else Reading.objects.none()
    return History({row.key: row for row in first}, visits, rows, standing)


def _taken(row: Row) -> Taken:
    return Taken(row.value, row.unit, class_used(row.meter))
