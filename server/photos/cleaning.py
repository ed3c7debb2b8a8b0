"""What may be kept: pictures and papers, by what they are and not by their names; a picture's marks are taken out."""

from __future__ import annotations

import io
from dataclasses import dataclass

from leitung_core.errors import Problem
from leitung_core.pictures import opened, refuse_above
from PIL import Image, ImageOps

LARGEST_BYTES = 3_500_000
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
    refuse_above(LARGEST_BYTES, raw, "file")
    if raw.startswith(b"%PDF-"):
        return Clean(raw, PDF)
    remedy = "Send a picture (JPEG, PNG, WebP, HEIC) or a PDF."
    refusal = Problem("file", name, "is neither a picture nor a PDF", remedy)
    with opened(raw, (*KEPT_AS, *WRITTEN_ANEW), refusal) as image:
        return _upright(raw, image)


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
