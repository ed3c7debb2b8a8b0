"""From a line to the size document, and back: where each of its paths stands in the plan."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from leitung_core.catalogue.cables import FAMILY_OF_METHOD, cable_families
from leitung_core.circuits.size import Address
from leitung_core.circuits.spec import Equipment, FedLoad, Nameplate, Proposed, Segment, Spec, Together
from leitung_core.findings import Edit, Path
from leitung_core.plan.model import Circuit, Disconnect, Ocpd, Plan
from leitung_core.plant.aids import aid_of
from leitung_core.plant.lines import Line, Stretch, units_devices
from leitung_core.plant.poles import supply_of
from leitung_core.rulebook import Amendment

if TYPE_CHECKING:
    from leitung_core.plant.plant import Plant

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
# What shares a raceway with a segment: the conductors of the other circuits, and how many carry current in all.
Shared = Mapping[tuple[str, str], tuple[list[Together], int | None]]


def amendments_of(plan: Plan) -> list[str | Amendment] | None:
    """The plan's amendments as the size document has them."""
    return [key if entry == "shipped" else entry for key, entry in plan.amendments.items()] or None


def spec_of(plant: Plant, line_id: str, fed: list[FedLoad] | None = None, shared: Shared | None = None) -> Spec | None:
    """The size document of a line, or None while it ends nowhere.

    `fed` are the loads behind a feeder; `shared` tells what lies in the same raceways.
    """
    plan, line = plant.plan, plant.lines[line_id]
    circuit = line.circuit
    equipment = _equipment(plant, circuit, fed)
    if equipment is None:
        return None
    groups = {"ocpd": line.device or Ocpd(), "disconnect": circuit.disconnect or Disconnect()}
    moved = {name: getattr(groups[str(path[0])], str(path[1])) for name, path in _PROPOSED.items() if len(path) == 2}
    return Spec(
        rulebook=plan.rulebook,
        amendments=amendments_of(plan),
        occupancy=plan.site.occupancy,
        location=(line.unit.place if line.unit else None) or plan.site.place,
        permit_date=plan.site.permit_date,
        supply=supply_of(circuit, line.source, line.unit),
        equipment=equipment,
        run=[_segment(stretch, (shared or {}).get((line_id, stretch.key))) for stretch in line.stretches],
        proposed=Proposed(
            **moved,
            egc=circuit.egc,
            gfci=circuit.gfci,
            receptacle_a=circuit.receptacle_a,
            receptacle=circuit.receptacle,
            receptacle_distance_ft=circuit.receptacle_distance_ft,
            other_outlets_on_branch=_other_outlets(plant, line),
            voltage_drop_limit_pct=circuit.voltage_drop_limit_pct,
            poles=circuit.poles,
        ),
    )


def _other_outlets(plant: Plant, line: Line) -> bool | None:
    """Whether the unit has its branch alone: as it is said, else by what else hangs on its receptacle."""
    said, source = line.circuit.other_outlets, line.source
    if said is not None or source is None or source.kind != "receptacle":
        return said
    return True if source.existing or _beside(plant, line) else None


def _beside(plant: Plant, line: Line) -> bool:
    """Whether another line begins where this one does."""
    return any(key != line.id and other.source == line.circuit.source for key, other in plant.plan.circuits.items())


class SpecInputs:
    """Everything that `spec_of` reads of a plant, as a key: two lines with the same key have the same result."""

    def __init__(self, plant: Plant) -> None:
        self._plant, plan = plant, plant.plan
        local = {
            key: entry if isinstance(entry, str) else entry.model_dump_json() for key, entry in plan.amendments.items()
        }
        self._common = (plan.rulebook, tuple(local.items()), plan.site.model_dump_json())

    def of(self, line_id: str, fed: list[FedLoad] | None, shared: Shared | None) -> object:
        """The key of one line; the arguments are those of `spec_of`."""
        line = self._plant.lines[line_id]
        source = line.source
        together = [(shared or {}).get((line_id, stretch.key)) for stretch in line.stretches] if shared else ()
        return (
            self._common,
            line_id,
            line.circuit.model_dump_json(),
            line.unit.model_dump_json() if line.unit else None,
            (source.volts, source.phase, source.volts_to_ground) if source else None,
            (line.device and line.device.rating_a, _other_outlets(self._plant, line))
            if source and source.kind == "receptacle"
            else None,
            tuple((load.amps, load.sort, load.name) for load in fed) if fed is not None else None,
            _control_tap(self._plant, line.circuit),
            _start_peak(self._plant, line.circuit),
            tuple(
                (tuple((other.conductor, other.count, other.insulation) for other in entry[0]), entry[1])
                if entry
                else None
                for entry in together
            ),
            tuple((stretch.about, stretch.segment.model_dump_json()) for stretch in line.stretches if stretch.cable),
        )


