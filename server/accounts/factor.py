"""The second factor: a one-time code by the clock (RFC 6238), codes for a lost device, each good once."""

from __future__ import annotations

import secrets
import time

import pyotp
from django.db import transaction
from django.utils import timezone
from problems import Refused

from accounts.kept import digest
from accounts.models import SecondFactor, User

STEP_S, DRIFT = 30, 1
SPARE_CODES = 8


def begin(user: User) -> tuple[str, str]:
    """A new secret, and the address by which a device takes it; it counts once a code of it was given."""
    secret = pyotp.random_base32()
    SecondFactor.objects.update_or_create(
        user=user, defaults={"company_id": user.company_id, "secret": secret, "confirmed_at": None, "spare": []}
    )
    return secret, pyotp.TOTP(secret).provisioning_uri(name=user.username, issuer_name="Leitung")


def take_off(user: User) -> None:
    """No code is asked for any more."""
    SecondFactor.objects.filter(user=user).delete()


@transaction.atomic
def confirm(user: User, code: str) -> list[str]:
    """From now on a code is asked for. The spare codes, which are shown once. Raises Refused for a wrong code."""
    found = SecondFactor.objects.select_for_update().filter(user=user).first()
    if found is None or not _by_clock(found, code):
        raise Refused(422, "wrong-code", "That code is not of this device and this minute. Type the next one.")
    spare = [f"{secrets.randbelow(10**5):05d}-{secrets.randbelow(10**5):05d}" for _ in range(SPARE_CODES)]
    found.confirmed_at, found.spare = timezone.now(), [digest(code) for code in spare]
    found.save()
    return spare


def asked(user: User) -> bool:
    """Whether a code is asked of somebody."""
    return SecondFactor.objects.filter(user=user, confirmed_at__isnull=False).exists()


def all_asked(company_id: int) -> set[int]:
    """The ids of those of a company of whom a code is asked."""
    confirmed = SecondFactor.objects.filter(company_id=company_id, confirmed_at__isnull=False)
    return set(confirmed.values_list("user_id", flat=True))


def right(user: User, code: str) -> bool:
    """Whether a code is good; it is used up then. Call within a transaction."""
    found = SecondFactor.objects.select_for_update().get(user=user)
    plain = code.replace(" ", "")
    if _by_clock(found, plain):
        return True
    if digest(plain) not in found.spare:
        return False
    found.spare = [one for one in found.spare if one != digest(plain)]
    found.save()
    return True


def _by_clock(found: SecondFactor, code: str) -> bool:
    """Whether a code is of this half minute, or of one beside it, and no older than the last one used."""
    now = int(time.time()) // STEP_S
    for step in range(now - DRIFT, now + DRIFT + 1):
        if step > found.step and secrets.compare_digest(pyotp.TOTP(found.secret).at(step * STEP_S), code):
            found.step = step
            found.save()
            return True
    return False
