"""What may be kept: pictures and papers, by what they are and not by their names; a picture's marks are taken out."""

from __future__ import annotations

import io
from dataclasses import dataclass

from leitung_core.errors import InputError, Problem
from PIL import Image, ImageOps, UnidentifiedImageError
from pillow_heif import register_heif_opener

register_heif_opener()

LARGEST_BYTES = 3_500_000
MOST_PIXELS = 60_000_000
KEPT_AS = {"PNG": "image/png", "JPEG": "image/jpeg"}
WRITTEN_ANEW = ("MPO", "WEBP", "HEIF")
MARKS = ("exif", "xmp", "XML:com.adobe.xmp", "comment")
PDF = "application/pdf"
QUALITY = 90


@dataclass(frozen=True)
class Clean:
    """Bytes as they are kept, what they are, and a picture's size as it is seen, pixels."""

    body: bytes
    kind: str
    width: int | None = None
    height: int | None = None


def clean(raw: bytes, name: str) -> Clean:
    """A picture upright and without its marks, or a PDF. Raises InputError for everything else."""
    if len(raw) > LARGEST_BYTES:
        size = f"{len(raw) / 1e6:.1f} MB"
        raise InputError(Problem("file", size, "is too large", "At most 3.5 MB: send a smaller copy."))
    if raw.startswith(b"%PDF-"):
        return Clean(raw, PDF)
    try:
        with Image.open(io.BytesIO(raw)) as image:
            if image.format not in (*KEPT_AS, *WRITTEN_ANEW):
                raise UnidentifiedImageError(image.format)
            if image.width * image.height > MOST_PIXELS:
                size = f"{image.width} x {image.height}"
                raise InputError(Problem("file", size, "has too many pixels", "At most 60 million: send a copy."))
            return _upright(raw, image)
    except InputError:
        raise
    except Exception:  # a decoder given what is broken ends with whatever it likes
        remedy = "Send a picture (JPEG, PNG, WebP, HEIC) or a PDF."
        raise InputError(Problem("file", name, "is neither a picture nor a PDF", remedy)) from None


def _upright(raw: bytes, image: Image.Image) -> Clean:
    """The picture as it was held; written anew where it has marks, or is of a kind that not every browser shows."""
    kind = KEPT_AS.get(image.format or "")
    marked = bool(image.getexif()) or any(name in image.info for name in MARKS)
    if kind is not None and not marked:
        image.load()
        return Clean(raw, kind, image.width, image.height)
    seen = ImageOps.exif_transpose(image)
    written = io.BytesIO()
    if kind == "image/png":
        seen.info = {}
        seen.save(written, "PNG")
    else:
        kind = "image/jpeg"
        seen.convert("RGB").save(written, "JPEG", quality=QUALITY, exif=b"", comment=b"")
    return Clean(written.getvalue(), kind, seen.width, seen.height)
