"""Sheets laid out on pages and written as PDF. Much is laid out by two processes beside each other.

Knows nothing of the application: a second process needs only this folder's `letters.py` and `beside.py`.
"""

from __future__ import annotations

import base64
import gc
import logging
import os
import subprocess
import sys
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from tempfile import TemporaryFile
from typing import Any

import orjson
from weasyprint import CSS, HTML, Attachment, Document
from weasyprint.text.fonts import FontConfiguration

from documents.beside import Beside
from documents.letters import word_by_word

word_by_word()

PT_OF_PX = 0.75
# What a second process takes to begin is won again only by more than this, in letters of HTML.
WORTH_BEGINNING = 150_000
SECOND = (sys.executable, "-m", "documents.laying")
ROOM = Path(__file__).resolve().parent.parent
NEEDED = ("PATH", "HOME", "LANG", "LC_ALL", "TMPDIR", "VIRTUAL_ENV", "FONTCONFIG_PATH", "FONTCONFIG_FILE")
LONGEST_S = 300


@dataclass(frozen=True)
class Flat:
    """A sheet before it is laid out: its HTML, and the texts of its styles."""

    html: str
    styles: Sequence[str]


@dataclass(frozen=True)
class Part:
    """A sheet on its pages, as PDF.

    anchors: of each page, where what begins on it and is named stands, in pt from its lower left.
    bookmarks: each its title, its place (page, x, y) and those below it.
    """

    pdf: bytes
    anchors: Sequence[Mapping[str, Sequence[float]]]
    bookmarks: Sequence[Any]


class Styles:
    """The styles and letters of what is laid out together: each is read once."""

    def __init__(self) -> None:
        self.fonts = FontConfiguration()
        self.kept: dict[str, CSS] = {}

    def read(self, text: str) -> CSS:
        """A style as it is laid out by."""
        if text not in self.kept:
            self.kept[text] = CSS(string=text, font_config=self.fonts)
        return self.kept[text]


def packed(part: Part) -> bytes:
    """A part in one line of text, to be kept or handed over."""
    return orjson.dumps(asdict(part) | {"pdf": base64.b64encode(part.pdf).decode()})


def unpacked(line: bytes) -> Part:
    """A part as it was packed."""
    row = orjson.loads(line)
    return Part(base64.b64decode(row["pdf"]), row["anchors"], row["bookmarks"])


def laid_out(flat: Flat, styles: Styles) -> Document:
    """The pages of a sheet."""
    sheets = [styles.read(text) for text in flat.styles]
    return HTML(string=flat.html).render(font_config=styles.fonts, stylesheets=sheets)


def written(document: Document, attached: Mapping[str, bytes] | None = None, *, told: bool = True) -> bytes:
    """Pages as PDF; told to those who cannot see them by tags, unless they are but an ornament."""
    carried = [Attachment(string=raw, name=name) for name, raw in (attached or {}).items()]
    return bytes(document.write_pdf(attachments=carried, pdf_tags=told))


class Laying(Beside):
    """Lays out the parts of a document: the first large one by a second process, while this one does the others."""

    def __init__(self) -> None:
        super().__init__()
        self.styles = Styles()

    def begin(self, flat: Flat) -> Callable[[], Part]:
        """Lay a sheet out, here or beside; what is given back waits for it."""
        if self.process is None and len(flat.html) >= WORTH_BEGINNING:
            self.process = _beside(flat)
            return self._from_beside
        part = part_of(flat, self.styles)
        return lambda: part

    def _from_beside(self) -> Part:
        assert self.process is not None
        answer, _ = self.process.communicate(timeout=LONGEST_S)
        if self.process.returncode:
            raise RuntimeError(f"the second process laid nothing out: it ended with {self.process.returncode}")
        return unpacked(answer)


def _beside(flat: Flat) -> subprocess.Popen[bytes]:
    """A second process that lays a sheet out. Of the environment it has what finds programs and letters: no secrets."""
    needed = {name: value for name, value in os.environ.items() if name in NEEDED}
    with TemporaryFile() as asked:
        asked.write(orjson.dumps(asdict(flat)))
        asked.seek(0)
        return subprocess.Popen(SECOND, stdin=asked, stdout=subprocess.PIPE, cwd=ROOM, env=needed)


def part_of(flat: Flat, styles: Styles, attached: Mapping[str, bytes] | None = None) -> Part:
    """A sheet as a part of a document."""
    document = laid_out(flat, styles)
    bookmarks = document.make_bookmark_tree(PT_OF_PX, transform_pages=True)
    return Part(written(document, attached), list(_begun(document)), bookmarks)


def _begun(document: Document) -> Iterator[dict[str, tuple[float, float]]]:
    """What is named on each page; on its first one where it goes on over several."""
    known = set[str]()
    for page in document.pages:
        fresh = {name: place for name, place in page.anchors.items() if name not in known}
        known |= fresh.keys()
        yield {name: (x * PT_OF_PX, (page.height - y) * PT_OF_PX) for name, (x, y, *_) in fresh.items()}


def _second() -> None:
    """Lay out what is asked for on the standard input, and answer on the standard output."""
    # It ends before what nothing holds could become much.
    gc.disable()
    logging.getLogger("weasyprint").setLevel(logging.ERROR)
    part = part_of(Flat(**orjson.loads(sys.stdin.buffer.read())), Styles())
    sys.stdout.buffer.write(packed(part))


if __name__ == "__main__":
    _second()
