"""At the ends of the circuit (domain 1.3): disconnect, working space, receptacle for service, white."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.fill import needs_neutral
from leitung_core.circuits.loads import COOLING, Load
from leitung_core.circuits.spec import Proposed, Segment, Spec
from leitung_core.explain import Step, step
from leitung_core.findings import Edit, Path, Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say

SIGHT_ARTICLE = {"424": "424.19", "430": "430.102(B)", "210": "422.31", "215": "225.31"}


@dataclass(frozen=True)
class Disconnect:
    """Least rating by 440.12, and the common rating at or above it, A; a fused one takes its fuse as well."""

    min_a: Decimal | None
    standard_a: Decimal | None
    steps: tuple[Step, ...]


def least_disconnect(load: Load, fuse_a: Decimal | None, book: Rulebook) -> Disconnect:
    """The least rating that the load asks of its disconnect (440.12, 424.19, 422.31), and the common rating above.

    `fuse_a` is the fuse in it, None where it has none.
    """
    least = load.disconnect_min_a
    if least is None:
        return Disconnect(None, None, ())
    holds = max(least, fuse_a or Decimal(0))
    standard = next((rating for rating in book.disconnect_ratings_a if rating >= holds), None)
    article = load.disconnect_article
    steps = [step("disconnect", "Disconnect rated at least", load.disconnect_formula, least, "A", article)]
    if standard is not None:
        what = "Common rating at or above it"
        steps.append(step("disconnect", what, "product practice", standard, "A", article))
    return Disconnect(least, standard, tuple(steps))


def judge_ends(spec: Spec, load: Load, disconnect: Disconnect, book: Rulebook) -> list[Remark]:
    """What stands against the ends as planned, and what must be done there as routine."""
    return [
        *(_disconnect(spec, load, disconnect, book) if _wants_disconnect(spec) else ()),
        *_working_space(spec, book),
        *(_receptacle(spec.proposed, book) if _serviced(spec) else ()),
        *(remark for index, segment in enumerate(spec.run) for remark in _white(spec, segment, ("run", index))),
    ]


def _wants_disconnect(spec: Spec) -> bool:
    """A plug that can be reached is the disconnect of a cord-connected unit; a feeder ends in a panel."""
    return spec.equipment.kind != "feeder" and not spec.equipment.cord_connected


def _serviced(spec: Spec) -> bool:
    """Heating and cooling equipment of buildings has a receptacle near it for service (210.63)."""
    kinds = {*COOLING, "air_handler", "unit_heater"} - {"roof_unit_120v"}
    return spec.equipment.kind in kinds and spec.occupancy != "vehicle"


def _disconnect(spec: Spec, load: Load, least: Disconnect, book: Rulebook) -> Iterator[Remark]:
    proposed = spec.proposed
    at: Path = ("proposed", "disconnect_a")
    sight = SIGHT_ARTICLE.get(load.article, "440.14")
    standard = float(least.standard_a) if least.standard_a is not None else None
    if proposed.disconnect_a is None:
        edits = (
            (Edit(at, standard), Edit(("proposed", "disconnect_type"), "nonfused"), *_into_sight(proposed, book))
            if standard is not None
            else ()
        )
        label = f"Add one of {say(exact(standard))} A in sight" if standard is not None else None
        message = "Provide a disconnect within sight of the unit and readily accessible."
        yield Remark("disconnect-missing", at, message, label, edits, sight)
        return
    rating = exact(proposed.disconnect_a)
    if least.min_a is not None and rating < least.min_a:
        label = f"Make it {say(exact(standard))} A" if standard is not None else None
        edits = (Edit(at, standard),) if standard is not None else ()
        message = (
            f"A {say(rating)} A disconnect is below the {say(least.min_a, 2)} A asked for: {load.disconnect_formula}."
        )
        yield Remark("disconnect-small", at, message, label, edits, load.disconnect_article)
    fuse = exact(proposed.ocpd_a) if proposed.ocpd_a and proposed.disconnect_type == "fused" else None
    if fuse is not None and rating < fuse:
        label = f"Make it {say(exact(standard))} A" if standard is not None else None
        edits = (Edit(at, standard),) if standard is not None else ()
        message = f"A {say(rating)} A switch has no holders for its {say(fuse)} A fuses."
        yield Remark("disconnect-below-fuse", at, message, label, edits)
    yield from _sight(proposed, sight, book)


def _into_sight(proposed: Proposed, book: Rulebook) -> tuple[Edit, ...]:
    within = book.factor("sight")
    edits = [Edit(("proposed", "disconnect_in_sight"), True)]
    if proposed.disconnect_distance_ft is not None and exact(proposed.disconnect_distance_ft) > within:
        edits.append(Edit(("proposed", "disconnect_distance_ft"), float(within)))
    return tuple(edits)


def _sight(proposed: Proposed, article: str, book: Rulebook) -> Iterator[Remark]:
    at: Path = ("proposed", "disconnect_in_sight")
    distance = proposed.disconnect_distance_ft
    within = book.factor("sight")
    far = distance is not None and exact(distance) > within
    if proposed.disconnect_in_sight is False or far:
        why = (
            f"{say(exact(distance or 0))} ft away: within sight means visible and at most {say(within)} ft"
            if far
            else "out of sight"
        )
        message = f"The disconnect is {why}. Who works on the unit must see that it stays open."
        yield Remark(
            "disconnect-out-of-sight", at, message, "Put it within sight", _into_sight(proposed, book), article
        )
    elif proposed.disconnect_in_sight is None:
        message = (
            f"Set the disconnect within sight of the unit (visible, at most {say(within)} ft) and readily accessible."
        )
        yield Remark("disconnect-sight-unknown", at, message, "It is in sight", (Edit(at, True),), article)


def working_depth_in(volts_to_ground: float | None, book: Rulebook) -> Decimal:
    """Least depth in front of the disconnect, in (Table 110.26(A)(1)): condition 1 up to 150 V to ground, else 2."""
    low = volts_to_ground is None or exact(volts_to_ground) <= book.factor("working-depth-volts")
    return book.factor("working-depth-low" if low else "working-depth-high")


def _working_space(spec: Spec, book: Rulebook) -> Iterator[Remark]:
    depth, width = spec.proposed.working_depth_in, spec.proposed.working_width_in
    least_depth = working_depth_in(spec.supply.volts_to_ground, book)
    for field, figure, least in (
        ("working_depth_in", depth, least_depth),
        ("working_width_in", width, book.factor("working-width")),
    ):
        if figure is not None and exact(figure) < least:
            name = "deep" if field == "working_depth_in" else "wide"
            message = (
                f"The space at the disconnect is {say(exact(figure))} in {name}; at least {say(least)} in is asked for."
            )
            edits = (Edit(("proposed", field), float(least)),)
            yield Remark("working-space", ("proposed", field), message, f"Make it {say(least)} in", edits)


def _receptacle(proposed: Proposed, book: Rulebook) -> Iterator[Remark]:
    within = book.factor("receptacle")
    at: Path = ("proposed", "receptacle_distance_ft")
    if proposed.receptacle_distance_ft is None:
        message = f"Confirm a receptacle within {say(within)} ft of the unit for service."
        yield Remark("receptacle-missing", at, message)
    elif exact(proposed.receptacle_distance_ft) > within:
        far = say(exact(proposed.receptacle_distance_ft))
        message = f"The nearest receptacle is {far} ft away; {say(within)} ft is the most."
        edits = (Edit(at, float(within)),)
        yield Remark("receptacle-far", at, message, f"Plan one within {say(within)} ft", edits)


def line_to_line(spec: Spec) -> bool:
    """Whether a single-phase load lies between two ungrounded conductors."""
    volts, ground = spec.supply.volts, spec.supply.volts_to_ground
    if spec.supply.phase != 1 or volts is None:
        return False
    return volts > ground if ground is not None else volts in (208, 230, 240, 480)


def _white(spec: Spec, segment: Segment, at: Path) -> Iterator[Remark]:
    """White as an ungrounded conductor; a two-wire cable on a line-to-line load always has one."""
    two_wire = segment.method in ("NM-B", "UF-B") and line_to_line(spec) and not needs_neutral(spec)
    derived = two_wire and segment.current_carrying in (None, 2)
    used = segment.white_as_ungrounded if segment.white_as_ungrounded is not None else derived
    if used and not segment.white_reidentified:
        message = "White is ungrounded here: re-identify it at every termination."
        edits = (Edit((*at, "white_reidentified"), True),)
        yield Remark("white-reidentify", (*at, "white_reidentified"), message, "Planned at both ends", edits)
