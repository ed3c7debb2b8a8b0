"""Limits and safety around every request: body size, and writes that happen once however often they are sent."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Callable

from django.conf import settings
from django.db import transaction
from django.http import HttpRequest, HttpResponse

from config.problems import problem

Next = Callable[[HttpRequest], HttpResponse]
KEY = re.compile(r"[A-Za-z0-9_-]{8,64}")
# These keep nothing: signing in and out, and computing an answer.
NOT_WRITES = ("/api/session", "/api/size")


class LimitBody:
    """Refuses a body above the limit before it is read."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            length = int(request.META.get("CONTENT_LENGTH") or 0)
        except ValueError:
            length = 0
        if length > settings.DATA_UPLOAD_MAX_MEMORY_SIZE:
            return problem(413, "too-large", "At most 5 MB; a plan is far smaller. Check that it is the right file.")
        return self.get_response(request)


class WriteOnce:
    """Runs each write in one transaction together with its idempotency key.

    A repeated key gets the first answer again and changes nothing. A write that is refused leaves no trace, so the
    same key may be used once more with the same request.
    """

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        safe = request.method in ("GET", "HEAD", "OPTIONS")
        if safe or not request.path.startswith("/api/") or request.path in NOT_WRITES:
            return self.get_response(request)
        if not request.user.is_authenticated:
            return self.get_response(request)
        key = request.headers.get("Idempotency-Key", "")
        if not KEY.fullmatch(key):
            detail = "Send a fresh Idempotency-Key header (8 to 64 letters, digits, - or _) with every write."
            return problem(400, "idempotency-key", detail)
        return self._once(request, key)

    def _once(self, request: HttpRequest, key: str) -> HttpResponse:
        from accounts.models import Write

        digest = hashlib.sha256(
            b"\n".join([str(request.method).encode(), request.get_full_path().encode(), request.body])
        )
        with transaction.atomic():
            entry, fresh = Write.objects.get_or_create(
                user=request.user, key=key, defaults={"digest": digest.hexdigest()}
            )
            if not fresh:
                return self._again(entry, digest.hexdigest())
            response = self.get_response(request)
            if response.status_code >= 400:
                transaction.set_rollback(True)
                return response
            entry.status, entry.body = response.status_code, bytes(response.content)
            entry.save(update_fields=["status", "body"])
        return response

    def _again(self, entry: object, digest: str) -> HttpResponse:
        if entry.digest != digest:  # type: ignore[attr-defined]
            detail = "This Idempotency-Key was used for another request. Send the new one with a fresh key."
            return problem(422, "idempotency-key", detail)
        response = HttpResponse(entry.body, status=entry.status, content_type="application/json")  # type: ignore[attr-defined]
        response["Idempotent-Replay"] = "true"
        return response
