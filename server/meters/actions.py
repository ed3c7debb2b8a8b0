"""Named actions on meters: note one, its calibration, that it is retired; find the one that is used."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any
from uuid import UUID

from accounts.models import User
from django.db.models import QuerySet
from django.utils import timezone
from leitung_core.errors import InputError, Problem
from leitung_core.instruments.classes import MeterClass, Unit
from leitung_core.instruments.stand_in import usual
from problems import Refused, not_found

from meters.connected import Connected, connected
from meters.models import Meter

MOST = 200


def of_company(user: User) -> QuerySet[Meter]:
    """The meters of this person's company that are in use."""
    return Meter.objects.filter(company_id=user.company_id, retired_at=None)


def note(
    user: User, name: str, serial: str, classes: Mapping[Unit, MeterClass], calibrated_on: date | None,
    reads: Unit | None = None,
) -> Meter:  # fmt: skip
    """A meter of the company; without classes one of the trade's, of those that are bought for what it reads."""
    if of_company(user).count() >= MOST:
        raise Refused(422, "too-many", f"A company keeps {MOST} meters at most. Retire some first.")
    _not_to_come(calibrated_on)
    kept: dict[str, Any] = {unit: found.model_dump() for unit, found in (classes or usual(reads)).items()}
    return Meter.objects.create(
        company_id=user.company_id, name=name, serial=serial, classes=kept, calibrated_on=calibrated_on
    )


def calibrated(user: User, meter_id: UUID, on: date) -> Meter:
    """A meter calibrated anew. What was read before keeps the date that stood then."""
    _not_to_come(on)
    found = _mine(user, meter_id)
    found.calibrated_on = on
    found.save(update_fields=["calibrated_on"])
    return found


def retire(user: User, meter_id: UUID) -> Meter:
    """A meter that is used no more."""
    found = _mine(user, meter_id)
    found.retired_at = timezone.now()
    found.save(update_fields=["retired_at"])
    return found


def _mine(user: User, meter_id: UUID) -> Meter:
    found = of_company(user).filter(id=meter_id).first()
    if found is None:
        raise not_found()
    return found


def _not_to_come(on: date | None) -> None:
    if on is not None and on > timezone.localdate():
        raise InputError(Problem("calibrated_on", on.isoformat(), "is still to come", "Give the day of the last one."))


def reached(key: str) -> Connected | None:
    """An instrument that Leitung reaches itself, by its id."""
    return next((found for found in connected() if found.id == key), None)


def class_used(kept: Mapping[str, Any]) -> MeterClass | None:
    """The class of a meter as `as_used` kept it; None where none was named."""
    return MeterClass(share=kept["share"], digits=kept["digits"]) if kept else None


def as_used(user: User, key: str | None, unit: str) -> dict[str, Any]:
    """The meter by its id, as it is kept with a reading; nothing where none was named.

    Raises InputError where there is none of that id, or where it does not read that unit; a stand-in is refused.
    """
    if not key:
        return {}
    found = reached(key) or _by_id(user, key)
    if found is None:
        raise InputError(Problem("meter", key, "there is no such meter", "Choose the meter again."))
    if isinstance(found, Connected) and found.stand_in:
        says = f"{found.name} shows what the plan says: nothing was measured. Choose the meter that was used."
        raise Refused(409, "stand-in", says)
    classes = found.classes if isinstance(found, Meter) else {u: c.model_dump() for u, c in found.classes.items()}
    if unit not in classes:
        raise InputError(Problem("meter", found.name, f"does not read {unit}", "Choose the meter that was used."))
    on = found.calibrated_on
    return {
        "id": key, "name": found.name, "serial": found.serial, **classes[unit],
        "calibrated_on": on.isoformat() if isinstance(on, date) else on,
    }  # fmt: skip


def _by_id(user: User, key: str) -> Meter | None:
    try:
        # One that was retired since may have been used before: what waited without a signal is kept all the same.
        return Meter.objects.filter(company_id=user.company_id, id=UUID(key)).first()
    except ValueError:
        return None
