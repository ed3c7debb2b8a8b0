"""Ground-fault protection: of a dwelling's outdoor outlets (210.8(F)), and of receptacles by room (210.8(A), (B))."""

from __future__ import annotations

import re
from collections.abc import Iterator
from decimal import Decimal

from leitung_core.circuits.loads import OUTDOOR
from leitung_core.circuits.places import WET_PLACES
from leitung_core.circuits.spec import Spec
from leitung_core.findings import Edit, Path, Remark
from leitung_core.rulebook import Rulebook
from leitung_core.rulebook.book import GfciRoom
from leitung_core.units import exact

AT: Path = ("proposed", "gfci")
PLAN_IT = ("Plan ground-fault protection", (Edit(AT, True),))
# Words by which people name a room, and the room of the table; the first that fits.
ROOMS = (
    (r"\bcrawl", "crawl_space"),
    (r"\bfinished basement\b", "finished_basement"),
    (r"\b(basement|cellar)\b", "basement"),
    (r"\bgarage\b", "garage"),
    (r"\bkitchen\b", "kitchen"),
    (r"\blaundry\b", "laundry"),
    (r"\bbath(room)?\b", "bathroom"),
    (r"\b(outdoors?|outside|patio|yard|roof)\b", "outdoors"),
)


def room_of(spec: Spec) -> str | None:
    """The room of 210.8 in which the unit's outlet is: by where its run ends, else by the location's own words."""
    place = spec.run[-1].place if spec.run else None
    if place == "crawl_space":
        return "crawl_space"
    if place in WET_PLACES:
        return "outdoors"
    words = (spec.location or "").casefold()
    return next((room for pattern, room in ROOMS if re.search(pattern, words)), None)


def judge_ground_fault(spec: Spec, device_a: Decimal | None, book: Rulebook) -> Iterator[Remark]:
    """What the edition, the permit's date and local amendments ask of this outlet."""
    if spec.proposed.gfci or spec.occupancy == "vehicle":
        return
    room = _asked_in_room(spec, device_a, book)
    if room is not None:
        where = room.room.replace("_", " ")
        message = f"A receptacle here ({where}) is to have ground-fault protection."
        refused = spec.proposed.gfci is False
        yield Remark("gfci-room" if refused else "gfci-room-unknown", AT, message, *PLAN_IT, article=room.article)
    else:
        yield from _outdoor_outlet(spec, device_a, book)


def _asked_in_room(spec: Spec, device_a: Decimal | None, book: Rulebook) -> GfciRoom | None:
    room = room_of(spec) if spec.equipment.cord_connected and spec.supply.phase != 3 else None
    if room is None:
        return None
    other = {"dwelling": "other", "commercial": "dwelling"}.get(spec.occupancy or "")
    rows = (row for row in book.gfci_rooms() if row.room == room and row.occupancy != other)
    return next((row for row in rows if _within(row, spec, device_a)), None)


def _within(row: GfciRoom, spec: Spec, device_a: Decimal | None) -> bool:
    """Whether the receptacle's volts and branch are ones that the row reaches; what is not known is within."""
    figures = (
        (spec.supply.volts, row.most_v),
        (spec.supply.volts_to_ground, row.most_to_ground_v),
        (device_a, row.most_a),
    )
    return all(figure is None or most is None or exact(figure) <= most for figure, most in figures)


def _outdoor_outlet(spec: Spec, device_a: Decimal | None, book: Rulebook) -> Iterator[Remark]:
    rule = book.outdoor_gfci()
    school = book.school("gfci-outdoor")
    outdoors = spec.equipment.kind in OUTDOOR or bool(spec.run and spec.run[-1].place in WET_PLACES)
    if spec.occupancy != "dwelling" or not outdoors or school == "not-required":
        return
    if school == "required":
        yield Remark("gfci-required", AT, "The local amendment asks for ground-fault protection here.", *PLAN_IT)
        return
    reached = spec.supply.phase != 3 and all(
        figure is None or exact(figure) <= most
        for figure, most in ((spec.supply.volts_to_ground, rule.most_to_ground_v), (device_a, rule.most_a))
    )
    if not rule.asked or not reached:
        return
    delayed = rule.exception_until is not None and spec.equipment.kind in rule.excepted_kinds
    if not delayed:
        message = "An outdoor outlet of a dwelling is to have ground-fault protection; no delay names this unit."
        yield Remark("gfci-outdoor", AT, f"{message} Ask the authority.", *PLAN_IT)
    elif spec.permit_date is None:
        message = (
            "Whether the outdoor outlet needs ground-fault protection hangs on the permit date, which is not known."
        )
        yield Remark("gfci-outdoor", AT, message, *PLAN_IT)
    elif rule.exception_until is not None and spec.permit_date >= rule.exception_until:
        message = "Permit dated after the exception for listed equipment ended: ask the authority before you buy."
        yield Remark("gfci-outdoor", AT, message, *PLAN_IT)
