"""The grammar of plates: labels in their usual spellings, and where a value stands to its label: behind it or below."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterator
from dataclasses import dataclass
from dataclasses import field as dataclass_field
from difflib import SequenceMatcher
from functools import cache
from pathlib import Path
from typing import Any

from leitung_core.entry.plate.values import Value, value_of
from leitung_core.entry.plate.words import Piece, Word

LABELS = Path(__file__).with_name("labels.csv")
LIKE_ENOUGH = 0.86
WORD_LIKE_ENOUGH = 0.6
EXACT_UP_TO = 4  # letters: a short label is read exactly or not at all
BELOW = 3.4  # heights of a label, within which its value may stand under it
LEVEL = 0.7


@dataclass(frozen=True)
class Label:
    """What a label's words mean; no field: it only ends what stands before it."""

    field: str
    words: frozenset[str]


@dataclass(frozen=True)
class Cell:
    """Some words that stand together: a label, or what may be the value of one."""

    words: tuple[Word, ...]
    label: Label | None

    @property
    def text(self) -> str:
        return " ".join(word.text for word in self.words)

    @property
    def left(self) -> float:
        return self.words[0].left

    @property
    def right(self) -> float:
        return self.words[-1].right

    @property
    def height(self) -> float:
        return max(word.height for word in self.words)

    @property
    def middle(self) -> float:
        return sum(word.middle for word in self.words) / len(self.words)


@dataclass(frozen=True)
class Reading:
    """A field as it was read once: its value, how sure the letters are, its box, and what its label says of it."""

    field: str
    value: Any
    sure: float
    box: tuple[float, float, float, float]
    words: frozenset[str] = frozenset()
    doubtful: bool = False
    told: dict[str, Any] = dataclass_field(default_factory=dict, hash=False)


@cache
def labels() -> dict[str, Label]:
    """Every spelling."""
    with LABELS.open(encoding="utf-8", newline="") as file:
        return {row["label"]: Label(row["field"], frozenset(row["words"].split())) for row in csv.DictReader(file)}


def readings(pieces: list[Piece]) -> Iterator[Reading]:
    """Every label with a value that it can have, in the order of the plate."""
    cells = [cell for piece in pieces for cell in _cells(piece)]
    for cell in cells:
        if cell.label is None or not cell.label.field:
            continue
        for candidate in _candidates(cell, cells):
            found = value_of(cell.label.field, candidate.text)
            if found is not None:
                yield from _read(cell.label, candidate, found)
                break


def _read(label: Label, cell: Cell, found: Value) -> Iterator[Reading]:
    words = cell.words[: found.words] or cell.words
    left, top = min(word.left for word in words), min(word.top for word in words)
    box = (left, top, max(word.right for word in words) - left, max(w.top + w.height for w in words) - top)
    sure = min(word.sure for word in words) * (0.8 if found.mended else 1.0)
    yield Reading(label.field, found.value, sure, box, label.words | found.says, found.doubtful, found.told)
    for name, value in found.beside.items():
        yield Reading(name, value, sure, box, label.words | {"supply"})


def _cells(piece: Piece) -> Iterator[Cell]:
    """A piece cut at its labels."""
    words, at, begun = piece.words, 0, 0
    while at < len(words):
        length, label = _label_at(words, at)
        if label is None:
            at += 1
            continue
        if begun < at:
            yield Cell(words[begun:at], None)
        yield Cell(words[at : at + length], label)
        at = begun = at + length
    if begun < len(words):
        yield Cell(words[begun:], None)


def _label_at(words: tuple[Word, ...], at: int) -> tuple[int, Label | None]:
    """The longest label that begins there, and its number of words."""
    for length in range(min(6, len(words) - at), 0, -1):
        said = _plain(" ".join(word.text for word in words[at : at + length]))
        label = _label(said)
        if label is not None:
            return length, label
    return 0, None


def _plain(text: str) -> str:
    return re.sub(r"\s+", " ", re.sub(r"[.:,;=]|\(.*?\)", " ", text.upper())).strip()


@cache
def _label(said: str) -> Label | None:
    known = labels()
    if said in known:
        return known[said]
    if len(said) <= EXACT_UP_TO or sum(letter.isdigit() for letter in said) > 1:
        return None
    best = max(known, key=lambda name: _likeness(name, said))
    return known[best] if _likeness(best, said) >= LIKE_ENOUGH else None


def _likeness(name: str, said: str) -> float:
    """How alike two spellings are, 0 to 1, word for word."""
    one, two = name.split(), said.split()
    if len(one) != len(two) or any(_alike(a, b) < WORD_LIKE_ENOUGH for a, b in zip(one, two, strict=True)):
        return 0.0
    return _alike(name, said)


def _alike(one: str, two: str) -> float:
    return SequenceMatcher(None, one, two).ratio()


def _candidates(label: Cell, cells: list[Cell]) -> Iterator[Cell]:
    """Where its value may stand: behind it on its line, as far as the next label; else under it."""
    level = [c for c in cells if c is not label and abs(c.middle - label.middle) < LEVEL * max(c.height, label.height)]
    behind = sorted((c for c in level if c.left >= label.right - label.height / 2), key=lambda c: c.left)
    if behind and behind[0].label is None:
        yield behind[0]
    under = [
        c for c in cells
        if label.height * 0.5 < c.middle - label.middle < BELOW * label.height
        and c.left < label.right and c.right > label.left
    ]  # fmt: skip
    under.sort(key=lambda c: c.middle)
    if under and under[0].label is None:
        yield under[0]
