"""Each finding: what provokes it, that its fix clears it, and that the fix adds no stop."""

from typing import Any

import pytest
from leitung_core.circuits import size_document
from leitung_core.findings import CODES
from leitung_core.plan.patch import merge

from tests.core.documents import codes, document, heater, segment
from tests.core.test_sizing_made_precise import CASES as MADE_PRECISE

OUTDOOR = {"place": "outdoor", "length_ft": 4, "conductor": "12"}
UNMARKED = {"mca_a": None, "max_ocpd_a": None}
CORD = {"kind": "dehumidifier", "supply": {"volts": 120}}


def plugged(amps: float, proposed: dict[str, Any], **more: Any) -> dict[str, Any]:
    """A dehumidifier on cord and plug at a 120 V branch."""
    found = document([segment(conductor="12", white_reidentified=None)], proposed=proposed, **CORD)
    found["equipment"] |= {"cord_connected": True}
    found["equipment"]["nameplate"] = {"volts": "115", "phase": 1, "amps": amps, "continuous": True} | more
    return found


def combined(**more: Any) -> dict[str, Any]:
    """A rooftop unit with compressor and strip heat, not marked."""
    found = document([segment(conductor="4")], kind="packaged_heat_pump", proposed={"ocpd_a": 60, "disconnect_a": 100})
    found["equipment"]["nameplate"] = {
        "volts": "240", "phase": 1, "compressors": [{"rla_a": 10.0}], "motors": [{"fla_a": 3.0, "use": "blower"}],
        "heat": {"watts": 8000, "rated_volts": 240},
    } | more.pop("plate", {})  # fmt: skip
    found["equipment"] |= {"heat_with_cooling": False} | more
    return found


