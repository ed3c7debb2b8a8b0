"""The printed drawings: the very drawings of the screen, rendered by Node.js from the built front end."""

from __future__ import annotations

import subprocess
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from subprocess import DEVNULL, PIPE
from threading import Timer
from typing import Any

import orjson
from django.conf import settings
from installs.actions import Checked
from problems import Refused

from documents.beside import Beside

PROGRAM = settings.ROOT / "web" / "dist-print" / "print.js"
LONGEST_S = 20.0
_BEGUN: ContextVar[_Program | None] = ContextVar("begun", default=None)


def draw_lines(found: Checked, width: int, only: Sequence[str] | None = None) -> dict[str, str]:
    """One SVG by circuit, `width` px wide; of some alone, or of all.

    Raises a refusal where the drawing program is missing or fails.
    """
    return _draw(found, width, "lines", **_some(only))


def draw_landings(found: Checked, width: int, only: Sequence[str] | None = None, bare: bool = False) -> dict[str, str]:
    """One SVG by cable, of some or of all: both its strips as seen, and the conductors between them.

    bare: of the terminals their labels alone.
    """
    return {} if only == [] else _draw(found, width, "landings", **_some(only), bare=bare)


def _some(only: Sequence[str] | None) -> dict[str, Any]:
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
    begun = _BEGUN.get()
    if begun is not None and begun.found is found:
        return begun.draw(width, what, more)
    with _Program(found) as program:
        return program.draw(width, what, more)


@contextmanager
def by_one_program(found: Checked) -> Iterator[None]:
    """What is drawn of this plan meanwhile is drawn by one program: it begins and reads the plan once."""
    with _Program(found) as program:
        token = _BEGUN.set(program)
        try:
            yield
        finally:
            _BEGUN.reset(token)


class _Program(Beside):
    """The drawing program with a plan before it: for each line of what is wanted it answers one. Begins when asked."""

    def __init__(self, found: Checked) -> None:
        super().__init__()
        self.found = found

    def draw(self, width: int, what: str, more: Mapping[str, Any]) -> dict[str, str]:
        """One SVG by what it is of. Raises a refusal where the program is missing, fails or takes too long."""
        lines = [{**more, "what": what, "width": width}]
        try:
            if self.process is None:
                self.process = subprocess.Popen(["node", str(PROGRAM)], stdin=PIPE, stdout=PIPE, stderr=DEVNULL)
                lines.insert(0, _plan(self.found))
            answer = _asked(self.process, lines)
        except OSError as error:
            raise _refused() from error
        if not answer:
            raise _refused()
        return {entry["id"]: entry["svg"] for entry in orjson.loads(answer)}


def _asked(process: subprocess.Popen[bytes], lines: Sequence[Mapping[str, Any]]) -> bytes:
    """What the program answers; nothing where it ended, also because it took too long."""
    assert process.stdin is not None
    assert process.stdout is not None
    clock = Timer(LONGEST_S, process.kill)
    clock.start()
    try:
        process.stdin.write(b"".join(orjson.dumps(line) + b"\n" for line in lines))
        process.stdin.flush()
        return process.stdout.readline()
    finally:
        clock.cancel()


def _refused() -> Refused:
    detail = "The drawing could not be made; the record itself is untouched. Run ./leitung start again."
    return Refused(503, "drawing", detail)


def _plan(found: Checked) -> dict[str, Any]:
    return {
        "document": found.plan.model_dump(mode="json", exclude_none=True),
        "result": found.result.model_dump(mode="json", exclude_none=True),
    }
