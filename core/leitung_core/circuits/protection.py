"""The overcurrent device: what the plate allows, which standard ratings are left, what stands against a proposal.

A marked maximum is never rounded up (110.3(B), 440.22(C)).
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.load import PLATE, Load
from leitung_core.circuits.spec import Nameplate, Proposed
from leitung_core.explain import Step, step
from leitung_core.findings import Edit, Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say

OCPD = ("proposed", "ocpd_a")
OCPD_TYPE = ("proposed", "ocpd_type")


@dataclass(frozen=True)
class Devices:
    """Ratings in A. `recommended_a` is the largest lawful one: it leaves the most room for a start."""

    max_a: Decimal | None
    choices_a: tuple[Decimal, ...]
    recommended_a: Decimal | None
    remarks: tuple[Remark, ...]
    steps: tuple[Step, ...]


def marked_devices(plate: Nameplate | None, load: Load, book: Rulebook) -> Devices:
    """The lawful devices of a unit with a marked maximum."""
    if plate is None or plate.max_ocpd_a is None:
        message = "The plate's maximum fuse or breaker is not known: no device can be chosen. Read it off the plate."
        return Devices(None, (), None, (Remark("plate-max-missing", (*PLATE, "max_ocpd_a"), message),), ())
    marked = exact(plate.max_ocpd_a)
    contradictions = _contradictions(plate, load)
    allowed = [rating for rating in book.standard_ratings_a if rating <= marked]
    if marked > book.standard_ratings_a[-1] or not allowed:
        message = (
            f"The plate's maximum of {say(marked)} A lies outside the standard ratings "
            f"{say(book.standard_ratings_a[0])} to {say(book.standard_ratings_a[-1])} A. Ask the maker for a device."
        )
        outside = Remark("no-standard-device", (*PLATE, "max_ocpd_a"), message)
        return Devices(None, (), None, (*contradictions, outside), ())
    floor = max(load.min_ampacity_a or Decimal(0), exact(plate.min_ocpd_a or 0))
    choices = tuple(rating for rating in allowed if rating >= floor)
    if not choices and not contradictions and not _below(allowed[-1], plate.min_ocpd_a):
        # Rounded down, the device is lawful though it lies under the MCA: said as a warning on the device itself.
        choices = (allowed[-1],)
    if not choices and not contradictions:
        message = (
            f"No standard rating lies between the plate's minimum of {say(exact(plate.min_ocpd_a or 0))} A "
            f"and its maximum of {say(marked)} A. Ask the maker for a device."
        )
        contradictions = (Remark("no-standard-device", (*PLATE, "max_ocpd_a"), message),)
    recommended = choices[-1] if choices else None
    steps = _steps(plate, marked, allowed[-1], floor, choices)
    return Devices(allowed[-1], choices, recommended, contradictions, steps)


def _below(rating: Decimal, minimum: float | None) -> bool:
    return minimum is not None and rating < exact(minimum)


def _contradictions(plate: Nameplate, load: Load) -> tuple[Remark, ...]:
    marked = exact(plate.max_ocpd_a or 0)
    remarks = []
    if load.min_ampacity_a is not None and load.min_ampacity_a > marked:
        message = (
            f"The plate's maximum of {say(marked)} A is below its own MCA of {say(load.min_ampacity_a)} A. "
            "One of the two is read wrong."
        )
        remarks.append(Remark("plate-contradiction", (*PLATE, "max_ocpd_a"), message))
    if plate.min_ocpd_a is not None and exact(plate.min_ocpd_a) > marked:
        message = (
            f"The plate's minimum device of {say(exact(plate.min_ocpd_a))} A is above its maximum of {say(marked)} A. "
            "One of the two is read wrong."
        )
        remarks.append(Remark("plate-contradiction", (*PLATE, "min_ocpd_a"), message))
    return tuple(remarks)


def _steps(
    plate: Nameplate, marked: Decimal, down: Decimal, floor: Decimal, choices: tuple[Decimal, ...]
) -> tuple[Step, ...]:
    steps = [
        step("ocpd", "The plate allows at most", "marked maximum, never rounded up", marked, "A", "110.3(B), 440.22(C)")
    ]
    if down != marked:
        what = "Down to a standard rating"
        steps.append(step("ocpd", what, "largest at or below", down, "A", "Table 240.6(A)", marked_a=marked))
    if plate.min_ocpd_a is not None:
        least = exact(plate.min_ocpd_a)
        steps.append(step("ocpd", "The plate asks for at least", "marked minimum", least, "A", "110.3(B)"))
    listed = ", ".join(say(rating) for rating in choices) or "none"
    what = f"Standard ratings from {say(floor)} to {say(marked)}"
    steps.append(step("ocpd", what, "from what must be carried to the maximum", listed, "A", "Table 240.6(A)"))
    if len(choices) > 1:
        formula = "largest lawful rating: most room for a start"
        steps.append(step("ocpd", "Recommended", formula, choices[-1], "A", "440.22(C)"))
    return tuple(steps)


def judge_device(
    plate: Nameplate | None, proposed: Proposed, load: Load, devices: Devices, book: Rulebook
) -> list[Remark]:
    """What stands against the proposed device: its rating and its type."""
    return [*_judge_rating(plate, proposed, load, devices, book), *_judge_type(plate, proposed)]


def _judge_rating(
    plate: Nameplate | None, proposed: Proposed, load: Load, devices: Devices, book: Rulebook
) -> list[Remark]:
    best = devices.recommended_a
    if proposed.ocpd_a is None:
        if best is None:
            return []
        return [
            Remark("ocpd-not-chosen", OCPD, f"No device chosen yet: {say(best)} A would do.", *_make(best, proposed))
        ]
    rating = exact(proposed.ocpd_a)
    remarks = []
    if rating not in book.standard_ratings_a:
        message = f"{say(rating, 3)} A is not a standard rating of a breaker or fuse."
        remarks.append(Remark("ocpd-not-standard", OCPD, message, *_make(best, proposed)))
    if plate is not None and plate.max_ocpd_a is not None and rating > exact(plate.max_ocpd_a):
        message = f"{say(rating)} A is above the {say(exact(plate.max_ocpd_a))} A that the plate allows."
        remarks.append(Remark("ocpd-above-max", OCPD, message, *_make(best, proposed)))
    if plate is not None and plate.min_ocpd_a is not None and rating < exact(plate.min_ocpd_a):
        message = f"{say(rating)} A is below the {say(exact(plate.min_ocpd_a))} A that the plate asks for."
        remarks.append(Remark("ocpd-below-min", OCPD, message, *_make(best, proposed)))
    if load.min_ampacity_a is not None and rating < load.min_ampacity_a:
        # No fix where even the largest lawful rating lies under the MCA.
        better = best if best is not None and best >= load.min_ampacity_a else None
        message = f"{say(rating)} A is below the MCA of {say(load.min_ampacity_a)} A: it may open while running."
        remarks.append(Remark("ocpd-below-mca", OCPD, message, *_make(better, proposed)))
    return remarks


def _make(rating: Decimal | None, proposed: Proposed) -> tuple[str | None, tuple[Edit, ...]]:
    """The fix that sets the device, or none where no lawful rating is known."""
    if rating is None:
        return None, ()
    edits: tuple[Edit, ...] = (Edit(OCPD, float(rating)),)
    if proposed.egc and (proposed.ocpd_a is None or rating > exact(proposed.ocpd_a)):
        # A larger device may ask for a larger grounding conductor: it is chosen anew.
        edits = (*edits, Edit(("proposed", "egc"), None))
    return f"Make it {say(rating)} A", edits


def _judge_type(plate: Nameplate | None, proposed: Proposed) -> list[Remark]:
    if plate is None or plate.max_ocpd_a is None or proposed.ocpd_a is None:
        return []
    asked, planned = plate.max_ocpd_type, proposed.ocpd_type
    if asked is None:
        message = "The plate's maximum is known, but not whether it names a fuse, a breaker or either. Read it again."
        return [Remark("plate-max-type-missing", (*PLATE, "max_ocpd_type"), message)]
    if planned is None:
        message = "Whether the device is a breaker or a fuse is not known."
        kind = "fuse" if asked == "fuse" else "breaker"
        return [Remark("ocpd-type-missing", OCPD_TYPE, message, f"Make it a {kind}", (Edit(OCPD_TYPE, kind),))]
    if asked == "fuse" and planned == "breaker" and proposed.disconnect_type != "fused":
        message = "The plate says maximum fuse; a breaker alone does not satisfy it."
        edits = (Edit(("proposed", "disconnect_type"), "fused"),)
        return [Remark("fuse-only", OCPD_TYPE, message, "Use a fused disconnect", edits)]
    if asked == "breaker" and planned == "fuse":
        message = "The plate says maximum breaker; fuses do not satisfy it."
        return [Remark("breaker-only", OCPD_TYPE, message, "Make it a breaker", (Edit(OCPD_TYPE, "breaker"),))]
    return []
