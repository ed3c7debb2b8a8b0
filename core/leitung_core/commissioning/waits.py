"""What has to be waited for in a start-up; the figures stand in `waits.csv`."""

from __future__ import annotations

import csv
from functools import cache
from importlib.resources import files


@cache
def _waits() -> dict[str, float]:
    text = files("leitung_core.commissioning").joinpath("waits.csv").read_text("utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    return {row["key"]: float(row["seconds"]) for row in rows}


def wait(key: str) -> float:
    """The seconds of a wait, by its key; `learn-starts` counts."""
    return _waits()[key]


def steady_after(call: str) -> float:
    """Until what a call sets running can be read, s."""
    return _waits().get(call, wait("call:fan"))
