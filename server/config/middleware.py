"""Limits and safety around every request: body size, and writes that happen once however often they are sent."""

from __future__ import annotations

import hashlib
import re
import zlib
from collections.abc import Callable
from contextlib import suppress
from ipaddress import ip_address
from typing import TYPE_CHECKING

from django.conf import settings
from django.db import IntegrityError, transaction
from django.http import HttpRequest, HttpResponse
from problems import problem

if TYPE_CHECKING:
    from accounts.models import Write

Next = Callable[[HttpRequest], HttpResponse]
KEY = re.compile(r"[A-Za-z0-9_-]{8,64}")
LOGS = re.compile(r"/api/packages|/api/logs|/api/installs/[^/]+/supplies/[^/]+/logs")
# These keep no answer: signing in and out, what shows a secret once, and computing something.
NOT_WRITES = re.compile(
    r"/api/session|/api/links/[^/]+|/api/account/.+|/api/people/links|/api/people/[^/]+/reset|/api/size|/api/check|/api/starting|/api/logs|/api/devices/proofs|/api/installs/[^/]+/(trials|takings|supplies/[^/]+/(?:starts|logs)|entry/[a-z]+|work/lines|bench/runs|bench/fits|photos/[^/]+/takings|analyses/[^/]+/diagnoses)"
)


def _noted(request: HttpRequest) -> None:
    """Every write stands in the trail, by its address; what has an entry of its own says more, and
    how somebody practises is nobody else's.
    """
    from accounts.roles import person
    from accounts.trail import note

    match = request.resolver_match
    if match is None or match.route.startswith(("api/people", "api/account", "api/practice")):
        return
    words = match.route.removeprefix("api/").replace("installs/<install_id>/", "")
    note(person(request), f"changed: {words}", match.kwargs.get("install_id"))


def _unpacked(kept: bytes) -> bytes:
    """A kept answer; those of an earlier release were kept as they were sent."""
    return kept if kept[:1] in (b"", b"{", b"[") else zlib.decompress(kept)


class BehindProxy:
    """Whose address it is that asks, where exactly one proxy stands before: the last that it has added, no other."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        added = request.headers.get("X-Forwarded-For", "").rpartition(",")[2].strip()
        with suppress(ValueError):
            request.META["REMOTE_ADDR"] = str(ip_address(added))
        return self.get_response(request)


class LimitBody:
    """Refuses a body above the limit before it is read."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            length = int(request.META.get("CONTENT_LENGTH") or 0)
        except ValueError:
            length = 0
        most = settings.LARGEST_LOG if LOGS.fullmatch(request.path) else settings.LARGEST_BODY
        if length > most:
            said = f"At most {most // 1_000_000} MB. Check that it is the right file."
            return problem(413, "too-large", said)
        return self.get_response(request)


SAYS = {
    400: "The request is not one that can be read here.",
    404: "There is no such address.",
    405: "This address does not take a request of that kind.",
}


class Problems:
    """Whatever the framework itself refuses under /api/ is told as every other refusal is."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        answer = self.get_response(request)
        kind = answer.headers.get("Content-Type", "")
        if not request.path.startswith("/api/") or answer.status_code < 400 or kind.startswith("application/problem"):
            return answer
        told = problem(answer.status_code, "request", SAYS.get(answer.status_code, "It was not carried out."))
        if "Allow" in answer.headers:
            told.headers["Allow"] = answer.headers["Allow"]
        return told


class OneCompany:
    """Every request sees the rows of one company: that of whoever is signed in; nobody's without."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        from accounts.scope import Scope, enter

        if not request.path.startswith("/api/"):
            return self.get_response(request)
        enter(Scope(getattr(request.user, "company_id", None)))
        answer = self.get_response(request)
        # What is somebody's lies in no cache on the way; a phone keeps what it needs by itself.
        answer.headers.setdefault("Cache-Control", "no-store")
        return answer


# Whoever reads a plan or a record sees the install; what is printed or taken out leaves it.
SEEN, TAKEN_OUT = "api/installs/<install_id>", (".pdf", ".zip", ".csv", ".json")


class Looks:
    """Who saw which install, and took what out of it, stands in the trail."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        answer = self.get_response(request)
        match = request.resolver_match
        if request.method != "GET" or answer.status_code != 200 or match is None or "install_id" not in match.kwargs:
            return answer
        if match.route != SEEN and not match.route.endswith(TAKEN_OUT):
            return answer
        from accounts.roles import person
        from accounts.trail import PRINTED, SAW, note_a_look

        did = SAW if match.route == SEEN else f"{PRINTED}: {match.route.rpartition('/')[2]}"
        note_a_look(person(request), did, match.kwargs["install_id"])
        return answer


class WriteOnce:
    """Runs each write in one transaction together with its idempotency key.

    A repeated key gets the first answer again and changes nothing. A write that is refused leaves no trace, so the
    same key may be used once more with the same request.
    """

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        safe = request.method in ("GET", "HEAD", "OPTIONS")
        if safe or not request.path.startswith("/api/") or NOT_WRITES.fullmatch(request.path):
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
        from accounts.roles import person

        user = person(request)
        said = b"\n".join([str(request.method).encode(), request.get_full_path().encode(), request.body])
        digest = hashlib.sha256(said).hexdigest()
        mine = Write.objects.filter(user=user, key=key)
        known = mine.first()
        if known is not None:
            return self._again(known, digest)
        response = self._carry_out(request, Write(company_id=user.company_id, user=user, key=key, digest=digest))
        if response is not None and response.status_code < 400:
            return response
        # Refused, or met by the same request sent twice at once: the other one's answer counts for both.
        known = mine.first()
        if known is not None:
            return self._again(known, digest)
        return response or problem(503, "busy", "Two writes met. This one changed nothing; send it again.")

    def _carry_out(self, request: HttpRequest, entry: Write) -> HttpResponse | None:
        """The write and its answer in one transaction; undone whole when refused, or (None) when the key is taken."""
        try:
            with transaction.atomic():
                response = self.get_response(request)
                if response.status_code >= 400:
                    transaction.set_rollback(True)
                    return response
                _noted(request)
                entry.status, entry.body = response.status_code, zlib.compress(response.content, 1)
                entry.save(force_insert=True)
                return response
        except IntegrityError:
            return None

    def _again(self, entry: Write, digest: str) -> HttpResponse:
        if entry.digest != digest:
            detail = "This Idempotency-Key was used for another request. Send the new one with a fresh key."
            return problem(422, "idempotency-key", detail)
        response = HttpResponse(_unpacked(bytes(entry.body)), status=entry.status, content_type="application/json")
        response["Idempotent-Replay"] = "true"
        return response
