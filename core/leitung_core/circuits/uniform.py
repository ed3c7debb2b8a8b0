"""The run with one size throughout: what each segment carries, and the drop. Each size is worked out once."""

from __future__ import annotations

from collections.abc import Callable
from decimal import Decimal

from leitung_core.circuits.conductor import Ampacity, run_ampacity
from leitung_core.circuits.drop import Drop, drop_current, voltage_drop
from leitung_core.circuits.loads import Load
from leitung_core.circuits.spec import Spec
from leitung_core.rulebook import Rulebook
from leitung_core.rulebook.book import Material


class Uniform:
    """Look-ups by size for one circuit."""

    def __init__(self, spec: Spec, load: Load, book: Rulebook) -> None:
        self._spec, self._book = spec, book
        self._needed_a = load.min_ampacity_a or Decimal(0)
        self._current_a = drop_current(load, book)[0]
        self._carried: dict[str, list[Ampacity | None]] = {}
        self._drops: dict[str, Drop] = {}

    @property
    def material(self) -> Material:
        """Aluminium where any segment is."""
        return "Al" if any(segment.material == "Al" for segment in self._spec.run) else "Cu"

    def carried(self, size: str) -> list[Ampacity | None]:
        """What each segment carries, in the order of the run."""
        if size not in self._carried:
            sizes = [size] * len(self._spec.run)
            self._carried[size] = run_ampacity(self._spec, sizes, self._needed_a, self._book)
        return self._carried[size]

    def drop(self, size: str) -> Drop:
        """The drop at the current that counts."""
        if size not in self._drops:
            sizes = [size] * len(self._spec.run)
            self._drops[size] = voltage_drop(self._spec, sizes, self._current_a, self._book)
        return self._drops[size]

    def least(self, also: Callable[[str], bool], start: str | None = None) -> str | None:
        """The thinnest size from `start` on that carries the load everywhere and passes `also`, or None."""
        for size in self._book.sizes_from(self.material, start):
            if all(found is not None and found.amps >= self._needed_a for found in self.carried(size)) and also(size):
                return size
        return None
