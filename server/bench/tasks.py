"""The work of the worker. It runs outside the web process, tells how far it is, and stops when it is cancelled."""

from __future__ import annotations

import logging
from uuid import UUID

from accounts.scope import of
from procrastinate.contrib.django import app

from bench import analyses
from bench.models import Analysis

log = logging.getLogger(__name__)


@app.task(queue="analyses")
def carry_out(analysis: str) -> None:
    """Work out one analysis."""
    with of(Analysis, UUID(analysis)):
        try:
            analyses.carry_out(UUID(analysis))
        except Exception as error:
            log.exception("analysis %s failed", analysis)
            analyses.fail(UUID(analysis), f"{type(error).__name__}: {error}")