CASES: dict[str, list[dict[str, Any]]] = {
    "plate-mca-missing": [document(plate={"mca_a": None})],
    "plate-max-missing": [document(plate={"max_ocpd_a": None})],
    "plate-max-type-missing": [document(plate={"max_ocpd_type": None})],
    "plate-contradiction": [
        document(plate={"mca_a": 16.0}),
        document(plate={"min_ocpd_a": 20}),
        document(plate={"compressors": [{"rla_a": 9.0}]}),
        document(plate={"volts_min": 250, "volts_max": 200}),
    ],
    "supply-missing": [document(supply={"volts": None})],
    "plate-volts-missing": [document(plate={"volts": None})],
    "supply-volts": [
        document(supply={"volts": 277}),
        document(plate={"volts": "230"}, supply={"volts": 208}),
        document(plate={"volts": "230", "volts_min": 210, "volts_max": 250}, supply={"volts": 208}),
    ],
    "supply-phase": [document(plate={"phase": 3})],
    "single-phase-on-wye": [document(supply={"volts": 208, "phase": 3})],
    "ocpd-not-chosen": [document(proposed={"ocpd_a": None})],
    "ocpd-type-missing": [document(proposed={"ocpd_type": None})],
    "ocpd-not-standard": [document(proposed={"ocpd_a": 14.5})],
    "ocpd-above-max": [document(proposed={"ocpd_a": 20})],
    "ocpd-below-min": [document(plate={"max_ocpd_a": 25, "min_ocpd_a": 20})],
    "ocpd-below-mca": [document(plate={"mca_a": 15.5, "max_ocpd_a": 20})],
    "no-standard-device": [
        document(plate={"mca_a": 8.0, "max_ocpd_a": 12}, proposed={"ocpd_a": None}),
        document(plate={"max_ocpd_a": 19, "min_ocpd_a": 18}, proposed={"ocpd_a": None}),
        document(plate={"max_ocpd_a": 700}, proposed={"ocpd_a": None}),
    ],
    "fuse-only": [document(plate={"max_ocpd_type": "fuse"})],
    "breaker-only": [document(plate={"max_ocpd_type": "breaker"}, proposed={"ocpd_type": "fuse"})],
    "run-missing": [document([])],
    "method-missing": [document([segment(method=None)])],
    "place-missing": [document([segment(place=None)])],
    "ambient-missing": [document([segment(ambient_c=None)])],
    "roof-sun-missing": [document([segment(method="THWN-2", raceway="PVC", place="roof", conductor="10")])],
    "current-carrying-missing": [document([segment(method="THWN-2", raceway="EMT", current_carrying=None)])],
    "length-missing": [document([segment(length_ft=None)])],
    "ambient-too-hot": [document([segment(method="UF-B", ambient_c=60, conductor="12")])],
    "conductor-not-chosen": [document([segment()]), document([segment(), segment(conductor="12")])],
    "conductor-too-small": [
        document([segment(conductor="14", ambient_c=63)], {"mca_a": 16.5, "max_ocpd_a": 20}, proposed={"ocpd_a": 20}),
        document([segment(conductor="16")]),
    ],
    "no-conductor": [document([segment(method="UF-B", ambient_c=55, current_carrying=41)], plate={"mca_a": 200})],
    "small-conductor-440": [document([segment(conductor="12")], {"max_ocpd_a": 30}, proposed={"ocpd_a": 30})],
    "plate-load-missing": [heater(plate={"heat": None})],
    "heat-volts-missing": [heater(plate={"volts": "208/240", "heat": {"watts": 5000}})],
    "heat-interlock-missing": [combined(heat_with_cooling=None)],
    "heat-above-cooling-limit": [combined()],
    "heat-reduced": [heater(supply={"volts": 208})],
    "continuous-missing": [plugged(9.0, {"receptacle_a": 15}, continuous=None)],
    "duct-detectors": [document(plate={"supply_cfm": 2400.0}), document(plate={"return_cfm": 2000.5})],
    "several-marked": [document() | {"equipment": document()["equipment"] | {"quantity": 2}}],
    "transformer-tap": [document(supply={"volts": 208})],
    "ocpd-above-ceiling": [
        document([segment(conductor="10")], UNMARKED | {"compressors": [{"rla_a": 10.0}]}, proposed={"ocpd_a": 20}),
    ],
    "ocpd-larger-than-needed": [heater(3000)],
    "ocpd-below-load": [heater(wire={"conductor": "8"}, plate={"heat": {"watts": 7500, "rated_volts": 240}})],
    "conductor-not-protected": [heater(wire={"conductor": "12"}, watts=3000)],
    "raceway-full": [
        document([segment(method="THWN-2", raceway="EMT", raceway_size="1/2", conductor="6", current_carrying=2)]),
    ],
    "raceway-out-of-table": [
        document([segment(method="THWN-2", raceway="LFNC", raceway_size="4", conductor="12")]),
        document([segment(method="THWN-2", raceway="LFNC", conductor="500", length_ft=6)]),
    ],
    "cord-concealed": [document([segment(method="cord", place="attic")])],
    "cord-wet": [plugged(9.0, {"receptacle_a": 15}) | {"run": [segment(method="cord", place="outdoor")]}],
    "cord-heater": [heater() | {"equipment": heater()["equipment"] | {"cord_connected": True}}],
    "cord-too-small": [plugged(70.0, {"receptacle_a": 15})],
    "branch-share": [
        plugged(12.1, {"receptacle_a": 15}),
        document(plate={"mca_a": 8.0}, proposed={"other_outlets_on_branch": True}),
    ],
    "branch-shared": [plugged(9.0, {"receptacle_a": 15, "other_outlets_on_branch": True})],
    "receptacle-rating-missing": [plugged(9.0, {"receptacle_a": None})],
    "receptacle-small": [plugged(9.0, {"receptacle_a": 15, "ocpd_a": 20})],
    "gfci-required": [document(occupancy="dwelling", permit_date="2026-10-01", amendments=["hollin-gfci"])],
    "amendment-not-in-force": [document(permit_date="2024-01-01", amendments=["quillmoor-stub"])],
    "amendment-undated": [document(amendments=["quillmoor-stub"])],
    "egc-too-small": [
        document(proposed={"egc": "16"}),
        document([segment(conductor="8")], {"mca_a": 35, "max_ocpd_a": 70}, proposed={"ocpd_a": 70}),
    ],
    "egc-table-recommended": [
        document([segment(conductor="14")], {"max_ocpd_a": 20}, proposed={"ocpd_a": 20}),
    ],
    "voltage-drop": [
        document([segment(conductor="12", length_ft=250)]),
        document([segment(conductor="4/0", method="THWN-2", raceway="EMT", length_ft=90_000)]),
    ],
    "drop-marginal": [document([segment(conductor="12", construction="solid", length_ft=165)])],
    "volts-at-unit": [document([segment(conductor="12", length_ft=800)], {"volts_min": 220, "volts_max": 250}),
                      document([segment(conductor="12", length_ft=300)], {"volts_min": 239, "volts_max": 250})],
    "nm-wet": [document([segment(**OUTDOOR)]), document([segment(place="roof", sunlit=False, conductor="12")])],
    "mc-wet": [document([segment(**OUTDOOR | {"method": "MC"})])],
    "raceway-missing": [document([segment(**OUTDOOR | {"method": "THWN-2"})])],
    "raceway-wet": [document([segment(**OUTDOOR | {"method": "THWN-2", "raceway": "FMC"})])],
    "whip-long": [document([segment(**OUTDOOR | {"method": "THWN-2", "raceway": "LFNC", "length_ft": 6.5})])],
    "white-reidentify": [
        document([segment(conductor="12", white_reidentified=None)]),
        document([segment(conductor="12", white_as_ungrounded=True, white_reidentified=False)]),
    ],
    "disconnect-missing": [document(proposed={"disconnect_a": None, "disconnect_in_sight": None})],
    "disconnect-small": [
        document(plate={"mca_a": 28.0, "max_ocpd_a": 40}, run=[segment(conductor="10")], proposed={"ocpd_a": 40}),
    ],
    "disconnect-out-of-sight": [
        document(proposed={"disconnect_in_sight": False}),
        document(proposed={"disconnect_distance_ft": 51}),
    ],
    "disconnect-sight-unknown": [document(proposed={"disconnect_in_sight": None})],
    "working-space": [
        document(proposed={"working_depth_in": 35.9}),
        document(proposed={"working_width_in": 29}),
        document(
            supply={"volts": 480, "volts_to_ground": 277}, plate={"volts": "460"}, proposed={"working_depth_in": 40}
        ),
    ],
    "receptacle-missing": [document(proposed={"receptacle_distance_ft": None})],
    "receptacle-far": [document(proposed={"receptacle_distance_ft": 25.5})],
    "gfci-outdoor": [
        document(occupancy="dwelling"),
        document(occupancy="dwelling", permit_date="2026-09-01"),
    ],
}  # fmt: skip
PLAN_ONLY = {code for code in CODES if code.startswith(("space", "start-", "manager-", "log-"))} | {
    "continuous-load", "source-lacks-leg",
    "source-missing", "equipment-missing", "bus-missing", "main-above-bus", "peak-missing", "peak-short",
    "feeder-missing", "load-incomplete", "panel-overloaded", "legs-unbalanced", "drop-with-feeder", "does-not-suit",
    "suit-unknown", "tap-unknown", "tap-not-protected", "tap-by-length", "fed-otherwise", "drawn-differently",
}  # fmt: skip
EACH = [(code, doc) for code, documents in CASES.items() for doc in documents]


