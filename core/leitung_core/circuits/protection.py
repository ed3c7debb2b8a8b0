"""What stands against the proposed overcurrent device: its rating and its type."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from decimal import Decimal

from leitung_core.circuits.branch import receptacle_behind
from leitung_core.circuits.choose import Choice
from leitung_core.circuits.devices import Devices
from leitung_core.circuits.loads import PLATE, Load
from leitung_core.circuits.resize import behind
from leitung_core.circuits.spec import Nameplate, Proposed, Spec
from leitung_core.findings import Edit, Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say, say_size

OCPD = ("proposed", "ocpd_a")
EGC = ("proposed", "egc")
OCPD_TYPE = ("proposed", "ocpd_type")
SHARED = "Others share it: a smaller one is to carry them too, or this unit gets a circuit of its own."

Make = Callable[[Decimal | None], tuple[str | None, tuple[Edit, ...]]]


def judge_device(spec: Spec, load: Load, devices: Devices, choice: Choice, book: Rulebook) -> list[Remark]:
    """What stands against the proposed device: its rating and its type."""
    plate, proposed = spec.equipment.nameplate or Nameplate(), spec.proposed

    def make(rating: Decimal | None) -> tuple[str | None, tuple[Edit, ...]]:
        return _make(rating, spec, load, choice, book)

    if proposed.ocpd_a is None:
        best = devices.recommended_a
        if best is None:
            return []
        label, edits = make(best)
        if edits and proposed.ocpd_type is None:
            edits = (*edits, Edit(OCPD_TYPE, "fuse" if plate.max_ocpd_type == "fuse" else "breaker"))
        return [Remark("ocpd-not-chosen", OCPD, f"No device chosen yet: {say(best)} A would do.", label, edits)]
    rating = exact(proposed.ocpd_a)
    remarks = [
        *_standard(rating, make, devices, book),
        *_too_large(rating, plate, make, load, devices, bool(proposed.other_outlets_on_branch)),
        *_too_small(rating, plate, make, load, devices),
        *_judge_type(plate, proposed, book),
    ]
    return [_or_way_out(row, spec, devices, book) for row in remarks]


def _or_way_out(row: Remark, spec: Spec, devices: Devices, book: Rulebook) -> Remark:
    """A device that is too small says why no larger one is offered, and what to do."""
    best = devices.recommended_a
    if best is None or not row.code.startswith("ocpd-below-") or receptacle_behind(spec, best, book) is not None:
        return row
    words = f"The receptacle may not stand behind {say(best)} A: plan one that may, or a circuit of the unit's own."
    return replace(row, message=f"{row.message} {words}")


def _standard(rating: Decimal, make: Make, devices: Devices, book: Rulebook) -> Iterator[Remark]:
    if rating not in book.standard_ratings_a:
        message = f"{say(rating, 3)} A is not a standard rating of a breaker or fuse."
        yield Remark("ocpd-not-standard", OCPD, message, *make(devices.recommended_a))


def _too_large(
    rating: Decimal, plate: Nameplate, make: Make, load: Load, devices: Devices, shared: bool
) -> Iterator[Remark]:
    """`shared`: other outlets hang on the device too, so that it is not chosen for this load alone."""
    fix = make(devices.recommended_a)
    others = f" {SHARED}" if shared else ""
    if plate.max_ocpd_a is not None:
        if rating > exact(plate.max_ocpd_a):
            message = f"{say(rating)} A is above the {say(exact(plate.max_ocpd_a))} A that the plate allows.{others}"
            yield Remark("ocpd-above-max", OCPD, message, *fix)
    elif devices.max_a is not None and rating > devices.max_a:
        if load.starts:
            message = (
                f"{say(rating)} A is above the {say(devices.max_a)} A that the rule allows for this motor circuit."
                f"{others}"
            )
            article = "430.52" if load.article == "430" else "440.22(A)"
            yield Remark("ocpd-above-ceiling", OCPD, message, *fix, article=article)
        elif not shared:
            message = (
                f"{say(rating)} A is more than this load needs; {say(devices.max_a)} A would do. "
                "No maximum is known from the plate: read it there."
            )
            yield Remark("ocpd-larger-than-needed", OCPD, message, *fix)


def _too_small(rating: Decimal, plate: Nameplate, make: Make, load: Load, devices: Devices) -> Iterator[Remark]:
    best = devices.recommended_a
    if plate.min_ocpd_a is not None and rating < exact(plate.min_ocpd_a):
        message = f"{say(rating)} A is below the {say(exact(plate.min_ocpd_a))} A that the plate asks for."
        yield Remark("ocpd-below-min", OCPD, message, *make(best))
    floor = load.device_floor_a
    if floor is None or rating >= floor:
        return
    # No fix where even the recommended rating lies under what must be carried.
    fix = make(best if best is not None and best >= floor else None)
    if load.starts:
        own = "the MCA of" if plate.mca_a is not None else "what must be carried,"
        message = f"{say(rating)} A is below {own} {say(floor)} A: it may open while running."
        yield Remark("ocpd-below-mca", OCPD, message, *fix)
    else:
        article = {"424": "424.4(B)", "215": "215.3"}.get(load.article, "210.20(A), 210.23")
        message = f"{say(rating)} A is below the {say(floor, 2)} A that this load asks of its device."
        yield Remark("ocpd-below-load", OCPD, message, *fix, article=article)


def _make(
    rating: Decimal | None, spec: Spec, load: Load, choice: Choice, book: Rulebook
) -> tuple[str | None, tuple[Edit, ...]]:
    """The fix that sets the device and what must go with it; none where no lawful rating is known."""
    proposed = spec.proposed
    plug = receptacle_behind(spec, rating, book) if rating is not None else None
    if rating is None or plug is None:
        return None, ()
    edits: tuple[Edit, ...] = (Edit(OCPD, float(rating)), *plug)
    if proposed.ocpd_a is None or rating > exact(proposed.ocpd_a):
        along = behind(spec, load, choice, rating, book)
        if along is None:
            return None, ()
        # A larger device may ask for a larger grounding conductor: it is chosen anew.
        edits += tuple(edit for edit in along if edit.path != EGC)
        edits += (Edit(EGC, None),) if proposed.egc else ()
    thicker = next((edit.value for edit in edits if edit.path[-1] == "conductor"), None)
    along_with = (say_size(str(thicker)) if thicker else "", *(f"{say(edit.value)} A receptacle" for edit in plug))
    return ", ".join((f"Make it {say(rating)} A", *filter(None, along_with))), edits


def _judge_type(plate: Nameplate, proposed: Proposed, book: Rulebook) -> list[Remark]:
    asked, planned = plate.max_ocpd_type, proposed.ocpd_type
    if plate.max_ocpd_a is None:
        return []
    if asked is None:
        message = "The plate's maximum is known, but not whether it names a fuse, a breaker or either. Read it again."
        return [Remark("plate-max-type-missing", (*PLATE, "max_ocpd_type"), message)]
    if planned is None:
        message = "Whether the device is a breaker or a fuse is not known."
        kind = "fuse" if asked == "fuse" else "breaker"
        return [Remark("ocpd-type-missing", OCPD_TYPE, message, f"Make it a {kind}", (Edit(OCPD_TYPE, kind),))]
    breaker_does = book.school("fuse-only") == "breaker" or proposed.disconnect_type == "fused"
    if asked == "fuse" and planned == "breaker" and not breaker_does:
        message = "The plate says maximum fuse; a breaker alone does not satisfy it."
        edits = (Edit(("proposed", "disconnect_type"), "fused"),)
        return [Remark("fuse-only", OCPD_TYPE, message, "Use a fused disconnect", edits)]
    if asked == "breaker" and planned == "fuse":
        message = "The plate says maximum breaker; fuses do not satisfy it."
        return [Remark("breaker-only", OCPD_TYPE, message, "Make it a breaker", (Edit(OCPD_TYPE, "breaker"),))]
    return []
