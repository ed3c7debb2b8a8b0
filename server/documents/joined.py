"""Parts joined to one PDF: pages, bookmarks, what leads from the contents, and the tree that is read aloud.

What the library that lays out gives is taken as it is: a tree of one document whose children are the parts' elements,
and a table from the marks of each page to these elements.
"""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from typing import Any, NamedTuple

from pikepdf import Array, Dictionary, Name, Object, ObjectStreamMode, OutlineItem, Page, Pdf, String

from documents.laying import Flat, Part, Styles, laid_out, part_of, written

# The foot of a page alone: beside the style of all sheets, nothing but what stands at its right.
FOOT = """
@page { background: none; @bottom-left { content: none; } }
@page :first { counter-set: page 1; }
div { break-before: page; }
div:first-child { break-before: auto; }
"""


def css_text(text: str) -> str:
    """A text as it stands between quotes in a style."""
    return text.replace("\\", "").replace('"', "")


def joined(
    contents: Flat, attached: Mapping[str, bytes], parts: Sequence[Part], titles: Sequence[str], styles: Styles
) -> bytes:
    """The contents and the parts after them as one PDF, with the files that it carries.

    titles: what each page is called at its foot, beside its number. In the contents each name that leads to a part
    stands at its own place: it is led on to where the parts have it.
    """
    front = part_of(contents, styles, attached)
    out = Pdf.open(io.BytesIO(front.pdf))
    tree = _Tree(out)
    places: dict[str, Array] = {}
    with out.open_outline() as outline:
        for part in parts:
            first = len(out.pages)
            with Pdf.open(io.BytesIO(part.pdf)) as source:
                out.pages.extend(source.pages)
                tree.take(source, out.pages[first:])
            places |= _places(part, out.pages[first:])
            outline.root.extend(_bookmarks(part.bookmarks, first))
    _lead(out, places)
    _feet(out, titles, styles, contents.styles)
    body = io.BytesIO()
    out.save(body, object_stream_mode=ObjectStreamMode.generate)
    return body.getvalue()


class _Tree:
    """The tree that is read aloud, and the table from the marks on the pages to its elements."""

    def __init__(self, out: Pdf) -> None:
        self.out, root = out, out.Root.StructTreeRoot
        self.document, self.table = root.K[0], root.ParentTree.Nums
        # Beyond those of the contents' own pages and links.
        self.next = len(self.table) // 2

    def take(self, source: Pdf, pages: Sequence[Page]) -> None:
        """Hang a part's elements behind those that are there; its pages and links point to them as before."""
        root = self.out.copy_foreign(source.Root.StructTreeRoot)
        for element in root.K[0].K:
            element.P = self.document
            self.document.K.append(element)
        nums = list(root.ParentTree.Nums)
        elements = {int(key): value for key, value in zip(nums[::2], nums[1::2], strict=True)}
        for page in pages:
            page.obj.StructParents = self._enter(elements[int(page.obj.StructParents)])
            for note in page.obj.get(Name.Annots, []):
                if Name.StructParent in note:
                    note.StructParent = self._enter(elements[int(note.StructParent)])

    def _enter(self, elements: Object) -> int:
        self.table.append(self.next)
        self.table.append(elements)
        self.next += 1
        return self.next - 1


def _places(part: Part, pages: Sequence[Page]) -> dict[str, Array]:
    return {
        name: Array([page.obj, Name.XYZ, x, y, 0])
        for page, anchors in zip(pages, part.anchors, strict=True)
        for name, (x, y) in anchors.items()
    }


def _bookmarks(rows: Sequence[Any], first: int) -> list[OutlineItem]:
    items = []
    for title, (page, x, y), below, _ in rows:
        item = OutlineItem(title, first + page, "XYZ", left=x, top=y)
        item.children.extend(_bookmarks(below, first))
        items.append(item)
    return items


def _lead(out: Pdf, places: Mapping[str, Array]) -> None:
    """Have every name lead to its place in the parts. Names are kept in their order."""
    if not places:
        return
    kept = list(out.Root.Names.Dests.Names)
    found = {bytes(name): place for name, place in zip(kept[::2], kept[1::2], strict=True)}
    found |= {bytes(String(name)): place for name, place in places.items()}
    out.Root.Names.Dests = Dictionary(
        Names=Array([each for name, place in sorted(found.items()) for each in (String(name), place)])
    )


class _Kind(NamedTuple):
    title: str
    wide_pt: float
    high_pt: float


def _feet(out: Pdf, titles: Sequence[str], styles: Styles, sheet: Sequence[str]) -> None:
    """Lay on every page, as an ornament of it, what it is called and its number."""
    kinds = [_Kind(title, *map(float, page.mediabox[2:])) for title, page in zip(titles, out.pages, strict=True)]
    rules = {kind: _foot(f"kind-{number}", kind) for number, kind in enumerate(dict.fromkeys(kinds))}
    classes = {kind: f"kind-{number}" for number, kind in enumerate(rules)}
    html = "".join(f'<div class="{classes[kind]}">&nbsp;</div>' for kind in kinds)
    flat = Flat(f'<html lang="en"><body>{html}</body></html>', [*sheet, FOOT, *rules.values()])
    with Pdf.open(io.BytesIO(written(laid_out(flat, styles), told=False))) as feet:
        for page, foot in zip(out.pages, feet.pages, strict=True):
            name = page.add_resource(out.copy_foreign(foot.as_form_xobject()), Name.XObject)
            page.contents_add(b"q\n", prepend=True)
            page.contents_add(f"\nQ /Artifact BMC q {name} Do Q EMC".encode())


def _foot(name: str, kind: _Kind) -> str:
    return f"""
@page {name} {{
  size: {kind.wide_pt}pt {kind.high_pt}pt;
  @bottom-right {{ content: "{css_text(kind.title)}, page " counter(page); }}
}}
.{name} {{ page: {name}; }}
"""
