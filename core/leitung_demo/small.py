"""The smaller installs of the demo week, one line each, and the parts of which all demo plans are made."""

from __future__ import annotations

from typing import Any

from leitung_core.plan.model import FORMAT, FORMAT_VERSION


def plan(
    name: str, site: str, place: str, circuit_id: str, equipment: dict[str, Any], circuit: dict[str, Any]
) -> dict[str, Any]:
    """A plan of one line from a 240 V panel to a mini-split."""
    return {
        "format": FORMAT,
        "format_version": FORMAT_VERSION,
        "rulebook": "us-2023",
        "name": name,
        "site": {"name": site, "place": place, "occupancy": "commercial", "permit_date": "2026-11-02"},
        "sources": {"PA": panel("Panel A")},
        "equipment": {"OU-1": equipment},
        "circuits": {circuit_id: {"source": "PA", "equipment": "OU-1", **circuit}},
    }


def panel(name: str) -> dict[str, Any]:
    return {
        "kind": "panel", "name": name, "volts": 240, "phase": 1, "volts_to_ground": 120, "bus_a": 200, "main_a": 200,
        "spaces": 30, "measured_peak_a": 64, "measured_days": 365,
    }  # fmt: skip


def outdoor_unit(name: str, place: str, **plate: Any) -> dict[str, Any]:
    found: dict[str, Any] = {
        "kind": "mini_split_outdoor",
        "name": name,
        "place": place,
    }
    if plate:
        found["nameplate"] = {"volts": "208/230", "phase": 1, "max_ocpd_type": "fuse_or_breaker", **plate}
    return found


def interior(length_ft: float, conductor: str = "12", order: int = 10, **more: Any) -> dict[str, Any]:
    segment = {
        "order": order,
        "method": "NM-B",
        "conductor": conductor,
        "material": "Cu",
        "construction": "solid",
        "terminations_c": 75,
        "ambient_c": 30,
        "current_carrying": 2,
        "length_ft": length_ft,
        "place": "interior",
        "white_as_ungrounded": True,
        "white_reidentified": True,
    }
    return {**segment, **more}


def whip(length_ft: float, conductor: str = "12", order: int = 30, **more: Any) -> dict[str, Any]:
    segment = {
        "order": order,
        "name": "whip",
        "method": "THWN-2",
        "raceway": "LFNC",
        "conductor": conductor,
        "material": "Cu",
        "construction": "stranded",
        "terminations_c": 75,
        "ambient_c": 40,
        "current_carrying": 2,
        "length_ft": length_ft,
        "place": "outdoor",
    }
    return {**segment, **more}


def disconnect(**more: Any) -> dict[str, Any]:
    return {"rating_a": 30, "type": "nonfused", "in_sight": True, "distance_ft": 5, **more}


def workshop() -> dict[str, Any]:
    """A bindery's workshop: the stub through the wall was planned in indoor cable."""
    return plan(
        "Bindery workshop",
        "Cawdle Paper Archive",
        "workshop",
        "MS-1",
        equipment=outdoor_unit("two-zone mini-split", "north wall", mca_a=11.0, max_ocpd_a=15, min_ocpd_a=15),
        circuit={
            "name": "mini-split, north wall",
            "ocpd": {"rating_a": 15, "type": "breaker", "spaces": [14, 16]},
            "run": {
                "s1": interior(38),
                "s2": interior(4, order=20, place="outdoor", name="through the wall", ambient_c=40),
                "s3": whip(3),
            },
            "disconnect": disconnect(),
            "receptacle_distance_ft": 12,
        },
    )


def kiosk() -> dict[str, Any]:
    """A ferry kiosk: the line is sound, start-up has begun."""
    return plan(
        "Ticket kiosk",
        "Quillmoor Ferry Landing",
        "kiosk",
        "MS-1",
        equipment=outdoor_unit("single-zone mini-split", "seaward wall", mca_a=9.2, max_ocpd_a=15),
        circuit={
            "name": "mini-split, seaward wall",
            "ocpd": {"rating_a": 15, "type": "breaker", "spaces": [6, 8]},
            "run": {"s1": interior(22), "s2": whip(5)},
            "disconnect": disconnect(distance_ft=3),
            "receptacle_distance_ft": 8,
        },
    )


def loft() -> dict[str, Any]:
    """A loft: the unit has not been delivered, its plate is not known."""
    return plan(
        "Pattern loft",
        "Hollin & Vane Sailmakers",
        "loft",
        "HP-1",
        equipment=outdoor_unit("mini-split heat pump", "yard"),
        circuit={
            "name": "heat pump, yard",
            "ocpd": {"type": "breaker", "spaces": [2, 4]},
            "run": {"s1": interior(64, place="attic", ambient_c=52), "s2": whip(6)},
            "receptacle_distance_ft": 20,
        },
    )
