"""The plans that rounds are made of: the company's newest that are wired, and one that is made up."""

from __future__ import annotations

from functools import lru_cache
from uuid import UUID

from accounts.models import User
from installs.models import Install, Shelf
from installs.results import revision_at
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.practice.rounds import Ground
from leitung_demo import museum

MADE_UP = "made-up"
NEWEST = 3


def plans_of(user: User) -> list[str]:
    """What somebody practises on, by name: `made-up`, and `INSTALL.REVISION` of what their company wired lately."""
    mine = Install.objects.filter(company_id=user.company_id, shelf=Shelf.OPEN, stuck_on="").order_by("-changed_at")
    found = [f"{one.id}.{one.revision}" for one in mine[:NEWEST]]
    return [MADE_UP, *found]


@lru_cache(maxsize=4)
def ground(plan: str) -> Ground:
    """The plan of that name. A revision never changes."""
    if plan == MADE_UP:
        return Ground("a plant that is made up", Plant(read_plan(museum())))
    install, _, revision = plan.partition(".")
    found = revision_at(Install.objects.get(id=UUID(install)), int(revision))
    return Ground(found.plan.name, Plant(found.plan))