def test_every_code_has_a_case() -> None:
    of_the_wiring = list(CODES)[list(CODES).index("device-type-missing") :]
    worked = {code for case in MADE_PRECISE for code in case.get("has", {})}
    assert set(CASES) | worked | PLAN_ONLY | set(of_the_wiring) == set(CODES)


@pytest.mark.parametrize(("code", "doc"), EACH, ids=[code for code, _ in EACH])
def test_finding_and_its_fix(code: str, doc: dict[str, Any]) -> None:
    before = size_document(doc)
    found = [finding for finding in before.findings if finding.code == code]
    assert found, codes(before)
    assert found[0].severity == CODES[code].severity
    for finding in found:
        if finding.fix is None:
            continue
        after = size_document(merge(doc, finding.fix))
        assert (code, finding.about) not in [(f.code, f.about) for f in after.findings]
        assert set(codes(after, "stop")) <= set(codes(before, "stop")) - {code}


@pytest.mark.parametrize(
    ("doc", "code"),
    [
        (document(), "ocpd-above-max"),
        (document(plate={"supply_cfm": 2000.0, "return_cfm": 1900.0}), "duct-detectors"),
        (document(proposed={"disconnect_distance_ft": 50}), "disconnect-out-of-sight"),
        (document(proposed={"receptacle_distance_ft": 25}), "receptacle-far"),
        (document(occupancy="dwelling", permit_date="2026-08-31"), "gfci-outdoor"),
        (document(occupancy="dwelling", permit_date="2026-09-01", proposed={"gfci": True}), "gfci-outdoor"),
        (document(plate={"max_ocpd_type": "fuse"}, proposed={"disconnect_type": "fused"}), "fuse-only"),
        (document(supply={"volts": 246}), "supply-volts"),
        (document(plate={"volts": "208/230"}, supply={"volts": 208}), "supply-volts"),
        (document(plate={"volts_min": 187, "volts_max": 253}, supply={"volts": 208}), "supply-volts"),
        (document([segment(**OUTDOOR | {"method": "THWN-2", "raceway": "LFNC", "length_ft": 6})]), "whip-long"),
        (document(proposed={"working_depth_in": 36, "working_width_in": 30}), "working-space"),
        (document([segment(method="SER", conductor="12", white_reidentified=None)]), "white-reidentify"),
    ],
)
def test_not_found_on_the_lawful_side(doc: dict[str, Any], code: str) -> None:
    assert code not in codes(size_document(doc))


