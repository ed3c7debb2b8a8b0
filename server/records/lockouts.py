"""The lock-out of a line at a revision: worked out when it is asked for, kept while the process lives."""

from __future__ import annotations

from functools import lru_cache
from uuid import UUID

from installs.models import Install
from installs.results import document_at
from leitung_core.commissioning.lockout import LockOut, lock_out_of_line
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant

MOST_KEPT = 256


def lock_out_at(install: Install, line_id: str) -> LockOut | None:
    """What has to be open before a hand goes into the unit of a line; None where nothing of it is drawn."""
    return _worked_out(install.id, install.revision, line_id)


@lru_cache(maxsize=MOST_KEPT)
def _worked_out(install_id: UUID, revision: int, line_id: str) -> LockOut | None:
    install = Install.objects.get(id=install_id)
    return lock_out_of_line(Plant(read_plan(document_at(install, revision))), line_id)
