"""What may stand behind a label: figures, volts, names. Letters taken for digits are put right and remembered."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from leitung_core.entry.quantity import read_quantity
from leitung_core.errors import InputError

AMPS = ("mca_a", "max_ocpd_a", "rla_a", "lra_a", "fan_fla_a", "amps")
NUMBER = r"\d{1,5}(?:[.,]\d{1,3})?"
DIGITS = str.maketrans({"O": "0", "o": "0", "Q": "0", "I": "1", "l": "1", "|": "1", "S": "5", "B": "8", "Z": "2"})
REFRIGERANT = re.compile(r"\bR[\s-]*(\d{2,4})\s?([A-F]{0,2})\b")


@dataclass(frozen=True)
class Value:
    """A value; how many of the words it took, whether letters were put right, and what else the same words say.

    doubtful: letters and digits that look alike are in it. says: words that belong to the label (fuse, breaker).
    told: more of the field (several). beside: other fields.
    """

    value: Any
    words: int
    mended: bool = False
    doubtful: bool = False
    says: frozenset[str] = frozenset()
    told: dict[str, Any] = field(default_factory=dict)
    beside: dict[str, Any] = field(default_factory=dict)


def value_of(name: str, text: str) -> Value | None:
    """The value of a field in the words behind its label; None where they cannot be it."""
    return READERS[name](text)


def _figures(text: str) -> tuple[list[float], bool, int] | None:
    """One figure or several with slashes at the beginning, whether letters were put right, and the words it took."""
    first, *rest = text.split()
    took = 1
    if rest and (first.endswith("/") or rest[0].startswith("/")):
        first, took = first + rest[0], 2
    for mended, said in ((False, first), (True, first.translate(DIGITS))):
        match = re.match(rf"({NUMBER}(?:/{NUMBER})*)(?:A|V|W|KW|AMPS?)?[.,;:]?$", said, re.IGNORECASE)
        if match:
            return [float(part.replace(",", ".")) for part in match[1].split("/")], mended, took
    return None


def _amps(text: str) -> Value | None:
    found = _figures(text)
    if found is None:
        return None
    figures, mended, took = found
    upper = text.upper()
    says = {word for word, sign in (("fuse", "FUSE"), ("breaker", "B(?:REA)?KE?R")) if re.search(sign, upper)}
    more = {"several": figures} if len(figures) > 1 else {}
    return Value(figures[0], took, mended, says=frozenset(says), told=more)


def _power(factor_of_plain: float) -> Callable[[str], Value | None]:
    def read(text: str) -> Value | None:
        found = _figures(text)
        if found is None:
            return None
        figures, mended, took = found
        factor = 1000 if re.search(r"\d\s*KW\b", text, re.IGNORECASE) else factor_of_plain
        watts = [round(figure * factor) for figure in figures]
        more = {"several": watts} if len(watts) > 1 else {}
        return Value(watts[0], took, mended, told=more)

    return read


def _volts(text: str) -> Value | None:
    said = re.sub(r"[~,;]", " ", text)
    try:
        value = read_quantity("plate_volts", said).value
    except InputError:
        match = re.match(r"\s*(\d{3})\s*(?:[-/]\s*(\d{3}))?\s*V?", said)
        if match is None:
            return None
        value = {"volts": "/".join(part for part in match.groups() if part), "phase": None, "hz": None}
    if not isinstance(value, dict) or not value.get("volts"):
        return None
    beside = {name: value[name] for name in ("phase", "hz") if value.get(name)}
    return Value(value["volts"], len(text.split()), beside=beside)


def _one_of(*allowed: int) -> Callable[[str], Value | None]:
    def read(text: str) -> Value | None:
        first = text.split()[0]
        match = re.match(r"(\d{1,2})(?:PH|HZ|~|Ø)?[.,]?$", first, re.IGNORECASE)
        found = int(match[1]) if match else None
        return Value(found, 1) if found in allowed else None

    return read


def _name(text: str) -> Value | None:
    """A model or serial number: letters and digits, at least one digit."""
    first, *rest = text.split()
    said = first.strip(".,:;|_")
    if not re.fullmatch(r"[A-Z0-9][A-Z0-9/-]{2,29}", said) or not any(letter.isdigit() for letter in said):
        return None
    # A letter O beside a digit is a nought; letters that look like digits are asked, and so is what stands apart.
    plain = re.sub(r"(?<=\d)O|O(?=\d)", "0", said)
    return Value(plain, 1, mended=bool(rest), doubtful=plain != said or bool(re.search(r"[OISBZQ]", plain)))


def _refrigerant(text: str) -> Value | None:
    match = REFRIGERANT.search(text.upper())
    return Value(f"R-{match[1]}{match[2]}", len(text.split())) if match else None


READERS: dict[str, Callable[[str], Value | None]] = {
    **dict.fromkeys(AMPS, _amps), "heat_w": _power(1000), "watts": _power(1), "volts": _volts, "phase": _one_of(1, 3),
    "hz": _one_of(50, 60), "model": _name, "serial": _name, "refrigerant": _refrigerant,
}  # fmt: skip
