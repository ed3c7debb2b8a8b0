"""Small networks in the open form, written short: `device(...)`, `wire("A.R", "B.R", 0.3)`."""

from __future__ import annotations

from typing import Any

from leitung_core.solver.network import Network, read_network

Piece = dict[str, Any]


def supply(volts: float = 120, ohms: float = 0.05) -> Piece:
    inside = [{"type": "ac_source", "id": "V", "plus": "L", "minus": "N", "volts": volts, "ohms": ohms}]
    return {"id": "PS", "terminals": ["L", "N"], "inside": inside}


def transformer(plus: str = "R", minus: str = "C", **more: Any) -> Piece:
    return {
        "type": "transformer", "id": "T1", "primary_common": "N", "primary_taps": [{"terminal": "L", "volts": 120}],
        "secondary_plus": plus, "secondary_minus": minus, "secondary_volts": 24, "va": 40, "regulation_pct": 5, **more,
    }  # fmt: skip


def coil(name: str, a: str, b: str, va: float | None = 10, **more: Any) -> Piece:
    return {"type": "coil", "id": name, "a": a, "b": b, "rated_volts": 24, "va": va, **more}


def load(name: str, a: str, b: str, va: float | None = 10, volts: float = 24, **more: Any) -> Piece:
    return {"type": "load", "id": name, "a": a, "b": b, "rated_volts": volts, "va": va, **more}


def contact(name: str, a: str, b: str, by: str | None = None, normally: str = "open", **more: Any) -> Piece:
    return {"type": "contact", "id": name, "a": a, "b": b, "operated_by": by, "normally": normally, **more}


def device(name: str, terminals: str, *inside: Piece) -> Piece:
    return {"id": name, "terminals": terminals.split(), "inside": list(inside)}


def board(*inside: Piece, name: str = "FB", fuse_a: float | None = None, **more: Any) -> Piece:
    """A board with its own 24 V on R and C, through a fuse where one is asked for."""
    source = [transformer("_s" if fuse_a else "R", **more)]
    if fuse_a:
        source.append({"type": "fuse", "id": "F1", "a": "_s", "b": "R", "amps": fuse_a, "ohms": 0.01})
    return device(name, "L N R C W Y G O", *source, *inside)


def stat(name: str = "TS") -> Piece:
    calls = {"W": "heat", "Y": "cool", "G": "fan", "O": "valve"}
    return device(name, "R C W Y G O", *[contact(f"K{end}", "R", end, f"call:{call}") for end, call in calls.items()])


def wires(*pairs: str, ohms: float = 0.1) -> list[Piece]:
    """`"FB.R TS.R"`, or with its own ohms `"FB.R TS.R 0.5"`."""
    found = []
    for number, text in enumerate(pairs):
        a, b, *own = text.split()
        found.append({"id": f"w{number}", "from": a, "to": b, "ohms": float(own[0]) if own else ohms})
    return found


LINE = ("PS.L FB.L 0.1", "PS.N FB.N 0.1")


def network(devices: list[Piece], conductors: list[Piece], *states: Piece, **more: Any) -> Network:
    return read_network(
        {"reference": "PS.N", "devices": devices, "conductors": conductors, "states": list(states), **more}
    )


def state(*on: str, at_s: float = 600, after: list[tuple[list[str], float]] | None = None, **more: Any) -> Piece:
    """A state: `after` are the stretches before it."""
    probes = [dict(zip(("from", "to"), text.split(), strict=True)) for text in more.pop("probes", [])]
    history = [{"on": before, "for_s": seconds} for before, seconds in after or []]
    return {"name": ",".join(on) or "idle", "on": list(on), "at_s": at_s, "history": history, "probes": probes, **more}