def _equipment(plant: Plant, circuit: Circuit, fed: list[FedLoad] | None) -> Equipment | None:
    if circuit.feeds is not None:
        plate = Nameplate(loads=fed) if fed else None
        return Equipment(kind="feeder", quantity=None, heat_with_cooling=None, cord_connected=None, nameplate=plate)
    unit = plant.plan.equipment.get(circuit.equipment or "")
    if unit is None:
        return None
    return Equipment(
        kind=unit.kind,
        quantity=unit.quantity,
        heat_with_cooling=unit.heat_with_cooling,
        cord_connected=unit.cord_connected,
        start_peak_a=_start_peak(plant, circuit),
        control_tap_v=_control_tap(plant, circuit),
        nameplate=unit.nameplate,
    )


def _start_peak(plant: Plant, circuit: Circuit) -> float | None:
    """What the unit's soft starter holds its compressor to, A; the worst of a range."""
    if circuit.equipment not in plant.plan.equipment:
        return None
    aid = aid_of(plant, circuit.equipment or "").aid
    return aid.peak_a.high if aid.kind == "soft_starter" and aid.peak_a and aid.peak_a.high else None


TAP = "tap"


def _control_tap(plant: Plant, circuit: Circuit) -> float | None:
    """The tap of the unit's control transformer, V: as its device is set, or as it is wired where it has one alone."""
    for key in units_devices(plant, circuit):
        kind, settings = plant.types[key], plant.plan.devices[key].settings
        chosen = settings.get(TAP) if TAP in kind.settings else None
        if chosen is not None and chosen.isdigit():
            return float(chosen)
    return None


def _segment(stretch: Stretch, shared: tuple[list[Together], int | None] | None) -> Segment:
    if shared is None:
        return stretch.segment
    together, carrying = shared
    told = {"together": together, "current_carrying": carrying or stretch.segment.current_carrying}
    return stretch.segment.model_copy(update=told)


def plan_address(plant: Plant, line: Line) -> Address:
    """Paths of the size document as slash paths of the plan, and edits as merge patches on the plan."""
    circuit = line.circuit

    def place(path: Path) -> Path | None:
        """Where a path stands in the plan; None where what stands there is not said by one value."""
        head, *rest = path
        if head == "run":
            if not rest:
                return ("circuits", line.id, "run")
            stretch = line.stretches[int(rest[0])]
            if len(rest) == 1:
                return tuple(stretch.about.split("/"))
            return stretch.place(str(rest[1]))
        if path == ("proposed", "ocpd_a") and line.shares_device:
            return ("sources", circuit.source or "", "main_a")
        if head == "proposed":
            return ("circuits", line.id, *_PROPOSED.get(str(rest[0]), (rest[0],)))
        if head == "equipment":
            if circuit.feeds is not None:
                return ("circuits", line.id, "feeds")
            return ("equipment", circuit.equipment or "", *rest)
        if head == "amendments":
            return ("amendments",)
        if head == "permit_date":
            return ("site", "permit_date")
        if circuit.poles is not None and rest:
            return ("circuits", line.id, "poles")
        return ("sources", circuit.source, *rest) if circuit.source else ("circuits", line.id, "source")

    def about(path: Path) -> str:
        found = place(path)
        if found is None:
            return line.stretches[int(path[1])].about
        return "/".join(str(part) for part in found)

    def patch(edits: tuple[Edit, ...]) -> dict[str, Any]:
        """The edits as one merge patch; none where one needs more than a value, or is not this unit's alone."""
        merged: dict[str, Any] = {}
        for edit in edits:
            found = place(edit.path)
            value = _as_cable(line, edit) if edit.path[0] == "run" else edit.value
            if found is None or value is _NOT_SO or (found[-1] == "main_a" and _other_outlets(plant, line)):
                return {}
            *parents, last = found
            target = merged
            for part in parents:
                target = target.setdefault(str(part), {})
            target[str(last)] = value
        return merged

    return Address(about, patch)


_NOT_SO = object()


def _as_cable(line: Line, edit: Edit) -> Any:
    """What an edit of a stretch is on a cable drawn by hand: a gauge of its make; the make is not exchanged."""
    stretch = line.stretches[int(edit.path[1])]
    if not stretch.by_hand:
        return edit.value
    field = str(edit.path[2])
    families = cable_families()
    family = families.get(FAMILY_OF_METHOD.get(stretch.segment.method or "", ""))
    if field == "method" or (field == "conductor" and (family is None or edit.value not in family.awg)):
        return _NOT_SO
    return edit.value
