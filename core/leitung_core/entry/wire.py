"""Sizes and plates as the trade writes them: conductors, cables, raceways, volts-phase-hertz. Nothing is rounded."""

from __future__ import annotations

import re
from typing import Any, get_args

from leitung_core.circuits.spec import TradeSize
from leitung_core.plant.make import THIN_FIRST

KCMIL = ("250", "300", "350", "400", "500")
_SIZE = r"(?:[1-4]/0|0{1,4}|\d{1,3})"
# Trade sizes by their metric designator.
DESIGNATORS = {"16": "1/2", "21": "3/4", "27": "1", "35": "1-1/4", "41": "1-1/2", "53": "2", "63": "2-1/2", "78": "3",
               "91": "3-1/2", "103": "4"}  # fmt: skip
DECIMALS = {"0.5": "1/2", ".5": "1/2", "0.75": "3/4", ".75": "3/4", "1.25": "1-1/4", "1.5": "1-1/2", "2.5": "2-1/2",
            "3.5": "3-1/2"}  # fmt: skip
LEAST_VOLTS, MOST_VOLTS = 90, 1000
KINDS_OF_CABLE = "nm-?b?|uf-?b?|mc|ser|se|cable|cu|copper|tray|tc|thermostat|stat|wire|solid|stranded"
Read = tuple[Any, str | None, str]


def _size(text: str) -> str | None:
    """The size as tables print it; None where no table has it."""
    size = f"{len(text)}/0" if set(text) == {"0"} else text
    return size if size in THIN_FIRST else None


def read_size(text: str) -> Read:
    """A conductor size. Raises ValueError(message, remedy)."""
    match = re.fullmatch(rf"(?:#|no\.? ?)? ?({_SIZE}) ?(awg|ga\.?|gauge|kcmil|mcm|kcm)?\.?", text, re.I)
    size = _size(match[1]) if match else None
    if match is None or size is None or (match[2] and _other_unit(size, match[2])):
        raise ValueError(
            "is no size that the tables have", "Write it as 12, 1/0 or 250 kcmil; sizes are never rounded."
        )
    unit = "kcmil" if size in KCMIL else "AWG"
    return size, unit, f"{size} {unit}"


def _other_unit(size: str, unit: str) -> bool:
    return (size in KCMIL) != (unit.casefold() in ("kcmil", "mcm", "kcm"))


def read_cable(text: str) -> Read:
    """A cable by its gauge and conductors, ground not counted. Raises ValueError(message, remedy).

    Without a word on ground: with one for 14 to 2 AWG, as building cable is written; without for 16 and thinner.
    """
    match = re.fullmatch(rf"#? ?({_SIZE}) ?(?:awg)? ?[-/x×] ?(\d{{1,2}}) ?(?:c|conductors?)?(?: ?(.*))?", text, re.I)
    size = _size(match[1]) if match else None
    said = _ground_said((match[3] or "").strip()) if match else None
    if match is None or size is None or said is None or not 1 <= int(match[2]) <= 60:
        raise ValueError("is no cable", "Write it as 14-3, 12/2 w/g or 18-5.")
    building = THIN_FIRST.index("14") <= THIN_FIRST.index(size) <= THIN_FIRST.index("2")
    ground = building if said == "" else said == "yes"
    shown = f"{size}-{match[2]}" + (" with ground" if ground else " without ground")
    return {"size": size, "conductors": int(match[2]), "ground": ground}, None, shown


def _ground_said(text: str) -> str | None:
    """What is said of ground: yes, no, nothing; None where something else is said."""
    plain = re.sub(rf"\b({KINDS_OF_CABLE})\b", " ", text.casefold())
    plain = re.sub(r"[\s,]+", " ", plain).strip()
    if plain == "":
        return ""
    if re.fullmatch(r"(w/ ?o|without|no|less) ?(a )?(g|gnd|ground)?", plain):
        return "no"
    if re.fullmatch(r"(\+|w/?|with|and|plus)? ?(a )?(g|gnd|ground|grd)", plain) or plain in ("wg", "w/g", "w/ g"):
        return "yes"
    return None


def read_trade_size(text: str) -> Read:
    """The trade size of a raceway, in. Raises ValueError(message, remedy)."""
    metric = re.fullmatch(r"(\d{2,3}) ?mm", text, re.I)
    plain = re.sub(r"\s*(\"|″|”|inch(es)?|in\.?)$", "", text.strip(), flags=re.I)
    plain = re.sub(r"(?<=\d)[ -]+(?=\d/\d)", "-", plain)
    size = DESIGNATORS.get(metric[1]) if metric else DECIMALS.get(plain, plain.removesuffix(".0"))
    if size not in get_args(TradeSize):
        names = ", ".join(get_args(TradeSize))
        raise ValueError("is no trade size", f"Use one of: {names}; sizes are never rounded.")
    return size, "in", f'{size}"'


def read_plate_volts(text: str) -> Read:
    """Volts, phases, hertz as a plate prints them; what it does not is None. Raises ValueError(message, remedy)."""
    rest, phase, hz = text, None, None
    for pattern, what in ((r"\b(single|one|three)[ -]?ph(?:ase)?\b", "word"),
                          (r"(?<![\d.])([13]) ?-?(?:ph(?:ase)?s?\.?(?![a-z])|[øØφΦϕ~])", "phase"),
                          (r"(?<![\d.])(50|60) ?-?(?:hz|hertz|cycles?|cy)\b\.?", "hz")):  # fmt: skip
        match = re.search(pattern, rest, re.I)
        if match is None:
            continue
        if what == "hz":
            hz = int(match[1])
        else:
            phase = {"single": 1, "one": 1, "three": 3}.get(match[1].casefold()) or int(match[1])
        rest = f"{rest[: match.start()]} {rest[match.end() :]}"
    tokens = [token for token in re.split(r"[\s/,xX–-]+", re.sub(r"(?i)v(olts?|ac)?\.?(?![a-z])", " ", rest)) if token]
    volts: list[str] = []
    behind = False  # phases and hertz stand behind the volts
    for token in tokens:
        figure = int(token) if token.isdigit() else 0
        if LEAST_VOLTS <= figure <= MOST_VOLTS and not behind:
            volts.append(token)
        elif figure in (1, 3) and phase is None and volts:
            phase, behind = figure, True
        elif figure in (50, 60) and hz is None and volts:
            hz, behind = figure, True
        else:
            raise ValueError("is no voltage of a plate", PLATE_REMEDY)
    if not 1 <= len(volts) <= 4:
        raise ValueError("is no voltage of a plate", PLATE_REMEDY)
    printed = "/".join(volts)
    shown = f"{printed} V" + (f", {phase} phase" if phase else "") + (f", {hz} Hz" if hz else "")
    return {"volts": printed, "phase": phase, "hz": hz}, "V", shown


PLATE_REMEDY = "Write it as 208/230-1-60 or 230 V 1 ph 60 Hz."
