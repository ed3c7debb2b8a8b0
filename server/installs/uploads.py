"""Files that come within JSON."""

from __future__ import annotations

import base64

from leitung_core.errors import InputError, Problem


def bytes_of(name: str, text: str) -> bytes:
    """The bytes of a file from its base64. Raises InputError where they did not arrive whole."""
    try:
        return base64.b64decode(text, validate=True)
    except ValueError:
        raise InputError(Problem("file", name, "did not arrive whole", "Choose it once more.")) from None
