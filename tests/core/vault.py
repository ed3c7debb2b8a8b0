"""The museum's vault by itself: what its panel feeds, from the feeder's breaker to the last relay, in order."""

from __future__ import annotations

from typing import Any

from leitung_core.plan.patch import merge
from leitung_demo import museum

LINES = {"FD-1", "AH-1", "DH-1", "CP-1", "SH-1"}
# Three conductors on one terminal made one landing: the vault's stop is gone.
PIGTAIL = {"a": {"pigtail": True}}
CLEARED = {"cables": {"SL-6": {"conductors": {"red": PIGTAIL}}, "DC-1": {"conductors": {"green": PIGTAIL}}}}
# Here the dehumidifier drains by itself: its compressor need not stop with the pump.
DRAINS = {"interlocks": {"drains": {"system": "AH-1", "cause": "cause:pump-fault", "effect": "dehumidifier",
                                    "stops": False, "reason": "drains by gravity, not over the pump"}}}  # fmt: skip


def vault() -> dict[str, Any]:
    """A plan of the vault alone, without a stop."""
    whole = merge(museum(), CLEARED)
    units = {key for key in LINES if key in whole["equipment"]}
    sources = {"MP", "VP"}

    def of_the_vault(device: dict[str, Any]) -> bool:
        return device.get("circuit") in LINES or device.get("equipment") in units

    devices = {key: device for key, device in whole["devices"].items() if of_the_vault(device)}

    def lies_there(cable: dict[str, Any]) -> bool:
        return {cable[end]["device"] for end in ("a", "b") if end in cable} <= devices.keys()

    kept = {
        "sources": sources, "equipment": units, "circuits": LINES, "devices": set(devices),
        "cables": {key for key, cable in whole["cables"].items() if lies_there(cable)},
    }  # fmt: skip
    gone = {room: {key: None for key in whole[room] if key not in there} for room, there in kept.items()}
    asked = {key: None for key, entry in whole["questions"].items() if entry.get("equipment") not in {None, *units}}
    return merge(whole, {**gone, **DRAINS, "questions": asked, "name": "Museum vault"})
