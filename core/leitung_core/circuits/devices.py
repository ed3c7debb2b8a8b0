"""The overcurrent device: what is allowed, which standard ratings are left, which one is recommended.

A marked maximum is never rounded up (110.3(B), 440.22(C)). A computed compressor circuit is rounded down (440.22(A)),
a motor's up (430.52(C)(1)), and every other load takes the next standard rating up (240.4(B)).
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.loads import PLATE, Load
from leitung_core.circuits.spec import Nameplate, Spec
from leitung_core.explain import Step, step
from leitung_core.findings import Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say


@dataclass(frozen=True)
class Devices:
    """Ratings in A. `recommended_a`: the largest lawful one where something starts, else the least."""

    max_a: Decimal | None
    choices_a: tuple[Decimal, ...]
    recommended_a: Decimal | None
    remarks: tuple[Remark, ...]
    steps: tuple[Step, ...]


def is_lawful(rating: Decimal, spec: Spec, load: Load, devices: Devices, book: Rulebook) -> bool:
    """Whether no rule and no mark on the plate forbids a device of that rating, A, on this circuit."""
    plate = spec.equipment.nameplate or Nameplate()
    marked = exact(plate.max_ocpd_a) if plate.max_ocpd_a is not None else None
    ceiling = marked if marked is not None else devices.max_a if load.starts else None
    # Below the MCA a motor circuit may open while running: that is not forbidden (440.22(C)).
    floor = Decimal(0) if load.starts else load.device_floor_a or Decimal(0)
    return (
        rating in book.standard_ratings_a
        and (ceiling is None or rating <= ceiling)
        and rating >= max(floor, exact(plate.min_ocpd_a or 0))
    )


def lawful_devices(spec: Spec, load: Load, book: Rulebook) -> Devices:
    """The lawful devices of this circuit."""
    plate = spec.equipment.nameplate or Nameplate()
    if plate.max_ocpd_a is not None:
        return _marked(plate, load, book)
    if load.article == "440" and load.device_ceiling_a is None:
        message = "The plate's maximum fuse or breaker is not known: no device can be chosen. Read it off the plate."
        return _none(Remark("plate-max-missing", (*PLATE, "max_ocpd_a"), message))
    if load.device_floor_a is None:
        return Devices(None, (), None, (), ())
    floor = max(load.device_floor_a, exact(plate.min_ocpd_a or 0))
    if load.device_ceiling_a is None:
        return _next_up(floor, book)
    return _computed(load, floor, load.device_ceiling_a, book)


def _none(*remarks: Remark) -> Devices:
    return Devices(None, (), None, remarks, ())


def _next_up(floor: Decimal, book: Rulebook) -> Devices:
    """Heat, continuous and other loads, feeders: the next standard rating up (240.4(B))."""
    rating = book.next_standard_a(floor)
    if rating is None:
        return _none(
            _no_rating(f"No standard rating up to {say(book.standard_ratings_a[-1])} A reaches {say(floor)} A.")
        )
    formula = "smallest standard rating at or above what must be carried"
    row = step("ocpd", "Device at least", formula, rating, "A", "240.4(B), 240.6(A)", needed_a=floor)
    return Devices(rating, (rating,), rating, (), (row,))


def _computed(load: Load, floor: Decimal, ceiling: Decimal, book: Rulebook) -> Devices:
    """A motor circuit with a computed ceiling, raised to the heating load where that asks for more."""
    up = load.article == "430" or book.school("compressor-device") == "next-up"
    top = book.next_standard_a(ceiling) if up else None
    top = top or max((rating for rating in book.standard_ratings_a if rating <= ceiling), default=None)
    if top is None:
        return _none(_no_rating(f"No standard rating lies at or below {say(ceiling)} A."))
    words = "next standard rating up" if up else "down to a standard rating, never up"
    article = "430.52(C)(1), 240.6(A)" if load.article == "430" else "440.22(A), 240.6(A)"
    steps = [step("ocpd", "As a standard rating", words, top, "A", article, ceiling_a=ceiling)]
    remarks: tuple[Remark, ...] = ()
    if load.heat_floor_a is not None and top < load.heat_floor_a:
        heating = book.next_standard_a(load.heat_floor_a)
        if book.school("cooling-limit-below-heat") == "plate-only" or heating is None:
            message = (
                f"The cooling side allows {say(top)} A and the heating load asks for {say(load.heat_floor_a)} A. "
                "Here only the plate's maximum decides: read it off the plate."
            )
            return _none(Remark("heat-above-cooling-limit", (*PLATE, "max_ocpd_a"), message))
        message = (
            f"The cooling side allows {say(top)} A, the heating load asks for {say(load.heat_floor_a)} A: "
            f"{say(heating)} A was taken. Read the plate's maximum before you buy."
        )
        remarks = (Remark("heat-above-cooling-limit", (*PLATE, "max_ocpd_a"), message),)
        steps.append(step("ocpd", "Raised for the heat", "heating load, next standard rating up", heating, "A",
                          "424.4(B), 240.4(B)", heating_a=load.heat_floor_a))  # fmt: skip
        top = heating
    choices = tuple(rating for rating in book.standard_ratings_a if floor <= rating <= top) or (top,)
    steps.append(_listed(choices, floor, top))
    if len(choices) > 1:
        formula = "largest lawful rating: most room for a start"
        steps.append(step("ocpd", "Recommended", formula, choices[-1], "A", "440.22"))
    return Devices(top, choices, choices[-1], remarks, tuple(steps))


def _no_rating(message: str) -> Remark:
    return Remark("no-standard-device", PLATE, message)


def _listed(choices: tuple[Decimal, ...], floor: Decimal, top: Decimal) -> Step:
    listed = ", ".join(say(rating) for rating in choices) or "none"
    what = f"Standard ratings from {say(floor)} to {say(top)}"
    return step("ocpd", what, "from what must be carried to the maximum", listed, "A", "Table 240.6(A)")


def _marked(plate: Nameplate, load: Load, book: Rulebook) -> Devices:
    """The lawful devices of a unit with a marked maximum."""
    marked = exact(plate.max_ocpd_a or 0)
    contradictions = _contradictions(plate, load)
    allowed = [rating for rating in book.standard_ratings_a if rating <= marked]
    if marked > book.standard_ratings_a[-1] or not allowed:
        message = (
            f"The plate's maximum of {say(marked)} A lies outside the standard ratings "
            f"{say(book.standard_ratings_a[0])} to {say(book.standard_ratings_a[-1])} A. Ask the maker for a device."
        )
        return _none(*contradictions, Remark("no-standard-device", (*PLATE, "max_ocpd_a"), message))
    floor = max(load.device_floor_a or Decimal(0), exact(plate.min_ocpd_a or 0))
    choices = tuple(rating for rating in allowed if rating >= floor)
    rounded_under = plate.min_ocpd_a is None or allowed[-1] >= exact(plate.min_ocpd_a)
    if not choices and not contradictions and rounded_under and load.starts:
        # Rounded down, the device is lawful though it lies under the MCA: said as a warning on the device itself.
        choices = (allowed[-1],)
    if not choices and not contradictions:
        message = (
            f"No standard rating lies between the {say(floor)} A that the device must at least be rated "
            f"and the plate's maximum of {say(marked)} A. Ask the maker for a device."
        )
        contradictions = (Remark("no-standard-device", (*PLATE, "max_ocpd_a"), message),)
    steps = _marked_steps(plate, marked, allowed[-1], floor, choices)
    recommended = (choices[-1] if load.starts else choices[0]) if choices else None
    if len(choices) > 1:
        formula = (
            "largest lawful rating: most room for a start" if load.starts else "least lawful rating: nothing starts"
        )
        steps.append(step("ocpd", "Recommended", formula, recommended, "A", "440.22(C)" if load.starts else "110.3(B)"))
    return Devices(allowed[-1], choices, recommended, contradictions, tuple(steps))


def _contradictions(plate: Nameplate, load: Load) -> tuple[Remark, ...]:
    marked = exact(plate.max_ocpd_a or 0)
    remarks = []
    if load.min_ampacity_a is not None and load.min_ampacity_a > marked and not _grouped(load):
        own = "its own MCA of" if plate.mca_a is not None else "what its own figures come to:"
        message = (
            f"The plate's maximum of {say(marked)} A is below {own} {say(load.min_ampacity_a)} A. "
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


def _grouped(load: Load) -> bool:
    """Several marked units on one circuit: already a stop of its own, and no fault of the plate."""
    return any(remark.code == "several-marked" for remark in load.remarks)


def _marked_steps(
    plate: Nameplate, marked: Decimal, down: Decimal, floor: Decimal, choices: tuple[Decimal, ...]
) -> list[Step]:
    steps = [
        step("ocpd", "The plate allows at most", "marked maximum, never rounded up", marked, "A", "110.3(B), 440.22(C)")
    ]
    if down != marked:
        what = "Down to a standard rating"
        steps.append(step("ocpd", what, "largest at or below", down, "A", "Table 240.6(A)", marked_a=marked))
    if plate.min_ocpd_a is not None:
        least = exact(plate.min_ocpd_a)
        steps.append(step("ocpd", "The plate asks for at least", "marked minimum", least, "A", "110.3(B)"))
    return [*steps, _listed(choices, floor, marked)]
