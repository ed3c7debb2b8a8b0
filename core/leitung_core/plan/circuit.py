"""From a plan's circuit to the size document, and back: where each of its paths stands in the plan."""

from __future__ import annotations

from typing import Any

from leitung_core.circuits.size import Address
from leitung_core.circuits.spec import Equipment, Proposed, Segment, Spec, Supply
from leitung_core.findings import Edit, Path
from leitung_core.plan.model import Circuit, Disconnect, Ocpd, Plan

# Size-document fields of `proposed` and where they stand in a circuit of the plan.
_PROPOSED: dict[str, Path] = {
    "ocpd_a": ("ocpd", "rating_a"),
    "ocpd_type": ("ocpd", "type"),
    "disconnect_a": ("disconnect", "rating_a"),
    "disconnect_type": ("disconnect", "type"),
    "disconnect_in_sight": ("disconnect", "in_sight"),
    "disconnect_distance_ft": ("disconnect", "distance_ft"),
    "working_depth_in": ("disconnect", "working_depth_in"),
    "working_width_in": ("disconnect", "working_width_in"),
}


def spec_of(plan: Plan, circuit: Circuit) -> Spec | None:
    """The size document of a plan's circuit, or None while it has no unit."""
    unit = plan.equipment.get(circuit.equipment or "")
    if unit is None:
        return None
    source = plan.sources.get(circuit.source or "")
    ocpd, disconnect = circuit.ocpd or Ocpd(), circuit.disconnect or Disconnect()
    groups = {"ocpd": ocpd, "disconnect": disconnect}
    moved = {name: getattr(groups[str(path[0])], str(path[1])) for name, path in _PROPOSED.items()}
    return Spec.model_construct(
        rulebook=plan.rulebook,
        amendments=None,
        occupancy=plan.site.occupancy,
        location=plan.site.place,
        permit_date=plan.site.permit_date,
        supply=Supply.model_construct(
            volts=source.volts if source else None,
            phase=source.phase if source else None,
            volts_to_ground=source.volts_to_ground if source else None,
        ),
        equipment=Equipment.model_construct(
            kind=unit.kind, quantity=None, heat_with_cooling=None, cord_connected=None, nameplate=unit.nameplate
        ),
        run=[_segment(segment) for _, segment in circuit.segments()],
        proposed=Proposed.model_construct(
            **moved,
            egc=circuit.egc,
            gfci=circuit.gfci,
            receptacle_a=None,
            receptacle_distance_ft=circuit.receptacle_distance_ft,
            other_outlets_on_branch=None,
            voltage_drop_limit_pct=circuit.voltage_drop_limit_pct,
        ),
    )


def _segment(segment: Segment) -> Segment:
    return Segment.model_construct(**{name: getattr(segment, name) for name in Segment.model_fields})


def plan_address(circuit_id: str, circuit: Circuit) -> Address:
    """Paths of the size document as slash paths of the plan, and edits as merge patches on the plan."""
    ids = [segment_id for segment_id, _ in circuit.segments()]

    def place(path: Path) -> Path:
        head, *rest = path
        if head == "run":
            part = (ids[int(rest[0])], *rest[1:]) if rest else ()
            return ("circuits", circuit_id, "run", *part)
        if head == "proposed":
            return ("circuits", circuit_id, *_PROPOSED.get(str(rest[0]), (rest[0],)))
        if head == "equipment":
            return ("equipment", circuit.equipment or "", *rest)
        return ("sources", circuit.source, *rest) if circuit.source else ("circuits", circuit_id, "source")

    def about(path: Path) -> str:
        return "/".join(str(part) for part in place(path))

    def patch(edits: tuple[Edit, ...]) -> dict[str, Any]:
        merged: dict[str, Any] = {}
        for edit in edits:
            *parents, last = place(edit.path)
            target = merged
            for part in parents:
                target = target.setdefault(str(part), {})
            target[str(last)] = edit.value
        return merged

    return Address(about, patch)
