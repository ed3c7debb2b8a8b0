"""Opening a picture that somebody sends: bounded in bytes and pixels, of known kinds, or refused in words."""

from __future__ import annotations

import io
from collections.abc import Collection, Iterator
from contextlib import contextmanager

from PIL import Image, UnidentifiedImageError
from pillow_heif import register_heif_opener

from leitung_core.errors import InputError, Problem

MOST_PIXELS = 60_000_000

register_heif_opener()


def refuse_above(largest: int, raw: bytes, field: str) -> None:
    """Raises InputError for a file of more bytes than are taken."""
    if len(raw) > largest:
        remedy = f"At most {largest / 1e6:g} MB: send a smaller copy."
        raise InputError(Problem(field, f"{len(raw) / 1e6:.1f} MB", "is too large", remedy))


@contextmanager
def opened(raw: bytes, kinds: Collection[str], refusal: Problem) -> Iterator[Image.Image]:
    """The picture while it is used. Raises InputError for above 60 million pixels.

    Raises InputError with the refusal for what is none of these kinds (the library's names), or breaks while it is
    decoded within the block.
    """
    try:
        with Image.open(io.BytesIO(raw)) as image:
            if image.format not in kinds:
                raise UnidentifiedImageError(image.format)
            if image.width * image.height > MOST_PIXELS:
                size = f"{image.width} x {image.height}"
                remedy = f"At most {MOST_PIXELS / 1e6:g} million: send a copy."
                raise InputError(Problem(refusal.field, size, "has too many pixels", remedy))
            yield image
    except InputError:
        raise
    except Exception:  # a decoder given what is broken ends with whatever it likes
        raise InputError(refusal) from None
