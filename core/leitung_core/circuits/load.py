"""What the load asks for (domain 1.1), for units with a marked MCA and maximum."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.spec import Nameplate
from leitung_core.explain import Step, step
from leitung_core.findings import Remark
from leitung_core.units import exact, say

PLATE = ("equipment", "nameplate")


@dataclass(frozen=True)
class Load:
    """Currents in A. `running_a` is the sum of the marked running currents, else the MCA as an upper bound."""

    min_ampacity_a: Decimal | None
    running_a: Decimal | None
    running_formula: str
    remarks: tuple[Remark, ...]
    steps: tuple[Step, ...]


def marked_load(plate: Nameplate | None) -> Load:
    """The load of a marked unit: the MCA as it stands, the 125 % being in it already (440.4(B))."""
    if plate is None or plate.mca_a is None:
        missing = Remark(
            "plate-mca-missing",
            (*PLATE, "mca_a"),
            "The plate's minimum circuit ampacity (MCA) is not known: nothing can be sized. Read it off the plate.",
        )
        return Load(None, None, "not known", (missing,), ())
    mca = exact(plate.mca_a)
    steps = [step("load", "Conductors must carry", "marked MCA, as it stands", mca, "A", "440.4(B)", mca_a=mca)]
    motors = motor_currents(plate)
    if not motors:
        formula = "marked MCA: the plate gives no running current, and it never runs above this"
        steps.append(step("load", "Running current, at most", formula, mca, "A", "440.4(B)", mca_a=mca))
        return Load(mca, mca, "marked MCA", (), tuple(steps))
    running = sum(motors, Decimal(0))
    formula = "sum of the marked running currents (larger of RLA and BCSC, each FLA)"
    steps.append(step("load", "Running current", formula, running, "A", "440.33", currents_a=_listed(motors)))
    return Load(mca, running, "marked running currents", _contradiction(mca, motors), tuple(steps))


def motor_currents(plate: Nameplate) -> list[Decimal]:
    """The marked running current of each motor, A: the larger of RLA and BCSC of a compressor, FLA of the others."""
    marks = [[c.rla_a, c.bcsc_a] for c in plate.compressors or []] + [[m.fla_a] for m in plate.motors or []]
    return [max(exact(mark) for mark in pair if mark) for pair in marks if any(pair)]


def _contradiction(mca: Decimal, motors: list[Decimal]) -> tuple[Remark, ...]:
    computed = sum(motors, Decimal(0)) + max(motors) / 4
    if computed <= mca:
        return ()
    message = (
        f"The plate's MCA of {say(mca)} A is below what its own motors come to: {say(computed)} A "
        "(sum plus 25 % of the largest). One of the two is read wrong."
    )
    return (Remark("plate-contradiction", (*PLATE, "mca_a"), message, article="440.33, 110.3(B)"),)


def _listed(currents: list[Decimal]) -> str:
    return " + ".join(say(current, 2) for current in currents)
