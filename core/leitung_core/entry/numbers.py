"""Numbers as people write them: decimal point or comma, thousands marks, thin spaces, common fractions."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

Units = Literal["us", "metric"]
THIN_SPACES = "\u2009\u202f\u00a0\u2007"
FRACTIONS = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
NUMBER = r"[+-]?(?:\d{1,3}(?: \d{3})+(?:[.,]\d+)?|\d[\d.,]*|[.,]\d+)"


@dataclass(frozen=True)
class Number:
    """A number, and what else it may have meant where that is not sure."""

    value: float
    other: float | None = None


def tidied(text: str) -> str:
    """The text with one sort of space, minus and fraction."""
    text = re.sub(rf"(?<=\d)[{THIN_SPACES}](?=\d)", " ", text)
    text = re.sub(rf"[{THIN_SPACES}\s]+", " ", text).replace("−", "-").strip()
    for sign, plain in FRACTIONS.items():
        text = re.sub(rf"(?<=\d)\s?{sign}", f"-{plain}", text).replace(sign, plain)
    return text


def read_number(text: str, units: Units) -> Number | None:
    """The number that the whole text is; None where it is none.

    A comma before exactly three digits is a thousands mark in US units; in metric ones it is a decimal comma and not
    sure.
    """
    sign = -1.0 if text.startswith("-") else 1.0
    bare = text.lstrip("+-")
    if re.fullmatch(r"\d{1,3}( \d{3})+([.,]\d+)?", bare):
        bare = bare.replace(" ", "").replace(",", ".")
    if re.fullmatch(r"[1-9]\d{0,2},\d{3}", bare):
        thousands, decimal = float(bare.replace(",", "")), float(bare.replace(",", "."))
        return Number(sign * thousands) if units == "us" else Number(sign * decimal, sign * thousands)
    if re.fullmatch(r"\d{1,3}(,\d{3})+(\.\d+)?", bare) and not bare.startswith("0"):
        return Number(sign * float(bare.replace(",", "")))
    if re.fullmatch(r"\d{1,3}(\.\d{3})+,\d+", bare):
        return Number(sign * float(bare.replace(".", "").replace(",", ".")))
    if re.fullmatch(r"\d*,\d+", bare) or re.fullmatch(r"\d+(\.\d*)?|\.\d+", bare):
        return Number(sign * float(bare.replace(",", ".")))
    return None
