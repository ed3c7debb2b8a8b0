"""What every printed sheet shares: the font, the style, the footer that says who decides, and the drawings."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Any

from accounts.models import User
from django.conf import settings
from django.template.loader import render_to_string
from django.utils import timezone
from installs.actions import Checked
from leitung_core.cautions import QUALIFIED
from weasyprint import CSS, HTML, Attachment
from weasyprint.text.fonts import FontConfiguration

FONT = settings.ROOT / "web/node_modules/@fontsource-variable/archivo/files/archivo-latin-wdth-normal.woff2"
TEMPLATES = settings.ROOT / "server/documents/templates/documents"
WIDTH_PX = 1000


def heading(found: Checked, user: User) -> dict[str, Any]:
    """What stands at the head of every sheet: which plan, whose, at which revision, by which edition."""
    return {
        "plan": found.plan, "install": found.install, "company": user.company.name, "printed": timezone.now(),
        "edition": found.result.edition,
    }  # fmt: skip


def pdf(
    template: str, context: dict[str, Any], *more_styles: str, attached: Mapping[str, bytes] | None = None
) -> bytes:
    """A sheet as PDF from its template; every page carries the sentence that qualified persons decide.

    attached: files that the PDF carries, by name.
    """
    html = render_to_string(f"documents/{template}", {"qualified": QUALIFIED, **context})
    fonts = FontConfiguration()
    carried = [Attachment(string=raw, name=name) for name, raw in (attached or {}).items()]
    sheets = [CSS(string=_style(name), font_config=fonts) for name in ("sheet.css", *more_styles)]
    return bytes(HTML(string=html).write_pdf(stylesheets=sheets, font_config=fonts, attachments=carried))


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
