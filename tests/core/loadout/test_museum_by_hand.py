"""The museum's load-out, checked by hand line by line against its plan on 2026-11-30; each figure as it was reckoned.

Slack: 6 ft in a panel, 3 at a board, 2 elsewhere. Straps: 10 ft apart and within 3 ft of an end (EMT, 358.30); 4.5 ft
and within 1 ft (NM-B 334.30, FMC 348.30, control cable 725.24); 3 ft and within 1 ft (LFNC, 356.30); 6 ft and within
1 ft (tray cable, 336.30): spans between the outermost two, and one more. Not checked by hand: the wire connectors.
"""

from __future__ import annotations

from leitung_core.loadout.rows import GROUPS
from leitung_core.loadout.take_off import load_out
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.sizing import size_all
from leitung_demo import museum

BY_HAND: dict[str, dict[str, float]] = {
    "breaker": {
        "15 A 1-pole breaker for Vault panel": 2, "15 A 2-pole breaker for Outbuilding panel": 1,
        "20 A 1-pole breaker for Trailer pedestal": 2, "20 A 2-pole breaker for Vault panel": 1,
        "30 A 2-pole breaker for Outbuilding panel": 1, "40 A 2-pole breaker for Outbuilding panel": 1,
        "40 A 2-pole breaker for Vault panel": 1, "45 A 3-pole breaker for Main panel": 1,
        "80 A 3-pole breaker for Main panel": 1,
    },
    "disconnect": {
        "30 A 1-pole non-fused disconnect": 2, "30 A 2-pole non-fused disconnect": 3,
        "60 A 2-pole non-fused disconnect": 2, "60 A 3-pole non-fused disconnect": 1,
    },
    "device": {
        # Ten units; RU-1 and RU-2 are alike.
        "120 V roof unit Roamhurst RR-135": 2, "air handler Fennimarsh FA-08": 1, "condensate pump Sillwater SP-1": 1,
        "dehumidifier Drybrook DB-130D": 1, "mini-split, outdoor unit Tarnwick TW-18D": 1,
        "packaged rooftop unit Vaulderay VR-075-3": 1, "steam humidifier Mistrane MS-23E": 1,
        "unit heater Hearthlow HU-5": 1, "unit heater Hearthlow HU-75": 1,
        # Every device that is neither part of a unit nor at a line's end; the old thermostat comes out.
        "airflow proving switch Mistrane MA-3": 1, "door switch Lumewick LD-1": 1, "duct humidistat Mistrane MH-1": 1,
        "duct sensing head Wardlith WD-H": 2, "duct smoke detector Wardlith WD-2": 1,
        "fuse block, two lines Corrimoor FB-2": 1, "heating thermostat Calderfern CF-05": 1,
        "high-limit humidistat Mistrane MH-2": 1, "isolation relay Ravelow RL-24": 1, "joints in a box": 1,
        "main lugs of a subpanel Kestrand KP-18": 1, "receptacle 5-15 Kestrand KR-15": 2,
        "soft starter for one compressor Gentlewick GS-15": 2,
        "thermostat for heat pumps and accessories Calderfern CF-60": 2,
        "thermostat on batteries Calderfern CF-10": 2,
        "ultraviolet lamp with multi-tap transformer Lumewick LU-18": 1, "wall-mounted indoor unit Tarnwick TI-09W": 2,
    },
    "cable": {
        "10-2 NM-B with ground": 4 + 2 + 3,  # W-UH2
        "12-2 NM-B with ground": (38 + 4 + 6 + 2) + (31 + 6 + 2),  # MS-1, UH-2
        "12-2 tray cable, stranded": 2 * (3 + 3 + 2),  # SK
        "12-4 tray cable, stranded": 2 * (3 + 3 + 2),  # SC
        "14-4 tray cable, stranded": 2 * (9 + 53 + 3 + 2),  # IC
        "18-2 shielded twisted pair, stranded": (24 + 2 + 2) + (36 + 2 + 2),  # HC
        # TC-3 and CC-1 with a board, SL-1 to SL-5 without, SL-6 with one.
        "18-2 thermostat cable, solid":
            (31 + 5) + (8 + 5) + (12 + 4) + (18 + 4) + (4 + 4) + (14 + 4) + (10 + 4) + (7 + 5),
        "18-4 thermostat cable, solid": 2 * (11 + 3 + 2),  # TC-4, TC-5
        "18-4 thermostat cable, wet and sunlight rated, solid": 7 + 12 + 3 + 2,  # DC-2
        "18-5 thermostat cable, solid": 16 + 3 + 2,  # DC-1
        "18-8 thermostat cable, solid": 46 + 22 + 3 + 2,  # TC-2; TC-1 stays
        "8-2 NM-B with ground": 46 + 6 + 2,  # UH-1
    },
    "conductor": {
        "3 AWG THWN-2": 3 * (76 + 6 + 6),
        "6 AWG THWN-2, green": 76 + 6 + 6,  # 8 AWG for 80 A, grown with 3 for 4 AWG: 20,800 circular mils
        # RT-1 to its disconnect and its whip; AH-1 and its whip; UH-1's whip.
        "8 AWG THWN-2": 3 * (58 + 34 + 6 + 2) + 3 * (5 + 2 + 3) + 2 * (22 + 6 + 2) + 2 * (3 + 2 + 3) + 2 * (3 + 2 + 3),
        "8 AWG THWN-2, green": (58 + 34 + 6 + 2) + (5 + 2 + 3),
        "10 AWG THWN-2": 2 * (24 + 6 + 2) + 2 * (3 + 2 + 2),
        "10 AWG THWN-2, green": (22 + 6 + 2) + (3 + 2 + 3) + (24 + 6 + 2) + (3 + 2 + 2) + (3 + 2 + 3),
        # DH-1, CP-1, MS-1's whip, and for each roof unit its line and its whip.
        "12 AWG THWN-2": 2 * (28 + 8) + 2 * (20 + 8) + 2 * (3 + 2 + 3) + 2 * (2 * (6 + 6 + 2) + 2 * (3 + 2 + 3)),
        "12 AWG THWN-2, green": (3 + 2 + 3) + 2 * ((6 + 6 + 2) + (3 + 2 + 3)),
        "14 AWG THWN-2, green": (28 + 8) + (20 + 8),
        "14 AWG single conductors, stranded": 3 * (1 + 4) + 3 * (9 + 4) + 3 * (9 + 4),
    },
    "raceway": {  # whole sticks of 10 ft
        "1 in EMT": 30, "1-1/4 in EMT": 80, "1/2 in EMT": 30 + 20, "1/2 in FMC": 4 * 10, "1/2 in LFNC": 4 * 10,
        "3/4 in EMT": 60 + 40, "3/4 in LFNC": 10, "EMT, size to be chosen": 3 * 10 + 30,
        "LFNC, size to be chosen": 3 * 10,
    },
    "fitting": {
        "1 in EMT connector": 2, "1 in EMT coupling": 2, "1-1/4 in EMT connector": 2, "1-1/4 in EMT coupling": 7,
        "1/2 in EMT connector": 4, "1/2 in EMT coupling": 2 + 1, "1/2 in FMC connector": 8, "1/2 in LFNC connector": 8,
        "3/4 in EMT connector": 4, "3/4 in EMT coupling": 5 + 3, "3/4 in LFNC connector": 2,
        "EMT, size to be chosen connector": 8, "EMT, size to be chosen coupling": 2,
        "LFNC, size to be chosen connector": 6, "cable clamp for 10-2 NM-B with ground": 2,
        "cable clamp for 12-2 NM-B with ground": 4, "cable clamp for 8-2 NM-B with ground": 2,
    },
    "support": {
        "1 in EMT one-hole strap (358.30)": 3, "1-1/4 in EMT one-hole strap (358.30)": 8,
        "1/2 in EMT one-hole strap (358.30)": 4 + 3, "1/2 in FMC strap (348.30)": 4 * 2,
        "1/2 in LFNC strap (356.30)": 4 * 2, "3/4 in EMT one-hole strap (358.30)": 7 + 4,
        "3/4 in LFNC strap (356.30)": 2, "EMT, size to be chosen one-hole strap (358.30)": 1 + 2 + 2 + 3,
        "LFNC, size to be chosen strap (356.30)": 4 + 4 + 3,
        "cable staple for 18-2 shielded twisted pair, stranded (725.24)": 6 + 9,
        "cable staple for 18-2 thermostat cable, solid (725.24)": 8 + 3 + 4 + 5 + 2 + 4 + 3 + 3,
        "cable staple for 18-4 thermostat cable, solid (725.24)": 3 + 3,
        "cable staple for 18-5 thermostat cable, solid (725.24)": 5,
        "cable staple for 18-8 thermostat cable, solid (725.24)": 11,
        "cable staple for NM-B (334.30)": 9 + 2 + 11 + 8 + 2, "cable strap for 12-2 tray cable, stranded (336.30)": 4,
        "cable strap for 12-4 tray cable, stranded (336.30)": 4,
        "cable strap for 14-4 tray cable, stranded (336.30)": 2 * 10,
        "cable strap for 18-4 thermostat cable, wet and sunlight rated, solid (725.24)": 4,
    },
    "terminal": {
        "female spade, 12 AWG": 2 * (3 + 1) * 2,  # SC: three conductors, SK: one, both ends, two starters
        "female spade, 14 AWG": 2, "female spade, 18 AWG": 2 + 3 + 3, "fork or ferrule, 8 AWG": 3 + 4 + 3,
        "fork or ferrule, 10 AWG": 3, "fork or ferrule, 12 AWG": 5 * 3, "fork or ferrule, 14 AWG": 2 * 4 * 2 + 6,
        "fork or ferrule, 18 AWG": 2 * 2 * 2,
    },
    "label": {
        "label for a disconnect, with the line's figures": 10,  # the feeder has none
        "marker for the end of a cable": 2 * (46 - 1),  # 46 are drawn, one is there already
    },
    "consumable": {"sealant for the wall or the roof": 4, "tape to re-identify white conductors": 1},
    "tool": {
        "bender for EMT": 1, "calibrated torque driver": 1, "crimp tool for insulated spades": 1,
        "ladder, and a tie for it": 1, "lock and tag": 10, "meter, and a live source to prove it on": 1,
    },
}  # fmt: skip


def test_every_line_is_as_it_was_reckoned_by_hand() -> None:
    plant = Plant(read_plan(museum()))
    found = load_out(plant, size_all(plant))
    assert not found.unknown
    assert {*BY_HAND, "connector"} == {row.group for row in found.rows} == set(GROUPS)
    for group, by_hand in BY_HAND.items():
        assert {row.item: row.quantity for row in found.rows if row.group == group} == by_hand, group
