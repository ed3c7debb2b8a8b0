"""Results that are kept for as long as a system's network is the same, so that nothing is worked out twice."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from hashlib import blake2b
from threading import Lock
from typing import Any, TypeVar

from leitung_core.control.system import System

Result = TypeVar("Result")
MOST = 256
_kept: OrderedDict[tuple[str, str], Any] = OrderedDict()
_lock = Lock()


def kept(what: str, system: System, make: Callable[[], Result]) -> Result:
    """`make()`, or what it gave for a system of the same network and the same matrix."""
    key = what, fingerprint(system)
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            found: Result = _kept[key]
            return found
    found = make()
    with _lock:
        _kept[key] = found
        while len(_kept) > MOST:
            _kept.popitem(last=False)
    return found


def fingerprint(system: System) -> str:
    """The same for two systems on which everything here comes out the same."""
    if "fingerprint" not in system.__dict__:
        built, names = system.built, [(key, system.plant.plan.devices[key].name) for key in system.devices]
        network = built.reference, built.pieces, built.conductors, built.notes
        told = system.key, system.title, names, system.intents, system.heat_and_cool, system.cells, system.needs_air
        system.__dict__["fingerprint"] = blake2b(repr((network, told)).encode(), digest_size=16).hexdigest()
    found: str = system.__dict__["fingerprint"]
    return found
