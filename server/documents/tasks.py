"""Sheets take seconds of a core: the worker makes them."""

from __future__ import annotations

import gc
import logging
from uuid import UUID

from accounts.scope import of
from procrastinate.contrib.django import app

from documents import sheets
from documents.models import Sheet

log = logging.getLogger(__name__)


@app.task(queue="documents")
def carry_out(sheet: str) -> None:
    """Make one sheet."""
    with of(Sheet, UUID(sheet)):
        try:
            sheets.carry_out(UUID(sheet))
        except Exception:
            log.exception("sheet %s failed", sheet)
            sheets.fail(UUID(sheet))
    # What is laid out holds itself, and its letters with it: they go now, as nobody waits.
    gc.collect()
