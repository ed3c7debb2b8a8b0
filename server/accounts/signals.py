"""Sessions are listed as they begin and end."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.signals import user_logged_in, user_logged_out
from django.dispatch import receiver
from django.http import HttpRequest

from accounts.models import SignedIn, User


@receiver(user_logged_in)
def begun(request: HttpRequest, user: User, **_: Any) -> None:
    """A session has begun."""
    if request.session.session_key is None:
        request.session.save()
    agent = request.headers.get("User-Agent", "")[:200]
    SignedIn.objects.update_or_create(
        session_key=request.session.session_key, defaults={"company_id": user.company_id, "user": user, "agent": agent}
    )


@receiver(user_logged_out)
def ended(request: HttpRequest, user: User | None, **_: Any) -> None:
    """A session is over."""
    SignedIn.objects.filter(session_key=request.session.session_key or "").delete()
