"""What the air volume on the plate asks for: smoke detection in the ducts of larger units (domain 3.3)."""

from __future__ import annotations

from collections.abc import Iterator

from leitung_core.circuits.plate import PLATE
from leitung_core.circuits.spec import Spec
from leitung_core.findings import Remark
from leitung_core.units import exact, say

DETECTORS_ABOVE_CFM = exact(2000)


def judge_air(spec: Spec) -> Iterator[Remark]:
    """Above 2000 cfm: detectors in return and supply, the stricter of the two fire codes."""
    plate = spec.equipment.nameplate
    marked = [(field, getattr(plate, field)) for field in ("supply_cfm", "return_cfm")] if plate else []
    known = [(exact(cfm), field) for field, cfm in marked if cfm is not None]
    if not known or max(known)[0] <= DETECTORS_ABOVE_CFM:
        return
    cfm, field = max(known)
    message = (
        f"{say(cfm)} cfm is above {say(DETECTORS_ABOVE_CFM)} cfm: plan duct smoke detectors in return and supply that "
        "stop the unit, unless the local fire code asks for less."
    )
    yield Remark("duct-detectors", (*PLATE, field), message)
