"""Reading the file that a command is given."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated, Any

import typer
from leitung_core.errors import InputError, Problem
from leitung_core.validation import parse_json

LARGEST_BYTES = 5_000_000

FileArgument = Annotated[str, typer.Argument(help="a JSON file, or - for standard input")]
JsonOption = Annotated[bool, typer.Option("--json", help="print the result as JSON")]


def load(file: str) -> Any:
    """The JSON in the file. Raises InputError where it cannot be read."""
    return parse_json(read_bytes(file), file)


def read_bytes(file: str, largest: int = LARGEST_BYTES) -> bytes:
    """What the file holds. Raises InputError where it cannot be read or is too large."""
    try:
        raw = sys.stdin.buffer.read(largest + 1) if file == "-" else _read(Path(file), largest)
    except OSError as error:
        raise InputError(Problem("file", file, (error.strerror or "cannot be read").lower(), "Name a file.")) from None
    if len(raw) > largest:
        message, remedy = f"is larger than {largest // 1_000_000} MB", "Name the right file, or a smaller copy of it."
        raise InputError(Problem("file", file, message, remedy))
    return raw


def _read(path: Path, largest: int) -> bytes:
    with path.open("rb") as handle:
        return handle.read(largest + 1)
