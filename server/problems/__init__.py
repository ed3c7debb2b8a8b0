"""Every error as problem+json (RFC 9457) with a stable code: the one mapping from errors to HTTP."""

from __future__ import annotations

from itertools import dropwhile
from typing import Any

import orjson
from django.http import HttpRequest, HttpResponse
from leitung_core.errors import InputError, LeitungError, Problem
from leitung_core.validation import problem_from
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

TITLES = {
    400: "The request cannot be read",
    401: "Sign in first",
    403: "Not allowed with your role",
    404: "There is nothing here",
    405: "Not in this way",
    409: "Changed meanwhile",
    413: "Too large",
    422: "Some of it does not fit",
    429: "Too many attempts",
    500: "A fault of ours",
    503: "Not available just now",
}


class Refused(LeitungError):  # noqa: N818
    """A request that is understood and not carried out."""

    def __init__(self, status: int, code: str, detail: str, **more: Any) -> None:
        self.status, self.code, self.detail, self.more = status, code, detail, more
        super().__init__(detail)


def problem(status: int, code: str, detail: str, **more: Any) -> HttpResponse:
    """A problem+json response."""
    title = TITLES.get(status, "It did not work")
    body = {"type": f"about:blank#{code}", "title": title, "status": status, "code": code, "detail": detail, **more}
    return HttpResponse(orjson.dumps(body, default=str), status=status, content_type="application/problem+json")


def listed(problems: tuple[Problem, ...]) -> list[dict[str, Any]]:
    """Problems as data: field, value, message, remedy."""
    return [
        {"field": entry.field, "value": entry.value, "message": entry.message, "remedy": entry.remedy}
        for entry in problems
    ]


def not_found() -> Refused:
    """The one answer for what is not there and for what belongs to another company."""
    return Refused(404, "not-found", "There is no such thing here, or it is not your company's.")


def _within(location: tuple[str | int, ...]) -> tuple[str | int, ...]:
    """A field's place without the framework's own words for where it was sent."""
    return tuple(dropwhile(lambda part: part in ("body", "query", "path"), location))


def register(api: NinjaAPI) -> None:
    """Attach the mapping to an API."""

    @api.exception_handler(InputError)
    def _input(request: HttpRequest, error: InputError) -> HttpResponse:
        return problem(422, error.code, str(error.problems[0]), errors=listed(error.problems))

    @api.exception_handler(Refused)
    def _refused(request: HttpRequest, error: Refused) -> HttpResponse:
        return problem(error.status, error.code, error.detail, **error.more)

    @api.exception_handler(AuthenticationError)
    def _unauthenticated(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return problem(401, "sign-in", "Sign in to see this.")

    @api.exception_handler(ValidationError)
    def _shape(request: HttpRequest, error: ValidationError) -> HttpResponse:
        problems = tuple(problem_from({**entry, "loc": _within(entry["loc"])}) for entry in error.errors[:20])
        return problem(422, "invalid-input", str(problems[0]), errors=listed(problems))

    @api.exception_handler(HttpError)
    def _http(request: HttpRequest, error: HttpError) -> HttpResponse:
        # The framework wraps whatever the body's reader raised.
        inner = error.__cause__ or error.__context__
        if isinstance(inner, InputError):
            return _input(request, inner)
        return problem(error.status_code, "request", str(error))
