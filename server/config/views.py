"""The web application's one page; its routes live in the browser."""

import sys

from django.conf import settings
from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe
from problems import problem


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


def server_error(request: HttpRequest) -> HttpResponse:
    """What is left when something failed: a message; the client keeps what was entered and tries again."""
    if isinstance(sys.exc_info()[1], (OperationalError, InterfaceError)):
        return problem(503, "database", "The database does not answer. Nothing is lost; try again in a moment.")
    return problem(500, "fault", "Leitung failed at this. Nothing was changed; if it happens again, report it.")