def test_a_complete_lawful_line_has_nothing_against_it() -> None:
    assert codes(size_document(document())) == []


@pytest.mark.parametrize(
    ("method", "ambient_c", "told", "fix_c"),
    [
        ("THWN-2", 95, "95 °C (203 °F) is hotter than the table goes for 90 °C insulation. Was 95 °F meant?", 35),
        ("NM-B", 104, "104 °C (219 °F) is hotter than the table goes for 90 °C insulation. Was 104 °F meant?", 40),
        ("UF-B", 60, "60 °C (140 °F) is hotter than the table goes for 60 °C insulation.", None),
        ("THWN-2", 85, None, None), ("THWN-2", 86, "86 °C (187 °F) is hotter than the table goes for 90 °C insulation. "
                                     "Was 86 °F meant?", 30),
    ],
)  # fmt: skip
@pytest.mark.parametrize("conductor", ["12", None])
def test_heat_beyond_the_table_is_named_as_the_cause(
    method: str, ambient_c: float, told: str | None, fix_c: float | None, conductor: str | None
) -> None:
    """Table 310.15(B)(1)(1) ends at 85 °C for 90 °C insulation and at 55 °C for 60 °C; (95 - 32) / 1.8 = 35 °C."""
    result = size_document(document([segment(method=method, ambient_c=ambient_c, conductor=conductor)]))
    found = [row for row in result.findings if row.code == "ambient-too-hot"]
    assert [row.message for row in found] == ([told] if told else [])
    assert not [row for row in result.findings if row.code == "no-conductor"]
    for row in found:
        assert (row.fix["run"][0]["ambient_c"] if row.fix else None) == fix_c
