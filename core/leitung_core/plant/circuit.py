"""From a plan's circuit to the size document, and back: where each of its paths stands in the plan."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from leitung_core.circuits.size import Address
from leitung_core.circuits.spec import Equipment, FedLoad, Nameplate, Proposed, Segment, Spec, Supply, Together
from leitung_core.findings import Edit, Path
from leitung_core.plan.model import Circuit, Disconnect, Ocpd, Plan, RunSegment, Source
from leitung_core.rulebook import Amendment

# Size-document fields of `proposed` and where they stand in a circuit of the plan.
_PROPOSED: dict[str, Path] = {
    "ocpd_a": ("ocpd", "rating_a"),
    "ocpd_type": ("ocpd", "type"),
    "ocpd_reason": ("ocpd", "reason"),
    "disconnect_a": ("disconnect", "rating_a"),
    "disconnect_type": ("disconnect", "type"),
    "disconnect_in_sight": ("disconnect", "in_sight"),
    "disconnect_distance_ft": ("disconnect", "distance_ft"),
    "working_depth_in": ("disconnect", "working_depth_in"),
    "working_width_in": ("disconnect", "working_width_in"),
    "other_outlets_on_branch": ("other_outlets",),
}
_SEGMENT_FIELDS = tuple(Segment.model_fields)
# What shares a raceway with a segment: the conductors of the other circuits, and how many carry current in all.
Shared = Mapping[tuple[str, str], tuple[list[Together], int | None]]


def line_count(source: Source) -> int | None:
    """Line conductors of a source: three on three phases, one where its volts are those to ground, else two.

    None: not known.
    """
    if source.phase is None or source.volts is None:
        return None
    if source.phase == 3:
        return 3
    return 1 if source.volts_to_ground is not None and source.volts <= source.volts_to_ground else 2


def poles_of(circuit: Circuit, source: Source | None) -> int | None:
    """Poles of the circuit's device: as planned, else as many as the source has line conductors."""
    if circuit.poles is not None:
        return circuit.poles
    return line_count(source) if source is not None else None


def supply_of(circuit: Circuit, source: Source | None) -> Supply:
    """What the circuit gets from its source: its line voltage, or the voltage to ground on one pole."""
    if source is None:
        return Supply(volts=None, phase=None, volts_to_ground=None)
    volts, phase = source.volts, source.phase
    if circuit.poles == 1:
        volts, phase = source.volts_to_ground, 1 if source.phase else None
    elif circuit.poles == 2:
        phase = 1 if source.phase else None
    return Supply(volts=volts, phase=phase, volts_to_ground=source.volts_to_ground)


def amendments_of(plan: Plan) -> list[str | Amendment] | None:
    """The plan's amendments as the size document has them."""
    return [key if entry == "shipped" else entry for key, entry in plan.amendments.items()] or None


def spec_of(plan: Plan, circuit_id: str, fed: list[FedLoad] | None = None, shared: Shared | None = None) -> Spec | None:
    """The size document of a plan's circuit, or None while it ends nowhere.

    `fed` are the loads behind a feeder; `shared` tells what lies in the same raceways.
    """
    circuit = plan.circuits[circuit_id]
    equipment = _equipment(plan, circuit, fed)
    if equipment is None:
        return None
    source = plan.sources.get(circuit.source or "")
    groups = {"ocpd": circuit.ocpd or Ocpd(), "disconnect": circuit.disconnect or Disconnect()}
    moved = {name: getattr(groups[str(path[0])], str(path[1])) for name, path in _PROPOSED.items() if len(path) == 2}
    return Spec(
        rulebook=plan.rulebook,
        amendments=amendments_of(plan),
        occupancy=plan.site.occupancy,
        location=plan.site.place,
        permit_date=plan.site.permit_date,
        supply=supply_of(circuit, source),
        equipment=equipment,
        run=[_segment(segment, (shared or {}).get((circuit_id, key))) for key, segment in circuit.segments()],
        proposed=Proposed(
            **moved,
            egc=circuit.egc,
            gfci=circuit.gfci,
            receptacle_a=circuit.receptacle_a,
            receptacle_distance_ft=circuit.receptacle_distance_ft,
            other_outlets_on_branch=circuit.other_outlets,
            voltage_drop_limit_pct=circuit.voltage_drop_limit_pct,
        ),
    )


class SpecInputs:
    """Everything that `spec_of` reads of a plan, as a key: two circuits with the same key have the same result."""

    def __init__(self, plan: Plan) -> None:
        self._plan = plan
        local = {
            key: entry if isinstance(entry, str) else entry.model_dump_json() for key, entry in plan.amendments.items()
        }
        self._common = (plan.rulebook, tuple(local.items()), plan.site.model_dump_json())

    def of(self, circuit_id: str, fed: list[FedLoad] | None, shared: Shared | None) -> object:
        """The key of one circuit; the arguments are those of `spec_of`."""
        circuit = self._plan.circuits[circuit_id]
        unit = self._plan.equipment.get(circuit.equipment or "")
        source = self._plan.sources.get(circuit.source or "")
        together = [(shared or {}).get((circuit_id, key)) for key in circuit.run] if shared else ()
        return (
            self._common,
            circuit_id,
            circuit.model_dump_json(),
            unit.model_dump_json() if unit else None,
            (source.volts, source.phase, source.volts_to_ground) if source else None,
            tuple((load.amps, load.sort, load.name) for load in fed) if fed is not None else None,
            tuple(
                (tuple((other.conductor, other.count, other.insulation) for other in entry[0]), entry[1])
                if entry
                else None
                for entry in together
            ),
        )


def _equipment(plan: Plan, circuit: Circuit, fed: list[FedLoad] | None) -> Equipment | None:
    if circuit.feeds is not None:
        plate = Nameplate(loads=fed) if fed else None
        return Equipment(kind="feeder", quantity=None, heat_with_cooling=None, cord_connected=None, nameplate=plate)
    unit = plan.equipment.get(circuit.equipment or "")
    if unit is None:
        return None
    return Equipment(
        kind=unit.kind,
        quantity=unit.quantity,
        heat_with_cooling=unit.heat_with_cooling,
        cord_connected=unit.cord_connected,
        nameplate=unit.nameplate,
    )


def _segment(segment: RunSegment, shared: tuple[list[Together], int | None] | None) -> Segment:
    values = {name: getattr(segment, name) for name in _SEGMENT_FIELDS}
    if shared is not None:
        values["together"], carrying = shared
        values["current_carrying"] = carrying or values["current_carrying"]
    return Segment(**values)


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
            if circuit.feeds is not None:
                return ("circuits", circuit_id, "feeds")
            return ("equipment", circuit.equipment or "", *rest)
        if head == "amendments":
            return ("amendments",)
        if head == "permit_date":
            return ("site", "permit_date")
        if circuit.poles is not None and rest:
            return ("circuits", circuit_id, "poles")
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
