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

from documents.laying import Flat, Styles, laid_out, written

FONT = settings.ROOT / "web/node_modules/@fontsource-variable/archivo/files/archivo-latin-wdth-normal.woff2"
# A font of all weights would have each weight cut out of it anew for every sheet.
CUTS = settings.ROOT / "web/node_modules/@fontsource/archivo/files"
WEIGHTS = (400, 500, 600, 700)
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


class Paper:
    """A sheet before it is laid out: its page, its style, and the files that the PDF carries, by name.

    Every page carries the sentence that qualified persons decide.
    """

    def __init__(
        self, template: str, context: Mapping[str, Any], *more_styles: str, attached: Mapping[str, bytes] | None = None
    ) -> None:
        self.html: str = render_to_string(f"documents/{template}", {"qualified": QUALIFIED, **context})
        self.styles, self.attached = ("sheet.css", *more_styles), dict(attached or {})

    def flat(self, style: str = "", anchor: str = "") -> Flat:
        """As it is laid out; as part of a package with a style beside, and under a name to which its contents lead."""
        html = self.html.replace("<body", f'<body id="{anchor}"', 1) if anchor else self.html
        return Flat(html, [*(_style(name) for name in self.styles), *([style] if style else [])])

    def pdf(self) -> bytes:
        """The sheet as PDF."""
        return written(laid_out(self.flat(), Styles()), self.attached)


@cache
def _style(name: str) -> str:
    sheet = (TEMPLATES / name).read_text("utf-8").replace("QUALIFIED", QUALIFIED)
    if name != "sheet.css":
        return sheet
    faces = (
        f"@font-face {{ font-family: Archivo; font-weight: {weight}; src: url('{_cut(weight)}'); }}\n"
        for weight in WEIGHTS
    )
    return "".join(faces) + sheet


def _cut(weight: int) -> str:
    return str((CUTS / f"archivo-latin-{weight}-normal.woff2").as_uri())
