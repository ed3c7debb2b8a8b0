"""The letters of a drawing laid out word by word instead of one by one.

WeasyPrint gives each letter of a drawing a layout of its own, as each could have a place of its own. Ours have none:
together they take a seventh of the time, and whoever searches or copies the text finds words.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import weasyprint.svg

ONE_BY_ONE = weasyprint.svg.text
# What gives single letters a place, a turn or a distance.
OF_LETTERS = ("rotate", "textLength", "letter-spacing")
OF_THE_FIRST = ("x", "y", "dx", "dy")


class Whole(str):
    """A text that is gone through in one piece."""

    __slots__ = ()

    def __iter__(self) -> Iterator[str]:
        yield str(self)


def whole(svg: Any, node: Any, font_size: float) -> None:
    """Draw a text; in one piece where none of its letters asks for anything of its own."""
    given = node.attrib
    many = any(len(given.get(name, "").replace(",", " ").split()) > 1 for name in OF_THE_FIRST)
    if node.text and not many and not any(name in given for name in OF_LETTERS):
        node._etree_node.text = Whole(node.text)
    ONE_BY_ONE(svg, node, font_size)


def word_by_word() -> None:
    """From now on."""
    weasyprint.svg.text = whole
    for tag, draw in weasyprint.svg.TAGS.items():
        if draw is ONE_BY_ONE:
            weasyprint.svg.TAGS[tag] = whole
