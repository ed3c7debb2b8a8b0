"""What every printed sheet shares: the font, the style, the footer that says who decides, and the drawings."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Any, Protocol

from accounts.models import User
from django.conf import settings
from django.template.loader import render_to_string
from django.utils import timezone
from installs.actions import Checked
from leitung_core.cautions import QUALIFIED
from weasyprint import CSS, HTML, Attachment, Document
from weasyprint.text.fonts import FontConfiguration

from documents.letters import word_by_word

word_by_word()

FONT = settings.ROOT / "web/node_modules/@fontsource-variable/archivo/files/archivo-latin-wdth-normal.woff2"
TEMPLATES = settings.ROOT / "server/documents/templates/documents"
WIDTH_PX = 1000


def heading(found: Checked, user: User) -> dict[str, Any]:
    """What stands at the head of every sheet: which plan, whose, at which revision, by which edition."""
    return {
        "plan": found.plan, "install": found.install, "company": user.company.name, "printed": timezone.now(),
        "edition": found.result.edition,
    }  # fmt: skip


class Printed(Protocol):
    """Whatever is made into one PDF."""

    def pdf(self) -> bytes:
        """The PDF."""


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


class Paper:
    """A sheet before it is laid out: its page, its style, and the files that the PDF carries, by name.

    Every page carries the sentence that qualified persons decide.
    """

    def __init__(
        self, template: str, context: Mapping[str, Any], *more_styles: str, attached: Mapping[str, bytes] | None = None
    ) -> None:
        self.html: str = render_to_string(f"documents/{template}", {"qualified": QUALIFIED, **context})
        self.styles, self.attached = ("sheet.css", *more_styles), dict(attached or {})

    def laid_out(self, style: str = "", anchor: str = "", styles: Styles | None = None) -> Document:
        """Its pages; as part of a package with a style beside, and under a name to which its contents lead."""
        html = self.html.replace("<body", f'<body id="{anchor}"', 1) if anchor else self.html
        styles = styles or Styles()
        sheets = [styles.read(_style(name)) for name in self.styles]
        sheets += [styles.read(style)] if style else []
        return HTML(string=html).render(font_config=styles.fonts, stylesheets=sheets)

    def pdf(self) -> bytes:
        """The sheet as PDF."""
        return written(self.laid_out(), self.attached)


def written(document: Document, attached: Mapping[str, bytes]) -> bytes:
    """Pages as PDF, told to those who cannot see them by tags."""
    carried = [Attachment(string=raw, name=name) for name, raw in attached.items()]
    return bytes(document.write_pdf(attachments=carried, pdf_tags=True))


@cache
def _style(name: str) -> str:
    sheet = (TEMPLATES / name).read_text("utf-8").replace("QUALIFIED", QUALIFIED)
    if name != "sheet.css":
        return sheet
    face = (
        f"@font-face {{ font-family: Archivo; src: url('{FONT.as_uri()}'); "
        "font-weight: 100 900; font-stretch: 62% 125%; }\n"
    )
    return face + sheet
