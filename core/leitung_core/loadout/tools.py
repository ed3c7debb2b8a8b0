"""Tools and consumables that the plan asks for: only where something in it does."""

from __future__ import annotations

from leitung_core.loadout.rows import NOT_TAKEN, Gathered
from leitung_core.plant.plant import Plant

SEALED = ("mini_split_outdoor", "packaged_rooftop", "packaged_heat_pump", "roof_unit_120v")


def tools_taken(plant: Plant, found: Gathered) -> None:
    """Locks, meter, torque driver, crimper, ladder, bender; tape, sealant, ties."""
    for key, line in plant.lines.items():
        about = f"circuits/{key}"
        if line.unit is None:
            continue
        found.add("tool", "lock and tag", 1, about)
        found.add("tool", "meter, and a live source to prove it on", 0, about)
        for stretch in line.stretches:
            segment = stretch.segment
            if segment.place == "roof":
                found.add("tool", "ladder, and a tie for it", 0, about)
            if segment.raceway == "EMT" and not segment.existing:
                found.add("tool", "bender for EMT", 0, stretch.about)
            if segment.white_as_ungrounded or segment.white_reidentified:
                found.add("consumable", "tape to re-identify white conductors", 0, stretch.about)
            if segment.material == "Al" and not segment.existing:
                found.add("consumable", "compound for aluminium conductors", 0, stretch.about)
        if line.unit.kind in SEALED and line.circuit.equipment:
            found.add("consumable", "sealant for the wall or the roof", 1, f"equipment/{line.circuit.equipment}")
    for post in plant.posts.values():
        if not plant.on.get(post.ref) or plant.plan.devices[post.device_id].state in NOT_TAKEN:
            continue
        if post.terminal.torque_in_lb:
            found.add("tool", "calibrated torque driver", 0, f"devices/{post.device_id}")
        if post.terminal.hardware == "spade":
            found.add("tool", "crimp tool for insulated spades", 0, f"devices/{post.device_id}")
    # One of each does for all that ask for it.
    for name, row in found.rows.items():
        if row.group in ("tool", "consumable") and row.quantity == 0:
            found.rows[name] = row.model_copy(update={"quantity": 1.0})
