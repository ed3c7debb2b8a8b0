"""Which wiring method may be where, and what a segment must tell (domain 1.2, step 7)."""

from __future__ import annotations

from collections.abc import Iterator

from leitung_core.circuits.spec import Segment
from leitung_core.findings import Edit, Path, Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say

WET_PLACES = ("outdoor", "roof")
HOT_PLACES = ("attic", "outdoor", "roof")


def judge_place(segment: Segment, at: Path, units_own: bool, book: Rulebook) -> list[Remark]:
    """What stands against this method in this place, and what is missing to judge it.

    `units_own`: a cord here is that of a cord-connected unit.
    """
    return [
        *_missing(segment, at, book),
        *_cord(segment, at, units_own or bool(segment.factory_cord)),
        *_wet(segment, at, book),
        *_whip(segment, at, book),
    ]


def _missing(segment: Segment, at: Path, book: Rulebook) -> Iterator[Remark]:
    if segment.method is None:
        message = "The wiring method is not known: no ampacity can be given."
        yield Remark("method-missing", (*at, "method"), message)
    if segment.place is None:
        yield Remark("place-missing", (*at, "place"), "The place is not known: fitness for it cannot be judged.")
    if segment.ambient_c is None:
        base = say(book.factor("base-ambient"))
        message = f"The ambient is not known; {base} °C was used. Enter the hottest it gets there."
        yield Remark("ambient-missing", (*at, "ambient_c"), message)
    if segment.place == "roof" and (
        segment.sunlit is None or (segment.sunlit and segment.above_roof_in is None and segment.method != "XHHW-2")
    ):
        field = "sunlit" if segment.sunlit is None else "above_roof_in"
        message = "Sun or height above the roof is not known; full sun close above the roof (+33 °C) was taken."
        yield Remark("roof-sun-missing", (*at, field), message)
    if segment.length_ft is None:
        message = "The length is not known: the voltage drop cannot be judged."
        yield Remark("length-missing", (*at, "length_ft"), message)
    method = book.methods.get(segment.method or "")
    if method and not method.is_cable:
        if segment.raceway is None:
            message = f"{segment.method} conductors need a raceway, and none is named."
            label, raceway = ("Put it in LFNC", "LFNC") if segment.place in WET_PLACES else ("Put it in EMT", "EMT")
            yield Remark("raceway-missing", (*at, "raceway"), message, label, (Edit((*at, "raceway"), raceway),))
        elif segment.current_carrying is None:
            message = "How many current-carrying conductors share the raceway is not known; no adjustment was made."
            yield Remark("current-carrying-missing", (*at, "current_carrying"), message)


def _cord(segment: Segment, at: Path, units_own: bool) -> Iterator[Remark]:
    """Where a flexible cord may not be: concealed, or as a substitute for fixed wiring (400.12).

    The cord of a unit, in the open from it to its receptacle, is neither.
    """
    if segment.method != "cord":
        return
    if segment.place in ("attic", "crawl_space") and not units_own:
        where = "an attic" if segment.place == "attic" else "a crawl space"
        message = f"A cord may not run in {where}: it is no substitute for fixed wiring."
        yield Remark("cord-concealed", (*at, "method"), message)
    if segment.place in WET_PLACES:
        message = "A cord outdoors must be marked for it: read the jacket."
        yield Remark("cord-wet", (*at, "method"), message)
    if segment.current_carrying is None:
        message = "How many current-carrying conductors the cord has is not known; three were taken."
        edits = (Edit((*at, "current_carrying"), 3),)
        yield Remark("current-carrying-missing", (*at, "current_carrying"), message, "It has three", edits)


def _wet(segment: Segment, at: Path, book: Rulebook) -> Iterator[Remark]:
    if segment.place not in WET_PLACES:
        return
    method, raceway = book.methods.get(segment.method or ""), book.raceways.get(segment.raceway or "")
    length = exact(segment.length_ft) if segment.length_ft is not None else None
    short = length is not None and length <= book.factor("whip")
    wet_raceway = "LFNC" if short else "PVC"
    stub = (
        book.school("nm-b-stub") == "short-stub" and length is not None and length <= book.factor("sheathed-stub")
        and segment.raceway is not None
    )  # fmt: skip
    if method and method.wet == "no" and not stub:
        message = f"{method.name} may not be outdoors or in a wet place, in raceway or out of it."
        edits: tuple[Edit, ...] = (Edit((*at, "method"), "THWN-2"), Edit((*at, "raceway"), wet_raceway))
        if segment.current_carrying is None:
            # A cable carries its own circuit alone; in the raceway that replaces it nothing else is planned.
            edits = (*edits, Edit((*at, "current_carrying"), 3))
        yield Remark("nm-wet", (*at, "method"), message, f"Make it THWN-2 in {wet_raceway}", edits)
    if method and method.wet == "listed":
        message = f"{method.name} outdoors must be marked for wet places: read it off the cable."
        edits = (Edit((*at, "method"), "THWN-2"), Edit((*at, "raceway"), wet_raceway))
        yield Remark("mc-wet", (*at, "method"), message, f"Make it THWN-2 in {wet_raceway}", edits)
    if raceway and not raceway.wet and not (method and method.wet == "no"):
        message = f"{raceway.name} may not be in a wet place."
        edits = (Edit((*at, "raceway"), wet_raceway),)
        yield Remark("raceway-wet", (*at, "raceway"), message, f"Make it {wet_raceway}", edits)


def _whip(segment: Segment, at: Path, book: Rulebook) -> Iterator[Remark]:
    raceway, most = book.raceways.get(segment.raceway or ""), book.factor("whip")
    length = exact(segment.length_ft) if segment.length_ft is not None else None
    if raceway and raceway.flexible and length is not None and length > most:
        message = f"A flexible whip of {say(length)} ft: keep it within {say(most)} ft, or set the raceway hard."
        hard = "PVC" if segment.place in WET_PLACES else "EMT"
        edits = (Edit((*at, "raceway"), hard),)
        yield Remark("whip-long", (*at, "raceway"), message, f"Make it {hard}", edits)
