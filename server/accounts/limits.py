"""What holds guessing back beside the rest of a name: so many failures from one address, one password at a time."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta

from axes.models import AccessAttempt
from django.conf import settings
from django.db.models import Sum
from django.http import HttpRequest
from django.utils import timezone
from problems import Refused

# Of one address, whatever the names: a crew behind one router mistypes, and does not this often.
MOST_FAILURES = 40
WAIT_S = 8.0
# A password costs a second of a core to look at: it never takes more than one.
_one = threading.BoundedSemaphore(1)


def not_too_many(request: HttpRequest) -> None:
    """Refuse an address from which too many have failed of late, before a password is looked at."""
    since = timezone.now() - timedelta(hours=settings.AXES_COOLOFF_TIME)
    failed = AccessAttempt.objects.filter(ip_address=request.META.get("REMOTE_ADDR"), attempt_time__gte=since)
    if (failed.aggregate(all=Sum("failures_since_start"))["all"] or 0) >= MOST_FAILURES:
        raise Refused(429, "throttled", "Too many failed attempts from this address. Try again in 15 minutes.")


@contextmanager
def one_at_a_time() -> Iterator[None]:
    """Look at one password at a time; refused where that does not come about soon."""
    if not _one.acquire(timeout=WAIT_S):
        raise Refused(429, "busy", "Too many sign in just now. Try again in a moment.")
    try:
        yield
    finally:
        _one.release()
