"""Poles through a disconnect: what comes in on one pole leaves on it in the same colour."""

from __future__ import annotations

from collections.abc import Iterator

from leitung_core.findings import Finding, finding
from leitung_core.plant.colours import GROUNDED_COLOURS
from leitung_core.plant.plant import ENDS, Plant
from leitung_core.wiring.fixes import on_ends


def colours_through(plant: Plant) -> Iterator[Finding]:
    """The colour of a leg on the line side and on the load side of its pole."""
    for device_id, kind in plant.types.items():
        for line, load in kind.poles:
            line_side, load_side = plant.on.get(f"{device_id}.{line}", ()), plant.on.get(f"{device_id}.{load}", ())
            if not line_side or not load_side:
                continue
            (before, in_end), (after, out_end) = line_side[0], load_side[0]
            was, now = before.seen(in_end), after.seen(out_end)
            if was == now:
                continue
            message = f"At {plant.name(device_id)} pole {line.split('.')[1]} takes {was} in and {now} out."
            white = after.colour in GROUNDED_COLOURS
            # White is marked at each of its ends or at none.
            ends = [end for end in ENDS if end == out_end or (white and after.end(end).terminal)]
            fix = on_ends(after.cable_id, {after.id: {end: {"reidentified": was} for end in ends}})
            yield finding("pole-colour", f"{after.about}/{out_end}", message, f"Mark {after.colour} {was} there", fix)


RULES = (colours_through,)
