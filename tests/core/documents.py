"""Size documents for the tests: complete and lawful, so that a test changes only what it is about."""

from __future__ import annotations

from typing import Any


def segment(**more: Any) -> dict[str, Any]:
    found: dict[str, Any] = {"method": "NM-B", "material": "Cu", "ambient_c": 30, "place": "interior", "length_ft": 50}
    found |= {"current_carrying": 2, "white_reidentified": True}
    return found | more


def document(
    run: list[dict[str, Any]] | None = None, plate: dict[str, Any] | None = None, **more: Any
) -> dict[str, Any]:
    nameplate = {"volts": "208/230", "phase": 1, "mca_a": 11.0, "max_ocpd_a": 15, "max_ocpd_type": "fuse_or_breaker"}
    proposed = {
        "ocpd_a": 15, "ocpd_type": "breaker", "disconnect_a": 30, "disconnect_type": "nonfused",
        "disconnect_in_sight": True, "disconnect_distance_ft": 6, "receptacle_distance_ft": 12,
    }  # fmt: skip
    return {
        "rulebook": "us-2023",
        "occupancy": "commercial",
        "supply": {"volts": 240, "phase": 1, "volts_to_ground": 120} | more.pop("supply", {}),
        "equipment": {"kind": more.pop("kind", "mini_split_outdoor"), "nameplate": nameplate | (plate or {})},
        "run": [segment(conductor="12", construction="solid")] if run is None else run,
        "proposed": proposed | more.pop("proposed", {}),
        **more,
    }


def heater(watts: float = 5000, **more: Any) -> dict[str, Any]:
    """A unit heater on 240 V with everything lawful around it."""
    plate = {"volts": "240", "phase": 1, "heat": {"watts": watts, "rated_volts": 240}} | more.pop("plate", {})
    wire = more.pop("wire", {})
    proposed = {"ocpd_a": 30, "disconnect_a": 30} | more.pop("proposed", {})
    found = document(
        [segment(conductor="10", construction="solid") | wire], kind="unit_heater", proposed=proposed, **more
    )
    found["equipment"]["nameplate"] = plate
    return found


def as_plan(doc: dict[str, Any]) -> dict[str, Any]:
    """The circuit of a size document as a plan of one line."""
    proposed = doc["proposed"]
    ocpd = {name: proposed.get(f"ocpd_{name}") for name in ("type", "reason")}
    circuit = {
        "source": "P", "equipment": "U",
        "run": {f"s{i}": {"order": i, **part} for i, part in enumerate(doc["run"])},
        "ocpd": ocpd | {"rating_a": proposed.get("ocpd_a")},
        "disconnect": {"rating_a": proposed.get("disconnect_a")}, "receptacle_a": proposed.get("receptacle_a"),
    }  # fmt: skip
    return {
        "format": "leitung-plan", "format_version": 2, "name": "one line",
        "site": {"occupancy": doc["occupancy"]},
        "amendments": {f"a{i}": entry for i, entry in enumerate(doc.get("amendments", []))},
        "sources": {"P": {"kind": "receptacle", **doc["supply"]}}, "equipment": {"U": doc["equipment"]},
        "circuits": {"C": circuit},
    }  # fmt: skip


def codes(result: Any, *severities: str) -> list[str]:
    return [f.code for f in result.findings if not severities or f.severity in severities]
