"""The web application's one page; its routes live in the browser."""

import sys
from functools import cache

import psycopg
from django.conf import settings
from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe
from problems import problem

TOLD: dict[type[psycopg.Error], tuple[int, str, str]] = {
    psycopg.errors.DiskFull: (503, "disk-full", "The disk of the database is full: nothing more can be kept. What you "
                              "entered stays here; make room, then try again."),
    psycopg.errors.QueryCanceled: (503, "too-long", "The database took too long. Nothing was changed; try again."),
    psycopg.errors.LockNotAvailable: (503, "too-long", "Somebody else holds this for too long. Nothing was changed; "
                                      "try again."),
}  # fmt: skip


@require_safe
@never_cache
@ensure_csrf_cookie
def web(request: HttpRequest) -> HttpResponse:
    """The built page, or a plain word where the front end has not been built."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        return HttpResponse(
            "The web front end is not built. Run ./leitung start.", status=503, content_type="text/plain"
        )
    return HttpResponse(page.read_bytes())


@require_safe
def openapi(request: HttpRequest) -> HttpResponse:
    """The API's schema, as `./leitung generate` wrote it."""
    return HttpResponse(_openapi(), content_type="application/json")


@cache
def _openapi() -> bytes:
    return (settings.ROOT / "web/src/api/openapi.json").read_bytes()


def server_error(request: HttpRequest) -> HttpResponse:
    """What is left when something failed: a message; the client keeps what was entered and tries again."""
    error = sys.exc_info()[1]
    if isinstance(error, OperationalError):
        for kind, (status, code, says) in TOLD.items():
            if isinstance(error.__cause__, kind):
                return problem(status, code, says)
    if isinstance(error, (OperationalError, InterfaceError)):
        return problem(503, "database", "The database does not answer. Nothing is lost; try again in a moment.")
    number = getattr(request, "request_id", "")
    said = f"Leitung failed at this. Nothing was changed; if it happens again, report it with its number {number[:8]}."
    return problem(500, "fault", said)
