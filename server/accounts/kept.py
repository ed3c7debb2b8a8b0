"""What is kept of a secret that is shown once."""

from __future__ import annotations

import hashlib


def digest(secret: str) -> str:
    """The SHA-256 of a link or a code: whoever reads it there cannot use it."""
    return hashlib.sha256(secret.encode()).hexdigest()
