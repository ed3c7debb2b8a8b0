"""Reading plates takes seconds: the worker does it."""

from __future__ import annotations

import logging
from uuid import UUID

from accounts.scope import of
from procrastinate.contrib.django import app

from photos import actions
from photos.models import Photo

log = logging.getLogger(__name__)


@app.task(queue="plates")
def read_plate_of(photo: str) -> None:
    """Read the plate in one photo."""
    with of(Photo, UUID(photo)):
        try:
            actions.work_out(UUID(photo))
        except Exception:
            log.exception("the plate in photo %s could not be read", photo)
            Photo.objects.filter(id=photo).update(reading=Photo.Reading.FAILED)
