"""What the air volume on the plate asks for: smoke detection in the ducts of larger units (domain 3.3)."""

from __future__ import annotations

from collections.abc import Iterator

from leitung_core.circuits.plate import PLATE
from leitung_core.circuits.spec import Spec
from leitung_core.findings import Edit, Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say

SIDES = {"both": "return and supply", "return": "return", "supply": "supply"}


def judge_air(spec: Spec, book: Rulebook) -> Iterator[Remark]:
    """Above a volume of air: smoke detectors, on which side as the jurisdiction has it; by default on both."""
    above, side = book.factor("duct-detector"), SIDES[book.school("duct-detector-side")]
    plate = spec.equipment.nameplate
    marked = [(field, getattr(plate, field)) for field in ("supply_cfm", "return_cfm")] if plate else []
    known = [(exact(cfm), field) for field, cfm in marked if cfm is not None]
    if not known or max(known)[0] <= above:
        return
    planned = spec.proposed.duct_detectors
    if planned:
        return
    cfm, field = max(known)
    if planned is False:
        message = f"{say(cfm)} cfm is above {say(above)} cfm, and no duct smoke detector is planned."
        edits = (Edit(("proposed", "duct_detectors"), True),)
        yield Remark("duct-detectors-refused", (*PLATE, field), message, "Plan them", edits)
        return
    message = (
        f"{say(cfm)} cfm is above {say(above)} cfm: plan duct smoke detectors in the {side} that stop the unit, "
        "unless the local fire code asks for less."
    )
    yield Remark("duct-detectors", (*PLATE, field), message)
