"""Plates as they are riveted to units, drawn: several layouts, and what light, hands and weather do to a picture."""

from __future__ import annotations

import io
import math
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from PIL import Image, ImageDraw, ImageFilter, ImageFont

Picture = Image.Image
FONTS = ("DejaVuSans.ttf", "DejaVuSansCondensed.ttf", "DejaVuSans-Bold.ttf", "DejaVuSansMono.ttf")
INK, METAL = 25, 214


@dataclass(frozen=True)
class Plate:
    """What a plate says: its rows as printed, and the fields that they are to be read as."""

    maker: str
    rows: tuple[tuple[str, str], ...]
    fields: dict[str, Any] = field(default_factory=dict)


PLATES: dict[str, Plate] = {
    "outdoor": Plate(
        "TARNWICK CLIMATE",
        (("MODEL", "TW-12S"), ("SERIAL", "4482017"), ("VOLTS", "208/230"), ("PHASE", "1"), ("HERTZ", "60"),
         ("MIN CIRCUIT AMPACITY", "17.8 A"), ("MAX FUSE OR HACR BKR", "25 A"), ("COMPRESSOR RLA", "12.5"),
         ("COMPRESSOR LRA", "58.3"), ("FAN MOTOR FLA", "0.7"), ("REFRIGERANT", "R-410A")),
        {"model": "TW-12S", "serial": "4482017", "volts": "208/230", "phase": 1, "hz": 60, "mca_a": 17.8,
         "max_ocpd_a": 25, "max_ocpd_type": "fuse_or_breaker", "rla_a": 12.5, "lra_a": 58.3, "fan_fla_a": 0.7,
         "refrigerant": "R-410A"},
    ),
    "rooftop": Plate(
        "CALLOWAY AIR",
        (("MODEL NO.", "CR-072H"), ("SERIAL NO.", "KX90331"), ("POWER SUPPLY", "208/230V 3PH 60HZ"),
         ("MCA", "30.9"), ("MOCP", "40 A FUSE"), ("COMPR. RLA", "19.6"), ("LRA", "136"),
         ("OUTDOOR FAN FLA", "1.5"), ("REFRIGERANT", "R454B")),
        {"model": "CR-072H", "serial": "KX90331", "volts": "208/230", "phase": 3, "hz": 60, "mca_a": 30.9,
         "max_ocpd_a": 40, "max_ocpd_type": "fuse", "rla_a": 19.6, "lra_a": 136, "fan_fla_a": 1.5,
         "refrigerant": "R-454B"},
    ),
    "heater": Plate(
        "HEXLEY HEAT",
        (("MODEL", "HX-75"), ("VOLTS", "208"), ("PHASE", "3"), ("KW", "7.5"), ("AMPS", "20.8")),
        {"model": "HX-75", "volts": "208", "phase": 3, "heat_w": 7500, "amps": 20.8},
    ),
    "humidifier": Plate(
        "MERE VAPOUR",
        (("MODEL", "MV-200"), ("S/N", "77120"), ("VOLTAGE", "240 V"), ("HZ", "60"), ("WATTS", "3840"),
         ("MAXIMUM FUSE", "20 A"), ("AMPS", "16.0")),
        {"model": "MV-200", "serial": "77120", "volts": "240", "hz": 60, "watts": 3840, "max_ocpd_a": 20,
         "max_ocpd_type": "fuse", "amps": 16},
    ),
    "small": Plate(
        "TARNWICK CLIMATE",
        (("M/N", "TW-09L"), ("S/N", "209114"), ("ELECTRICAL RATING", "115V~ 60Hz 1Ph"),
         ("MINIMUM CIRCUIT AMPS", "14.1"), ("MAX OVERCURRENT PROTECTION", "20 A CIRCUIT BREAKER"),
         ("REFRIGERANT", "R-32")),
        {"model": "TW-09L", "serial": "209114", "volts": "115", "phase": 1, "hz": 60, "mca_a": 14.1,
         "max_ocpd_a": 20, "max_ocpd_type": "breaker", "refrigerant": "R-32"},
    ),
}  # fmt: skip
LAYOUTS = ("rows", "colons", "grid", "pairs")


