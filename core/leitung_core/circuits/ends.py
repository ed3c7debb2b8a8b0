"""At the ends of the circuit (domain 1.3): disconnect, working space, receptacle, ground-fault protection, white."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from leitung_core.circuits.load import Load, motor_currents
from leitung_core.circuits.spec import Proposed, Segment, Spec
from leitung_core.explain import Step, step
from leitung_core.findings import Edit, Path, Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say

WITHIN_SIGHT_FT = Decimal(50)
RECEPTACLE_FT = Decimal(25)
WORKING_WIDTH_IN = Decimal(30)
GFCI_EXCEPTION_ENDED = date(2026, 9, 1)


@dataclass(frozen=True)
class Disconnect:
    """Least rating by 440.12, and the common rating at or above it, A."""

    min_a: Decimal | None
    standard_a: Decimal | None
    steps: tuple[Step, ...]


def least_disconnect(spec: Spec, load: Load, book: Rulebook) -> Disconnect:
    """115 % of the marked running currents, or of the MCA where the plate gives none (440.12)."""
    plate = spec.equipment.nameplate
    if plate is None or load.min_ampacity_a is None:
        return Disconnect(None, None, ())
    motors = motor_currents(plate)
    base = sum(motors, Decimal(0)) if motors else load.min_ampacity_a
    least = base * Decimal("1.15")
    standard = next((rating for rating in book.disconnect_ratings_a if rating >= least), None)
    formula = "115 % of the marked running currents" if motors else "115 % of the MCA, which is never below the load"
    steps = [step("disconnect", "Disconnect rated at least", formula, least, "A", "440.12", load_a=base)]
    if standard is not None:
        what = "Common rating at or above it"
        steps.append(step("disconnect", what, "product practice", standard, "A", "440.12"))
    return Disconnect(least, standard, tuple(steps))


def judge_ends(spec: Spec, disconnect: Disconnect) -> list[Remark]:
    """What stands against the ends as planned, and what must be done there as routine."""
    return [
        *_disconnect(spec.proposed, disconnect),
        *_working_space(spec),
        *_receptacle(spec.proposed),
        *_ground_fault(spec),
        *(remark for index, segment in enumerate(spec.run) for remark in _white(spec, segment, ("run", index))),
    ]


def _disconnect(proposed: Proposed, least: Disconnect) -> Iterator[Remark]:
    at: Path = ("proposed", "disconnect_a")
    standard = float(least.standard_a) if least.standard_a is not None else None
    if proposed.disconnect_a is None:
        edits = (
            (Edit(at, standard), Edit(("proposed", "disconnect_type"), "nonfused"), *_into_sight(proposed))
            if standard is not None
            else ()
        )
        label = f"Add one of {say(exact(standard))} A in sight" if standard is not None else None
        message = "Provide a disconnect within sight of the unit and readily accessible."
        yield Remark("disconnect-missing", at, message, label, edits)
        return
    rating = exact(proposed.disconnect_a)
    if least.min_a is not None and rating < least.min_a:
        label = f"Make it {say(exact(standard))} A" if standard is not None else None
        edits = (Edit(at, standard),) if standard is not None else ()
        message = f"A {say(rating)} A disconnect is below the {say(least.min_a, 2)} A asked for: 115 % of the load."
        yield Remark("disconnect-small", at, message, label, edits)
    yield from _sight(proposed)


def _into_sight(proposed: Proposed) -> tuple[Edit, ...]:
    edits = [Edit(("proposed", "disconnect_in_sight"), True)]
    if proposed.disconnect_distance_ft is not None and exact(proposed.disconnect_distance_ft) > WITHIN_SIGHT_FT:
        edits.append(Edit(("proposed", "disconnect_distance_ft"), float(WITHIN_SIGHT_FT)))
    return tuple(edits)


def _sight(proposed: Proposed) -> Iterator[Remark]:
    at: Path = ("proposed", "disconnect_in_sight")
    distance = proposed.disconnect_distance_ft
    far = distance is not None and exact(distance) > WITHIN_SIGHT_FT
    if proposed.disconnect_in_sight is False or far:
        why = (
            f"{say(exact(distance or 0))} ft away: within sight means visible and at most 50 ft"
            if far
            else "out of sight"
        )
        message = f"The disconnect is {why}. Who works on the unit must see that it stays open."
        yield Remark("disconnect-out-of-sight", at, message, "Put it within sight", _into_sight(proposed))
    elif proposed.disconnect_in_sight is None:
        message = "Set the disconnect within sight of the unit (visible, at most 50 ft) and readily accessible."
        yield Remark("disconnect-sight-unknown", at, message, "It is in sight", (Edit(at, True),))


def working_depth_in(volts_to_ground: float | None) -> Decimal:
    """Least depth in front of the disconnect, in (Table 110.26(A)(1)): condition 1 up to 150 V to ground, else 2."""
    return Decimal(36) if volts_to_ground is None or volts_to_ground <= 150 else Decimal(42)


def _working_space(spec: Spec) -> Iterator[Remark]:
    depth, width = spec.proposed.working_depth_in, spec.proposed.working_width_in
    least_depth = working_depth_in(spec.supply.volts_to_ground)
    for field, figure, least in (
        ("working_depth_in", depth, least_depth),
        ("working_width_in", width, WORKING_WIDTH_IN),
    ):
        if figure is not None and exact(figure) < least:
            name = "deep" if field == "working_depth_in" else "wide"
            message = (
                f"The space at the disconnect is {say(exact(figure))} in {name}; at least {say(least)} in is asked for."
            )
            edits = (Edit(("proposed", field), float(least)),)
            yield Remark("working-space", ("proposed", field), message, f"Make it {say(least)} in", edits)


def _receptacle(proposed: Proposed) -> Iterator[Remark]:
    at: Path = ("proposed", "receptacle_distance_ft")
    if proposed.receptacle_distance_ft is None:
        yield Remark("receptacle-missing", at, "Confirm a receptacle within 25 ft of the unit for service.")
    elif exact(proposed.receptacle_distance_ft) > RECEPTACLE_FT:
        message = f"The nearest receptacle is {say(exact(proposed.receptacle_distance_ft))} ft away; 25 ft is the most."
        edits = (Edit(at, float(RECEPTACLE_FT)),)
        yield Remark("receptacle-far", at, message, "Plan one within 25 ft", edits)


def _ground_fault(spec: Spec) -> Iterator[Remark]:
    """Outdoor outlets of dwellings; the exception for listed equipment ended on 2026-09-01 (210.8(F))."""
    if spec.occupancy != "dwelling" or spec.proposed.gfci:
        return
    at: Path = ("proposed", "gfci")
    plan_it = ("Plan ground-fault protection", (Edit(at, True),))
    if spec.permit_date is None:
        message = (
            "Whether the outdoor outlet needs ground-fault protection hangs on the permit date, which is not known."
        )
        yield Remark("gfci-outdoor", at, message, *plan_it)
    elif spec.permit_date >= GFCI_EXCEPTION_ENDED:
        message = "Permit dated after the exception for listed equipment ended: ask the authority before you buy."
        yield Remark("gfci-outdoor", at, message, *plan_it)


def _white(spec: Spec, segment: Segment, at: Path) -> Iterator[Remark]:
    """White as an ungrounded conductor; a two-wire cable on a line-to-line load always has one."""
    two_wire = segment.method in ("NM-B", "UF-B") and spec.supply.phase == 1 and (spec.supply.volts or 0) > 150
    derived = two_wire and segment.current_carrying in (None, 2)
    used = segment.white_as_ungrounded if segment.white_as_ungrounded is not None else derived
    if used and not segment.white_reidentified:
        message = "White is ungrounded here: re-identify it at every termination."
        edits = (Edit((*at, "white_reidentified"), True),)
        yield Remark("white-reidentify", (*at, "white_reidentified"), message, "Planned at both ends", edits)
