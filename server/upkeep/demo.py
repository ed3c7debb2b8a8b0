"""The demo: the crew of Brae & Finch Mechanical and a week of installs. All names are invented.

The plans hold a few honest mistakes for Leitung to find.
"""

from __future__ import annotations

from datetime import timedelta

from accounts.models import Company, Role, User
from django.db import transaction
from django.utils import timezone
from installs import actions
from installs.models import Install
from leitung_core.validation import read
from leitung_demo import kiosk, loft, museum, workshop
from records import actions as records
from weeks import actions as weeks
from weeks.wishes import Wishes

WAYS_MIN = (30, 25, 15, 20)
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
    begun = [actions.create(lead, plan, "Install begun").install for plan in (museum(), workshop(), loft())]
    started = actions.create(lead, kiosk(), "Install begun").install
    _week(lead, [*begun, started])
    # Looked at, locked out, proved dead: the hands may go in.
    for step in records.begin(fitter, started.id, lock=False).brief.start_up.steps:
        if step.phase in ("survey", "lock_out") and not step.key.endswith(".capacitors"):
            records.tick(fitter, started.id, step.key, True, "", 0.2 if step.asks else None)
    due = timezone.now().date() + timedelta(days=5)
    records.open_item(fitter, started.id, "Bushing at the panel knock-out is missing", "Odo Brisk", due)


def _week(lead: User, installs: list[Install]) -> None:
    """Next week's crew and where it works; planned once somebody asks for it."""
    monday = weeks.monday_of(timezone.localdate()) + timedelta(days=7)
    crew = [("ines", "Ines Tarn", "licensed installer"), ("odo", "Odo Brisk", "licensed installer"),
            ("wyn", "Wyn Lune", "installer apprentice"), ("pia", "Pia Corr", "installer apprentice"),
            ("tam", "Tam Reed", "apprentice")]  # fmt: skip
    away = [{"day": (monday + timedelta(days=1)).isoformat(), "from": "12:00", "to": "16:00"}]
    people = [{"id": key, "name": name, "skills": skills.split(), "off": away if key == "odo" else []}
              for key, name, skills in crew]  # fmt: skip
    sites = [{"install": str(install.id), "way_min": way} for install, way in zip(installs, WAYS_MIN, strict=True)]
    weeks.wish(lead, monday, 0, read(Wishes, {"people": people, "sites": sites}))


def _person(company: Company, username: str, name: str, role: Role) -> User:
    return User.objects.create_user(username, password=PASSWORD, company=company, display_name=name, role=role)
