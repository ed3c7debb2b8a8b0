"""The one error tree of the core. The server maps it to HTTP in one place, the command line to exit codes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Problem:
    """One thing wrong with what was entered: where, what stood there, and what to do about it."""

    field: str
    value: Any
    message: str
    remedy: str

    def __str__(self) -> str:
        return f"{self.field}: {self.message} ({self.value!r}). {self.remedy}"


class LeitungError(Exception):
    """Base of every error that the core raises on purpose."""

    code = "error"


class InputError(LeitungError):
    """What was entered cannot be read or is impossible. Carries every problem found, not only the first."""

    code = "invalid-input"

    def __init__(self, *problems: Problem) -> None:
        self.problems = problems
        super().__init__("; ".join(str(problem) for problem in problems))


class PatchConflict(LeitungError):  # noqa: N818
    """Two changes touch the same element of a plan."""

    code = "conflict"

    def __init__(self, elements: frozenset[str]) -> None:
        self.elements = elements
        super().__init__("both changes touch " + ", ".join(sorted(elements)))
