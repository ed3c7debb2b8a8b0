"""The printed drawings: the very drawings of the screen, rendered by Node.js from the built front end."""

from __future__ import annotations

import subprocess
from collections.abc import Sequence
from typing import Any

import orjson
from django.conf import settings
from installs.actions import Checked
from problems import Refused

PROGRAM = settings.ROOT / "web" / "dist-print" / "print.js"


def draw_lines(found: Checked, width: int, only: Sequence[str] | None = None) -> dict[str, str]:
    """One SVG by circuit, `width` px wide; of some alone, or of all.

    Raises a refusal where the drawing program is missing or fails.
    """
    return _draw(found, width, "lines", **_some(only))


def draw_landings(found: Checked, width: int, only: Sequence[str] | None = None) -> dict[str, str]:
    """One SVG by cable, of some or of all: both its strips as seen, and the conductors between them."""
    return {} if only == [] else _draw(found, width, "landings", **_some(only))


def _some(only: Sequence[str] | None) -> dict[str, list[str]]:
    return {} if only is None else {"only": list(only)}


def draw_bench(found: Checked, rails: list[dict[str, Any]], width: int) -> dict[str, str]:
    """One SVG by supply: its loads as lines between its spines, nothing called."""
    return _draw(found, width, "bench", rails=rails)


def draw_starts(found: Checked, pictures: dict[str, Any], width: int) -> dict[str, str]:
    """One SVG by source: the current of a start against time, its breaker's limits, each load's call."""
    return _draw(found, width, "starts", pictures=pictures)


def draw_readings(found: Checked, readings: list[dict[str, Any]], width: int) -> dict[str, str]:
    """One SVG by reading: its bounds, what is expected, what was read."""
    return _draw(found, width, "readings", readings=readings) if readings else {}


def _draw(found: Checked, width: int, what: str, **more: Any) -> dict[str, str]:
    data = {
        **more,
        "what": what,
        "document": found.plan.model_dump(mode="json", exclude_none=True),
        "result": found.result.model_dump(mode="json", exclude_none=True),
        "width": width,
    }
    try:
        done = subprocess.run(
            ["node", str(PROGRAM)], input=orjson.dumps(data), capture_output=True, timeout=20, check=True
        )
    except (OSError, subprocess.SubprocessError) as error:
        detail = "The drawing could not be made; the record itself is untouched. Run ./leitung start again."
        raise Refused(503, "drawing", detail) from error
    return {entry["id"]: entry["svg"] for entry in orjson.loads(done.stdout)}