def raw(image: Picture, kind: str = "PNG", **more: Any) -> bytes:
    """A picture as a file."""
    file = io.BytesIO()
    image.save(file, kind, **more)
    return file.getvalue()


def draw(plate: Plate, layout: str, font: int = 0, size: int = 34) -> Picture:
    """A plate in one of the layouts: label and value in two columns, with colons, in boxes, two pairs to a row."""
    face = ImageFont.truetype(FONTS[font], size)
    pitch, margin, wide = round(size * 1.75), size * 2, size * 36
    two = layout in ("grid", "pairs")
    lines = math.ceil(len(plate.rows) / 2) if two else len(plate.rows)
    tall = pitch * lines * (2 if layout == "grid" else 1) + 4 * margin
    image = Image.new("L", (wide, tall), METAL)
    pen = ImageDraw.Draw(image)
    pen.rectangle((8, 8, wide - 9, tall - 9), outline=INK, width=4)
    pen.text((margin, margin), plate.maker, INK, face)
    top = margin * 2 + size // 2
    for number, (label, value) in enumerate(plate.rows):
        column, line = (number % 2, number // 2) if two else (0, number)
        x, y = margin + column * (wide // 2 - margin // 2), top + line * pitch
        if layout == "grid":
            y = top + line * pitch * 2
            frame = (x - size // 2, y - size // 3, x + wide // 2 - margin * 1.4, y + pitch * 1.75)
            pen.rectangle(frame, outline=INK, width=2)
            pen.text((x, y), label, INK, ImageFont.truetype(FONTS[font], round(size * 0.72)))
            pen.text((x, y + pitch * 0.8), value, INK, face)
        elif layout == "pairs":
            pen.text((x, y), f"{label}: {value}", INK, ImageFont.truetype(FONTS[1], round(size * 0.7)))
        elif layout == "colons":
            pen.text((x, y), f"{label}: {value}", INK, face)
        else:
            pen.text((x, y), label, INK, face)
            pen.text((x + size * 19, y), value, INK, face)
    return image


def weathered(image: Picture, how: str, seed: int = 1) -> Picture:
    """What happens to a picture: skew, blur, noise, glare, rust, low light."""
    rng = np.random.default_rng(seed)
    if how == "skew":
        return image.rotate(float(rng.uniform(2, 5)) * float(rng.choice([-1, 1])), expand=True, fillcolor=120)
    if how == "blur":
        return image.filter(ImageFilter.GaussianBlur(image.width / 700))
    pixels = np.asarray(image, dtype=np.float64)
    rows, columns = np.mgrid[0 : pixels.shape[0], 0 : pixels.shape[1]]
    if how == "noise":
        pixels = pixels + rng.normal(0, 26, pixels.shape)
    if how == "glare":
        at = rng.uniform(0.3, 0.7, 2) * pixels.shape
        far = ((rows - at[0]) / pixels.shape[0]) ** 2 + ((columns - at[1]) / pixels.shape[1]) ** 2
        pixels = pixels + 120 * np.exp(-far / 0.02)
    if how == "rust":
        for _ in range(60):
            y, x, radius = rng.uniform(0, pixels.shape[0]), rng.uniform(0, pixels.shape[1]), rng.uniform(3, 16)
            pixels = pixels - 60 * (((rows - y) ** 2 + (columns - x) ** 2) < radius**2)
    if how == "dark":
        pixels = 12 + pixels * 0.22 * (0.6 + 0.4 * columns / pixels.shape[1]) + rng.normal(0, 3, pixels.shape)
    return Image.fromarray(np.clip(pixels, 0, 255).astype(np.uint8))


WEATHER = ("skew", "blur", "noise", "glare", "rust", "dark")
