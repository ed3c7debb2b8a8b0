"""Reading without an account, by a link: pages for a phone, the printed sheet, the customer's dates.

Whatever is wrong with an address is told alike, so that trying tells nothing.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import cache
from uuid import UUID

from accounts.scope import EVERYONE, Scope, seeing
from accounts.spent import Spent
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.template.loader import render_to_string
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe
from documents.api import being_made
from documents.models import Sheet
from documents.paper import FONT
from documents.sheets import sheet_of
from links.links import opened
from links.models import ReaderLink, ReaderLook
from problems import Refused

from readers import pages

# Of one address in a minute: who mistypes does not do so this often, who reads does not read this much.
MOST_MISSES, MOST_READS = 20, 90
misses, reads, took = Spent(), Spent(), Spent()
Answer = Callable[[ReaderLink, str], HttpResponse]


@require_safe
@never_cache
def page(request: HttpRequest, link: UUID, code: str, line: str | None = None) -> HttpResponse:
    """What a link opens."""

    def answer(found: ReaderLink, about: str) -> HttpResponse:
        printed = request.GET.get("r", "")
        template, context = pages.page(found, about, int(printed) if printed.isdecimal() and len(printed) < 9 else None)
        here = request.path
        return _html(template, context | {"here": here})

    return _read(request, link, code, line, "page", answer)


@require_safe
@never_cache
def paper(request: HttpRequest, link: UUID, code: str, line: str | None = None) -> HttpResponse:
    """The printed sheet of what a link opens."""

    def answer(found: ReaderLink, about: str) -> HttpResponse:
        kind = pages.sheet_of_link(found, about)
        if kind is None:
            return _over()
        try:
            sheet = sheet_of(found.by, found.install_id, *kind)
        except Refused as refused:
            return _html("readers/over.html", {"says": refused.detail}, refused.status)
        if sheet.status != Sheet.Status.DONE:
            return being_made(sheet)
        return HttpResponse(bytes(sheet.body or b""), content_type="application/pdf")

    return _read(request, link, code, line, "sheet", answer)


@require_safe
@never_cache
def dates(request: HttpRequest, link: UUID, code: str) -> HttpResponse:
    """The customer's dates as a calendar file."""

    def answer(found: ReaderLink, about: str) -> HttpResponse:
        if found.scope != ReaderLink.Scope.CUSTOMER:
            return _over()
        made = HttpResponse(pages.dates(found), content_type="text/calendar; charset=utf-8")
        made["Content-Disposition"] = 'attachment; filename="dates.ics"'
        return made

    return _read(request, link, code, None, "dates", answer)


def _read(request: HttpRequest, link: UUID, code: str, line: str | None, what: str, answer: Answer) -> HttpResponse:
    address = request.META.get("REMOTE_ADDR", "")
    if _too_much(address):
        later = _html("readers/over.html", {"says": "Too much was asked from here. Try again in a minute."}, 429)
        later["Retry-After"] = "60"
        return later
    with seeing(EVERYONE):
        found = opened(link, code, line)
    if found is None:
        misses.add(address, 1)
        return _over()
    reads.add(address, 1)
    about = line if line is not None else found.about
    begun = time.thread_time()
    with seeing(Scope(found.company_id)):
        ReaderLook.objects.create(
            company_id=found.company_id, install_id=found.install_id, link=found, what=f"{what} {about}".strip()[:80],
            agent=request.headers.get("User-Agent", "")[:200],
        )  # fmt: skip
        try:
            return answer(found, about)
        finally:
            took.add(address, time.thread_time() - begun)


def _too_much(address: str) -> bool:
    tried, read = misses.of(address) >= MOST_MISSES, reads.of(address) >= MOST_READS
    return tried or read or took.of(address) > settings.BUDGET_PERSON_S


def _over() -> HttpResponse:
    says = "This link serves no more, or is not whole. Ask whoever gave it to you for another one."
    return _html("readers/over.html", {"says": says}, 404)


def _html(template: str, context: dict[str, object], status: int = 200) -> HttpResponse:
    made = HttpResponse(render_to_string(template, context), status=status)
    # An address is its own key: it goes to nobody else, and into no index.
    made["Referrer-Policy"] = "no-referrer"
    made["X-Robots-Tag"] = "noindex"
    return made


@require_safe
def style(request: HttpRequest) -> HttpResponse:
    """How the pages look."""
    return _kept(_file("read.css"), "text/css; charset=utf-8")


@require_safe
def font(request: HttpRequest) -> HttpResponse:
    """The letters that the pages are set in."""
    return _kept(FONT.read_bytes(), "font/woff2")


@cache
def _file(name: str) -> bytes:
    return (settings.ROOT / "server/readers" / name).read_bytes()


def _kept(body: bytes, kind: str) -> HttpResponse:
    made = HttpResponse(body, content_type=kind)
    made["Cache-Control"] = "public, max-age=86400"
    return made
