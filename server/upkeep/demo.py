"""The demo: the crew of Brae & Finch Mechanical and a week of installs. All names are invented.

The plans hold a few honest mistakes for Leitung to find.
"""

from __future__ import annotations

from datetime import timedelta

from accounts.models import Company, Role, User
from django.db import transaction
from django.utils import timezone
from installs import actions
from leitung_demo import kiosk, loft, museum, workshop
from records import actions as records

PASSWORD = "copper-line-14"  # noqa: S105 the demo's, printed at every start


@transaction.atomic
def load_demo() -> None:
    """Two companies: the crew with its week, and another that an exported plan can be brought into."""
    crew = Company.objects.create(name="Brae & Finch Mechanical")
    lead = _person(crew, "i.tarn", "Ines Tarn", Role.LEAD)
    fitter = _person(crew, "o.brisk", "Odo Brisk", Role.CREW)
    _person(crew, "w.lune", "Wyn Lune", Role.READER)
    other = Company.objects.create(name="Saltmarsh Climate")
    _person(other, "p.ember", "Pia Ember", Role.LEAD)
    actions.create(lead, museum(), "Install begun")
    actions.create(lead, workshop(), "Install begun")
    actions.create(lead, loft(), "Install begun")
    started = actions.create(lead, kiosk(), "Install begun").install
    # Looked at, locked out, proved dead: the hands may go in.
    for step in records.begin(fitter, started.id, lock=False).brief.start_up.steps:
        if step.phase in ("survey", "lock_out") and not step.key.endswith(".capacitors"):
            records.tick(fitter, started.id, step.key, True, "", 0.2 if step.asks else None)
    due = timezone.now().date() + timedelta(days=5)
    records.open_item(fitter, started.id, "Bushing at the panel knock-out is missing", "Odo Brisk", due)


def _person(company: Company, username: str, name: str, role: Role) -> User:
    return User.objects.create_user(username, password=PASSWORD, company=company, display_name=name, role=role)
