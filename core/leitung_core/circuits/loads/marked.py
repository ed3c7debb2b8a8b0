"""Units with a marked MCA: the plate wins (domain 1.1; 440.4(B), 110.3(B))."""

from __future__ import annotations

from decimal import Decimal

from leitung_core.circuits.loads.heat import heat_current
from leitung_core.circuits.loads.load import (
    COOLING,
    PLATE,
    Article,
    Load,
    count,
    listed,
    locked_rotor_a,
    running_currents,
    with_largest,
)
from leitung_core.circuits.spec import Nameplate, Spec
from leitung_core.explain import Step, step
from leitung_core.findings import Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say

MCA_RUNS = "marked MCA"
# A plate prints its MCA to a tenth of an ampere: half of that is no contradiction.
PRINTED_TO = Decimal("0.05")


def marked_load(spec: Spec, plate: Nameplate, book: Rulebook) -> Load:
    """The load of a marked unit: the MCA as it stands, the 125 % being in it already (440.4(B))."""
    each, number = exact(plate.mca_a or 0), count(spec)
    mca = each * number
    article = _article(spec, plate)
    source = "440.4(B)" if article == "440" else "110.3(B)"
    steps = [step("load", "Conductors must carry", "marked MCA, as it stands", mca, "A", source, mca_a=each)]
    remarks: list[Remark] = []
    if number > 1:
        formula = "marked MCA × units: a plate's figures hold for one unit"
        steps = [step("load", "Conductors must carry", formula, mca, "A", source, mca_a=each, units=number)]
        remarks.append(_several(plate, mca, number))
    running, formula, more = _running(spec, plate, each, number, source)
    start = locked_rotor_a(plate, spec.equipment.start_peak_a)
    base, words = _disconnect_base(plate, running, mca, number, book)
    return Load(
        article=article,
        min_ampacity_a=mca,
        running_a=running,
        running_formula=formula,
        share_in_it=formula == MCA_RUNS,
        device_floor_a=mca,
        disconnect_min_a=base,
        disconnect_formula=words,
        start_a=start + running / number * (number - 1) if start is not None else None,
        remarks=(*remarks, *_contradiction(spec, plate, each, book)),
        steps=(*steps, *more),
    )


def _article(spec: Spec, plate: Nameplate) -> Article:
    """Cooling equipment is judged by Article 440; a unit that only heats keeps the limits of 240.4(D)."""
    if spec.equipment.kind in COOLING or plate.compressors:
        return "440"
    if spec.equipment.kind == "condensate_pump":
        return "430"
    return "210" if spec.equipment.kind in ("steam_humidifier", "dehumidifier") else "424"


def _running(
    spec: Spec, plate: Nameplate, mca: Decimal, number: int, source: str
) -> tuple[Decimal, str, tuple[Step, ...]]:
    """The running current: the sum of the marks where the plate has them, never above the MCA; else the MCA."""
    marks = running_currents(plate)
    heat = heat_current(spec, plate)
    if heat.amps is not None and not plate.compressors:
        marks = [*marks, heat.amps]
    if not marks or (heat.amps is not None and plate.compressors):
        formula = "marked MCA: the plate gives no running current, and it never runs above this"
        row = step("load", "Running current, at most", formula, mca * number, "A", source, mca_a=mca)
        return mca * number, MCA_RUNS, (row,)
    running = sum(marks, Decimal(0)) * number
    formula = "sum of the marked running currents (larger of RLA and BCSC, each FLA)"
    row = step("load", "Running current", formula, running, "A", "440.33", currents_a=listed(marks))
    return running, "marked running currents", (*heat.steps, row)


def _disconnect_base(
    plate: Nameplate, running: Decimal, mca: Decimal, number: int, book: Rulebook
) -> tuple[Decimal, str]:
    share, words = book.factor("disconnect-compressor"), book.percent("disconnect-compressor")
    if plate.compressors or plate.motors:
        marks = running_currents(plate)
        if marks and sum(marks) * number == running:
            return running * share, f"{words} of the marked running currents"
    return mca * share, f"{words} of the MCA, which is never below the load"


def _several(plate: Nameplate, mca: Decimal, number: int) -> Remark:
    message = (
        f"{number} marked units on one circuit need {say(mca)} A, and each plate's figures hold for one unit alone. "
        "Give each its own circuit, or ask the maker for a group rating."
    )
    return Remark("several-marked", ("equipment", "quantity"), message)


def _contradiction(spec: Spec, plate: Nameplate, mca: Decimal, book: Rulebook) -> tuple[Remark, ...]:
    marks = running_currents(plate)
    motors = with_largest(marks, book)
    heat = heat_current(spec, plate).amps
    computed, words = motors, "its own motors come to"
    if heat is not None and heat * book.factor("heat") > motors and not plate.compressors:
        computed, words = (heat + sum(marks, Decimal(0))) * book.factor("heat"), "its own heat and motors come to"
    if computed <= mca + PRINTED_TO:
        return ()
    largest = f"sum plus {book.percent('largest-motor')} of the largest"
    how = largest if computed == motors else book.percent("heat")
    message = (
        f"The plate's MCA of {say(mca)} A is below what {words}: {say(computed)} A ({how}). "
        "One of the two is read wrong."
    )
    article = "440.33, 110.3(B)" if computed == motors else "424.4(B), 110.3(B)"
    return (Remark("plate-contradiction", (*PLATE, "mca_a"), message, article=article),)
