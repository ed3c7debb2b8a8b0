"""How a system is wired, in short: whether what was proved on it still holds."""

from __future__ import annotations

from hashlib import blake2b

from leitung_core.control.system import System


def wiring(system: System) -> str:
    """The same for as long as nothing of a system is landed, set or exchanged otherwise: 16 hexadecimal digits.

    Gauges, lengths and breakers are not in it: they change no interlock.
    """
    types = system.plant.types
    inside = [
        piece for piece in system.built.pieces
        if (kind := types.get(str(piece["id"]))) is not None and kind.group != "panel"
    ]  # fmt: skip
    landed = sorted(
        (str(wire["id"]), *sorted((str(wire["from"]), str(wire["to"])))) for wire in system.built.conductors
    )
    return blake2b(repr((sorted(map(repr, inside)), landed)).encode(), digest_size=8).hexdigest()
