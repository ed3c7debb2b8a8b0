"""A plate read twice and more, in different ways: what they agree on, how sure it is, and what contradicts what.

Marked sure (0.9 and above) is only what two ways of looking read alike, none otherwise, and nothing else on the plate
speaks against. All below is asked.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from itertools import groupby
from typing import Any

from leitung_core.entry.plate.grammar import Reading, readings
from leitung_core.entry.plate.picture import Pixels, Treated, black_and_white, open_picture, treated
from leitung_core.entry.plate.words import Way, pieces_of, words_of
from leitung_core.rulebook import rulebook
from leitung_core.rulebook.editions import NEWEST
from leitung_core.units import say

SURE = 0.9
ASKED = 0.85
CONTRADICTED = 0.6
LEAST_LETTERS = 0.55  # how sure both ways must be of the letters
ENOUGH = 3  # fields, that the picture is taken for upright
MARKED_A = (15, 400)  # of the standard ratings, those that plates ask for
REFRIGERANTS = ("R-22", "R-32", "R-134A", "R-290", "R-404A", "R-407C", "R-410A", "R-448A", "R-454B", "R-513A")
LARGEST = ("rla_a", "lra_a")
PASSES: tuple[tuple[str, Way], ...] = (("grey", "scattered"), ("ink", "scattered"), ("grey", "block"), ("ink", "block"))


@dataclass(frozen=True)
class Field:
    """A field of the plate: its value, how sure it is, and its box in the picture as it is seen."""

    value: Any
    sure: float
    box: list[int]
    more: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Contradiction:
    """Two figures of the plate that cannot both be right."""

    says: str
    fields: list[str]


@dataclass(frozen=True)
class PlateRead:
    """What a plate says, as far as it could be read."""

    fields: dict[str, Field]
    text: str
    contradictions: list[Contradiction]


def read_plate(raw: bytes, name: str = "picture") -> PlateRead:
    """The plate in a photo. Raises InputError where the file is no picture."""
    seen = open_picture(raw, name)
    best: tuple[int, Treated, list[list[Reading]], list[str]] | None = None
    for turns in range(4):
        picture = treated(seen, turns)
        found, text = _look(picture, *PASSES[0])
        if best is None or len(found) > best[0]:
            best = (len(found), picture, [found], text)
        if len({reading.field for reading in found}) >= ENOUGH:
            break
    assert best is not None
    _, picture, passes, text = best
    if passes[0]:
        passes.append(_look(picture, *PASSES[1])[0])
        if _doubtful(passes):
            passes += [_look(picture, *way)[0] for way in PASSES[2:]]
    fields = {name: _merged(name, passes, picture) for name in dict.fromkeys(r.field for one in passes for r in one)}
    return _judged({name: entry for name, entry in fields.items() if entry is not None}, "\n".join(text))


def _look(picture: Treated, treatment: str, way: Way) -> tuple[list[Reading], list[str]]:
    grey: Pixels = picture.grey if treatment == "grey" else black_and_white(picture.grey)
    pieces = pieces_of(words_of(grey, way))
    return list(readings(pieces)), [piece.text for piece in pieces]


def _doubtful(passes: Sequence[Sequence[Reading]]) -> bool:
    """Whether two passes leave something that one of them alone read, or that they read differently."""
    one, two = ({(r.field, str(r.value)) for r in found} for found in passes)
    return one != two


def _merged(name: str, passes: Sequence[Sequence[Reading]], picture: Treated) -> Field | None:
    """What the passes say of one field together."""
    chosen = [reading for found in passes if (reading := _chosen(name, found)) is not None]
    if not chosen:
        return None
    by_value = sorted(chosen, key=lambda reading: str(reading.value))
    groups = [list(group) for _, group in groupby(by_value, key=lambda reading: str(reading.value))]
    most = max(groups, key=lambda group: (len(group), sum(reading.sure for reading in group)))
    best = max(most, key=lambda reading: reading.sure)
    sure = min(ASKED, best.sure * ASKED)
    if len(most) > 1:
        letters = sorted((reading.sure for reading in most), reverse=True)[1]
        if len(groups) == 1 and letters >= LEAST_LETTERS:
            sure = 0.91 + 0.08 * letters
        elif len(most) > 2 and len(chosen) - len(most) == 1 and letters >= 0.8:
            sure = 0.9
    if best.doubtful:
        sure = min(sure, ASKED)
    if not _plausible(name, best.value):
        sure = min(sure, CONTRADICTED)
    every = sorted({float(r.value) for found in passes for r in found if r.field == name}, reverse=True) \
        if name in (*LARGEST, "fan_fla_a") else []  # fmt: skip
    more: dict[str, Any] = {"all": every} if len(every) > 1 and len(_of(name, passes[0])) > 1 else {}
    words = frozenset().union(*(reading.words for reading in most))
    return Field(best.value, round(sure, 3), picture.box(*best.box), more | dict(best.told) | {"words": words})


def _of(name: str, found: Iterable[Reading]) -> list[Reading]:
    return [reading for reading in found if reading.field == name]


def _chosen(name: str, found: Sequence[Reading]) -> Reading | None:
    """The one that is the unit's: of compressors the largest, of fans the outdoor one, of volts those of the supply."""
    mine = _of(name, found)
    if not mine:
        return None
    if name in LARGEST:
        return max(mine, key=lambda reading: reading.value)
    if name == "fan_fla_a":
        return min(mine, key=lambda r: ("outdoor" not in r.words, "indoor" in r.words))
    if name in ("volts", "phase", "hz"):
        return min(mine, key=lambda r: ("supply" not in r.words, "/" not in str(r.value)))
    return mine[0]


