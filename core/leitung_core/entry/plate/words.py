"""The words of a picture with where they stand, and the pieces of text that they make."""

from __future__ import annotations

import os
from dataclasses import dataclass
from typing import Literal

import pytesseract

from leitung_core.entry.plate.picture import Pixels
from leitung_core.errors import InputError, Problem

# Its threads would wait for each other longer than they work on a picture of this size.
os.environ.setdefault("OMP_THREAD_LIMIT", "1")
LEAST_CONFIDENCE = 25
WIDEST_GAP = 1.1  # of a word's height: further apart they are two pieces
Way = Literal["scattered", "block"]
WAYS: dict[Way, str] = {"scattered": "--psm 11", "block": "--psm 6"}
LONGEST_S = 25


@dataclass(frozen=True)
class Word:
    """A word, its box, and how sure the recognition is, 0 to 1."""

    text: str
    left: float
    top: float
    width: float
    height: float
    sure: float

    @property
    def right(self) -> float:
        return self.left + self.width

    @property
    def middle(self) -> float:
        return self.top + self.height / 2


@dataclass(frozen=True)
class Piece:
    """Words that follow one another closely on one line."""

    words: tuple[Word, ...]

    @property
    def text(self) -> str:
        return " ".join(word.text for word in self.words)


def words_of(grey: Pixels, way: Way) -> list[Word]:
    """What is recognised; nothing where that takes too long. Raises InputError where the recognition is missing."""
    try:
        found = pytesseract.image_to_data(
            grey, config=f"{WAYS[way]} --oem 1", output_type=pytesseract.Output.DICT, timeout=LONGEST_S
        )
    except pytesseract.TesseractNotFoundError:
        remedy = "Install the Debian package tesseract-ocr."
        raise InputError(Problem("picture", None, "cannot be read: text recognition is missing", remedy)) from None
    except RuntimeError:
        return []  # specks without end: another way of looking may do
    columns = zip(*(found[name] for name in ("text", "left", "top", "width", "height", "conf")), strict=True)
    return [
        Word(text.strip(), float(left), float(top), float(width), float(height), float(sure) / 100)
        for text, left, top, width, height, sure in columns
        if text.strip() and float(sure) >= LEAST_CONFIDENCE
    ]


def pieces_of(words: list[Word]) -> list[Piece]:
    """Words joined along their lines."""
    left = sorted(words, key=lambda word: (word.left, word.top))
    pieces: list[list[Word]] = []
    for word in left:
        for piece in pieces:
            last = piece[-1]
            level = abs(last.middle - word.middle) < 0.5 * max(last.height, word.height)
            gap = word.left - last.right
            if level and -0.3 * last.height <= gap <= WIDEST_GAP * max(last.height, word.height):
                piece.append(word)
                break
        else:
            pieces.append([word])
    return [Piece(tuple(piece)) for piece in sorted(pieces, key=lambda piece: (piece[0].top, piece[0].left))]