def _plausible(name: str, value: Any) -> bool:
    if name == "max_ocpd_a":
        return MARKED_A[0] <= value <= MARKED_A[1] and value in rulebook(NEWEST).standard_ratings_a
    if name == "refrigerant":
        return value in REFRIGERANTS
    if name == "volts":
        return all(100 <= float(part) <= 600 for part in str(value).split("/"))
    if name in ("mca_a", "rla_a", "fan_fla_a", "amps"):
        # A decimal point is the first thing that is lost.
        return 0.1 <= float(value) < 100 or float(value) != int(value)
    return name != "lra_a" or 5 <= float(value) <= 900


def _judged(fields: dict[str, Field], text: str) -> PlateRead:
    """The kind of the device named, figures by voltage told apart, contradictions found."""
    kinds = fields["max_ocpd_a"].more["words"] & {"fuse", "breaker"} if "max_ocpd_a" in fields else set()
    if kinds:
        whole = "fuse_or_breaker" if len(kinds) == 2 else next(iter(kinds))
        most = fields["max_ocpd_a"]
        fields["max_ocpd_type"] = Field(whole, most.sure, most.box)
    found = {name: _by_volts(name, entry, fields.get("volts")) for name, entry in fields.items()}
    found, told = _without_lost_points(found)
    against = {name for entry in told for name in entry.fields}
    lowered = {
        name: Field(e.value, min(e.sure, CONTRADICTED), e.box, e.more) if name in against else e
        for name, e in found.items()
    }  # fmt: skip
    return PlateRead(lowered, text, told)


def _without_lost_points(found: dict[str, Field]) -> tuple[dict[str, Field], list[Contradiction]]:
    """A whole figure that contradicts another and, ten times less, would not, has lost its point: it was not read."""
    told = list(_contradictions(found))
    for entry in told:
        lost = [name for name in entry.fields if found[name].value == int(found[name].value)]
        lost = [name for name in lost if not _still(_contradictions(_a_tenth(found, name)), entry)]
        if len(lost) == 1:
            return _without_lost_points({name: field for name, field in found.items() if name != lost[0]})
    return found, told


def _still(told: Iterable[Contradiction], one: Contradiction) -> bool:
    return any(set(other.fields) == set(one.fields) for other in told)


def _a_tenth(found: dict[str, Field], name: str) -> dict[str, Field]:
    entry = found[name]
    return {**found, name: Field(entry.value / 10, entry.sure, entry.box)}


def _by_volts(name: str, entry: Field, volts: Field | None) -> Field:
    """A figure for each of two voltages: of the lowest for amperes, of the highest for watts."""
    more = {key: value for key, value in entry.more.items() if key not in ("words", "several")}
    several = entry.more.get("several")
    if not several:
        return Field(entry.value, entry.sure, entry.box, more)
    printed = str(volts.value).split("/") if volts else []
    if len(printed) != len(several):
        return Field(entry.value, min(entry.sure, CONTRADICTED), entry.box, more)
    pairs = sorted(zip(printed, several, strict=True), key=lambda pair: float(pair[0]))
    value = pairs[-1][1] if name in ("watts", "heat_w") else pairs[0][1]
    return Field(value, entry.sure, entry.box, more | {"by_volts": dict(zip(printed, several, strict=True))})


def _contradictions(fields: dict[str, Field]) -> Iterable[Contradiction]:
    """Figures against each other: 440.33's sum, device and ampacity, locked rotor and running, heat by Ohm."""
    value = {name: entry.value for name, entry in fields.items()}
    mca, most, rla, lra = (value.get(name) for name in ("mca_a", "max_ocpd_a", "rla_a", "lra_a"))
    if mca is not None and rla is not None and not 1.1 * rla <= mca <= 2.6 * rla + 12:
        yield Contradiction(f"{say(mca)} A of ampacity does not go with {say(rla)} A RLA.", ["mca_a", "rla_a"])
    if (mca is not None and most is not None and not mca <= most * 1.001) or (mca and most and most > 4 * mca + 15):
        yield Contradiction(f"{say(most or 0)} A at most does not go with {say(mca or 0)} A.", ["mca_a", "max_ocpd_a"])
    if lra is not None and rla is not None and not 2 * rla <= lra <= 12 * rla:
        yield Contradiction(f"{say(lra)} A LRA does not go with {say(rla)} A RLA.", ["lra_a", "rla_a"])
    volts, amps = value.get("volts"), value.get("amps")
    for name in ("heat_w", "watts"):
        watts = value.get(name)
        if watts and volts and amps and value.get("phase") in (1, 3, None):
            ways = [3**0.5] if value.get("phase") == 3 else [1.0] if value.get("phase") == 1 else [1.0, 3**0.5]
            printed = [float(part) for part in str(volts).split("/")]
            if not any(0.8 <= watts / (v * amps * way) <= 1.2 for v in printed for way in ways):
                says = f"{say(watts)} W on {volts} V is not {say(amps)} A."
                yield Contradiction(says, [name, "amps"])
